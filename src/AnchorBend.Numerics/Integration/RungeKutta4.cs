using System.Runtime.CompilerServices;

namespace AnchorBend.Numerics.Integration;

/// <summary>
/// The classical Runge–Kutta method of order 4 with a fixed step (Kutta, Z. Math. Phys. 46, 1901) and cubic Hermite dense output.
/// Steps end on multiples of the step size; a limit in between shortens one step only.
/// </summary>
public sealed unsafe class RungeKutta4 : Integrator
{
    readonly double size, origin;
    readonly double* trial, k;
    double* x, old;
    readonly int stride;
    bool slopeKnown, newSlopeKnown;

    public RungeKutta4(OdeSystem system, double stepSize, double startTime) : base(system, 7)
    {
        (size, origin) = (stepSize, startTime);
        x = Vector(0);
        old = Vector(1);
        trial = Vector(2);
        k = Vector(3);
        stride = Math.Max(1, Dimension);
    }

    public override double* State => x;

    public override void Restart(double time, double* state)
    {
        (StepStart, Time) = (time, time);
        Unsafe.CopyBlock(x, state, (uint)(Dimension * sizeof(double)));
        slopeKnown = false;
        newSlopeKnown = false;
    }

    public override void Step(double limit)
    {
        var n = Dimension;
        // Grid points are computed, not added up, so that they do not drift.
        var count = Math.Floor((Time - origin) / size * (1 + 1e-15) + 1e-9) + 1;
        var end = origin + count * size;
        if (end >= limit - 1e-9 * size) end = limit;
        var h = end - Time;
        var t = Time;
        var last = x;
        x = old;
        old = last;
        if (!slopeKnown || !newSlopeKnown) Evaluate(t, old, k);
        else Unsafe.CopyBlock(k, k + 3 * stride, (uint)(n * sizeof(double)));
        VectorKernels.Combine(trial, old, h, k, stride, [0.5], n);
        Evaluate(t + h / 2, trial, k + stride);
        VectorKernels.Combine(trial, old, h, k + stride, stride, [0.5], n);
        Evaluate(t + h / 2, trial, k + 2 * stride);
        VectorKernels.Combine(trial, old, h, k + 2 * stride, stride, [1.0], n);
        Evaluate(end, trial, k + 3 * stride);
        VectorKernels.Combine(x, old, h, k, stride, [1.0 / 6, 1.0 / 3, 1.0 / 3, 1.0 / 6], n);
        Counts.Steps++;
        (StepStart, Time) = (t, end);
        newSlopeKnown = false;
        slopeKnown = true;
        if (!VectorKernels.AllFinite(x, n)) throw new StepCollapseException(t, true);
    }

    void Evaluate(double t, double* state, double* derivative)
    {
        Counts.Evaluations++;
        System.Derivatives(t, state, derivative);
    }

    public override void Interpolate(double time, double* result)
    {
        var n = Dimension;
        if (!newSlopeKnown)
        {
            Evaluate(Time, x, k + 3 * stride);
            newSlopeKnown = true;
        }

        var h = Time - StepStart;
        var s = h > 0 ? (time - StepStart) / h : 1;
        double a = (1 + 2 * s) * (1 - s) * (1 - s), b = s * (1 - s) * (1 - s), c = s * s * (3 - 2 * s), d = s * s * (s - 1);
        for (var i = 0; i < n; i++) result[i] = a * old[i] + b * h * k[i] + c * x[i] + d * h * k[3 * stride + i];
    }
}
