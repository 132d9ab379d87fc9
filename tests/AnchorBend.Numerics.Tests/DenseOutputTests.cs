using AnchorBend.Numerics.Integration;

namespace AnchorBend.Numerics.Tests;

/// <summary>Values between the ends of steps are as good as those at the ends, and implicit equations count as solved only when they
/// are.</summary>
public unsafe class DenseOutputTests
{
    public enum Method
    {
        DormandPrince853,
        Radau5,
    }

    static Integrator Make(Method method, OdeSystem system, double tolerance) =>
        method == Method.Radau5
            ? new Radau5(system, TestSystem.Scale(system.Dimension, tolerance), 100) { ChecksDenseOutput = true }
            : new DormandPrince853(system, TestSystem.Scale(system.Dimension, tolerance), 100) { ChecksDenseOutput = true };

    /// <summary>y' = −400 (y − cos 3t) − 3 sin 3t with y = cos 3t: a fast mode at rest.</summary>
    static TestSystem AtRest() =>
        new(1, (t, y, dy) => dy[0] = -400 * (y[0] - Math.Cos(3 * t)) - 3 * Math.Sin(3 * t), (_, _, j) => j[0, 0] = -400);

    [Theory]
    [InlineData(Method.DormandPrince853, 1e-5), InlineData(Method.DormandPrince853, 1e-8), InlineData(Method.DormandPrince853, 1e-10)]
    [InlineData(Method.Radau5, 1e-5), InlineData(Method.Radau5, 1e-8), InlineData(Method.Radau5, 1e-10)]
    public void A_fast_mode_at_rest_does_not_show_between_the_ends_of_steps(Method method, double tolerance)
    {
        using var integrator = Make(method, AtRest(), tolerance);
        double* x = stackalloc double[1];
        // Every restart begins without a step that could tell how smooth the motion is.
        for (var start = 0.0; start < 5; start += 0.5)
        {
            x[0] = Math.Cos(3 * start);
            integrator.Restart(start, x);
            while (integrator.Time < start + 0.5)
            {
                integrator.Step(start + 0.5);
                for (var part = 0.05; part < 1; part += 0.1)
                {
                    var t = integrator.StepStart + part * (integrator.Time - integrator.StepStart);
                    integrator.Interpolate(t, x);
                    Assert.Equal(Math.Cos(3 * t), x[0], 10 * tolerance);
                }
            }
        }
    }

    [Theory]
    [InlineData(1e-3), InlineData(1e-5), InlineData(1e-7), InlineData(1e-9)]
    public void A_contact_that_opens_lets_go(double tolerance)
    {
        // A stiff flank lifts x with the sine and leaves it at the top, where cos t = 0: there x is half of 1/k² below the sine.
        const double k = 1e4;
        var system = new TestSystem(
            1,
            (t, x, dx) => dx[0] = k * Math.Max(0, Math.Sin(t) - x[0]),
            (t, x, j) => j[0, 0] = Math.Sin(t) > x[0] ? -k : 0
        );
        using var integrator = new Radau5(system, TestSystem.Scale(1, tolerance), 100);
        Assert.Equal(1, TestSystem.Integrate(integrator, [0], 4)[0], 10 * tolerance);
    }
}
