using AnchorBend.Simulation.Events;
using AnchorBend.Simulation.Recording;
using AnchorBend.Tests;
using CsCheck;

namespace AnchorBend.Simulation.Tests;

public class RecordingTests
{
    [Fact]
    public void A_reduced_curve_keeps_its_extremes_and_ends()
    {
        var random = new Random(7);
        var times = Enumerable.Range(0, 100_000).Select(i => i * 1e-3).ToArray();
        var values = times.Select(t => Math.Sin(t) + (random.NextDouble() < 1e-4 ? 5 : 0)).ToArray();
        var curve = Reduced(times, values, 0, times[^1], 300);
        Assert.InRange(curve.Times.Length, 300, 1300);
        Assert.Equal((values.Max(), values.Min()), (curve.Values.Max(), curve.Values.Min()));
        Assert.Equal((0.0, times[^1]), (curve.Times[0], curve.Times[^1]));
        Assert.Equal(curve.Times.Order(), curve.Times);
    }

    static ReducedCurve Reduced(double[] times, double[] values, double from, double to, int columns) =>
        TraceReduction.Reduce(Trace.Of([7], times, [values]), [7], from, to, columns)[0];

    [Fact]
    public void A_zoomed_curve_reaches_one_point_beyond_each_edge() =>
        Assert.Equal([1.0, 2, 3], Reduced([0, 1, 2, 3, 4], [0, 1, 4, 9, 16], 1.5, 2.5, 100).Times);

    [Fact]
    public void Extremes_beside_missing_values_are_kept()
    {
        // Long enough that whole blocks are told by their extremes; every block and every column begins with a gap.
        var times = Enumerable.Range(0, 200_000).Select(i => (double)i).ToArray();
        var values = times.Select(t => t % 8 == 0 ? double.NaN : Math.Sin(t) + (t == 100_003 ? 9 : 0)).ToArray();
        var curve = Reduced(times, values, 0, times[^1], 10);
        Assert.Equal(values.Where(double.IsFinite).Max(), curve.Values.Where(double.IsFinite).Max());
        Assert.Equal(values.Where(double.IsFinite).Min(), curve.Values.Where(double.IsFinite).Min());
        Assert.Equal(2, Reduced([0, 1, 2, 3], [double.NaN, 2, 1, double.NaN], 0, 3, 1).Values.Where(double.IsFinite).Max());
    }

    [Fact]
    public void Any_reduction_keeps_every_column_s_range() =>
        Gen.Double[-10, 10]
            .Array[20, 400]
            .Sample(
                values =>
                {
                    var times = Enumerable.Range(0, values.Length).Select(i => (double)i).ToArray();
                    var curve = Reduced(times, values, 0, values.Length - 1, 10);
                    Assert.Equal((values.Max(), values.Min()), (curve.Values.Max(), curve.Values.Min()));
                    for (var i = 0; i < curve.Times.Length; i++)
                        Assert.Equal(values[(int)curve.Times[i]], curve.Values[i]);
                },
                iter: 500
            );

    [Fact]
    public void The_right_side_of_an_event_counts_at_its_instant()
    {
        var prepared = TextModel.Prepare("Step s(startTime = 0.5, height = 4);");
        var trace = TextModel.Run(prepared, new RunOptions { End = 1 }).Trace;
        var y = prepared.Compiled!.Plan.RepresentativeOf("s.y");
        Assert.Equal(4, trace.At(y, 0.5));
        Assert.Equal(0, trace.At(y, Math.BitDecrement(0.5)), 1e-9);
        Assert.Equal(4, trace.At(y, 99));
    }

    [Fact]
    public void Only_kept_variables_are_recorded()
    {
        var prepared = TextModel.Prepare("Real x; Real y; equation der(x) = 1; y = 2 * x;");
        var x = prepared.Model.Find("x")!.Index;
        var trace = TextModel.Run(prepared, new RunOptions { End = 1, Keep = [x] }).Trace;
        Assert.True(trace.Has(x));
        Assert.Throws<KeyNotFoundException>(() => trace.Column(prepared.Model.Find("y")!.Index));
    }

    [Fact]
    public void Output_points_lie_on_the_grid_asked_for()
    {
        var prepared = TextModel.Prepare("Real x; equation der(x) = 1;");
        var trace = TextModel
            .Run(
                prepared,
                new RunOptions
                {
                    End = 1,
                    OutputInterval = 0.1,
                    RecordEvents = false,
                }
            )
            .Trace;
        Assert.Equal(11, trace.Rows);
        for (var i = 0; i <= 10; i++)
            Assert.Equal(0.1 * i, trace.Times[i], 1e-15);
        var at = TextModel.Run(prepared, new RunOptions { End = 1, OutputTimes = [0.25, 0.5, 1] }).Trace;
        Assert.Equal([0, 0.25, 0.5, 1], at.Times);
    }

    [Theory]
    [
        InlineData(IntegrationMethod.Auto),
        InlineData(IntegrationMethod.DormandPrince853),
        InlineData(IntegrationMethod.Radau5),
        InlineData(IntegrationMethod.BackwardDifferences)
    ]
    public void Values_may_be_asked_for_at_events(IntegrationMethod method)
    {
        const string text = "Real x(start = 0, fixed = true); equation der(x) = if time < 1 then 1 else -1;";
        Assert.Equal([1, 0.5, 0], TextModel.Values(text, "x", [1, 1.5, 2], new RunOptions { Method = method, End = 2 }), (a, b) =>
            Math.Abs(a - b) < 1e-7
        );
    }
}

public class TickScheduleTests
{
    static List<(double Time, int Clock)> Ticks(double end, params (double, double)[] clocks)
    {
        var schedule = new TickSchedule(clocks, 0);
        var result = new List<(double, int)>();
        while (schedule.Next <= end)
        {
            var now = schedule.Next;
            schedule.Take(now, c => result.Add((now, c)));
        }

        return result;
    }

    [Fact]
    public void Clocks_of_rational_ratio_meet_exactly()
    {
        var ticks = Ticks(30, (0, 0.1), (0, 0.3), (0.05, 0.7));
        Assert.Equal(301 + 101 + 43, ticks.Count);
        Assert.Equal(101, ticks.GroupBy(t => t.Time).Count(g => g.Any(t => t.Clock == 0) && g.Any(t => t.Clock == 1)));
        Assert.Contains(ticks, t => t.Time == 0.3 && t.Clock == 1);
    }

    [Fact]
    public void A_clock_without_a_small_base_keeps_its_own_count()
    {
        var ticks = Ticks(100, (0, Math.PI / 10), (0, 0.5));
        Assert.Equal(319, ticks.Count(t => t.Clock == 0));
        Assert.All(ticks.Where(t => t.Clock == 0).Select((t, k) => (t.Time, Exact: k * (Math.PI / 10))), p =>
            Assert.Equal(p.Exact, p.Time)
        );
    }

    [Fact]
    public void A_million_ticks_end_where_they_should()
    {
        var ticks = Ticks(1000, (0, 0.001));
        Assert.Equal(1_000_001, ticks.Count);
        Assert.Equal(1000.0, ticks[^1].Time);
    }
}
