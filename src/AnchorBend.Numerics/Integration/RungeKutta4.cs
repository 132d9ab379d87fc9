namespace AnchorBend.Numerics.Integration;

/// <summary>The classical Runge–Kutta method of order 4 with a fixed step (Kutta, Z. Math. Phys. 46, 1901).</summary>
public sealed unsafe class RungeKutta4(OdeSystem system, double stepSize, double startTime)
    : FixedStepIntegrator(system, stepSize, startTime, 3)
{
    protected override bool Advance(double t, double end, double* from, double* to, double* slope)
    {
        var n = Dimension;
        var h = end - t;
        double* trial = to,
            k2 = Work(0),
            k3 = Work(1),
            k4 = Work(2);
        VectorKernels.Combine(trial, from, h / 2, slope, Stride, [1.0], n);
        Evaluate(t + h / 2, trial, k2);
        VectorKernels.Combine(trial, from, h / 2, k2, Stride, [1.0], n);
        Evaluate(t + h / 2, trial, k3);
        VectorKernels.Combine(trial, from, h, k3, Stride, [1.0], n);
        Evaluate(end, trial, k4);
        VectorKernels.Simpson(to, from, h / 6, slope, k2, k3, k4, n);
        return false;
    }
}

/// <summary>Euler's explicit method of order 1 with a fixed step.</summary>
public sealed unsafe class ExplicitEuler(OdeSystem system, double stepSize, double startTime)
    : FixedStepIntegrator(system, stepSize, startTime, 0)
{
    protected override bool Advance(double t, double end, double* from, double* to, double* slope)
    {
        VectorKernels.Combine(to, from, end - t, slope, Stride, [1.0], Dimension);
        return false;
    }
}

/// <summary>Heun's method of order 2 with a fixed step: the mean of the slopes at both ends (Heun, Z. Math. Phys. 45, 1900).</summary>
public sealed unsafe class Heun(OdeSystem system, double stepSize, double startTime) : FixedStepIntegrator(system, stepSize, startTime, 1)
{
    protected override bool Advance(double t, double end, double* from, double* to, double* slope)
    {
        var n = Dimension;
        double* k2 = Work(0);
        VectorKernels.Combine(to, from, end - t, slope, Stride, [1.0], n);
        Evaluate(end, to, k2);
        var half = (end - t) / 2;
        for (var i = 0; i < n; i++)
            to[i] = from[i] + half * (slope[i] + k2[i]);
        return false;
    }
}
