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
    public int[]? Choose(Func<Term, double> evaluate, bool atStart = false)
    {
        var all = new List<int>();
        foreach (var choice in Choices)
        {
            if (choice.Choose(evaluate, atStart) is not { } found)
                return null;
            all.AddRange(found);
        }

        return [.. all.Order()];
    }

    /// <summary>Passes over the explicit equations to find what follows from start values.</summary>
    const int MostPasses = 10;

    /// <summary>The derivatives to make algebraic at the start: with start values, and what explicit equations make of them.</summary>
    /// <param name="parameters">Parameter values by variable of the model before reduction.</param>
    /// <param name="starts">Start values likewise.</param>
    public int[]? ChooseAtStart(double[] parameters, double[] starts, double time)
    {
        var values = new double[reduction.Model.Variables.Count];
        foreach (var variable in source.Variables)
            values[variable.Index] = variable.Role == VariableRole.Parameter ? parameters[variable.Index] : starts[variable.Index];
        values[FlatModel.TimeIndex] = time;
        var given = new bool[values.Length];
        foreach (var variable in source.Variables)
        {
            var place = reduction.Representative[variable.Index];
            if (variable.Start is not null || variable.Derivative >= 0)
                given[place] = true;
            if (place != variable.Index && values[place] == 0)
                values[place] = values[variable.Index];
        }

        var evaluator = new TermEvaluator(i => values[i], null, d => values[reduction.Representative[source.Delays[d].Source]]);
        for (var pass = 0; pass < MostPasses; pass++)
        {
            var changed = false;
            foreach (var (left, right, _, _) in reduction.Equations)
            {
                if (left is not VariableTerm v || given[v.Index] || reduction.Model.Variables[v.Index].Role == VariableRole.Parameter)
                    continue;
                var value = evaluator.Evaluate(right);
                if (!double.IsFinite(value) || value.Equals(values[v.Index]))
                    continue;
                values[v.Index] = value;
                changed = true;
            }

            if (!changed)
                break;
        }

        return Choose(evaluator.Evaluate, true);
    }

    /// <summary>The plan for one choice; null where it cannot be sorted.</summary>
    public ExecutionPlan? PlanFor(int[] dummies) => Planner.Plan(reduction, this, dummies).Plan;

    /// <summary>The plan for the start values, and what is to be told about the reduction.</summary>
    internal (ExecutionPlan? Plan, IReadOnlyList<Finding> Findings) AtStart()
    {
        var parameters = source.ParameterValues();
        var evaluator = new TermEvaluator(i => source.Variables[i].Role == VariableRole.Parameter ? parameters[i] : 0);
        var starts = new double[source.Variables.Count];
        foreach (var variable in source.Variables)
            if (variable.Start is not null)
                starts[variable.Index] = evaluator.Evaluate(variable.Start);
        if (ChooseAtStart(parameters, starts, 0) is not { } dummies)
            return (null, []);
        var (plan, findings) = Planner.Plan(reduction, this, dummies);
        if (plan is not null)
            findings.AddRange(Describe(plan));
        return (plan, findings);
    }

    IEnumerable<Finding> Describe(ExecutionPlan plan)
    {
        var model = reduction.Model;
        var chosen = string.Join(", ", plan.States.Take(8).Select(model.NameOf)) + (plan.States.Length > 8 ? ", …" : "");
        var states = plan.States.Length == 0 ? "No state is left" : $"States are {chosen}";
        var differentiated = reduction.Differentiated.OrderByDescending(d => d.Times).ToList();
        if (differentiated.Count == 0)
            yield break;
        var (first, times) = differentiated[0];
        var (left, right, owner, at) = reduction.Equations[first];
        var often = times switch
        {
            1 => "once",
            2 => "twice",
            _ => $"{times} times",
        };
        var others = differentiated.Count == 1 ? "ties" : $"and {differentiated.Count - 1} more tie";
        yield return new Finding(
            Severity.Information,
            "index-reduction",
            $"The equation {TermText.Print(left, model.NameOf)} = {TermText.Print(right, model.NameOf)} {others} quantities that "
                + $"would be states on their own; "
                + (differentiated.Count == 1 ? "it was differentiated" : "they were differentiated, this one")
                + $" {often}. {states}"
                + (Choices.Any(c => c.IsDynamic) ? ", chosen anew during a run where others are better." : "."),
            owner,
            null,
            at
        );
    }
}
