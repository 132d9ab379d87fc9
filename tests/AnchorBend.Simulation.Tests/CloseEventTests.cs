using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>What the automatic method does where events follow each other closely, with and without a fast mode.</summary>
public class CloseEventTests
{
    /// <summary>A lag behind pulses that lie about the ends of their period: 0.37 of it, half at either end.</summary>
    const string Pulsed =
        "CarrierComparison m(n = 1, f = 1000); Real x(start = 0, fixed = true); "
        + "equation m.duty = {0.37}; der(x) = (if m.y[1] then 1 else 0) - x;";

    [Fact]
    public void One_step_of_the_lower_order_spans_what_lies_between_close_events()
    {
        var result = TextModel.Run(Pulsed, 1, new RunOptions { End = 1 });
        Assert.True(result.Statistics.Events > 2000);
        // Order 8 takes twelve slopes a step, order 5 six.
        Assert.InRange((double)result.Statistics.Evaluations / result.Statistics.Steps, 5, 9);
        Assert.Empty(result.Statistics.Switches);
        double period = 1e-3,
            half = 0.37 * period / 2,
            decay = Math.Exp(-period),
            gain = Math.Exp(-(period - half)) - decay + 1 - Math.Exp(-half);
        Assert.Equal(
            gain * (1 - Math.Exp(-1)) / (1 - decay),
            result.Trace.At(TextModel.Prepare(Pulsed).Compiled!.Plan.RepresentativeOf("x"), 1),
            1e-7
        );
    }

    [Fact]
    public void When_events_end_the_higher_order_takes_over_again()
    {
        const string text =
            "Real s(start = 0, fixed = true), x(start = 1, fixed = true), v(start = 0, fixed = true); "
            + "equation der(s) = if time < 1 then 1000 else 0; when s >= 1 then reinit(s, 0); end when; der(x) = v; der(v) = s - x;";
        RunStatistics To(double end) => TextModel.Run(text, end).Statistics;
        var (first, whole) = (To(1), To(200));
        Assert.InRange((double)first.Evaluations / first.Steps, 5, 9);
        Assert.InRange(whole.Events - first.Events, 0, 50);
        Assert.InRange((double)(whole.Evaluations - first.Evaluations) / (whole.Steps - first.Steps), 10, 20);
    }

    [Fact]
    public void A_fast_mode_between_close_events_is_left_to_the_implicit_method()
    {
        // The fast mode follows within a nanosecond of each pulse's edge; its border of stability lies at a few of them.
        const string text =
            "CarrierComparison m(n = 1, f = 500); Real x(start = 0, fixed = true); Real y(start = 0, fixed = true); "
            + "equation m.duty = {0.4}; der(x) = (if m.y[1] then 1 else 0) - x; der(y) = 1e9 * (x - 0.3 * (if m.y[1] then 1 else 0) - y);";
        var result = TextModel.Run(text, 0.2, new RunOptions { End = 0.2 });
        Assert.Null(result.Failure);
        var statistics = result.Statistics;
        Assert.True(statistics.ImplicitSteps > 0.9 * statistics.Steps, $"{statistics.ImplicitSteps} of {statistics.Steps}");
        Assert.InRange(statistics.Switches.Count, 1, 9);
        Assert.InRange((double)statistics.Steps / statistics.Events, 1, 60);
    }
}
