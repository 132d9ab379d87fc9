using AnchorBend.Modeling.Documents;
using AnchorBend.Verification.Comparing;

namespace AnchorBend.Verification.Tests;

/// <summary>What an expected course allows, and where a recorded one leaves it.</summary>
public class ExpectedTubeTests
{
    static ExpectedNode Expected(double[] times, double[] values) =>
        new()
        {
            Signal = "a.y",
            Times = times,
            Values = values,
        };

    static ExpectedTube Tube(ExpectedNode node) => ExpectedTube.Of(node, v => v, v => v);

    /// <summary>A ramp from 0 at 0 s to 10 at 10 s.</summary>
    static readonly ExpectedNode Ramp = Expected([0, 10], [0, 10]);

    static TubeOutcome Of(ExpectedNode node, double[] times, params double[] values) => Tube(node).Of(new Curve(times, values))!;

    [Fact]
    public void A_course_inside_its_tolerance_has_the_distance_to_the_nearer_limit_as_margin()
    {
        // 0.25 above the ramp throughout, of 1 that is allowed.
        var outcome = Of(Ramp with { Absolute = 1 }, [0, 10], 0.25, 10.25);
        Assert.Equal(0.75, outcome.Margin, 14);
        Assert.Null(outcome.Exit);
    }

    [Fact]
    public void The_first_instant_out_is_where_the_course_crosses_a_limit()
    {
        // From the ramp's own value at 0 s it rises twice as fast: t above it, more than 2 from 2 s on.
        var outcome = Of(Ramp with { Absolute = 2 }, [0, 10], 0, 20);
        Assert.Equal(-8, outcome.Margin, 13);
        Assert.Equal(10, outcome.MarginAt);
        Assert.Equal((2.0, 4.0), (outcome.Exit!.At, outcome.Exit.Upper));
    }

    [Fact]
    public void A_relative_tolerance_is_one_of_the_expected_value_also_where_that_crosses_zero()
    {
        // v = t − 5, so that the tolerance is |t − 5| / 10: least at 5 s, where a course of 0.1 above is out by 0.1.
        var node = Expected([0, 10], [-5, 5]) with { Relative = 0.1 };
        var outcome = Of(node, [0, 10], -4.9, 5.1);
        Assert.Equal((-0.1, 5.0), (Math.Round(outcome.Margin, 13), outcome.MarginAt));
        // |t − 5| / 10 = 0.1 at 4 s and at 6 s.
        Assert.Equal(4, outcome.Exit!.At, 12);
    }

    [Fact]
    public void A_tolerance_in_time_lets_a_jump_come_earlier_or_later()
    {
        var step = Expected([0, 5, 5, 10], [0, 0, 1, 1]) with { Absolute = 0.01 };
        var late = (double[])[0, 5.4, 5.4, 10];
        Assert.Equal(5, Of(step, late, 0, 0, 1, 1).Exit!.At, 6);
        Assert.Null(Of(step with { Time = 0.5 }, late, 0, 0, 1, 1).Exit);
        Assert.Equal(5.5, Of(step with { Time = 0.5 }, [0, 5.6, 5.6, 10], 0, 0, 1, 1).Exit!.At, 6);
        Assert.Equal(4.5 - 0.1, Of(step with { Time = 0.5 }, [0, 4.4, 4.4, 10], 0, 0, 1, 1).Exit!.At, 6);
    }

    [Fact]
    public void Jumps_at_one_instant_but_for_rounding_meet_side_by_side()
    {
        var step = Expected([0, 5, 5, 10], [0, 0, 1, 1]) with { Absolute = 0.01 };
        Assert.Null(Of(step, [0, 5 + 1e-12, 5 + 1e-12, 10], 0, 0, 1, 1).Exit);
    }

    [Fact]
    public void Bands_say_the_limits_outright()
    {
        var band = Ramp with { Lower = [-1, 8], Upper = [3, 10.5], Absolute = 100 };
        // Upper is 3 + 0.75 t, the course t: 0.5 left at 10 s.
        Assert.Equal(0.5, Of(band, [0, 10], 0, 10).Margin, 13);
    }

    [Fact]
    public void Held_values_stay_until_the_next_instant()
    {
        var held = Expected([0, 2, 4], [1, 3, 3]) with { IsHeld = true, Absolute = 0.5 };
        Assert.Null(Of(held, [0, 2, 2, 4], 1.4, 1.4, 2.6, 2.6).Exit);
        Assert.Equal(0.5, Of(held, [0, 4], 1, 3).Exit!.At * 0.5, 13);
    }

    [Fact]
    public void A_course_that_ends_before_the_expected_one_begins_has_no_outcome()
    {
        Assert.Null(Tube(Expected([5, 6], [0, 0])).Of(new Curve([0, 1], [0, 0])));
        Assert.Null(Tube(Ramp).Of(new Curve([0, 1], [0, double.NaN])));
    }

    [Fact]
    public void On_random_courses_it_says_what_dense_samples_say()
    {
        var random = new Random(5);
        for (var round = 0; round < 200; round++)
        {
            double[] Times(int n) => [0, .. Enumerable.Range(0, n).Select(_ => 10 * random.NextDouble()).Order(), 10];
            double[] t = Times(6),
                u = Times(9);
            double[] v = [.. t.Select(_ => random.NextDouble())],
                w = [.. u.Select(_ => random.NextDouble())];
            var node = Expected(t, v) with { Absolute = 0.3, Relative = 0.2, Time = random.NextDouble() };
            var outcome = Of(node, u, w);
            var (expected, actual) = (new Curve(t, v), new Curve(u, w));
            var least = double.PositiveInfinity;
            for (var at = 0.0; at <= 10; at += 0.02)
            {
                var (high, low) = (double.NegativeInfinity, double.PositiveInfinity);
                for (var by = -node.Time; by <= node.Time; by += node.Time / 50)
                {
                    var value = expected.At(Math.Clamp(at + by, 0, 10))!.Value;
                    high = Math.Max(high, value + 0.3 + 0.2 * Math.Abs(value));
                    low = Math.Min(low, value - 0.3 - 0.2 * Math.Abs(value));
                }

                var now = actual.At(at)!.Value;
                least = Math.Min(least, Math.Min(high - now, now - low));
            }

            // Samples miss extremes of the tube and of the course by no more than both change from one sample to the next.
            var steepest = Slopes(t, v).Concat(Slopes(u, w)).Max();
            Assert.InRange(outcome.Margin - least, -2.2 * steepest * 0.02, 1.2 * steepest * node.Time / 50);
        }
    }

    static IEnumerable<double> Slopes(double[] t, double[] v) =>
        t.Zip(t.Skip(1)).Zip(v.Zip(v.Skip(1))).Select(p => Math.Abs((p.Second.Second - p.Second.First) / (p.First.Second - p.First.First)));
}
