using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Lowering;

/// <summary>
/// Plan → routines of limited size: above some 50 kB of machine code a just-in-time compiler no longer optimises, and in chunks its time
/// grows linearly.
/// </summary>
sealed partial class PlanLowering
{
    internal const int ChunkWeight = 2500;

    readonly ExecutionPlan plan;
    readonly MemoryLayout layout;
    readonly List<LoopBlock> loops = [];
    readonly int[] lastUse;

    PlanLowering(ExecutionPlan plan, MemoryLayout layout)
    {
        (this.plan, this.layout) = (plan, layout);
        lastUse = LastUses(plan);
    }

    /// <summary>The program of a plan, and its loops in the order in which the program numbers them.</summary>
    public static (LoweredProgram Program, LoopBlock[] Loops) Lower(ExecutionPlan plan, MemoryLayout layout, EventIndicators indicators)
    {
        var lowering = new PlanLowering(plan, layout);
        return (lowering.Run(indicators), [.. lowering.loops]);
    }

    /// <summary>A routine that writes each term's value, after an evaluation, to the result.</summary>
    public static Routine Terms(ExecutionPlan plan, MemoryLayout layout, IReadOnlyList<Term> terms) =>
        Vector(plan, layout, "terms", terms, []);

    LoweredProgram Run(EventIndicators indicators)
    {
        var budget = WorkBudget.Current;
        var chunks = new List<Routine>();
        var isForDerivatives = new List<bool>();
        var start = 0;
        while (start < plan.Blocks.Count)
        {
            if (StepsOf(plan.Blocks[start]) is { } steps)
            {
                foreach (
                    var routine in new StepLowering(plan, layout, steps, SlotsOf(steps.Sequence), plan.Blocks[start].Owners[0]).Routines()
                )
                {
                    chunks.Add(routine);
                    isForDerivatives.Add(false);
                }

                start++;
                continue;
            }

            var end = start;
            var weight = 0;
            while (end < plan.Blocks.Count && (weight == 0 || weight < ChunkWeight) && StepsOf(plan.Blocks[end]) is null)
            {
                var one = Weight(plan.Blocks[end]);
                budget.Operations(one, plan.Blocks[end++].Owners[0]);
                weight += one;
            }

            chunks.Add(Chunk(start, end));
            isForDerivatives.Add(Enumerable.Range(start, end - start).Any(b => plan.Blocks[b].Class == BlockClass.Dynamic));
            start = end;
        }

        var zeros = indicators.Terms.Length == 0 ? null : Vector(plan, layout, "zeros", indicators.Terms, []);
        var slopes = indicators.IsDirect.Contains(true) ? Vector(plan, layout, "indicatorsAndSlopes", indicators.WithSlopes, []) : null;
        return new LoweredProgram
        {
            Chunks = chunks,
            IsForDerivatives = isForDerivatives,
            EventIndicators = zeros,
            IndicatorsAndSlopes = slopes,
            Loops = [.. loops.Select(Loop)],
        };
    }

    static SequenceTerm? StepsOf(PlanBlock block) => block is AssignmentBlock { Value: SequenceTerm steps } ? steps : null;

    /// <summary>Where the slots of each sequence lie: a result lies where its variable does.</summary>
    readonly Dictionary<Sequence, int[]> slots = new(ReferenceEqualityComparer.Instance);

    int[] SlotsOf(Sequence sequence)
    {
        if (slots.Count == 0)
            foreach (var block in plan.Blocks)
                if (block is AssignmentBlock { Value: SequenceResultTerm result } a)
                {
                    if (!slots.TryGetValue(result.Sequence, out var known))
                    {
                        slots[result.Sequence] = known = new int[result.Sequence.Initial.Count];
                        Array.Fill(known, -1);
                    }

                    known[result.Slot] = a.Variable;
                }

        if (!slots.TryGetValue(sequence, out var places))
        {
            slots[sequence] = places = new int[sequence.Initial.Count];
            Array.Fill(places, -1);
        }

        for (var s = 0; s < places.Length; s++)
            if (places[s] < 0)
                places[s] = layout.Reserve(1);
        return places;
    }

    static int Weight(PlanBlock block) => block is AssignmentBlock a ? Weight(a.Value) + 2 : 6;

    internal static int Weight(Term term)
    {
        if (term is TableTerm t)
            return 8 + Weight(t.Abscissa);
        var weight = term is CallTerm ? 4 : 1;
        foreach (var operand in term.Operands)
            weight += Weight(operand);
        return weight;
    }

    /// <summary>For each variable the last block that reads it.</summary>
    static int[] LastUses(ExecutionPlan plan)
    {
        var last = new int[plan.Model.Variables.Count];
        Array.Fill(last, -1);
        for (var b = 0; b < plan.Blocks.Count; b++)
            if (plan.Blocks[b] is AssignmentBlock a)
                Visit(a.Value, b);
        return last;

        void Visit(Term term, int block)
        {
            if (term is VariableTerm v)
                last[v.Index] = block;
            foreach (var operand in term.Operands)
                Visit(operand, block);
        }
    }

    Routine Chunk(int start, int end)
    {
        var shared = new CommonSubexpressions(CommonSubexpressions.Dear);
        for (var b = start; b < end; b++)
            if (plan.Blocks[b] is AssignmentBlock a)
                shared.Add(a.Value);
        var terms = new TermLowering(plan, layout, shared);
        var body = new List<Statement>();
        for (var b = start; b < end; )
        {
            var kind = plan.Blocks[b].Class;
            var guarded = new List<Statement>();
            for (; b < end && plan.Blocks[b].Class == kind; b++)
                // Steps have written their results to their places.
                if (plan.Blocks[b] is not AssignmentBlock { Value: SequenceResultTerm })
                    guarded.Add(Block(terms, b, end));
            if (kind == BlockClass.Dynamic)
            {
                body.AddRange(guarded);
                continue;
            }

            body.Add(new GuardStatement(kind == BlockClass.Output ? EvaluationMode.Outputs : EvaluationMode.Event, guarded));
            // Values computed under a condition are not in locals behind it.
            terms.Forget();
        }

        return new Routine("chunk", body, terms.Locals, false);
    }

    Statement Block(TermLowering terms, int b, int end)
    {
        var block = plan.Blocks[b];
        if (block is AssignmentBlock a)
        {
            // What nobody reads here goes straight to memory: every local costs time to compile.
            return lastUse[a.Variable] > b && b + 1 < end
                ? Assign(terms, a)
                : new StoreStatement(terms.Place(a.Variable), terms.Value(a.Value), -1);
        }

        loops.Add((LoopBlock)block);
        return new SolveStatement(loops.Count - 1);
    }

    static StoreStatement Assign(TermLowering terms, AssignmentBlock a)
    {
        var value = terms.Value(a.Value);
        var local = terms.NewLocal();
        terms.Remember(a.Variable, local);
        return new StoreStatement(terms.Place(a.Variable), value, local);
    }

    /// <summary>A routine that makes the inner assignments and then writes each term to the result.</summary>
    static Routine Vector(
        ExecutionPlan plan,
        MemoryLayout layout,
        string name,
        IReadOnlyList<Term> terms,
        IReadOnlyList<AssignmentBlock> inner
    )
    {
        var shared = new CommonSubexpressions(CommonSubexpressions.Cheap);
        var budget = WorkBudget.Current;
        foreach (var assignment in inner)
        {
            budget.Operations(Weight(assignment.Value), assignment.Owners[0]);
            shared.Add(assignment.Value);
        }

        foreach (var term in terms)
        {
            budget.Operations(Weight(term), "");
            shared.Add(term);
        }

        var lowering = new TermLowering(plan, layout, shared);
        var body = new List<Statement>();
        foreach (var assignment in inner)
            body.Add(Assign(lowering, assignment));
        for (var i = 0; i < terms.Count; i++)
            body.Add(new ResultStatement(i, lowering.Value(terms[i])));
        return new Routine(name, body, lowering.Locals, true);
    }

    /// <summary>Where terms are cut into routines of limited size.</summary>
    internal static List<(int From, int To)> Cut(IReadOnlyList<Term> terms)
    {
        var result = new List<(int, int)>();
        for (var from = 0; from < terms.Count; )
        {
            var to = from;
            var weight = 0;
            while (to < terms.Count && (weight == 0 || weight < ChunkWeight))
                weight += Weight(terms[to++]);
            result.Add((from, to));
            from = to;
        }

        return result;
    }
}
