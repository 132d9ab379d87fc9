using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Planning;

/// <summary>Gives every block its class and puts blocks of a class next to each other as far as dependencies allow.</summary>
static class BlockOrder
{
    public static List<PlanBlock> Arrange(
        FlatModel model,
        List<PlanBlock> blocks,
        int[] states,
        int[] derivatives,
        IReadOnlyList<PlanRelation> relations
    )
    {
        var blockOf = new int[model.Variables.Count];
        Array.Fill(blockOf, -1);
        for (var b = 0; b < blocks.Count; b++)
            foreach (var v in blocks[b].Determines)
                blockOf[v] = b;
        var isState = new bool[model.Variables.Count];
        foreach (var s in states)
            isState[s] = true;
        var isDerivative = new bool[model.Variables.Count];
        foreach (var d in derivatives)
            isDerivative[d] = true;

        var all = new List<int>[blocks.Count];
        var between = new List<int>[blocks.Count];
        var eventOnly = new bool[blocks.Count];
        for (var b = 0; b < blocks.Count; b++)
        {
            all[b] = [];
            between[b] = [];
            // Blocks come in dependency order, so what this one reads is classified already.
            // Derivatives are written to a place of the integrator's choice, so they are computed every time.
            var held = blocks[b].Held;
            var constant = !blocks[b].Determines.Any(v => isDerivative[v]);
            foreach (var term in Terms(blocks[b]))
            {
                TermBuilder.VisitVariables(term, v =>
                {
                    if (held?.Contains(v) != true)
                        Note(all[b], v, b);
                });
                VisitBetweenEvents(
                    term,
                    v =>
                    {
                        Note(between[b], v, b);
                        if (IsFlowing(v) || isState[v] || blockOf[v] >= 0 && blockOf[v] != b && !eventOnly[blockOf[v]])
                            constant = false;
                    },
                    () => constant = false
                );
            }

            eventOnly[b] =
                constant && blocks[b] is AssignmentBlock
                || blocks[b] is AssignmentBlock a && model.Variables[a.Variable].Role == VariableRole.Discrete;
        }

        var dynamic = new bool[blocks.Count];
        var work = new Stack<int>();
        void Need(int variable)
        {
            var b = blockOf[variable];
            if (b < 0 || dynamic[b])
                return;
            dynamic[b] = true;
            work.Push(b);
        }

        foreach (var d in derivatives)
            Need(d);
        foreach (var relation in relations)
            if (relation.Kind == RelationKind.State)
                TermBuilder.VisitVariables(relation.Term, Need);
        while (work.Count > 0)
        {
            var b = work.Pop();
            if (eventOnly[b])
                continue;
            foreach (var d in between[b])
            {
                if (dynamic[d])
                    continue;
                dynamic[d] = true;
                work.Push(d);
            }
        }

        for (var b = 0; b < blocks.Count; b++)
            blocks[b].Class =
                eventOnly[b] ? BlockClass.Event
                : dynamic[b] ? BlockClass.Dynamic
                : BlockClass.Output;
        return Cluster(blocks, all);

        bool IsFlowing(int variable) => variable == FlatModel.TimeIndex || model.Variables[variable].IsFlowing;

        void Note(List<int> list, int variable, int self)
        {
            var b = blockOf[variable];
            if (b >= 0 && b != self && !list.Contains(b))
                list.Add(b);
        }
    }

    static IEnumerable<Term> Terms(PlanBlock block) =>
        block switch
        {
            AssignmentBlock a => [a.Value],
            LoopBlock l => [.. l.Inner.Select(i => i.Value), .. l.Residuals],
            _ => [],
        };

    /// <summary>Visits what can change a term's value between events: relations are held then.</summary>
    static void VisitBetweenEvents(Term term, Action<int> variable, Action delay)
    {
        switch (term)
        {
            case VariableTerm v:
                variable(v.Index);
                return;
            case DelayTerm:
                delay();
                return;
            case RelationTerm:
                return;
        }

        foreach (var operand in term.Operands)
            VisitBetweenEvents(operand, variable, delay);
    }

    /// <summary>Topological order that stays in one class as long as it can.</summary>
    static List<PlanBlock> Cluster(List<PlanBlock> blocks, List<int>[] dependencies)
    {
        var waiting = new int[blocks.Count];
        var users = new List<int>[blocks.Count];
        for (var b = 0; b < blocks.Count; b++)
            users[b] = [];
        for (var b = 0; b < blocks.Count; b++)
        {
            waiting[b] = dependencies[b].Count;
            foreach (var d in dependencies[b])
                users[d].Add(b);
        }

        var ready = new Queue<int>[3];
        for (var c = 0; c < 3; c++)
            ready[c] = new Queue<int>();
        for (var b = 0; b < blocks.Count; b++)
            if (waiting[b] == 0)
                ready[(int)blocks[b].Class].Enqueue(b);
        var result = new List<PlanBlock>(blocks.Count);
        var current = (int)BlockClass.Event;
        while (result.Count < blocks.Count)
        {
            if (ready[current].Count == 0)
            {
                // Dynamic blocks wait for events' results, outputs for both.
                current =
                    ready[(int)BlockClass.Event].Count > 0 ? (int)BlockClass.Event
                    : ready[(int)BlockClass.Dynamic].Count > 0 ? (int)BlockClass.Dynamic
                    : (int)BlockClass.Output;
            }

            var b = ready[current].Dequeue();
            result.Add(blocks[b]);
            foreach (var user in users[b])
                if (--waiting[user] == 0)
                    ready[(int)blocks[user].Class].Enqueue(user);
        }

        return result;
    }
}
