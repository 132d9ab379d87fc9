using System.Text;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Compiler.Analysis;

/// <summary>Prints what was found about a plan: what is watched, where it is not smooth, what is computed once, what depends on
/// what.</summary>
public static class AnalysisText
{
    public static string Print(CompiledPlan compiled)
    {
        var plan = compiled.Plan;
        var text = new StringBuilder();
        string Term(Term term) => TermText.Print(term, plan.Model.NameOf);
        var indicators = new EventIndicators(plan, compiled.StateRelations);
        for (var i = 0; i < indicators.Terms.Length; i++)
        {
            var how = indicators.IsDirect[i] ? "from the states" : "through the model";
            text.Append("indicator ").Append(Term(indicators.Terms[i])).Append(", ").AppendLine(how);
        }

        foreach (var (argument, indicator) in indicators.NonSmoothPoints)
            text.Append("  not smooth at ").Append(Term(argument)).Append(" = 0, indicator ").Append(indicator).AppendLine();
        var breaks = compiled.Discontinuities;
        for (var i = 0; i < breaks.Count; i++)
            text.Append("discontinuity at ")
                .Append(Term(breaks.Arguments[i]))
                .Append(" = ")
                .AppendLine(string.Join(", ", breaks.Knots[i].Select(Term)));
        var paths = DelayPaths.Find(plan);
        for (var i = 0; i < paths.Length; i++)
            text.Append("delay ").Append(i).Append(" feels at once: ").AppendLine(string.Join(", ", paths[i].Order()));
        foreach (var term in compiled.Layout.Hoisted)
            text.Append("once a run ").AppendLine(Term(term));
        var pattern = compiled.Jacobian.Pattern;
        for (var row = 0; row < plan.Derivatives.Length; row++)
        {
            var columns = Enumerable
                .Range(0, plan.States.Length)
                .Where(c => Holds(pattern, row, c))
                .Select(c => plan.Model.NameOf(plan.States[c]));
            text.Append("slope of ")
                .Append(plan.Model.NameOf(plan.Derivatives[row]))
                .Append(" along ")
                .AppendLine(string.Join(", ", columns));
        }

        return text.ToString();
    }

    static bool Holds(SparsePattern pattern, int row, int column) =>
        pattern.Rows.AsSpan(pattern.Starts[column]..pattern.Starts[column + 1]).Contains(row);
}
