using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Design;

/// <summary>
/// Real values that change at events only and lie on a path from an input to an output: a sample and hold, a digital controller. A linear
/// system of what happens between events does not contain what goes through them.
/// </summary>
static class SampledPath
{
    /// <summary>Refuses where such a value lies between input and output.</summary>
    /// <exception cref="DesignException">Names the parts.</exception>
    public static void Refuse(ExecutionPlan plan, int input, int output)
    {
        var (forward, backward) = Graph(plan);
        var reached = Reach(input, forward);
        var reaching = Reach(plan.Representative[output], backward);
        var parts = plan
            .Model.Variables.Where(v =>
                v is { Role: VariableRole.Discrete, Type: ScalarType.Real } && reached.Contains(v.Index) && reaching.Contains(v.Index)
            )
            .Select(v => v.Owner.Length > 0 ? v.Owner : v.Name)
            .Distinct()
            .ToList();
        if (parts.Count == 0)
            return;
        throw new DesignException(
            "sampled",
            $"Between the signals lies what works at samples or events only "
                + $"({string.Join(", ", parts.Take(5))}{(parts.Count > 5 ? " and others" : "")}); "
                + "a continuous linear system cannot hold it.",
            "Linearise the continuous part alone, from the held output to the measured signal, or open the loop at the sampled part."
        );
    }

    static (Dictionary<int, List<int>> Forward, Dictionary<int, List<int>> Backward) Graph(ExecutionPlan plan)
    {
        Dictionary<int, List<int>> forward = [],
            backward = [];
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
        return (forward, backward);
    }

    static HashSet<int> Reach(int start, Dictionary<int, List<int>> edges)
    {
        HashSet<int> seen = [start];
        var open = new Stack<int>([start]);
        while (open.TryPop(out var at))
            foreach (var next in edges.GetValueOrDefault(at) ?? [])
                if (seen.Add(next))
                    open.Push(next);
        return seen;
    }
}
