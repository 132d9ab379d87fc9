using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>State feedback and observers against solutions by hand.</summary>
public class StateFeedbackTests
{
    static LinearSystem Plant(string equations)
    {
        var prepared = TextModel.Prepare($"Real u = 0; Real y; {equations}");
        var point = OperatingPoint.AtTime(prepared, new ParameterSet(prepared.Model), 1e-6, new RunOptions { End = 1 });
        return Linearizer.Between(prepared, point, "u", "y").Reduced();
    }

    const string TwoIntegrators = "Real x(start = 0); Real v(start = 0); equation der(x) = v; der(v) = u; y = x;",
        Lag = "Real x(start = 0); equation der(x) = -x + u; y = x;",
        Unstable = "Real x(start = 0); Real z(start = 0); equation der(x) = 2 * x + z; der(z) = -5 * z + u; y = x;",
        Late = "Real x(start = 0); DeadTime d(T = 0.3); equation der(x) = -x + d.y; d.u = u; y = x;";

    [Theory]
    [InlineData(1, 1)]
    [InlineData(0.01, 1e-4)]
    [InlineData(100, 3)]
    public void A_double_integrator_has_the_gains_of_the_book(double effort, double noise)
    {
        var found = StateFeedback.Of(Plant(TwoIntegrators), new FeedbackWeights(effort, 0, noise));
        int x = found.States.ToList().IndexOf("x"),
            v = 1 - x;
        // K = (ρ^−½, √2 ρ^−¼), and the observer likewise the other way round.
        Assert.Equal(Math.Pow(effort, -0.5), found.Feedback[x], 1e-9 * Math.Pow(effort, -0.5));
        Assert.Equal(Math.Sqrt(2) * Math.Pow(effort, -0.25), found.Feedback[v], 1e-9 * Math.Pow(effort, -0.25));
        Assert.Equal(Math.Sqrt(2) * Math.Pow(noise, -0.25), found.Observer[x], 1e-8 * Math.Pow(noise, -0.25));
        Assert.Equal(Math.Pow(noise, -0.5), found.Observer[v], 1e-8 * Math.Pow(noise, -0.5));
    }

    [Theory]
    [InlineData(0.3)]
    [InlineData(7)]
    public void A_lag_solves_a_quadratic_equation(double effort)
    {
        var found = StateFeedback.Of(Plant(Lag), new FeedbackWeights(effort, 0, 1));
        Assert.Equal(Math.Sqrt(1 + 1 / effort) - 1, found.Feedback[0], 1e-10);
        Assert.Equal(Math.Sqrt(2) - 1, found.Observer[0], 1e-10);
    }

    [Theory]
    [InlineData(TwoIntegrators)]
    [InlineData(Lag)]
    [InlineData(Unstable)]
    [InlineData(Late)]
    public void With_an_integral_part_set_points_are_reached_and_loads_forgotten(string equations)
    {
        var plant = Plant(equations);
        var found = StateFeedback.Of(plant, new FeedbackWeights(0.1, 0.5, 0.01));
        Assert.Equal(0, RightHalfPlane.Count(found.Closed));
        Assert.Equal(1, StepResponse.Of(found.Closed, 60).Values[^1], 1e-4);
        Assert.Equal(0, StepResponse.Of(found.Loaded(plant), 60).Values[^1], 1e-4);
        // At rest the input is what holds the plant there.
        if (equations == Lag)
            Assert.Equal(1, StepResponse.Of(found.Effort, 60).Values[^1], 1e-4);
    }

    [Fact]
    public void Feedback_and_observer_keep_their_poles_together()
    {
        var plant = Plant(Unstable);
        var found = StateFeedback.Of(plant, new FeedbackWeights(0.1, 0, 0.01));
        Complex[] Of(double[] column, double[] row) =>
            PolesAndZeros.Poles(
                LinearSystem.Of(
                    new double[,]
                    {
                        { plant.A[0, 0] - column[0] * row[0], plant.A[0, 1] - column[0] * row[1] },
                        { plant.A[1, 0] - column[1] * row[0], plant.A[1, 1] - column[1] * row[1] },
                    },
                    [0, 0],
                    [0, 0],
                    0
                )
            );
        var expected = Of(plant.B, found.Feedback).Concat(Of(found.Observer, plant.C)).OrderBy(p => p.Real).ToList();
        var poles = PolesAndZeros.Poles(found.Closed).OrderBy(p => p.Real).ToList();
        for (var i = 0; i < 4; i++)
            Assert.True((expected[i] - poles[i]).Magnitude < 1e-6 * expected[i].Magnitude, $"{poles[i]} instead of {expected[i]}");
    }

    [Fact]
    public void Weights_stand_for_bandwidths()
    {
        var plant = Plant(TwoIntegrators);
        var weights = FeedbackWeights.For(plant, 3, 12, 0.5);
        Assert.Equal(1 / 81.0, weights.Effort, 1e-12);
        Assert.Equal(Math.Pow(12, -4), weights.Noise, 1e-12);
        Assert.Equal(0.25, weights.Integral);
        var crossing = StabilityMargins.Of(StateFeedback.Of(plant, weights).Loop).GainCrossings.Max(c => c.Frequency);
        Assert.InRange(crossing, 2, 6);
    }

    [Fact]
    public void What_cannot_be_designed_is_refused()
    {
        var direct = Plant("Real x(start = 0); equation der(x) = -x + u; y = x + u;");
        Assert.Equal("direct", Assert.Throws<DesignException>(() => StateFeedback.Of(direct, new FeedbackWeights(1, 0, 1))).Code);
        Assert.Equal("weights", Assert.Throws<DesignException>(() => StateFeedback.Of(Plant(Lag), new FeedbackWeights(0, 0, 1))).Code);
        Assert.Equal(
            "order",
            Assert.Throws<DesignException>(() => StateFeedback.Of(Plant("equation y = 2 * u;"), new FeedbackWeights(1, 0, 1))).Code
        );
        // A differentiating plant forgets what is constant, so its integral cannot be steered.
        var washout = Plant("Real x(start = 0); equation der(x) = u - x; y = der(x);");
        Assert.Equal("direct", Assert.Throws<DesignException>(() => StateFeedback.Of(washout, new FeedbackWeights(1, 1, 1))).Code);
        var twice = Plant("Real x(start = 0); Real z(start = 0); equation der(x) = u - x; der(z) = x - z; y = der(z);");
        Assert.Equal("riccati", Assert.Throws<DesignException>(() => StateFeedback.Of(twice, new FeedbackWeights(1, 1, 1))).Code);
    }

    [Theory]
    [InlineData(0.4)]
    [InlineData(0.7)]
    public void Gains_are_as_fast_as_the_damping_of_all_poles_allows(double damping)
    {
        var plant = Plant(
            "Real a(start = 0); Real b(start = 0); Real c(start = 0); equation der(a) = u - a; der(b) = a - b; der(c) = b - c; y = c;"
        );
        IReadOnlyList<LoopFigures>? Best(double peak) =>
            RobustPid.Best([plant], PidGains.Shape(PidForm.PI), new LoopLimits(peak), LoopGoal.Load);
        var found = LoopDamping.Best(damping, 3, [plant], Best)!;
        Assert.InRange(LoopDamping.Least(found[0], plant), damping, damping + 0.05);
        Assert.Equal("damping", Assert.Throws<DesignException>(() => LoopDamping.Best(1.2, 3, [plant], Best)).Code);
    }
}
