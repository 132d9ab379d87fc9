namespace AnchorBend.Numerics.Integration;

/// <summary>An ordinary differential equation <c>dx/dt = f(t, x)</c>.</summary>
public abstract unsafe class OdeSystem
{
    /// <summary>Number of states; may be zero.</summary>
    public abstract int Dimension { get; }

    /// <summary>Computes <c>dx = f(t, x)</c>. Must be a function of its arguments alone between two events.</summary>
    public abstract void Derivatives(double t, double* x, double* dx);
}

/// <summary>Counts of an integration.</summary>
public struct IntegrationCounts
{
    public long Steps;
    public long Rejected;
    public long Evaluations;
}

/// <summary>The step became smaller than the resolution of time.</summary>
public sealed class StepCollapseException(double time, bool notFinite) : Exception($"step size collapse at {time:R}")
{
    public double Time { get; } = time;

    /// <summary>Whether derivatives that are no numbers were the reason.</summary>
    public bool NotFinite { get; } = notFinite;
}

/// <summary>A one-step method with dense output. After <see cref="Restart"/>, each <see cref="Step"/> goes on from the last.</summary>
public abstract unsafe class Integrator : IDisposable
{
    readonly int length;
    double* memory;

    /// <param name="vectors">How many vectors of the system's dimension the method works with.</param>
    protected Integrator(OdeSystem system, int vectors)
    {
        System = system;
        Dimension = system.Dimension;
        length = Math.Max(1, Dimension);
        memory = (double*)global::System.Runtime.InteropServices.NativeMemory.AllocZeroed((nuint)(length * vectors), sizeof(double));
    }

    protected OdeSystem System { get; }

    protected int Dimension { get; }

    /// <summary>Start and end of the last step.</summary>
    public double StepStart { get; protected set; }

    public double Time { get; protected set; }

    public IntegrationCounts Counts;

    /// <summary>State at <see cref="Time"/>.</summary>
    public abstract double* State { get; }

    protected double* Vector(int index) => memory + index * length;

    /// <summary>Begins anew at a time and state, as after an event.</summary>
    public abstract void Restart(double time, double* x);

    /// <summary>Makes one accepted step that ends at <paramref name="limit"/> at the latest (and then exactly there).</summary>
    /// <exception cref="StepCollapseException">No step that can be told from zero meets the tolerance.</exception>
    public abstract void Step(double limit);

    /// <summary>State at a time within the last step.</summary>
    public abstract void Interpolate(double time, double* x);

    public void Dispose()
    {
        if (memory == null) return;
        global::System.Runtime.InteropServices.NativeMemory.Free(memory);
        memory = null;
        GC.SuppressFinalize(this);
    }

    ~Integrator() => Dispose();
}
