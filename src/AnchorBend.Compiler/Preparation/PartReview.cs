using AnchorBend.Compiler.Planning;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Flat;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Compiler.Preparation;

/// <summary>What can be said of a part's text by itself: errors with their places, counts, and how it will look.</summary>
/// <param name="Name">The class the text defines; null where it cannot be read.</param>
/// <param name="Equations">Equations, with one for each input and each flow that the surroundings will give.</param>
/// <param name="Unknowns">Unknowns; as many as equations in a balanced part (Modelica Language Specification 3.6, section 4.8).</param>
public sealed record PartReview(string? Name, IReadOnlyList<Finding> Findings, int Equations, int Unknowns, PartDescription? Description)
{
    const int MostFindings = 50;

    public static PartReview Of(string text, PartCatalog catalog)
    {
        var (classes, errors) = Parser.ParseFile(text);
        var findings = errors.Select(e => new Finding(Severity.Error, e.Code, e.Message, "", null, e.At, e.Suggestion)).ToList();
        if (classes.Count == 0)
            return new PartReview(null, findings, 0, 0, null);
        var definition = classes[^1];
        var own = PartCatalog.With(new Dictionary<string, string> { [definition.Name] = text }, catalog);
        var (model, found) = Flattener.Flatten(definition, own);
        // Inputs without a signal are no fault of a part seen alone.
        findings.AddRange(found.Where(f => f.Code is not ("unconnected" or "no-reference")));
        var unknowns = model.Variables.Count(v => v.Role is VariableRole.Continuous or VariableRole.Discrete && v.DerivativeOf < 0);
        if (model.Equations.Count != unknowns && findings.All(f => f.Severity != Severity.Error))
        {
            using var counted = WorkBudget.BeginCount();
            try
            {
                findings.AddRange(Planner.Plan(model).Findings.Where(f => f.Severity == Severity.Error));
            }
            catch (BudgetException e)
            {
                findings.Add(new Finding(Severity.Error, e.Error.Code, e.Error.Message, "", null, e.Error.At, e.Error.Suggestion));
            }
        }

        PartDescription? description = definition.Kind is ClassKind.Block or ClassKind.Model or ClassKind.Class
            ? PartDescription.Of(definition, own)
            : null;
        return new PartReview(
            definition.Name,
            [.. findings.DistinctBy(f => (f.At, f.Message)).OrderBy(f => f.At.Line).ThenBy(f => f.At.Column).Take(MostFindings)],
            model.Equations.Count,
            unknowns,
            description
        );
    }
}
