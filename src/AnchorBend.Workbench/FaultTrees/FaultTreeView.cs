using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Verification.FaultTrees;

namespace AnchorBend.Workbench.FaultTrees;

/// <summary>A cut set, with its part in the sum over all.</summary>
/// <param name="Events">Ids.</param>
public sealed record CutSetView(IReadOnlyList<string> Events, double Probability);

/// <param name="Event">Its id.</param>
public sealed record ImportanceView(string Event, double Birnbaum, double Share, double Achievement);

/// <summary>What a fault tree comes to.</summary>
/// <param name="Events">Probabilities of events that have one, by id.</param>
/// <param name="Probability">Of the top event over the tree's time; null where it cannot be told.</param>
/// <param name="Count">How many minimal cut sets there are.</param>
/// <param name="Problem">Why not; null where it can.</param>
public sealed record FaultTreeView(
    string Id,
    IReadOnlyDictionary<string, double> Events,
    double? Probability,
    double Count,
    IReadOnlyList<CutSetView> CutSets,
    IReadOnlyList<ImportanceView> Importances,
    string? Problem
)
{
    const int MostCutSets = 200;

    static readonly Unit Second = Unit.Parse("s"),
        PerSecond = Unit.Parse("1/s");

    public static IReadOnlyList<FaultTreeView> All(ModelDocument document) =>
        [.. document.FaultTrees.OrderBy(t => t.Value.Order).Select(t => Of(document, t.Key, t.Value))];

    public static FaultTreeView Of(ModelDocument document, string id, FaultTreeNode tree)
    {
        var probabilities = new Dictionary<string, double>();
        FaultTreeView Without(string problem) => new(id, probabilities, null, 0, [], [], problem);
        try
        {
            foreach (var (key, e) in tree.Events)
                if (e.Value.Trim().Length > 0)
                    probabilities[key] = ProbabilityOf(document, tree, e);
            if (tree.Top.Length == 0)
                return Without("The tree has nothing at its top yet.");
            var figures = new DecisionDiagram(new Builder(tree, probabilities).Of(tree.Top, [])).Figures(MostCutSets);
            return new FaultTreeView(
                id,
                probabilities,
                figures.Probability,
                figures.Count,
                [.. figures.CutSets.Select(s => new CutSetView(s.Events, s.Probability))],
                [.. figures.Importances.Select(i => new ImportanceView(i.Event, i.Birnbaum, i.Share, i.Achievement))],
                null
            );
        }
        catch (Exception e) when (e is FaultTreeException or DocumentException)
        {
            return Without(e.Message);
        }
    }

    sealed class Builder(FaultTreeNode tree, Dictionary<string, double> probabilities)
    {
        readonly Dictionary<string, TreePlace> made = [];

        public TreePlace Of(string id, HashSet<string> above)
        {
            if (made.TryGetValue(id, out var known))
                return known;
            if (tree.Events.TryGetValue(id, out var e))
                return made[id] = new BasicEvent(
                    id,
                    probabilities.TryGetValue(id, out var p)
                        ? p
                        : throw new FaultTreeException($"'{e.Name}' has no rate or probability yet.")
                );
            if (!tree.Gates.TryGetValue(id, out var gate))
                throw new FaultTreeException("A gate or an event of the tree is gone.");
            if (!above.Add(id))
                throw new FaultTreeException($"'{gate.Name}' comes about by itself: it stands below itself.");
            if (gate.Inputs.Count == 0)
                throw new FaultTreeException($"'{gate.Name}' has nothing below it yet.");
            List<TreePlace> inputs = [.. gate.Inputs.Distinct().Select(i => Of(i, above))];
            above.Remove(id);
            var least = gate.Kind switch
            {
                "and" => inputs.Count,
                "or" => 1,
                _ => gate.Least,
            };
            return least <= inputs.Count
                ? made[id] = new Gate(id, least, inputs)
                : throw new FaultTreeException($"'{gate.Name}' asks for {least} of {inputs.Count}.");
        }
    }

    /// <summary>Of a rate λ over a time t it is 1 − e^(−λ t).</summary>
    static double ProbabilityOf(ModelDocument document, FaultTreeNode tree, TreeEventNode e)
    {
        var (value, unit) = Number(document, e.Value, e.Name);
        if (unit.Dimension.IsNone)
            return value * unit.Factor is >= 0 and <= 1 and var p
                ? p
                : throw new FaultTreeException($"The probability of '{e.Name}' does not lie between 0 and 1.");
        if (!unit.Fits(PerSecond) || value < 0)
            throw new FaultTreeException($"'{e.Name}' has a rate such as 2e-6 1/h or a probability such as 1e-4, not {e.Value}.");
        var (time, timeUnit) = Number(document, tree.Duration, "the time of the tree");
        if (!timeUnit.Fits(Second) || time < 0)
            throw new FaultTreeException("The time of the tree is one such as 8760 h.");
        var exponent = value * unit.Factor * time * timeUnit.Factor;
        // Without the difference to 1 of a number near 1.
        return exponent < 1e-5 ? exponent - exponent * exponent / 2 + exponent * exponent * exponent / 6 : 1 - Math.Exp(-exponent);
    }

    /// <summary>A number with its unit, as typed or as a row of a sheet has it.</summary>
    static (double Value, Unit Unit) Number(ModelDocument document, string text, string what)
    {
        var of = document
            .Sheets.Values.SelectMany(s => s.Rows.Values.Select(r => (Sheet: s, Row: r)))
            .FirstOrDefault(r => r.Row.Name == text.Trim());
        if (of.Row is { } row)
        {
            // A column without a value has what the first column has.
            var column = of.Sheet.Columns.FirstOrDefault(c => c.Value.Name == of.Sheet.Active.Trim().Trim('"')).Key
                ?? throw new FaultTreeException(
                    $"The column of the sheet '{of.Sheet.Name}' is chosen by an expression, so nothing says which rate is meant: type it."
                );
            var cell = row.Values.GetValueOrDefault(column) ?? row.Values.GetValueOrDefault(of.Sheet.Columns.Keys.First()) ?? "";
            text = row.Unit is { Length: > 0 } unit ? $"{cell} {unit}" : cell;
        }

        try
        {
            var expression = Parser.ParseField(text);
            var unit = Unit.One;
            if (expression is Quantity q)
                (expression, unit) = (q.Value, q.Unit);
            if (expression is NumberLiteral n)
                return (n.Value, unit);
        }
        catch (LanguageException)
        {
            // Told below.
        }

        throw new FaultTreeException($"'{DocumentLimits.Short(text)}', of {what}, is no number with a unit, and no row of a sheet.");
    }
}
