using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>What was done to a run by hand can be done to it again, and every bit is the same.</summary>
public sealed class RunScriptTests
{
    static RunOptions Options(IntegrationMethod method) => new() { End = 2, Method = method };

    static RunSession Session(PreparedModel prepared, RunOptions options) => new(prepared, new ParameterSet(prepared.Model), options);

    public static TheoryData<string, string> Models =>
        new()
        {
            {
                "a stiff decay",
                "parameter Real k = 1; Real x(start = 1); Real y(start = 0); equation der(x) = -k * x; der(y) = 400 * (x - y);"
            },
            {
                "bounces",
                "parameter Real k = 9; Real h(start = 1); Real v(start = 0); equation der(h) = v; der(v) = -k; "
                    + "when h < 0 then reinit(v, -0.8 * pre(v)); end when;"
            },
            {
                "a nonlinear loop",
                "parameter Real k = 1; Real x(start = 1); Real z(start = 0.5); equation der(x) = -z; z + 0.3 * sin(z) = k * x;"
            },
            {
                "samples",
                "parameter Real k = 1; Real x(start = 1); discrete Real u(start = 0); equation der(x) = u - x; "
                    + "when sample(0, 0.07) then u = k * (1 - x); end when;"
            },
            { "a delay", "parameter Real k = 1; Real x(start = 1); equation der(x) = -k * delay(x, 0.11);" },
        };

    [Theory]
    [MemberData(nameof(Models))]
    public void A_paced_run_made_again_has_the_same_bits(string what, string text)
    {
        var prepared = TextModel.Prepare(text);
        foreach (var method in MethodDescription.All.Select(m => m.Method))
        {
            using var played = Session(prepared, Options(method));
            var random = new Random(what.Length);
            Assert.True(played.Set("k", 1.25));
            played.StopAt(0.015, null);
            while (!played.IsOver)
            {
                // Somebody looks at every stop, sets a value at some, stops and goes on at another pace.
                played.Advance(new PauseAt { Time = Math.Min(played.NextStop, played.Options.End) });
                if (random.NextDouble() < 0.08)
                    Assert.True(played.Set("k", 0.5 + random.NextDouble()));
                if (random.NextDouble() < 0.02)
                    played.StopAt(0.004 + 0.03 * random.NextDouble(), played.Time + 0.3);
            }

            Assert.Null(played.Failure);
            Assert.True(played.Script.IsExact);
            Assert.True(played.Script.Values.Count > 3);
            using var again = Session(prepared, Options(method) with { Script = played.Script });
            again.Advance(new PauseAt());
            Same(played, again, $"{what}, {method}");
            Assert.Equal(played.Script.Values, again.Script.Values);
            Assert.Equal(played.Result().Events.Select(e => (e.Time, e.What)), again.Result().Events.Select(e => (e.Time, e.What)));
        }
    }

    static void Same(RunSession expected, RunSession found, string what)
    {
        Assert.Equal(expected.Trace.Times, found.Trace.Times);
        foreach (var variable in expected.Trace.Variables)
            Assert.True(
                expected.Trace.Column(variable).AsSpan().SequenceEqual(found.Trace.Column(variable)),
                $"{expected.Prepared.Model.NameOf(variable)} differs: {what}."
            );
    }

    [Fact]
    public void What_equals_a_parameter_is_read_with_the_values_that_were_set()
    {
        var prepared = TextModel.Prepare("parameter Real k = 1; Real x(start = 0); Real y; equation der(x) = y; y = k;");
        using var session = Session(prepared, Options(IntegrationMethod.Auto));
        session.Advance(new PauseAt { Time = 0.5 });
        Assert.True(session.Set("k", 3));
        session.Advance(new PauseAt { Time = 1.5 });
        Assert.True(session.Set("k", -2));
        session.Advance(new PauseAt());
        var trace = session.Trace;
        foreach (var name in (string[])["k", "y"])
        {
            var values = RecordedSignal.Values(prepared, new ParameterSet(prepared.Model).Values, trace, prepared.Model.Find(name)!);
            for (var row = 0; row < trace.Rows; row++)
            {
                var time = trace.Times[row];
                var isSecond = row > 0 && trace.Times[row - 1] == time;
                Assert.Equal(
                    time < 0.5 || time == 0.5 && !isSecond ? 1
                        : time < 1.5 || time == 1.5 && !isSecond ? 3
                        : -2,
                    values[row]
                );
            }
        }

        // The script alone says the same, as for a trace from a file.
        var index = prepared.Model.Find("k")!.Index;
        var read = RunConstants.Of(prepared, session.Script, trace)!;
        Assert.Equal(trace.Constants!.Column(index, trace.Rows), read.Column(index, trace.Rows));
        Assert.Equal([1, 3, 3, -2, -2], ((double[])[0.2, 0.5, 1.2, 1.5, 9]).Select(t => read.At(t, trace)[index]));
        Assert.Equal(1, read.At(double.NegativeInfinity, trace)[index]);
    }

    [Fact]
    public void Wanted_output_times_stay_the_only_rows()
    {
        var prepared = TextModel.Prepare("parameter Real k = 1; Real x(start = 0); equation der(x) = k;");
        var script = new RunScript([new StepStops(0, 0.3, null)], [new SetValue(0.6, "k", 3)]);
        using var session = Session(prepared, Options(IntegrationMethod.Auto) with { Script = script, OutputTimes = [0.5, 1, 2] });
        session.Advance(new PauseAt());
        Assert.Equal([0, 0.5, 1, 2], session.Trace.Times);
        // 0.6 s at 1, 1.4 s at 3.
        Assert.Equal(4.8, session.Trace[3, prepared.Compiled!.Plan.RepresentativeOf("x")], 1e-9);
    }

    [Theory]
    [MemberData(nameof(Models))]
    public void Looks_between_steps_change_no_bit(string what, string text)
    {
        var prepared = TextModel.Prepare(text);
        using var straight = Session(prepared, Options(IntegrationMethod.Auto));
        straight.Advance(new PauseAt());
        using var looked = Session(prepared, Options(IntegrationMethod.Auto));
        var random = new Random(3);
        while (!looked.IsOver)
            looked.Advance(new PauseAt(), asked: () => random.NextDouble() < 0.4);
        Same(straight, looked, what);
    }

    [Fact]
    public void A_branch_knows_what_was_done_before_and_is_made_again_alike()
    {
        var prepared = TextModel.Prepare("parameter Real k = 1; Real x(start = 1); equation der(x) = -k * x;");
        using var played = Session(prepared, Options(IntegrationMethod.Auto));
        played.Advance(new PauseAt { Time = 0.5 });
        Assert.True(played.Set("k", 2));
        played.Advance(new PauseAt { Time = 0.9 });
        var state = played.Save();
        played.Advance(new PauseAt { Time = 1.2 });
        Assert.True(played.Set("k", 3));
        using var branch = played.Branch(state);
        branch.Advance(new PauseAt());
        Assert.Equal([new SetValue(0.5, "k", 2)], branch.Script.Values);
        using var again = Session(prepared, Options(IntegrationMethod.Auto) with { Script = branch.Script });
        again.Advance(new PauseAt());
        // Where it was saved, the branch has one more row.
        var x = prepared.Compiled!.Plan.RepresentativeOf("x");
        foreach (var time in again.Trace.Times)
            Assert.Equal(branch.Trace.At(x, time), again.Trace.At(x, time));
    }

    [Fact]
    public void A_value_set_between_two_steps_is_known_not_to_come_again_in_every_bit()
    {
        var prepared = TextModel.Prepare("parameter Real k = 1; Real x(start = 1); equation der(x) = -k * x;");
        using var session = Session(prepared, Options(IntegrationMethod.Auto));
        var looks = 0;
        Assert.Equal(PauseReason.Asked, session.Advance(new PauseAt(), asked: () => ++looks == 5));
        Assert.True(session.Script.IsExact);
        Assert.True(session.Set("k", 2));
        Assert.False(session.Script.IsExact);
    }

    [Fact]
    public void A_value_that_cannot_be_set_ends_the_run_and_says_which()
    {
        var prepared = TextModel.Prepare("parameter Real k(max = 5) = 1; Real x(start = 1); equation der(x) = -k * x;");
        using var session = Session(
            prepared,
            Options(IntegrationMethod.Auto) with
            {
                Script = new RunScript([], [new SetValue(0.5, "k", 2), new SetValue(1, "k", 7)]),
            }
        );
        Assert.Equal(PauseReason.Failure, session.Advance(new PauseAt()));
        Assert.Equal(1, session.Failure!.Time);
        Assert.Contains("k cannot be set to 7", session.Failure.Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(1.0, 0.015, null, 1.0, 1.015)]
    [InlineData(1.0, 0.015, 1.01, 1.0, 1.01)]
    [InlineData(1.0, null, 1.01, 1.0, 1.01)]
    [InlineData(1.0, null, 1.01, 1.01, double.PositiveInfinity)]
    [InlineData(0.0, 1e-300, null, 1.0, double.PositiveInfinity)]
    public void The_next_stop_lies_behind_the_time(double from, double? every, double? until, double time, double next) =>
        Assert.Equal(next, new StepStops(from, every, until).Next(time));

    [Fact]
    public void Every_stop_of_a_grid_is_met_once()
    {
        var stops = new StepStops(0.1, 0.015, null);
        var time = 0.1;
        for (var k = 1; k < 20_000; k++)
            Assert.Equal(0.1 + k * 0.015, time = stops.Next(time));
    }
}
