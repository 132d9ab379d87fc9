using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;

namespace AnchorBend.Design;

/// <summary>Which variables of a plan depend on which.</summary>
sealed class SignalFlow
{
    readonly Dictionary<int, List<int>> forward = [],
        backward = [];

    public SignalFlow(ExecutionPlan plan)
    {
        void Edge(int from, int to)
        {
            (forward.TryGetValue(from, out var next) ? next : forward[from] = []).Add(to);
            (backward.TryGetValue(to, out var before) ? before : backward[to] = []).Add(from);
        }

        void Edges(Term term, IReadOnlyList<int> to)
        {
            var from = term switch
            {
                VariableTerm v => plan.Representative[v.Index],
                PreviousTerm p => plan.Representative[p.Index],
                DelayTerm d => plan.Representative[plan.Model.Delays[d.Delay].Source],
                _ => -1,
            };
            if (from >= 0)
                foreach (var target in to)
                    Edge(from, target);
            foreach (var operand in term.Operands)
                Edges(operand, to);
        }

        foreach (var block in plan.Blocks)
        {
            int[] determined = [.. block.Determines];
            if (block is AssignmentBlock a)
                Edges(a.Value, determined);
            if (block is not LoopBlock loop)
                continue;
            foreach (var inner in loop.Inner)
                Edges(inner.Value, determined);
            foreach (var residual in loop.Residuals)
                Edges(residual, determined);
        }

        for (var i = 0; i < plan.States.Length; i++)
            Edge(plan.Representative[plan.Derivatives[i]], plan.States[i]);
    }

    /// <summary>All that depends on a variable, itself among it.</summary>
    /// <param name="cut">Variables at which the way ends.</param>
    public HashSet<int> From(int start, IReadOnlySet<int>? cut = null) => Reach(start, forward, cut);

    /// <summary>All on which a variable depends, itself among it.</summary>
    public HashSet<int> To(int end) => Reach(end, backward, null);

    static HashSet<int> Reach(int start, Dictionary<int, List<int>> edges, IReadOnlySet<int>? cut)
    {
        HashSet<int> seen = [start];
        var open = new Stack<int>([start]);
        while (open.TryPop(out var at))
            foreach (var next in edges.GetValueOrDefault(at) ?? [])
                if (cut?.Contains(next) != true && seen.Add(next))
                    open.Push(next);
        return seen;
    }
}
