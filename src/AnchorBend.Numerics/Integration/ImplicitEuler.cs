using AnchorBend.Numerics.Linear;

namespace AnchorBend.Numerics.Integration;

/// <summary>
/// Euler's implicit method of order 1 with a fixed step, L-stable: every step solves <c>x₁ = x₀ + h f(t₁, x₁)</c> by Newton's method with
/// the exact Jacobian (Hairer and Wanner, "Solving Ordinary Differential Equations II", 2nd ed., section IV.3).
/// </summary>
public sealed unsafe class ImplicitEuler : FixedStepIntegrator
{
    const int MaximumIterations = 25;

    readonly ErrorScale scale;
    readonly ShiftedMatrix<double> matrix;
    readonly double[] jacobian;
    double factoredStep;

    public ImplicitEuler(OdeSystem system, ErrorScale scale, double stepSize, double startTime)
        : base(system, stepSize, startTime, 2)
    {
        this.scale = scale;
        matrix = ShiftedMatrix<double>.For(system.JacobianPattern);
        jacobian = new double[Math.Max(1, system.JacobianPattern.Count)];
    }

    protected override void Forget() => factoredStep = 0;

    protected override bool Advance(double t, double end, double* from, double* to, double* slope)
    {
        var n = Dimension;
        var h = end - t;
        double* change = Work(0),
            weights = Work(1);
        scale.Fill(from, weights, n);
        VectorKernels.Combine(to, from, h, slope, Stride, [1.0], n);
        if (!VectorKernels.AllFinite(to, n))
            VectorKernels.Copy(to, from, n);
        var before = double.PositiveInfinity;
        var slowed = false;
        for (var iteration = 0; iteration < MaximumIterations; iteration++)
        {
            Evaluate(end, to, EndSlope);
            // Half a unit in the last place of the step would otherwise factorise anew at every grid point.
            if (slowed || Math.Abs(factoredStep - h) > 1e-9 * h)
            {
                fixed (double* j = jacobian)
                    System.Jacobian(end, to, j);
                Own.Jacobians++;
                Own.Factorizations++;
                factoredStep = h;
                fixed (double* j = jacobian)
                    if (!matrix.Factorize(1 / h, j))
                        break;
            }

            for (var i = 0; i < n; i++)
                change[i] = EndSlope[i] - (to[i] - from[i]) / h;
            matrix.Solve(change);
            var size = ErrorScale.Norm(change, weights, n);
            if (!double.IsFinite(size))
                break;
            for (var i = 0; i < n; i++)
                to[i] += change[i];
            if (size < 1e-3)
            {
                Evaluate(end, to, EndSlope);
                return true;
            }

            slowed = size > 0.2 * before;
            before = size;
        }

        Own.NewtonFailures++;
        throw new StepCollapseException(t, !VectorKernels.AllFinite(to, n));
    }

    protected override void Release() => matrix?.Dispose();
}
