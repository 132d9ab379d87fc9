using System.Runtime.CompilerServices;
using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Emission;

/// <summary>Lowers a plan and has the machine code of its routines made.</summary>
public sealed class PlanEmitter
{
    static readonly object Unused = new();

    readonly List<Delegate> made = [];

    PlanEmitter() { }

    /// <summary>Generates the code and has it compiled.</summary>
    /// <param name="counting">Whether the code counts what it decides and does (<see cref="CompiledPlan.Counters"/>).</param>
    public static CompiledPlan Compile(ExecutionPlan plan, bool counting = false) => new PlanEmitter().Run(plan, counting);

    CompiledPlan Run(ExecutionPlan plan, bool counting)
    {
        var stateRelations = Enumerable.Range(0, plan.Relations.Count).Where(r => plan.Relations[r].Kind == RelationKind.State).ToArray();
        var functions = new EventIndicators(plan, stateRelations);
        var layout = new MemoryLayout(plan);
        var (program, loops) = PlanLowering.Lower(plan, layout, functions);
        var counted = counting ? new CountedProgram(program, layout) : null;
        program = counted?.Program ?? program;
        layout.Seal();
        var chunks = program.Chunks.Select(Write<ChunkMethod>).ToArray();
        var zeros = program.EventIndicators is { } z ? Write<VectorMethod>(z) : null;
        var slopes = program.IndicatorsAndSlopes is { } s ? Write<VectorMethod>(s) : null;
        var codes = program.Loops.Select(l => new LoopCode(Write(l.Residuals), Write(l.Jacobian), l.Pattern)).ToArray();
        Prepare();
        return new CompiledPlan
        {
            Plan = plan,
            Layout = layout,
            Chunks = chunks,
            DerivativeChunks = [.. chunks.Where((_, i) => program.IsForDerivatives[i])],
            EventIndicators = zeros,
            StateRelations = stateRelations,
            IndicatorsAndSlopes = slopes,
            DirectIndicators = functions.IsDirect,
            NonSmoothPointOf = [.. functions.NonSmoothPoints.Select(k => k.Function)],
            Loops = loops,
            Counters = counted?.Counters ?? [],
            Vectors = counted?.Vectors ?? [],
            Tables = counted?.Tables ?? [],
            LoopCodes = codes,
        };
    }

    /// <summary>The just-in-time compiler takes most of the time; methods do not depend on each other.</summary>
    void Prepare()
    {
        var budget = WorkBudget.Current;
        void One(Delegate method)
        {
            budget.Check();
            RuntimeHelpers.PrepareDelegate(method);
        }

        try
        {
            if (made.Count > 1)
                Parallel.ForEach(made, One);
            else
                made.ForEach(One);
        }
        catch (AggregateException e) when (e.InnerException is OperationCanceledException canceled)
        {
            throw canceled;
        }
    }

    T Write<T>(Routine routine)
        where T : Delegate
    {
        var result = (T)IlEmitter.Write(routine).CreateDelegate(typeof(T), Unused);
        made.Add(result);
        return result;
    }

    CodeStretch[] Write(IReadOnlyList<RoutineStretch> stretches) =>
        [.. stretches.Select(s => new CodeStretch(Write<VectorMethod>(s.Routine), s.Offset))];

    /// <summary>A method that writes each term's value, after an evaluation, to the result.</summary>
    internal static VectorMethod Terms(CompiledPlan compiled, IReadOnlyList<Term> terms)
    {
        var routine = PlanLowering.Terms(compiled.Plan, compiled.Layout, terms);
        var result = (VectorMethod)IlEmitter.Write(routine).CreateDelegate(typeof(VectorMethod), Unused);
        RuntimeHelpers.PrepareDelegate(result);
        return result;
    }

    /// <summary>The same in methods of limited size, for any number of terms.</summary>
    internal static CodeStretch[] Stretches(CompiledPlan compiled, IReadOnlyList<Term> terms) =>
        [.. PlanLowering.Cut(terms).Select(c => new CodeStretch(Terms(compiled, [.. terms.Skip(c.From).Take(c.To - c.From)]), c.From))];
}
