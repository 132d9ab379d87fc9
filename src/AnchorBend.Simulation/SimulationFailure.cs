namespace AnchorBend.Simulation;

/// <summary>Why a run stopped early: what, where, when, and what to try.</summary>
/// <param name="Code">Stable short name: not-a-number, step-collapse, chattering, loop, time-budget, trace-budget, canceled,
/// assertion.</param>
/// <param name="Part">Path of the part concerned; empty where it is the whole model.</param>
/// <param name="Quantity">The variable concerned.</param>
public sealed record SimulationFailure(string Code, string Message, string Part, string? Quantity, double Time, string Advice);

/// <summary>Leaves the run; what was recorded up to then stays.</summary>
public sealed class SimulationException(SimulationFailure failure) : Exception(failure.Message)
{
    public SimulationFailure Failure { get; } = failure;
}
