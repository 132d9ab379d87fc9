using System.Collections.Concurrent;
using System.Reflection;
using System.Reflection.Emit;
using System.Runtime.CompilerServices;
using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Derivation;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language;
using AnchorBend.Language.Terms;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Compiler.Emission;

/// <summary>
/// Emits a plan as dynamic methods of limited size: above some 50 kB of IL the just-in-time compiler no longer optimises, and in chunks
/// its time grows linearly.
/// </summary>
public sealed class PlanEmitter
{
    internal const int ChunkWeight = 2500;

    // A delegate with a first argument of its own needs no rearranging of arguments at every call.
    static readonly Type[] ChunkArguments =
    [
        typeof(object),
        typeof(ModelRuntime),
        typeof(double),
        typeof(double*),
        typeof(double*),
        typeof(double*),
        typeof(int),
    ];
    static readonly object Unused = new();
    static readonly MethodInfo SolveLoopMethod = typeof(ModelRuntime).GetMethod(nameof(ModelRuntime.SolveLoop))!;

    readonly ExecutionPlan plan;
    readonly MemoryLayout layout;
    readonly List<LoopBlock> loops = [];
    readonly List<Delegate> made = [];
    readonly int[] lastUse;

    PlanEmitter(ExecutionPlan plan)
    {
        this.plan = plan;
        layout = new MemoryLayout(plan);
        lastUse = LastUses(plan);
    }

    /// <summary>Generates the code and has it compiled.</summary>
    public static CompiledPlan Compile(ExecutionPlan plan) => new PlanEmitter(plan).Run();

    CompiledPlan Run()
    {
        var budget = WorkBudget.Current;
        var chunks = new List<ChunkMethod>();
        var derivative = new List<ChunkMethod>();
        var start = 0;
        while (start < plan.Blocks.Count)
        {
            var end = start;
            var weight = 0;
            while (end < plan.Blocks.Count && (weight == 0 || weight < ChunkWeight))
            {
                var one = Weight(plan.Blocks[end]);
                budget.Operations(one, plan.Blocks[end++].Owners[0]);
                weight += one;
            }

            var chunk = Chunk(start, end);
            chunks.Add(chunk);
            if (Enumerable.Range(start, end - start).Any(b => plan.Blocks[b].Class == BlockClass.Dynamic))
                derivative.Add(chunk);
            start = end;
        }

        var stateRelations = Enumerable.Range(0, plan.Relations.Count).Where(r => plan.Relations[r].Kind == RelationKind.State).ToArray();
        var functions = new EventIndicators(plan, stateRelations);
        var zeros = stateRelations.Length == 0 ? null : Finish<VectorMethod>(Vector(plan, layout, "zeros", functions.Terms, []));
        var indicatorsAndSlopes = functions.IsDirect.Contains(true)
            ? Finish<VectorMethod>(Vector(plan, layout, "indicatorsAndSlopes", functions.WithSlopes, []))
            : null;
        var codes = loops.Select(LoopCode).ToArray();
        layout.Seal();
        // The just-in-time compiler takes most of the time; methods do not depend on each other.
        void Prepare(Delegate method)
        {
            budget.Check();
            RuntimeHelpers.PrepareDelegate(method);
        }

        try
        {
            if (made.Count > 1)
                Parallel.ForEach(made, Prepare);
            else
                made.ForEach(Prepare);
        }
        catch (AggregateException e) when (e.InnerException is OperationCanceledException canceled)
        {
            throw canceled;
        }

        return new CompiledPlan
        {
            Plan = plan,
            Layout = layout,
            Chunks = [.. chunks],
            DerivativeChunks = [.. derivative],
            EventIndicators = zeros,
            StateRelations = stateRelations,
            IndicatorsAndSlopes = indicatorsAndSlopes,
            DirectIndicators = functions.IsDirect,
            NonSmoothPointOf = [.. functions.NonSmoothPoints.Select(k => k.Function)],
            Loops = [.. loops],
            LoopCodes = codes,
        };
    }

    static int Weight(PlanBlock block) => block is AssignmentBlock a ? Weight(a.Value) + 2 : 6;

    internal static int Weight(Term term)
    {
        if (term is TableTerm t)
            return 8 + Weight(t.Abscissa);
        var weight = 1;
        foreach (var operand in term.Operands)
            weight += Weight(operand);
        return weight;
    }

    T Finish<T>(DynamicMethod method)
        where T : Delegate
    {
        var result = (T)method.CreateDelegate(typeof(T), Unused);
        made.Add(result);
        return result;
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

    ChunkMethod Chunk(int start, int end)
    {
        var method = new DynamicMethod("chunk", typeof(void), ChunkArguments, typeof(PlanEmitter).Module, true) { InitLocals = false };
        var il = method.GetILGenerator();
        var shared = new CommonSubexpressions(CommonSubexpressions.Dear);
        for (var b = start; b < end; b++)
            if (plan.Blocks[b] is AssignmentBlock a)
                shared.Add(a.Value);
        var emitter = new TermEmitter(plan, layout, il, shared);
        for (var b = start; b < end; )
        {
            var kind = plan.Blocks[b].Class;
            var skip = il.DefineLabel();
            if (kind != BlockClass.Dynamic)
            {
                il.LoadArgument(Argument.Mode);
                il.Emit(OpCodes.Ldc_I4, kind == BlockClass.Output ? EvaluationMode.Outputs : EvaluationMode.Event);
                il.Emit(OpCodes.Blt, skip);
            }

            for (; b < end && plan.Blocks[b].Class == kind; b++)
                Block(il, emitter, b, end);
            il.MarkLabel(skip);
            // Values computed under a condition are not in locals behind it.
            if (kind != BlockClass.Dynamic)
                emitter.Forget();
        }

        il.Emit(OpCodes.Ret);
        return Finish<ChunkMethod>(method);
    }

    void Block(ILGenerator il, TermEmitter emitter, int b, int end)
    {
        var block = plan.Blocks[b];
        if (block is AssignmentBlock a)
        {
            // What nobody reads here goes straight to memory: every local costs time to compile.
            if (lastUse[a.Variable] > b && b + 1 < end)
                Assign(il, emitter, a);
            else
                Store(il, emitter, a);
            return;
        }

        il.LoadArgument(Argument.Runtime);
        il.Emit(OpCodes.Ldc_I4, loops.Count);
        il.LoadArgument(Argument.Time);
        il.LoadArgument(Argument.States);
        il.LoadArgument(Argument.Derivatives);
        il.LoadArgument(Argument.Memory);
        il.LoadArgument(Argument.Mode);
        il.Emit(OpCodes.Callvirt, SolveLoopMethod);
        loops.Add((LoopBlock)block);
    }

    static void Store(ILGenerator il, TermEmitter emitter, AssignmentBlock a)
    {
        emitter.Address(a.Variable);
        emitter.Value(a.Value);
        il.Emit(OpCodes.Stind_R8);
    }

    static void Assign(ILGenerator il, TermEmitter emitter, AssignmentBlock a)
    {
        var local = il.DeclareLocal(typeof(double));
        emitter.Value(a.Value);
        il.Emit(OpCodes.Stloc, local);
        emitter.Address(a.Variable);
        il.Emit(OpCodes.Ldloc, local);
        il.Emit(OpCodes.Stind_R8);
        emitter.Remember(a.Variable, local);
    }

    /// <summary>A method that makes the inner assignments and then writes each term to the result.</summary>
    static DynamicMethod Vector(
        ExecutionPlan plan,
        MemoryLayout layout,
        string name,
        IReadOnlyList<Term> terms,
        IReadOnlyList<AssignmentBlock> inner
    )
    {
        var method = new DynamicMethod(name, typeof(void), [.. ChunkArguments, typeof(double*)], typeof(PlanEmitter).Module, true)
        {
            InitLocals = false,
        };
        var il = method.GetILGenerator();
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

        var emitter = new TermEmitter(plan, layout, il, shared);
        foreach (var assignment in inner)
            Assign(il, emitter, assignment);
        for (var i = 0; i < terms.Count; i++)
            StoreResult(il, i, () => emitter.Value(terms[i]));
        il.Emit(OpCodes.Ret);
        return method;
    }

    /// <summary>A method that writes each term's value, after an evaluation, to the result.</summary>
    internal static VectorMethod Terms(CompiledPlan compiled, IReadOnlyList<Term> terms)
    {
        var result = (VectorMethod)Vector(compiled.Plan, compiled.Layout, "terms", terms, []).CreateDelegate(typeof(VectorMethod), Unused);
        RuntimeHelpers.PrepareDelegate(result);
        return result;
    }

    /// <summary>The same in methods of limited size, for any number of terms.</summary>
    internal static CodeStretch[] Stretches(CompiledPlan compiled, IReadOnlyList<Term> terms) =>
        [.. Cut(terms).Select(c => new CodeStretch(Terms(compiled, [.. terms.Skip(c.From).Take(c.To - c.From)]), c.From))];

    static void StoreResult(ILGenerator il, int index, Action value)
    {
        il.LoadArgument(Argument.Result);
        if (index > 0)
        {
            il.Emit(OpCodes.Ldc_I4, index * 8);
            il.Emit(OpCodes.Conv_I);
            il.Emit(OpCodes.Add);
        }

        value();
        il.Emit(OpCodes.Stind_R8);
    }

    LoopCode LoopCode(LoopBlock loop)
    {
        if (!loop.IsSparse)
            return new LoopCode(
                [new CodeStretch(Finish<VectorMethod>(Vector(plan, layout, "residuals", loop.Residuals, loop.Inner)), 0)],
                [new CodeStretch(Jacobian(loop), 0)],
                null
            );
        var budget = WorkBudget.Current;
        var column = new Dictionary<int, int>();
        for (var i = 0; i < loop.Torn.Length; i++)
            column[loop.Torn[i]] = i;
        var entries = new SortedDictionary<(int Column, int Row), Term>();
        for (var row = 0; row < loop.Residuals.Length; row++)
        {
            var members = new SortedSet<int>();
            TermBuilder.VisitVariables(loop.Residuals[row], v =>
            {
                if (column.ContainsKey(v))
                    members.Add(v);
            });
            budget.Check();
            var partials = new PartialDerivatives(loop.Residuals[row]);
            foreach (var member in members)
            {
                var slope = partials.Along(member);
                if (slope.IsConstant(0))
                    continue;
                budget.Operations(Weight(slope), loop.Owners[0]);
                entries[(column[member], row)] = slope;
            }
        }

        var starts = new int[loop.Torn.Length + 1];
        foreach (var (c, _) in entries.Keys)
            starts[c + 1]++;
        for (var c = 0; c < loop.Torn.Length; c++)
            starts[c + 1] += starts[c];
        return new LoopCode(
            Stretches(loop.Residuals),
            Stretches([.. entries.Values]),
            new SparsePattern(loop.Residuals.Length, starts, [.. entries.Keys.Select(k => k.Row)])
        );
    }

    /// <summary>Terms in methods of limited size.</summary>
    CodeStretch[] Stretches(Term[] terms) =>
        [
            .. Cut(terms)
                .Select(c => new CodeStretch(Finish<VectorMethod>(Vector(plan, layout, "stretch", terms[c.From..c.To], [])), c.From)),
        ];

    static List<(int From, int To)> Cut(IReadOnlyList<Term> terms)
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

    /// <summary>The derivative of each residual along each torn variable, through the inner assignments by the chain rule.</summary>
    VectorMethod Jacobian(LoopBlock loop)
    {
        var n = loop.Torn.Length;
        // Slopes of inner variables are values of their own, at places that no variable of the model has.
        var (next, slopesOfInner, entries) = (-1, new List<(int Place, Term Value)>(), new List<(int Before, int Place, Term Value)>());
        var budget = WorkBudget.Current;
        for (var column = 0; column < n; column++)
        {
            budget.Check();
            var slopes = new Dictionary<int, Term> { [loop.Torn[column]] = Term.One };
            Term Seed(Term leaf) => leaf is VariableTerm v && slopes.TryGetValue(v.Index, out var slope) ? slope : Term.Zero;
            foreach (var inner in loop.Inner)
            {
                var derivative = TermDerivative.Of(inner.Value, Seed);
                if (derivative.IsConstant(0))
                    continue;
                if (derivative is ConstantTerm)
                {
                    slopes[inner.Variable] = derivative;
                    continue;
                }

                budget.Operations(Weight(derivative), loop.Owners[0]);
                slopesOfInner.Add((next, derivative));
                slopes[inner.Variable] = new VariableTerm(next--);
            }

            for (var row = 0; row < n; row++)
            {
                var slope = TermDerivative.Of(loop.Residuals[row], Seed);
                budget.Operations(Weight(slope), loop.Owners[0]);
                entries.Add((slopesOfInner.Count, row * n + column, slope));
            }
        }

        var shared = new CommonSubexpressions(CommonSubexpressions.Cheap);
        foreach (var (_, value) in slopesOfInner)
            shared.Add(value);
        foreach (var (_, _, value) in entries)
            shared.Add(value);
        var method = new DynamicMethod("jacobian", typeof(void), [.. ChunkArguments, typeof(double*)], typeof(PlanEmitter).Module, true)
        {
            InitLocals = false,
        };
        var il = method.GetILGenerator();
        var emitter = new TermEmitter(plan, layout, il, shared);
        var made = 0;
        foreach (var (before, place, value) in entries)
        {
            for (; made < before; made++)
            {
                var local = il.DeclareLocal(typeof(double));
                emitter.Value(slopesOfInner[made].Value);
                il.Emit(OpCodes.Stloc, local);
                emitter.Keep(slopesOfInner[made].Place, local);
            }

            StoreResult(il, place, () => emitter.Value(value));
        }

        il.Emit(OpCodes.Ret);
        return Finish<VectorMethod>(method);
    }
}
