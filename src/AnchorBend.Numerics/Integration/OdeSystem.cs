using AnchorBend.Numerics.Linear;

namespace AnchorBend.Numerics.Integration;

/// <summary>An ordinary differential equation <c>dx/dt = f(t, x)</c>.</summary>
public abstract unsafe class OdeSystem
{
    /// <summary>Number of states; may be zero.</summary>
    public abstract int Dimension { get; }

    /// <summary>Computes <c>dx = f(t, x)</c>. Must be a function of its arguments alone between two events.</summary>
    public abstract void Derivatives(double t, double* x, double* dx);

    /// <summary>Where <c>∂f/∂x</c> can be other than zero, n × n.</summary>
    public abstract SparsePattern JacobianPattern { get; }

    /// <summary>Computes <c>∂f/∂x</c>, one value for each place of the pattern in its order.</summary>
    public abstract void Jacobian(double t, double* x, double* values);
}

/// <summary>Counts of an integration.</summary>
public struct IntegrationCounts
{
    public long Steps;
    public long Rejected;
    public long Evaluations;
    public long Jacobians;
    public long Factorizations;

    /// <summary>Steps whose implicit equations Newton's method did not solve.</summary>
    public long NewtonFailures;

    public readonly IntegrationCounts Plus(in IntegrationCounts other) =>
        new()
        {
            Steps = Steps + other.Steps,
            Rejected = Rejected + other.Rejected,
            Evaluations = Evaluations + other.Evaluations,
            Jacobians = Jacobians + other.Jacobians,
            Factorizations = Factorizations + other.Factorizations,
            NewtonFailures = NewtonFailures + other.NewtonFailures,
        };
}

/// <summary>The step became smaller than the resolution of time.</summary>
public sealed class StepCollapseException(double time, bool notFinite) : Exception($"step size collapse at {time:R}")
{
    public double Time { get; } = time;

    /// <summary>Whether derivatives that are no numbers were the reason.</summary>
    public bool NotFinite { get; } = notFinite;
}
