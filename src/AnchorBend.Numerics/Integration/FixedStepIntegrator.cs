namespace AnchorBend.Numerics.Integration;

/// <summary>
/// A method with a fixed step and cubic Hermite dense output. Steps end on multiples of the step size; a limit in between shortens one step
/// only.
/// </summary>
public abstract unsafe class FixedStepIntegrator : Integrator
{
    readonly double size,
        origin;
    double* x,
        old,
        endSlope,
        startSlope;
    bool slopeKnown;

    /// <param name="vectors">How many vectors the method works with besides two states and two slopes.</param>
    protected FixedStepIntegrator(OdeSystem system, double stepSize, double startTime, int vectors)
        : base(system, 4 + vectors)
    {
        (size, origin) = (stepSize, startTime);
        x = Vector(0);
        old = Vector(1);
        startSlope = Vector(2);
        endSlope = Vector(3);
    }

    public sealed override double* State => x;

    public override bool IsLongStepping => false;

    public sealed override double* StartSlope => startSlope;

    public sealed override double* EndSlope => endSlope;

    /// <summary>A work vector of the method.</summary>
    protected double* Work(int index) => Vector(4 + index);

    public sealed override void Restart(double time, double* state, double firstStep = 0)
    {
        (StepStart, Time) = (time, time);
        VectorKernels.Copy(x, state, Dimension);
        slopeKnown = false;
        Forget();
    }

    public sealed override void Step(double limit)
    {
        // Grid points are computed, not added up, so that they do not drift.
        var count = Math.Floor((Time - origin) / size * (1 + 1e-15) + 1e-9) + 1;
        var end = origin + count * size;
        if (end >= limit - 1e-9 * size)
            end = limit;
        var t = Time;
        if (slopeKnown)
        {
            var known = endSlope;
            endSlope = startSlope;
            startSlope = known;
        }
        else
        {
            Evaluate(t, x, StartSlope);
        }

        var from = x;
        x = old;
        old = from;
        slopeKnown = Advance(t, end, old, x, StartSlope);
        Own.Steps++;
        (StepStart, Time) = (t, end);
        if (!VectorKernels.AllFinite(x, Dimension))
            throw new StepCollapseException(t, true);
    }

    /// <summary>Computes the state at the end of a step.</summary>
    /// <returns>Whether <see cref="EndSlope"/> holds the slope there.</returns>
    protected abstract bool Advance(double t, double end, double* from, double* to, double* slope);

    /// <summary>Drops what was learnt from earlier steps.</summary>
    protected virtual void Forget() { }

    public override void Transfer(StateArchive archive)
    {
        base.Transfer(archive);
        Transfer(archive, ref x);
        Transfer(archive, ref old);
        Transfer(archive, ref endSlope);
        Transfer(archive, ref startSlope);
        archive.Transfer(ref slopeKnown);
        Forget();
    }

    public sealed override void Interpolate(double time, double* result)
    {
        var n = Dimension;
        if (!slopeKnown)
            Evaluate(Time, x, EndSlope);
        slopeKnown = true;
        var h = Time - StepStart;
        var s = h > 0 ? (time - StepStart) / h : 1;
        double a = (1 + 2 * s) * (1 - s) * (1 - s),
            b = s * (1 - s) * (1 - s),
            c = s * s * (3 - 2 * s),
            d = s * s * (s - 1);
        for (var i = 0; i < n; i++)
            result[i] = a * old[i] + b * h * StartSlope[i] + c * x[i] + d * h * EndSlope[i];
    }
}
