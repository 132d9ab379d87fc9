using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language;
using AnchorBend.Language.Terms;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Compiler.Derivation;

/// <summary>Builds a <see cref="JacobianProgram"/> from a plan.</summary>
public sealed class JacobianBuilder
{
    readonly ExecutionPlan plan;
    readonly CompiledPlan compiled;
    readonly Dictionary<int, SortedDictionary<int, int>> slotsOf = [];
    readonly Dictionary<double, int> constants = [];
    readonly List<double> partials = [];
    readonly List<(int Index, Term Term)> computed = [];
    readonly List<List<(int Partial, int Source)>> rows =
    [
        [],
    ];
    readonly List<JacobianStep> steps = [];
    int summedUpTo = 1;

    readonly bool withDelays;

    JacobianBuilder(CompiledPlan compiled, bool withDelays) =>
        (this.compiled, plan, this.withDelays) = (compiled, compiled.Plan, withDelays);

    /// <summary>The derivatives of all states' derivatives along the states.</summary>
    public static JacobianProgram ForStates(CompiledPlan compiled) =>
        For(compiled, [.. compiled.Plan.Derivatives.Select(d => (Term)new VariableTerm(d))]);

    /// <summary>The derivatives of some terms along the states, relations and discrete variables held.</summary>
    /// <param name="withDelays">Whether delayed signals are further columns behind the states; otherwise they are held.</param>
    public static JacobianProgram For(CompiledPlan compiled, IReadOnlyList<Term> outputs, bool withDelays = false) =>
        new JacobianBuilder(compiled, withDelays).Build(outputs);

    /// <summary>The number under which a delayed signal stands among the variables here.</summary>
    static int Delayed(int delay) => -1 - delay;

    JacobianProgram Build(IReadOnlyList<Term> outputs)
    {
        var budget = WorkBudget.Current;
        for (var s = 0; s < plan.States.Length; s++)
            slotsOf[plan.States[s]] = new SortedDictionary<int, int> { [s] = 0 };
        var delays = withDelays ? plan.Model.Delays.Count : 0;
        for (var d = 0; d < delays; d++)
            slotsOf[Delayed(d)] = new SortedDictionary<int, int> { [plan.States.Length + d] = 0 };
        var needed = Needed(outputs);
        for (var b = 0; b < plan.Blocks.Count; b++)
        {
            if (!needed[b])
                continue;
            budget.Check();
            if (plan.Blocks[b] is AssignmentBlock a)
                slotsOf[a.Variable] = Chain(a.Value);
            else
                Loop((LoopBlock)plan.Blocks[b]);
        }

        var columns = new List<(int Row, int Slot)>[plan.States.Length + delays];
        for (var s = 0; s < columns.Length; s++)
            columns[s] = [];
        for (var i = 0; i < outputs.Count; i++)
            foreach (var (state, slot) in Chain(outputs[i]))
                columns[state].Add((i, slot));
        if (rows.Count > summedUpTo)
            steps.Add(new JacobianStep(summedUpTo, rows.Count));
        var starts = new int[columns.Length + 1];
        for (var s = 0; s < columns.Length; s++)
            starts[s + 1] = starts[s] + columns[s].Count;
        var termStarts = new int[rows.Count + 1];
        for (var i = 0; i < rows.Count; i++)
            termStarts[i + 1] = termStarts[i] + rows[i].Count;
        var (code, offsets) = Code();
        return new JacobianProgram
        {
            Pattern = new SparsePattern(outputs.Count, starts, [.. columns.SelectMany(c => c.Select(e => e.Row))]),
            PatternSlots = [.. columns.SelectMany(c => c.Select(e => e.Slot))],
            SlotCount = rows.Count,
            TermStarts = termStarts,
            TermPartials = [.. rows.SelectMany(r => r.Select(t => t.Partial))],
            TermSources = [.. rows.SelectMany(r => r.Select(t => t.Source))],
            Steps = steps,
            Partials = [.. partials],
            Code = code,
            CodeOffsets = offsets,
        };
    }

    /// <summary>The blocks whose results reach the outputs other than through relations.</summary>
    bool[] Needed(IReadOnlyList<Term> outputs)
    {
        var blockOf = new Dictionary<int, int>();
        for (var b = 0; b < plan.Blocks.Count; b++)
            foreach (var v in plan.Blocks[b].Determines)
                blockOf[v] = b;
        var needed = new bool[plan.Blocks.Count];
        void Mark(Term term) => VisitSmooth(term, v =>
            {
                if (blockOf.TryGetValue(v, out var b))
                    needed[b] = true;
            });
        foreach (var output in outputs)
            Mark(output);
        // Blocks come in the order of dependence.
        for (var b = plan.Blocks.Count - 1; b >= 0; b--)
        {
            if (!needed[b])
                continue;
            switch (plan.Blocks[b])
            {
                case { Class: BlockClass.Event }:
                    needed[b] = false;
                    break;
                case AssignmentBlock a:
                    Mark(a.Value);
                    break;
                case LoopBlock l:
                    foreach (var inner in l.Inner)
                        Mark(inner.Value);
                    foreach (var residual in l.Residuals)
                        Mark(residual);
                    break;
            }
        }

        return needed;
    }

    static void VisitSmooth(Term term, Action<int> visit)
    {
        if (term is RelationTerm)
            return;
        if (term is VariableTerm v)
            visit(v.Index);
        if (term is DelayTerm d)
            visit(Delayed(d.Delay));
        foreach (var operand in term.Operands)
            VisitSmooth(operand, visit);
    }

    /// <summary>Slots of a term's derivatives along the states it depends on.</summary>
    SortedDictionary<int, int> Chain(Term term)
    {
        if (term is VariableTerm alias)
            return slotsOf.TryGetValue(alias.Index, out var same) ? same : [];
        var parts = Parts(term);
        var result = new SortedDictionary<int, int>();
        foreach (var state in parts.SelectMany(p => p.Slots.Keys).Distinct().Order())
            result[state] = Sum(parts, state);
        return result;
    }

    List<(int Partial, SortedDictionary<int, int> Slots)> Parts(Term term)
    {
        var leaves = new SortedSet<int>();
        VisitSmooth(term, v =>
        {
            if (slotsOf.TryGetValue(v, out var slots) && slots.Count > 0)
                leaves.Add(v);
        });
        var parts = new List<(int, SortedDictionary<int, int>)>();
        foreach (var leaf in leaves)
        {
            var partial =
                leaf < 0
                    ? TermDerivative.Of(term, l => l is DelayTerm d && Delayed(d.Delay) == leaf ? Term.One : Term.Zero)
                    : TermDerivative.Partial(term, leaf);
            if (!partial.IsConstant(0))
                parts.Add((Partial(partial), slotsOf[leaf]));
        }

        return parts;
    }

    int Sum(List<(int Partial, SortedDictionary<int, int> Slots)> parts, int state)
    {
        var row = new List<(int, int)>();
        foreach (var (partial, slots) in parts)
            if (slots.TryGetValue(state, out var source))
                row.Add((partial, source));
        rows.Add(row);
        return rows.Count - 1;
    }

    int Partial(Term term)
    {
        if (term is ConstantTerm c)
        {
            if (constants.TryGetValue(c.Value, out var known))
                return known;
            partials.Add(c.Value);
            return constants[c.Value] = partials.Count - 1;
        }

        partials.Add(0);
        computed.Add((partials.Count - 1, term));
        return partials.Count - 1;
    }

    /// <summary>The implicit function theorem at a loop: with the residuals' Jacobian J, the torn variables follow from J·dt =
    /// −dr.</summary>
    void Loop(LoopBlock loop)
    {
        var index = Array.IndexOf(compiled.Loops, loop);
        var n = loop.Torn.Length;
        var members = loop.Determines.ToHashSet();
        var outer = new SortedSet<int>();
        foreach (var term in loop.Inner.Select(i => i.Value).Concat(loop.Residuals))
            VisitSmooth(term, v =>
            {
                if (!members.Contains(v) && slotsOf.TryGetValue(v, out var slots))
                    outer.UnionWith(slots.Keys);
            });
        var columns = outer.ToArray();
        if (columns.Length == 0)
            return;

        // First with the torn variables held: what the rest of the loop and the residuals feel.
        foreach (var inner in loop.Inner)
            slotsOf[inner.Variable] = Chain(inner.Value);
        var residualParts = loop.Residuals.Select(Parts).ToArray();
        var residuals = rows.Count;
        foreach (var column in columns)
        foreach (var parts in residualParts)
            Sum(parts, column);
        steps.Add(new JacobianStep(summedUpTo, rows.Count, index, residuals, rows.Count, columns.Length));
        for (var c = 0; c < columns.Length; c++)
        for (var i = 0; i < n; i++)
        {
            if (c == 0)
                slotsOf[loop.Torn[i]] = [];
            slotsOf[loop.Torn[i]][columns[c]] = rows.Count;
            rows.Add([]);
        }

        summedUpTo = rows.Count;
        // Then again with their changes.
        foreach (var inner in loop.Inner)
            slotsOf[inner.Variable] = [];
        foreach (var inner in loop.Inner)
            slotsOf[inner.Variable] = Chain(inner.Value);
    }

    (VectorMethod[] Code, int[] Offsets) Code()
    {
        var code = new List<VectorMethod>();
        var offsets = new List<int>();
        // Computed derivatives get neighbouring places so that one method fills a stretch.
        var order = computed.ToArray();
        var place = new int[partials.Count];
        var at = 0;
        for (var i = 0; i < partials.Count; i++)
            place[i] = -1;
        foreach (var (index, _) in order)
            place[index] = at++;
        for (var i = 0; i < partials.Count; i++)
            if (place[i] < 0)
                place[i] = at++;
        var moved = new double[partials.Count];
        for (var i = 0; i < moved.Length; i++)
            moved[place[i]] = partials[i];
        partials.Clear();
        partials.AddRange(moved);
        foreach (var row in rows)
            for (var t = 0; t < row.Count; t++)
                row[t] = (place[row[t].Partial], row[t].Source);
        for (var from = 0; from < order.Length; )
        {
            var to = from;
            var weight = 0;
            while (to < order.Length && (weight == 0 || weight < PlanLowering.ChunkWeight))
                weight += PlanLowering.Weight(order[to++].Term);
            code.Add(PlanEmitter.Terms(compiled, [.. order[from..to].Select(o => o.Term)]));
            offsets.Add(from);
            from = to;
        }

        return ([.. code], [.. offsets]);
    }
}
