using AnchorBend.Numerics.Integration;

namespace AnchorBend.Numerics.Tests;

/// <summary>What every adaptive method must do, and the orders of all methods.</summary>
public unsafe class MethodTests
{
    public enum Method
    {
        DormandPrince54,
        DormandPrince853,
        Radau5,
        BackwardDifferences,
    }

    static Integrator Make(Method method, OdeSystem system, ErrorScale scale) =>
        method switch
        {
            Method.DormandPrince54 => new DormandPrince54(system, scale, double.MaxValue),
            Method.DormandPrince853 => new DormandPrince853(system, scale, double.MaxValue),
            Method.Radau5 => new Radau5(system, scale, double.MaxValue),
            _ => new BackwardDifferences(system, scale, double.MaxValue),
        };

    public static TheoryData<Method, double> MethodsAndTolerances()
    {
        var data = new TheoryData<Method, double>();
        foreach (var method in Enum.GetValues<Method>())
        foreach (var tolerance in new[] { 1e-3, 1e-6, 1e-9 })
            data.Add(method, tolerance);
        return data;
    }

    /// <summary>Errors of steps add up over the 10 s, for backward differences (one estimate of low order a step) most of all.</summary>
    static double Allowance(Method method) => method == Method.BackwardDifferences ? 200 : 20;

    [Theory, MemberData(nameof(MethodsAndTolerances))]
    public void The_error_on_an_oscillation_follows_the_tolerance(Method method, double tolerance)
    {
        using var integrator = Make(method, TestSystem.Oscillator(), TestSystem.Scale(2, tolerance));
        var x = TestSystem.Integrate(integrator, [1, 0], 10);
        Assert.InRange(Math.Abs(x[0] - Math.Cos(10)), 0, Allowance(method) * tolerance);
        Assert.Equal(10, integrator.Time);
    }

    [Theory, MemberData(nameof(MethodsAndTolerances))]
    public void Dense_output_follows_the_tolerance_too(Method method, double tolerance)
    {
        using var integrator = Make(method, TestSystem.Oscillator(), TestSystem.Scale(2, tolerance));
        double* start = stackalloc double[] { 1, 0 };
        double* inside = stackalloc double[2];
        integrator.Restart(0, start);
        while (integrator.Time < 10)
        {
            integrator.Step(10);
            for (var part = 0.0; part <= 1; part += 0.125)
            {
                var t = integrator.StepStart + part * (integrator.Time - integrator.StepStart);
                integrator.Interpolate(t, inside);
                Assert.InRange(Math.Abs(inside[0] - Math.Cos(t)), 0, 2 * Allowance(method) * tolerance);
            }
        }
    }

    /// <summary>Robertson's reaction, three species with rates from 0.04 to 3·10⁷ (Hairer and Wanner II, section IV.10); end values from
    /// there.</summary>
    [Theory]
    [InlineData(Method.Radau5, 1e-6)]
    [InlineData(Method.Radau5, 1e-9)]
    [InlineData(Method.BackwardDifferences, 1e-6)]
    public void Stiff_reactions_are_followed_in_few_steps(Method method, double tolerance)
    {
        var robertson = new TestSystem(
            3,
            (_, x, dx) =>
            {
                dx[0] = -0.04 * x[0] + 1e4 * x[1] * x[2];
                dx[1] = 0.04 * x[0] - 1e4 * x[1] * x[2] - 3e7 * x[1] * x[1];
                dx[2] = 3e7 * x[1] * x[1];
            },
            (_, x, j) =>
            {
                (j[0, 0], j[0, 1], j[0, 2]) = (-0.04, 1e4 * x[2], 1e4 * x[1]);
                (j[1, 0], j[1, 1], j[1, 2]) = (0.04, -1e4 * x[2] - 6e7 * x[1], -1e4 * x[1]);
                j[2, 1] = 6e7 * x[1];
            }
        );
        using var integrator = Make(method, robertson, TestSystem.Scale(3, tolerance, tolerance * 1e-4));
        var x = TestSystem.Integrate(integrator, [1, 0, 0], 1e11);
        Assert.Equal(0.2083340149701255e-7, x[0], 50 * tolerance * 0.2083340149701255e-7 + tolerance * 1e-3);
        Assert.Equal(0.8333360770334713e-13, x[1], 50 * tolerance * 0.8333360770334713e-13 + tolerance * 1e-3);
        Assert.Equal(0.9999999791665050, x[2], 50 * tolerance);
        Assert.InRange(integrator.Counts.Steps, 10, 1500);
    }

    [Theory]
    [InlineData(1e-4)]
    [InlineData(1e-7)]
    [InlineData(1e-10)]
    public void Radau_follows_a_fast_decay_onto_a_slow_motion(double tolerance)
    {
        // Prothero and Robinson: x = sin t for any λ, from a start beside it.
        var system = new TestSystem(1, (t, x, dx) => dx[0] = -1e6 * (x[0] - Math.Sin(t)) + Math.Cos(t), (_, _, j) => j[0, 0] = -1e6);
        using var integrator = new Radau5(system, TestSystem.Scale(1, tolerance), 100);
        var x = TestSystem.Integrate(integrator, [1], 10);
        Assert.Equal(Math.Sin(10), x[0], 10 * tolerance);
        Assert.InRange(integrator.Counts.Steps, 5, 600);
    }

    [Theory]
    [InlineData("euler", 1)]
    [InlineData("heun", 2)]
    [InlineData("rk4", 4)]
    [InlineData("implicit-euler", 1)]
    public void Fixed_step_methods_converge_with_their_order(string method, int order)
    {
        double Error(double h)
        {
            var system = TestSystem.Oscillator();
            using FixedStepIntegrator integrator = method switch
            {
                "euler" => new ExplicitEuler(system, h, 0),
                "heun" => new Heun(system, h, 0),
                "rk4" => new RungeKutta4(system, h, 0),
                _ => new ImplicitEuler(system, TestSystem.Scale(2, 1e-8), h, 0),
            };
            var x = TestSystem.Integrate(integrator, [1, 0], 4);
            return Math.Sqrt(Math.Pow(x[0] - Math.Cos(4), 2) + Math.Pow(x[1] + Math.Sin(4), 2));
        }

        Assert.InRange(Math.Log2(Error(0.02) / Error(0.01)), order - 0.15, order + 0.15);
    }

    /// <summary>With the error of one step over two sizes, the order of the pair shows: 9 = 8 + 1 for the order 8, 8 = 7 + 1 for dense
    /// output.</summary>
    [Fact]
    public void The_pair_of_order_eight_has_its_order_within_and_at_the_end_of_a_step()
    {
        (double End, double DenseOutput) Errors(double h)
        {
            var system = new TestSystem(2, (t, x, dx) => (dx[0], dx[1]) = (x[1] * t + x[0], -x[0] * t + Math.Cos(x[1])));
            double* start = stackalloc double[] { 1, 0.5 },
                inside = stackalloc double[2];
            double[] fine = new double[2],
                fineDenseOutput = new double[2];
            using (var reference = new DormandPrince853(system, TestSystem.Scale(2, 1e-13), h / 40))
            {
                reference.Restart(0.3, start);
                while (reference.Time < 0.3 + h * 0.4)
                    reference.Step(0.3 + h * 0.4);
                fineDenseOutput = [reference.State[0], reference.State[1]];
                while (reference.Time < 0.3 + h)
                    reference.Step(0.3 + h);
                fine = [reference.State[0], reference.State[1]];
            }

            using var integrator = new DormandPrince853(system, TestSystem.Scale(2, 1e9), h);
            integrator.Restart(0.3, start, h);
            integrator.Step(0.3 + h);
            integrator.Interpolate(0.3 + h * 0.4, inside);
            return (Math.Abs(integrator.State[0] - fine[0]), Math.Abs(inside[0] - fineDenseOutput[0]));
        }

        var (coarse, fine) = (Errors(0.8), Errors(0.4));
        Assert.InRange(Math.Log2(coarse.End / fine.End), 8, 11);
        Assert.InRange(Math.Log2(coarse.DenseOutput / fine.DenseOutput), 7, 10);
    }

    [Fact]
    public void An_explicit_method_notices_stiffness_and_its_end()
    {
        // A fast mode of 1/ms beside a slow motion; then, from t = 1, no fast mode at all.
        var system = new TestSystem(1, (t, x, dx) => dx[0] = t < 1 ? -1000 * (x[0] - Math.Cos(t)) : -x[0]);
        using var integrator = new DormandPrince54(system, TestSystem.Scale(1, 1e-4), 100) { WatchesStiffness = true };
        double* start = stackalloc double[] { 1 };
        integrator.Restart(0, start);
        while (integrator.Time < 0.5)
            integrator.Step(0.5);
        Assert.True(integrator.StiffSteps > 20, $"{integrator.StiffSteps} steps at the border of stability");
        while (integrator.Time < 3)
            integrator.Step(3);
        Assert.Equal(0, integrator.StiffSteps);
    }
}
