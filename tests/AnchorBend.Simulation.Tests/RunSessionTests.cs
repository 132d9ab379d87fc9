using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation.Recording;
using AnchorBend.Tests;
using CsCheck;

namespace AnchorBend.Simulation.Tests;

/// <summary>Runs played by hand: steps, conditions, values set on the way, branches.</summary>
public class RunSessionTests
{
    const string Decay = "parameter Real k = 1; Real x(start = 1); equation der(x) = -k * x;";

    /// <summary>A sampled counter, a state event and a continuous state.</summary>
    const string Mixed = """
        Real x(start = 0); discrete Real n(start = 0); Boolean high;
        equation der(x) = 1; when sample(0.1, 0.25) then n = pre(n) + 1; end when; high = x > 0.6;
        """;

    static RunSession Session(string text, double end = 2, bool tight = true) =>
        new(
            TextModel.Prepare(text) is var prepared ? prepared : null!,
            new ParameterSet(prepared.Model),
            new RunOptions
            {
                End = end,
                RelativeTolerance = tight ? 1e-10 : 1e-6,
                AbsoluteTolerance = tight ? 1e-12 : 1e-9,
            }
        );

    static double Last(RunSession session, string name)
    {
        session.RecordNow();
        var place = session.Prepared.Compiled!.Plan.RepresentativeOf(name);
        return session.Trace[session.Trace.Rows - 1, place];
    }

    [Fact]
    public void A_session_advanced_in_one_go_is_the_run_bit_by_bit()
    {
        using var session = Session(Mixed);
        Assert.Equal(PauseReason.End, session.Advance(new PauseAt()));
        var run = TextModel.Run(session.Prepared, session.Options);
        Assert.Equal(run.Trace.Times, session.Trace.Times);
        foreach (var variable in run.Trace.Variables)
            Assert.Equal(run.Trace.Column(variable), session.Trace.Column(variable));
    }

    [Fact]
    public void It_pauses_at_times_events_ticks_and_conditions()
    {
        using var session = Session(Mixed);
        Assert.Equal(PauseReason.Tick, session.Advance(new PauseAt { Clock = 0 }));
        Assert.Equal((0.1, 1.0), (session.Time, Last(session, "n")));
        Assert.Equal(PauseReason.Tick, session.Advance(new PauseAt { Clock = -1 }));
        Assert.Equal((0.35, 2.0), (session.Time, Last(session, "n")), new Near());
        Assert.Equal(PauseReason.Time, session.Advance(new PauseAt { Time = 0.5 }));
        Assert.Equal(0.5, session.Time);
        // The next event is that of x > 0.6, at the instant at which the second tick is due.
        Assert.Equal(PauseReason.Event, session.Advance(new PauseAt { Event = true }));
        Assert.Equal(0.6, session.Time, 1e-9);
        Assert.Equal(1.0, Last(session, "high"));
        var x = new VariableTerm(session.Prepared.Model.Find("x")!.Index);
        var condition = new OperationTerm(Operator.Greater, x, Term.Of(1.2345));
        Assert.Equal(PauseReason.Condition, session.Advance(new PauseAt { Stops = [new Stop(condition, "condition")] }));
        Assert.Equal(1.2345, session.Time, 1e-9);
        // It holds already: it has to be given up before it can come to hold again.
        Assert.Equal(PauseReason.End, session.Advance(new PauseAt { Stops = [new Stop(condition, "condition")] }));
        Assert.True(session.IsOver);
        Assert.Equal(PauseReason.End, session.Advance(new PauseAt { Event = true }));
    }

    sealed class Near : IEqualityComparer<(double, double)>
    {
        public bool Equals((double, double) a, (double, double) b) => Math.Abs(a.Item1 - b.Item1) < 1e-9 && a.Item2 == b.Item2;

        public int GetHashCode((double, double) obj) => 0;
    }

    [Fact]
    public void A_condition_that_an_event_makes_true_pauses_behind_it()
    {
        using var session = Session(Mixed);
        var n = new VariableTerm(session.Prepared.Model.Find("n")!.Index);
        var condition = new OperationTerm(Operator.GreaterOrEqual, n, Term.Of(3.0));
        Assert.Equal(PauseReason.Condition, session.Advance(new PauseAt { Stops = [new Stop(condition, "condition")] }));
        Assert.Equal((0.6, 3.0), (session.Time, Last(session, "n")), new Near());
    }

    [Fact]
    public void A_value_set_on_the_way_holds_from_that_instant_and_is_told()
    {
        using var session = Session(Decay);
        session.Advance(new PauseAt { Time = 0.5 });
        Assert.True(session.Set("k", 3));
        session.Advance(new PauseAt());
        var x = session.Prepared.Compiled!.Plan.RepresentativeOf("x");
        var trace = session.Trace;
        Assert.Equal(Math.Exp(-0.5), trace.At(x, 0.5), 1e-9);
        Assert.Equal(Math.Exp(-0.5 - 3 * 0.7), trace.At(x, 1.2), 1e-6);
        Assert.Equal(Math.Exp(-0.5 - 3 * 1.5), trace.At(x, 2), 1e-9);
        // Both sides of the change stand in the trace: the slope jumps.
        var slope = session.Prepared.Compiled.Plan.RepresentativeOf("der(x)");
        var rows = Enumerable.Range(0, trace.Rows).Where(r => trace.Times[r] == 0.5).ToArray();
        Assert.Equal(-Math.Exp(-0.5), trace[rows[0], slope], 1e-9);
        Assert.Equal(-3 * Math.Exp(-0.5), trace[rows[^1], slope], 1e-9);
        Assert.Contains(session.Result().Events, e => e is { Time: 0.5, What: "k = 3" });
    }

    [Fact]
    public void A_value_set_at_the_instant_of_a_tick_does_not_take_the_tick_again()
    {
        using var session = Session(
            "parameter Real k = 1; Real x(start = 0); discrete Real n(start = 0); equation der(x) = k; "
                + "when sample(0, 0.25) then n = pre(n) + 1; end when;"
        );
        session.Advance(new PauseAt { Time = 1 });
        Assert.Equal(5, Last(session, "n"));
        Assert.True(session.Set("k", 3));
        session.Advance(new PauseAt());
        Assert.Null(session.Failure);
        Assert.Equal((4.0, 9.0), (Last(session, "x"), Last(session, "n")), new Near());
    }

    [Fact]
    public void Branches_share_the_past_and_part_where_they_were_made()
    {
        using var session = Session(Decay);
        session.Advance(new PauseAt { Time = 1 });
        session.RecordNow();
        var state = session.Save();
        Assert.True(session.Set("k", 5));
        session.Advance(new PauseAt());
        using var back = session.Branch(state);
        Assert.Equal(1, back.Time);
        back.Advance(new PauseAt());
        var x = session.Prepared.Compiled!.Plan.RepresentativeOf("x");
        Assert.Equal(Math.Exp(-2), back.Trace.At(x, 2), 1e-9);
        Assert.Equal(Math.Exp(-6), session.Trace.At(x, 2), 1e-9);
        Assert.Equal(session.Trace.At(x, 0.77), back.Trace.At(x, 0.77));
        Assert.DoesNotContain(back.Result().Events, e => e.What == "k = 5");
    }

    [Fact]
    public void A_failure_ends_it_for_good()
    {
        using var session = Session("Real x(start = 1); equation der(x) = x^2;", 3);
        Assert.Equal(PauseReason.Failure, session.Advance(new PauseAt()));
        Assert.InRange(session.Failure!.Time, 0.99, 1.01);
        Assert.Equal(PauseReason.Failure, session.Advance(new PauseAt { Time = 2 }));
        Assert.True(session.IsOver);
    }

    [Fact]
    public void It_pauses_between_steps_when_asked_and_ends_when_canceled()
    {
        using var session = Session(Mixed, 1e6);
        var steps = 0;
        Assert.Equal(PauseReason.Asked, session.Advance(new PauseAt(), asked: () => ++steps == 10));
        Assert.InRange(session.Time, 1e-3, 1e5);
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        Assert.Equal(PauseReason.Failure, session.Advance(new PauseAt(), stop.Token));
        Assert.Equal("canceled", session.Failure!.Code);
    }

    /// <summary>Pausing anywhere, in any way, changes the course of a run only as far as its tolerance allows.</summary>
    [Fact]
    public void Any_pauses_leave_the_course_as_it_is() =>
        Gen.Double[0.001, 1.99]
            .Array[0, 6]
            .Sample(
                pauses =>
                {
                    using var session = Session(Mixed);
                    foreach (var pause in pauses.Order())
                        session.Advance(new PauseAt { Time = pause });
                    session.Advance(new PauseAt());
                    Assert.Equal((2.0, 8.0), (Last(session, "x"), Last(session, "n")), new Near());
                },
                iter: 40
            );

    [Fact]
    public async Task What_was_recorded_can_be_read_while_the_run_goes_on()
    {
        using var session = Session(Decay, 2e4, false);
        var place = session.Prepared.Compiled!.Plan.RepresentativeOf("x");
        using var done = new CancellationTokenSource();
        var begins = new TaskCompletionSource();
        var reader = Task.Run(() =>
        {
            var seen = 0;
            begins.SetResult();
            while (!done.IsCancellationRequested)
            {
                var rows = session.Trace.Rows;
                for (var row = Math.Max(0, rows - 50); row < rows; row++)
                    Assert.Equal(Math.Exp(-session.Trace.Times[row]), session.Trace[row, place], 1e-3);
                seen = Math.Max(seen, rows);
            }

            return seen;
        });
        await begins.Task;
        for (var time = 10.0; time <= 2e4; time += 10)
        {
            session.Advance(new PauseAt { Time = time });
            session.RecordNow();
        }

        await done.CancelAsync();
        Assert.InRange(await reader, 1, session.Trace.Rows);
    }

    [Fact]
    public void A_trace_in_a_file_is_the_trace()
    {
        var path = Path.Combine(Path.GetTempPath(), $"anchor-bend-test-{Guid.NewGuid():N}.run");
        try
        {
            using var session = new RunSession(
                TextModel.Prepare(Mixed) is var prepared ? prepared : null!,
                new ParameterSet(prepared.Model),
                new RunOptions { End = 2, OutputInterval = 1e-4 }
            );
            session.Advance(new PauseAt());
            var trace = session.Trace;
            var model = prepared.Compiled!.Plan.Model;
            TraceFile.Write(trace, [.. trace.Variables.Select(v => model.NameOf(v))], path);
            using var read = TraceFile.Open(path, name => prepared.Compiled.Plan.RepresentativeOf(name));
            Assert.Equal(trace.Times, read.Times);
            Assert.Equal(trace.Variables, read.Variables);
            foreach (var variable in trace.Variables)
                Assert.Equal(trace.Column(variable), read.Column(variable));
            Assert.False(File.Exists(path + ".half"));
            var bytes = File.ReadAllBytes(path);
            // How many rows a block has stands behind the mark and the number of rows.
            bytes[8]++;
            File.WriteAllBytes(path, bytes);
            Assert.Contains("orders its values", Assert.Throws<InvalidDataException>(() => TraceFile.Open(path, _ => 0)).Message);
            bytes[8]--;
            File.WriteAllBytes(path, bytes[..5000]);
            Assert.Throws<InvalidDataException>(() => TraceFile.Open(path, _ => 0));
        }
        finally
        {
            File.Delete(path);
        }
    }

    [Fact]
    public void A_reduced_curve_keeps_every_extreme_that_a_pixel_shows()
    {
        var prepared = TextModel.Prepare(
            "Real x, y; equation x = sin(time) + (if time > 300 and time < 300.002 then 5 else 0); y = -time;"
        );
        var result = TextModel.Run(prepared, new RunOptions { End = 1000, OutputInterval = 1e-3 });
        var (x, y) = (prepared.Compiled!.Plan.RepresentativeOf("x"), prepared.Compiled.Plan.RepresentativeOf("y"));
        foreach (var (from, to) in ((double, double)[])[(0, 1000), (250, 350), (299.9, 300.1)])
        {
            var curves = TraceReduction.Reduce(result.Trace, [x, y], from, to, 200);
            Assert.All(curves, c => Assert.InRange(c.Times.Length, 2, 2000));
            Assert.All(curves, c => Assert.Equal(c.Times.Order(), c.Times));
            Assert.InRange(curves[0].Values.Max(), 4, 6);
            Assert.Equal(Math.Sin(from), curves[0].Values[0], 0.01);
            for (var i = 0; i < curves[1].Times.Length; i++)
                Assert.Equal(-curves[1].Times[i], curves[1].Values[i], (to - from) / 200);
        }
    }
}
