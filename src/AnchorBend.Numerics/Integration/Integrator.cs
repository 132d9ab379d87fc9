using System.Runtime.InteropServices;

namespace AnchorBend.Numerics.Integration;

/// <summary>An integration method with dense output. After <see cref="Restart"/>, each <see cref="Step"/> goes on from the last.</summary>
public abstract unsafe class Integrator : ISaved, IDisposable
{
    /// <summary>Numbers in a line of the cache.</summary>
    const int LineLength = 8;

    readonly int length,
        vectors;
    double* memory;

    /// <param name="vectors">How many vectors of the system's dimension the method works with.</param>
    protected Integrator(OdeSystem system, int vectors)
    {
        System = system;
        Dimension = system.Dimension;
        // Four numbers at a time must not lie across two lines of the cache.
        length = Dimension > 4 ? (Dimension + LineLength - 1) / LineLength * LineLength : Math.Max(1, Dimension);
        this.vectors = vectors;
        var size = (nuint)(length * vectors) * sizeof(double);
        memory = (double*)NativeMemory.AlignedAlloc(size, LineLength * sizeof(double));
        NativeMemory.Clear(memory, size);
    }

    protected OdeSystem System { get; }

    protected int Dimension { get; }

    /// <summary>Start and end of the last step.</summary>
    public double StepStart { get; protected set; }

    public double Time { get; protected set; }

    /// <summary>Counts since the beginning.</summary>
    public virtual IntegrationCounts Counts => Own;

    /// <summary>What this method itself counted.</summary>
    protected internal IntegrationCounts Own;

    /// <summary>State at <see cref="Time"/>.</summary>
    public abstract double* State { get; }

    /// <summary>Whether the last evaluation of the system was the one at <see cref="Time"/> and <see cref="State"/>.</summary>
    public virtual bool EvaluatedAtEnd => false;

    /// <summary>The slope at <see cref="State"/> after an evaluation there; null where it is not kept.</summary>
    public virtual double* EndSlope => null;

    /// <summary>State at <see cref="StepStart"/>; null where it or a slope is not kept for every step.</summary>
    public virtual double* StartState => null;

    /// <summary>Slope at <see cref="StepStart"/>.</summary>
    public virtual double* StartSlope => null;

    /// <summary>Whether steps are so long that a smooth signal may turn more than once in one.</summary>
    public virtual bool IsLongStepping => true;

    /// <summary>The state with the largest part in the error of the last step: the one that keeps steps short; −1 where it is not
    /// known.</summary>
    public virtual int LimitingState => -1;

    /// <summary>The step that the control would take next; 0 when it has no idea yet.</summary>
    public virtual double NextStep => 0;

    /// <summary>
    /// Whether values within steps are looked at. An implicit method whose steps are better at their ends than within takes shorter ones
    /// then.
    /// </summary>
    public virtual bool ChecksDenseOutput { get; set; }

    /// <summary>Whether the method's values within steps are worse than those at their ends.</summary>
    public virtual bool BetterAtEnds => false;

    /// <summary>Where the right side is not smooth, steps should end: the error estimate holds for smooth motion only.</summary>
    public virtual DiscontinuityPolicy Discontinuities => DiscontinuityPolicy.None;

    /// <summary>The distance of one vector from the next.</summary>
    protected int Stride => length;

    protected double* Vector(int index) => memory + index * length;

    /// <summary>Begins anew at a time and state, as after an event.</summary>
    /// <param name="firstStep">The step to try first; 0 to have it estimated.</param>
    public abstract void Restart(double time, double* x, double firstStep = 0);

    /// <summary>Makes one accepted step that ends at <paramref name="limit"/> at the latest (and then exactly there).</summary>
    /// <exception cref="StepCollapseException">No step that can be told from zero meets the tolerance.</exception>
    public abstract void Step(double limit);

    /// <summary>State at a time within the last step.</summary>
    public abstract void Interpolate(double time, double* x);

    /// <summary>Saves all that the method goes on from, or loads it; afterwards both go on alike, bit by bit.</summary>
    public virtual void Transfer(StateArchive archive)
    {
        var (start, time) = (StepStart, Time);
        archive.Transfer(ref start);
        archive.Transfer(ref time);
        (StepStart, Time) = (start, time);
        archive.Transfer(ref Own.Steps);
        archive.Transfer(ref Own.Rejected);
        archive.Transfer(ref Own.Evaluations);
        archive.Transfer(ref Own.Jacobians);
        archive.Transfer(ref Own.Factorizations);
        archive.Transfer(ref Own.NewtonFailures);
        archive.Transfer(new Span<double>(memory, length * vectors));
    }

    /// <summary>Saves or loads which of the method's vectors a pointer means.</summary>
    protected void Transfer(StateArchive archive, ref double* vector) => archive.Transfer(ref vector, memory, length);

    protected void Evaluate(double t, double* state, double* derivative)
    {
        Own.Evaluations++;
        System.Derivatives(t, state, derivative);
    }

    public void Dispose()
    {
        if (memory == null)
            return;
        Release();
        NativeMemory.AlignedFree(memory);
        memory = null;
        GC.SuppressFinalize(this);
    }

    /// <summary>Gives back what the method holds besides its vectors.</summary>
    protected virtual void Release() { }

    ~Integrator() => Dispose();
}
