using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Analysis;

/// <summary>
/// Tells which relations can change anything in this run: one that stands behind a parameter's condition that is false, such as the limits
/// of a controller without limits, need not be watched.
/// </summary>
sealed class RelevantRelations
{
    readonly ExecutionPlan plan;
    readonly bool[] watched;
    readonly TermEvaluator evaluator;

    RelevantRelations(ExecutionPlan plan, double[] parameters)
    {
        this.plan = plan;
        watched = new bool[plan.Relations.Count];
        evaluator = new TermEvaluator(i => parameters[i]);
    }

    /// <returns>For each relation of the plan whether it matters.</returns>
    public static bool[] Find(ExecutionPlan plan, double[] parameters)
    {
        var search = new RelevantRelations(plan, parameters);
        foreach (var term in plan.Blocks.SelectMany(b => b.Terms))
            search.Walk(term);
        foreach (var reinit in plan.Reinits)
            search.Walk(reinit.Condition);
        foreach (var assertion in plan.Assertions)
            search.Walk(assertion.Condition);
        return search.watched;
    }

    void Walk(Term term)
    {
        switch (term)
        {
            case RelationTerm relation when plan.RelationIndex.TryGetValue(relation, out var index):
                watched[index] = true;
                break;
            case OperationTerm { Kind: Operator.And or Operator.Or } o:
                // A side that a parameter decides may leave the other without effect.
                var decides = o.Kind == Operator.Or;
                if (Known(o.Left) is { } left && left == decides || Known(o.Right) is { } right && right == decides)
                    return;
                break;
            case ConditionalTerm c when Known(c.Condition) is { } condition:
                Walk(condition ? c.Then : c.Otherwise);
                return;
        }

        foreach (var operand in term.Operands)
            Walk(operand);
    }

    /// <summary>The truth of a condition of parameters; null where something else takes part.</summary>
    bool? Known(Term term) => Dependence.OnParameters(term, plan.Model, Allowed.Relations) ? evaluator.Evaluate(term) != 0 : null;
}
