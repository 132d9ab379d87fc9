using AnchorBend.Numerics.Linear;

namespace AnchorBend.Compiler.Lowering;

/// <summary>A routine that fills a stretch of a vector from an offset on.</summary>
public sealed record RoutineStretch(Routine Routine, int Offset);

/// <summary>An algebraic loop in routines.</summary>
/// <param name="Jacobian">Row by row for a torn loop; in the order of the pattern otherwise.</param>
/// <param name="Pattern">Where the Jacobian of a loop that is not torn can be other than zero; null for a torn one.</param>
public sealed record LoweredLoop(IReadOnlyList<RoutineStretch> Residuals, IReadOnlyList<RoutineStretch> Jacobian, SparsePattern? Pattern);

/// <summary>
/// A plan as routines of statements: what is computed once and kept, what is hoisted to the start of a run, how loops are solved and how
/// much goes into one routine is decided. Machine code and whatever else there is to make of a model is written down from it.
/// </summary>
public sealed class LoweredProgram
{
    /// <summary>All blocks of the plan in order; each routine skips by itself what a mode does not need.</summary>
    public required IReadOnlyList<Routine> Chunks { get; init; }

    /// <summary>Which of these have something to do for derivatives.</summary>
    public required IReadOnlyList<bool> IsForDerivatives { get; init; }

    /// <summary>Event indicators; null where there are none.</summary>
    public required Routine? EventIndicators { get; init; }

    /// <summary>Event indicators with their slopes along time; null where none can be computed without the rest of the model.</summary>
    public required Routine? IndicatorsAndSlopes { get; init; }

    public required IReadOnlyList<LoweredLoop> Loops { get; init; }
}
