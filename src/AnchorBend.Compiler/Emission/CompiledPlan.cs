using System.Collections.Concurrent;
using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Derivation;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Emission;

/// <summary>A plan as machine code, shared by any number of runs.</summary>
public sealed class CompiledPlan
{
    public required ExecutionPlan Plan { get; init; }

    public required MemoryLayout Layout { get; init; }

    /// <summary>All blocks in order; each chunk skips by itself what a mode does not need.</summary>
    public required ChunkMethod[] Chunks { get; init; }

    /// <summary>The chunks that hold something to do in derivative mode.</summary>
    public required ChunkMethod[] DerivativeChunks { get; init; }

    /// <summary>Event indicators: left minus right side of each state relation, in the order of <see cref="StateRelations"/>.</summary>
    public required VectorMethod? EventIndicators { get; init; }

    /// <summary>
    /// Event indicators, what passes zero where they are not smooth (such as the argument of an absolute value), and the derivatives of
    /// both along time, at a state and its slope; null where <see cref="DirectIndicators"/> says no to all.
    /// </summary>
    public required VectorMethod? IndicatorsAndSlopes { get; init; }

    /// <summary>Which event indicators can be computed without the rest of the model.</summary>
    public required bool[] DirectIndicators { get; init; }

    /// <summary>The event indicator that each non-smooth point belongs to.</summary>
    public required int[] NonSmoothPointOf { get; init; }

    public required int[] StateRelations { get; init; }

    /// <summary>What the code counts; nothing where it was not made to.</summary>
    public required IReadOnlyCollection<Counter> Counters { get; init; }

    public required IReadOnlyCollection<VectorCounter> Vectors { get; init; }

    public required IReadOnlyCollection<TableCounter> Tables { get; init; }

    public required LoopBlock[] Loops { get; init; }

    /// <summary>Code of each loop, in the order of <see cref="Loops"/>.</summary>
    public required LoopCode[] LoopCodes { get; init; }

    ConcurrentDictionary<string, CompiledPlan?> choices = new();

    /// <summary>The plan of the same reduced model with another choice of states, compiled once; null where it cannot be sorted.</summary>
    public CompiledPlan? ForChoice(int[] dummies) => choices.GetOrAdd(string.Join(' ', dummies), _ =>
        {
            if (Plan.Reduced is not { } reduced)
                return null;
            if (reduced.Dummies.AsSpan().SequenceEqual(dummies))
                return this;
            if (reduced.Model.PlanFor(dummies) is not { } other)
                return null;
            var made = PlanEmitter.Compile(other, Counters.Count > 0);
            made.choices = choices;
            return made;
        });

    readonly Lock derivation = new();
    JacobianProgram? jacobian;

    /// <summary>The derivatives along the states; made when first asked for, as explicit methods do without.</summary>
    public JacobianProgram Jacobian
    {
        get
        {
            lock (derivation)
                return jacobian ??= JacobianBuilder.ForStates(this);
        }
    }

    CodeStretch[]? assertions;

    /// <summary>The conditions that must hold, one after the other; made when first asked for, as few are sooner walked.</summary>
    public CodeStretch[] Assertions
    {
        get
        {
            lock (derivation)
                return assertions ??= PlanEmitter.Stretches(this, [.. Plan.Assertions.Select(a => a.Condition)]);
        }
    }

    Discontinuities? discontinuities;

    /// <summary>Discontinuities that make no events; found when first asked for, as some methods do without.</summary>
    public Discontinuities Discontinuities
    {
        get
        {
            lock (derivation)
                return discontinuities ??= new Discontinuities(this);
        }
    }

    (VectorMethod Residuals, JacobianProgram Jacobian)? start;

    /// <summary>
    /// Left minus right sides of what must hold at the start; and the derivatives of these, of the states' derivatives and of the sources
    /// of delays, in this order, along the states and the delayed signals.
    /// </summary>
    public (VectorMethod Residuals, JacobianProgram Jacobian) Start
    {
        get
        {
            lock (derivation)
            {
                if (start is { } made)
                    return made;
                Term[] terms =
                [
                    .. Plan.StartEquations.Select(e =>
                        AliasElimination.Represent(TermBuilder.Subtract(e.Left, e.Right), Plan.Representative)
                    ),
                ];
                Term[] all =
                [
                    .. terms,
                    .. Plan.Derivatives.Select(d => new VariableTerm(d)),
                    .. Plan.Model.Delays.Select(d => new VariableTerm(Plan.Representative[d.Source])),
                ];
                start = (PlanEmitter.Terms(this, terms), JacobianBuilder.For(this, all, true));
                return start.Value;
            }
        }
    }
}
