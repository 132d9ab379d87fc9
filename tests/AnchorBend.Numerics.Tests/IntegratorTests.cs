using AnchorBend.Numerics;
using AnchorBend.Numerics.Integration;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Numerics.Tests;

public unsafe class IntegratorTests
{
    /// <summary>Arenstorf's orbit: a restricted three-body problem that returns to its start after one period
    /// (Hairer, Nørsett, Wanner, "Solving Ordinary Differential Equations I", section II.0).</summary>
    sealed class Arenstorf : OdeSystem
    {
        public const double Period = 17.0652165601579625588917206249;
        public static readonly double[] Start = [0.994, 0, 0, -2.00158510637908252240537862224];

        public override int Dimension => 4;

        public override SparsePattern JacobianPattern => SparsePattern.Dense(4);

        public override void Jacobian(double t, double* x, double* values) => throw new NotSupportedException();

        public override void Derivatives(double t, double* x, double* dx)
        {
            const double mu = 0.012277471,
                rest = 1 - mu;
            var d1 = Math.Pow((x[0] + mu) * (x[0] + mu) + x[1] * x[1], 1.5);
            var d2 = Math.Pow((x[0] - rest) * (x[0] - rest) + x[1] * x[1], 1.5);
            dx[0] = x[2];
            dx[1] = x[3];
            dx[2] = x[0] + 2 * x[3] - rest * (x[0] + mu) / d1 - mu * (x[0] - rest) / d2;
            dx[3] = x[1] - 2 * x[2] - rest * x[1] / d1 - mu * x[1] / d2;
        }
    }

    [Fact]
    public void Dormand_Prince_returns_on_the_Arenstorf_orbit()
    {
        // One turn amplifies local errors by some 1e4, so a tolerance of 1e-11 leaves at most about 1e-6.
        using var integrator = new DormandPrince54(new Arenstorf(), TestSystem.Scale(4, 1e-11), 100);
        var x = TestSystem.Integrate(integrator, Arenstorf.Start, Arenstorf.Period);
        Assert.Equal(Arenstorf.Start[0], x[0], 1e-5);
        Assert.Equal(Arenstorf.Start[1], x[1], 1e-5);
    }

    [Theory]
    [InlineData(1e-4)]
    [InlineData(1e-6)]
    [InlineData(1e-8)]
    [InlineData(1e-10)]
    public void The_error_follows_the_tolerance(double tolerance)
    {
        using var integrator = new DormandPrince54(TestSystem.Oscillator(), TestSystem.Scale(2, tolerance), 100);
        var x = TestSystem.Integrate(integrator, [1, 0], 10);
        Assert.InRange(Math.Abs(x[0] - Math.Cos(10)), 0, 10 * tolerance);
    }

    [Fact]
    public void Dense_output_is_as_good_as_the_steps()
    {
        using var integrator = new DormandPrince54(TestSystem.Oscillator(), TestSystem.Scale(2, 1e-8), 100);
        double* start = stackalloc double[] { 1, 0 };
        double* inside = stackalloc double[2];
        integrator.Restart(0, start);
        while (integrator.Time < 10)
        {
            integrator.Step(10);
            for (var part = 0.1; part < 1; part += 0.2)
            {
                var t = integrator.StepStart + part * (integrator.Time - integrator.StepStart);
                integrator.Interpolate(t, inside);
                Assert.Equal(Math.Cos(t), inside[0], 2e-7);
            }
        }
    }

    [Fact]
    public void Runge_Kutta_4_converges_with_order_four()
    {
        double Error(double h)
        {
            using var integrator = new RungeKutta4(TestSystem.Oscillator(), h, 0);
            return Math.Abs(TestSystem.Integrate(integrator, [1, 0], 4)[0] - Math.Cos(4));
        }

        var order = Math.Log2(Error(0.1) / Error(0.05));
        Assert.InRange(order, 3.7, 4.4);
    }

    [Fact]
    public void A_fixed_step_run_ends_exactly_and_counts_four_evaluations_a_step()
    {
        using var integrator = new RungeKutta4(TestSystem.Oscillator(), 0.1, 0);
        TestSystem.Integrate(integrator, [1, 0], 1);
        Assert.Equal(1.0, integrator.Time);
        Assert.Equal(10, integrator.Counts.Steps);
        Assert.Equal(40, integrator.Counts.Evaluations);
    }

    [Fact]
    public void A_singularity_ends_in_a_step_collapse()
    {
        // dx/dt = x² from 1 is 1/(1 − t).
        var blowup = new TestSystem(1, (_, x, dx) => dx[0] = x[0] * x[0]);
        using var integrator = new DormandPrince54(blowup, TestSystem.Scale(1, 1e-8), 100);
        var error = Assert.Throws<StepCollapseException>(() => TestSystem.Integrate(integrator, [1], 2));
        Assert.Equal(1.0, error.Time, 1e-6);
    }

    [Theory]
    [InlineData(0.5)]
    [InlineData(1e-9)]
    [InlineData(0.999999)]
    public void A_root_is_found_to_neighbouring_numbers_on_the_far_side(double root)
    {
        var found = RootLocation.After(t => Math.Pow(t - root, 3), 0, -Math.Pow(root, 3), 1, Math.Pow(1 - root, 3), 1e-16);
        Assert.True(found >= root);
        Assert.Equal(root, found, 1e-12);
    }

    [Fact]
    public void A_smooth_root_takes_a_handful_of_evaluations()
    {
        // Events cost what their location costs; halving the interval would take some fifty.
        var evaluations = 0;
        RootLocation.After(
            t =>
            {
                evaluations++;
                return Math.Sin(t) - 0.4;
            },
            0,
            -0.4,
            1,
            Math.Sin(1) - 0.4,
            1e-15
        );
        Assert.InRange(evaluations, 3, 10);
    }

    [Fact]
    public void Lu_solves_with_pivoting_and_tells_a_singular_matrix()
    {
        double* a = stackalloc double[] { 0, 2, 1, 1, 1, 1, 4, -2, 3 };
        double* b = stackalloc double[] { 7, 6, 9 };
        int* pivots = stackalloc int[3];
        Assert.Equal(-1, DenseLu.Factorize(a, pivots, 3));
        DenseLu.Solve(a, pivots, 3, b);
        Assert.Equal(1, b[0], 1e-12);
        Assert.Equal(2, b[1], 1e-12);
        Assert.Equal(3, b[2], 1e-12);
        double* singular = stackalloc double[] { 1, 2, 2, 4 };
        Assert.Equal(1, DenseLu.Factorize(singular, pivots, 2));
    }
}
