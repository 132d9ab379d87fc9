using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>
/// Elaborates a class to a flat model: makes instances, binds parameters, expands arrays and loops, makes connection sets and turns
/// when-clauses into equations (Modelica Language Specification 3.6, chapters 5, 7 to 11). Errors become findings; the rest goes on.
/// </summary>
public static class Flattener
{
    /// <summary>One size may decide which parts there are, and with them another network.</summary>
    const int MostRounds = 3;

    static KeyValuePair<string, Expression> Literal(string name, double value) =>
        new(name, new NumberLiteral(value, value == Math.Floor(value), default));

    /// <summary>Flattens one class.</summary>
    /// <param name="overrides">Expressions for parameters by path, which replace what the model says.</param>
    /// <returns>The flat model, complete as far as it could be made, and what was found.</returns>
    public static (FlatModel Model, IReadOnlyList<Finding> Findings) Flatten(
        ClassDefinition root,
        IClassSource classes,
        IReadOnlyDictionary<string, Expression>? overrides = null
    )
    {
        overrides ??= new Dictionary<string, Expression>();
        using var counted = WorkBudget.BeginCount();
        var flattening = new Elaborator(classes, root.Name, overrides);
        try
        {
            flattening.Run(root);
            // Sizes of connectors may follow from their network, which is known only when everything is connected.
            for (var again = 0; again < MostRounds && flattening.Networks.Structural is { Count: > 0 } found; again++)
            {
                overrides = new Dictionary<string, Expression>(
                    overrides.Concat(found.Select(f => Literal(f.Key, f.Value))).DistinctBy(o => o.Key)
                );
                flattening = new Elaborator(classes, root.Name, overrides);
                flattening.Run(root);
            }

            return (flattening.Model, flattening.Findings);
        }
        catch (BudgetException e)
        {
            // What there is of such a model helps nobody; nothing of it is kept.
            var finding = new Finding(
                Severity.Error,
                e.Error.Code,
                e.Error.Message,
                flattening.At.Part,
                flattening.At.Item,
                e.Error.At,
                e.Error.Suggestion
            );
            return (new Elaborator(classes, root.Name, overrides).Model, [finding]);
        }
    }
}
