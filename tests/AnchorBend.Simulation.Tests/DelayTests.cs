using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>What jumps goes on through delays: as a jump where nothing integrates, smoother each time where something does.</summary>
public class DelayTests
{
    [Fact]
    public void A_loop_of_delay_and_gain_keeps_its_jumps_for_ever()
    {
        // y = u + y(t − 1)/2 after a step at 0.5: a staircase towards 2 with steps at 0.5, 1.5, 2.5, …
        var result = TextModel.Run("Real u, y; equation u = if time < 0.5 then 0 else 1; y = u + 0.5 * delay(y, 1);", 20);
        Assert.Null(result.Failure);
        var trace = result.Trace;
        var y = trace.Variables[1];
        for (var row = 0; row < trace.Rows; row++)
        {
            var steps = Math.Floor(trace.Times[row] - 0.5) + 1;
            var (before, after) = (2 - Math.Pow(2, 2 - steps), 2 - Math.Pow(2, 1 - steps));
            // At a jump both sides have a row.
            Assert.True(
                Math.Abs(trace[row, y] - after) < 1e-12
                    || Math.Abs(trace.Times[row] - 0.5 - Math.Round(trace.Times[row] - 0.5)) < 1e-12
                        && Math.Abs(trace[row, y] - before) < 1e-12,
                $"{trace[row, y]} at {trace.Times[row]}"
            );
        }
    }

    [Fact]
    public void Jumps_that_an_integrator_has_smoothed_away_are_no_events_any_more()
    {
        const string text = "Real x(start = 1, fixed = true); equation der(x) = -delay(x, 1);";
        Assert.InRange(TextModel.Run(text, 100).Statistics.TimeEvents, 5, 10);
        // By the method of steps: x is 1 − t up to 1, then 1 − t + (t − 1)²/2, then also − (t − 2)³/6.
        double Exact(double t) =>
            1 - t + (t > 1 ? Math.Pow(t - 1, 2) / 2 : 0) - (t > 2 ? Math.Pow(t - 2, 3) / 6 : 0) + (t > 3 ? Math.Pow(t - 3, 4) / 24 : 0);
        foreach (var t in new[] { 0.5, 1.5, 2.5, 3.5 })
            Assert.Equal(Exact(t), TextModel.Values(text, "x", [t])[0], 1e-6);
    }

    [Fact]
    public void A_jump_that_a_delayed_jump_sets_off_is_a_new_one()
    {
        // A toggle that its own past turns over, once every second: 20 times, far more than a smoothed jump would last.
        var result = TextModel.Run(
            """
            Real x(start = 0, fixed = true), w(start = 0, fixed = true), d; Integer n(start = 0, fixed = true); discrete Real last(start = 0, fixed = true);
            equation
              der(x) = 0; der(w) = x; d = delay(x, 1);
              when {time >= 0.5, d > 0.5, d < 0.5 and time > 2} then reinit(x, 1 - pre(x)); n = pre(n) + 1; last = time; end when;
            """,
            20,
            new RunOptions { End = 20, OutputTimes = [20] }
        );
        Assert.Null(result.Failure);
        var trace = result.Trace;
        // x is 1 from 0.5 on, 0 from 1.5 on, 1 from 2.5 on, …: half of the time.
        Assert.Equal(20, trace[trace.Rows - 1, trace.Variables[3]]);
        Assert.Equal(19.5, trace[trace.Rows - 1, trace.Variables[4]], 1e-9);
        Assert.Equal(10, trace[trace.Rows - 1, trace.Variables[1]], 1e-6);
    }

    [Theory]
    [InlineData(IntegrationMethod.Auto)]
    [InlineData(IntegrationMethod.DormandPrince54)]
    [InlineData(IntegrationMethod.DormandPrince853)]
    [InlineData(IntegrationMethod.Radau5)]
    [InlineData(IntegrationMethod.BackwardDifferences)]
    public void The_past_is_as_exact_as_the_present(IntegrationMethod method)
    {
        // x = sin solves x' = −x(t − π/2) if it did so before; the history starts with a sine through a switch at 2π.
        const string text = """
            parameter Real T = 1.5707963267948966;
            Real s(start = 0, fixed = true), c(start = 1, fixed = true), x(start = 0, fixed = true);
            equation der(s) = c; der(c) = -s; der(x) = if time < 6.283185307179586 then c else -delay(x, T);
            """;
        foreach (var tolerance in new[] { 1e-4, 1e-6, 1e-8 })
        {
            var options = new RunOptions
            {
                End = 20,
                Method = method,
                RelativeTolerance = tolerance,
                AbsoluteTolerance = tolerance,
            };
            Assert.Equal(Math.Sin(20), TextModel.Values(text, "x", [20], options)[0], 10 * tolerance);
        }
    }
}
