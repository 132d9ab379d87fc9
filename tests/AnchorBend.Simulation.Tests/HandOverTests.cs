using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Handing over from commands to a closed loop, and tables of outputs by sensors.</summary>
public class HandOverTests
{
    static (RunResult Result, double[] Values) Run(string text, double end, string signal)
    {
        var prepared = TextModel.Prepare(text);
        var parameters = new ParameterSet(prepared.Model);
        using var run = new Simulator(prepared.Compiled!, parameters, new RunOptions { End = end, OutputInterval = 0.01 });
        var result = run.Run();
        Assert.Null(result.Failure);
        return (result, RecordedSignal.Values(prepared, parameters.Values, result.Trace, prepared.Find(signal)!));
    }

    /// <summary>The largest difference between the two values that the trace holds at one instant.</summary>
    static double LargestBump((RunResult Result, double[] Values) run)
    {
        var times = run.Result.Trace.Times.ToArray();
        return Enumerable
            .Range(1, times.Length - 1)
            .Where(i => times[i] == times[i - 1])
            .Max(i => Math.Abs(run.Values[i] - run.Values[i - 1]));
    }

    const string Loop = """
        Ramp ramp(height = 6, duration = 30, startTime = 0); PID pid(form = PID.Form.PI, k = 2, Ti = 1, tracking = true, Tt = 0.2);
        HandOver h(fade = 0.5); Lag plant(T = 1.5, k = 2);
        equation
        connect(ramp.y, h.command); connect(pid.u, h.controller); connect(h.y, plant.u); connect(plant.y, pid.y);
        connect(h.follow, pid.uTrack); connect(h.track, pid.track);
        pid.r = 1.2; h.closed = time > 4 and time < 9 or time > 9.2;
        """;

    [Fact]
    public void A_controller_that_follows_takes_over_and_gives_back_without_a_bump()
    {
        var run = Run(Loop, 20, "h.y");
        // Values to 1e-6 of some ones on either side of each instant.
        Assert.InRange(LargestBump(run), 0, 4e-6);
        // A gain of 2 needs 0.6 for 1.2.
        Assert.Equal(0.6, run.Values[^1], 1e-4);
    }

    [Fact]
    public void Without_the_part_the_same_switch_makes_a_bump()
    {
        var bare = Loop.Replace("HandOver h(fade = 0.5);", "Switch h;", StringComparison.Ordinal)
            .Replace("h.command", "h.u2", StringComparison.Ordinal)
            .Replace("h.controller", "h.u1", StringComparison.Ordinal)
            .Replace("h.closed", "h.condition", StringComparison.Ordinal)
            .Replace(
                "connect(h.follow, pid.uTrack); connect(h.track, pid.track);",
                "pid.uTrack = 0; pid.track = false;",
                StringComparison.Ordinal
            );
        Assert.True(LargestBump(Run(bare, 20, "h.y")) > 0.1);
    }

    /// <summary>Sensors of a machine with one pair of poles, each true for half a turn, 120 degrees apart; each third of a turn begins where
    /// the phase is to drive.</summary>
    [Theory]
    [InlineData(60, 1, -1, 0)]
    [InlineData(120, 1, 0, -1)]
    [InlineData(180, 0, 1, -1)]
    [InlineData(240, -1, 1, 0)]
    [InlineData(300, -1, 0, 1)]
    [InlineData(360, 0, -1, 1)]
    public void Six_steps_follow_the_sectors_of_a_turn(int degrees, int a, int b, int c)
    {
        // One degree in a second, from 30 degrees before the first sector's middle.
        var text = """
            CommutationTable t; Real angle;
            equation
            angle = mod(time, 360);
            t.u[1] = angle >= 30 and angle < 210; t.u[2] = angle >= 150 and angle < 330; t.u[3] = angle >= 270 or angle < 90;
            """;
        int[] expected = [a, b, c];
        for (var phase = 0; phase < 3; phase++)
            Assert.Equal(expected[phase], Run(text, degrees - 0.5, $"t.y[{phase + 1}]").Values[^1]);
    }

    [Fact]
    public void Codes_that_cannot_be_leave_all_phases_free_and_reversing_turns_them_round()
    {
        const string stuck =
            "CommutationTable t(reversible = true); equation t.u[1] = true; t.u[2] = time < 1; t.u[3] = time < 1; t.reverse = time > 2;";
        Assert.Equal(0, Run(stuck, 0.5, "t.y[1]").Values[^1]);
        Assert.Equal((1, -1), (Run(stuck, 1.5, "t.y[1]").Values[^1], Run(stuck, 2.5, "t.y[1]").Values[^1]));
    }
}
