using AnchorBend.Language.Terms;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Planning;

/// <summary>A model of high index after reduction: its constraints, and plans for any good choice of states.</summary>
public sealed class ReducedModel
{
    readonly IndexReduction reduction;
    readonly FlatModel source;

    internal ReducedModel(IndexReduction reduction, FlatModel source) => (this.reduction, this.source) = (reduction, source);

    /// <summary>Groups of constraints, each with its own choice.</summary>
    public IReadOnlyList<StateChoice> Choices => reduction.Choices;

    /// <summary>The derivatives to make algebraic at a point; null where the constraints do not determine them.</summary>
    public int[]? Choose(Func<Term, double> evaluate)
    {
        var all = new List<int>();
        foreach (var choice in Choices)
        {
            if (choice.Choose(evaluate) is not { } found) return null;
            all.AddRange(found.Dummies);
        }

        return [.. all.Order()];
    }

    /// <summary>The plan for one choice; null where it cannot be sorted.</summary>
    public ExecutionPlan? PlanFor(int[] dummies) => Planner.Plan(reduction, this, dummies).Plan;

    /// <summary>The plan for the start values, and what is to be told about the reduction.</summary>
    internal (ExecutionPlan? Plan, IReadOnlyList<Finding> Findings) AtStart()
    {
        var parameters = source.ParameterValues();
        var evaluator = new TermEvaluator(i => i < parameters.Length && source.Variables[i].Role == VariableRole.Parameter ? parameters[i] : 0);
        var starts = new double[reduction.Model.Variables.Count];
        foreach (var variable in source.Variables)
            starts[variable.Index] = variable.Role == VariableRole.Parameter ? parameters[variable.Index] : variable.Start is null ? 0 : evaluator.Evaluate(variable.Start);
        foreach (var variable in source.Variables)
            if (reduction.Representative[variable.Index] is var place && place != variable.Index && starts[place] == 0) starts[place] = starts[variable.Index];
        var values = new TermEvaluator(i => starts[i], null, d => starts[reduction.Representative[source.Delays[d].Source]]);
        if (Choose(values.Evaluate) is not { } dummies) return (null, []);
        var (plan, findings) = Planner.Plan(reduction, this, dummies);
        if (plan is not null) findings.AddRange(Describe(plan));
        return (plan, findings);
    }

    IEnumerable<Finding> Describe(ExecutionPlan plan)
    {
        var model = reduction.Model;
        var chosen = string.Join(", ", plan.States.Take(8).Select(model.NameOf)) + (plan.States.Length > 8 ? ", …" : "");
        foreach (var (equation, times) in reduction.Differentiated.OrderByDescending(d => d.Times).Take(5))
        {
            var (left, right, owner, at) = reduction.Equations[equation];
            var often = times switch { 1 => "once", 2 => "twice", _ => $"{times} times" };
            yield return new Finding(Severity.Information, "index-reduction",
                $"The equation {TermText.Print(left, model.NameOf)} = {TermText.Print(right, model.NameOf)} ties quantities that would be states on their own; it was differentiated {often}. States are {chosen}"
                + (Choices.Any(c => c.IsDynamic) ? ", chosen anew during a run where others are better." : "."), owner, null, at);
        }
    }
}
