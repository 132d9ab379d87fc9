using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Controllers with an extended state observer, against the closed loops that they leave by design.</summary>
public class DisturbanceRejectionTests
{
    const string Loop = "equation connect(s.y, c.r); connect(c.u, p.u); connect(p.y, c.y);";

    [Theory]
    [InlineData(0.2)]
    [InlineData(1)]
    [InlineData(3)]
    public void An_integrator_becomes_a_lag_with_the_wanted_bandwidth(double time)
    {
        var text = $"Step s(startTime = 0); DisturbanceRejection c(b0 = 4, wc = 2); Integrator p(k = 4); {Loop}";
        Assert.Equal(1 - Math.Exp(-2 * time), TextModel.Values(text, "p.y", [0, time])[1], 1e-6);
    }

    [Theory]
    [InlineData(0.2)]
    [InlineData(1)]
    [InlineData(3)]
    public void A_double_integrator_becomes_two_equal_lags(double time)
    {
        var text =
            $"Step s(startTime = 0); "
            + $"DisturbanceRejection c(order = DisturbanceRejection.Order.Second, b0 = 1, wc = 2); DoubleIntegrator p; {Loop}";
        Assert.Equal(1 - (1 + 2 * time) * Math.Exp(-2 * time), TextModel.Values(text, "p.y", [0, time])[1], 1e-6);
    }

    [Theory]
    [InlineData("DisturbanceRejection c(b0 = 1, wc = 2, showDisturbance = true)", 1)]
    [InlineData("DisturbanceRejection c(b0 = 2, wc = 2, showDisturbance = true)", 2)]
    public void What_pushes_the_plant_is_estimated_and_cancelled(string controller, double b0)
    {
        // y' = u − y + 3: what is not b0 u counts as disturbance, (1 − b0) u − y + 3 with u = y − 3 at rest.
        var text = $"Step s(startTime = 0); {controller}; Real y(start = 0); equation connect(s.y, c.r); der(y) = c.u - y + 3; c.y = y;";
        Assert.Equal(1, TextModel.Values(text, "y", [0, 30])[1], 1e-6);
        Assert.Equal(-b0 * (1 - 3.0), TextModel.Values(text, "c.d", [0, 30])[1], 1e-5);
    }

    [Fact]
    public void At_a_limit_nothing_winds_up()
    {
        // At its limit the integrator rises evenly; after that it comes in as the lag does, without passing the set-point.
        var text = $"Step s(startTime = 0); DisturbanceRejection c(b0 = 1, wc = 4, uMax = 0.1, uMin = -0.1); Integrator p; {Loop}";
        var y = TextModel.Values(text, "p.y", [0, 5, 9, 10, 11, 12, 20]);
        Assert.Equal(0.5, y[1], 1e-6);
        Assert.All(y, v => Assert.True(v < 1 + 1e-6));
        Assert.Equal(1, y[^1], 1e-5);
    }

    [Fact]
    public void Taking_over_from_tracking_makes_no_bump()
    {
        var text =
            "DisturbanceRejection c(tracking = true, Tt = 0.1, wc = 1); equation c.r = 1; c.y = 0.4; c.uTrack = 5; c.track = time < 5;";
        Assert.Equal(5, TextModel.Values(text, "c.u", [0, 5.001])[1], 0.05);
    }

    [Theory]
    [InlineData("First")]
    [InlineData("Second")]
    public void Nor_does_it_at_samples(string order)
    {
        // A measured value that stands still is known to the observer, so the first output of its own is the one that was followed.
        var text =
            $"SampledDisturbanceRejection c(tracking = true, T = 0.1, wc = 1, order = SampledDisturbanceRejection.Order.{order}); "
            + "equation c.r = 1; c.y = 0.4; c.uTrack = 5; c.track = time < 4.95;";
        var u = TextModel.Values(text, "c.u", [0, 4.94, 5.05, 5.15]);
        Assert.Equal(5, u[1], 1e-9);
        Assert.Equal(5, u[2], 0.5);
    }

    [Fact]
    public void The_sampled_one_makes_of_an_integrator_what_its_differences_say()
    {
        // With an exact model the estimate is exact: y is multiplied by 1 − wc T toward the set-point at each sample.
        var text = $"Step s(startTime = 0); SampledDisturbanceRejection c(b0 = 4, wc = 2, T = 0.1); Integrator p(k = 4); {Loop}";
        double[] times = [0, 0.1, 0.5, 1];
        var y = TextModel.Values(text, "p.y", times);
        for (var i = 0; i < times.Length; i++)
            Assert.Equal(1 - Math.Pow(0.8, Math.Round(times[i] / 0.1)), y[i], 1e-7);
    }

    [Fact]
    public void The_sampled_one_of_second_order_cancels_a_push()
    {
        var text =
            "Step s(startTime = 0); "
            + "SampledDisturbanceRejection c(order = SampledDisturbanceRejection.Order.Second, b0 = 2, wc = 2, T = 0.05); Real y(start = 0); Real v(start = 0); "
            + "equation connect(s.y, c.r); der(y) = v; der(v) = 2.5 * c.u - v + 3; c.y = y;";
        var y = TextModel.Values(text, "y", [0, 10, 30]);
        Assert.Equal(1, y[2], 1e-5);
    }
}
