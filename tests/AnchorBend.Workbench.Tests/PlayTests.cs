using System.Diagnostics;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Verification;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Runs that are played by hand.</summary>
public sealed class PlayTests : IDisposable
{
    readonly Bench bench = new();
    readonly string id;

    public PlayTests() =>
        id = bench.Create(
            new DiagramDefinition
            {
                Name = "Counter",
                Parts = new()
                {
                    ["s"] = Part("Constant", "Rate", ("k", "1")),
                    ["i"] = Part("Integrator", "Level"),
                    ["z"] = Part("SampleHold", "Seen", ("T", "0.25 s")),
                },
                Wires = new() { ["w"] = Wire("s.y", "i.u"), ["v"] = Wire("i.y", "z.u") },
                Signals = new()
                {
                    ["i.y"] = new SignalNode { Name = "level", Probe = 0 },
                },
            }.AsModel() with
            {
                Settings = new RunSettings { End = "20 s", Live = false },
                Requirements = new()
                {
                    ["low"] = Demand("Stays below the rim", "always level < 30"),
                    ["soon"] = Demand("Is at two in time", "within 3 s level > 2"),
                    ["calm"] = Demand("Stays below the mark", "always level < 4"),
                },
            }
        );

    static RequirementNode Demand(string name, string rule) =>
        new()
        {
            Name = name,
            Signal = "",
            Rule = rule,
        };

    public void Dispose()
    {
        bench.Runs.Forget(id);
        bench.RunStore.Dispose();
    }

    (RunJob Job, RunPlayer Player) Play()
    {
        var job = bench.Runs.Play(bench.Models.Session(id), "w", default);
        return (job, bench.Runs.Player(job.Id)!);
    }

    static async Task Until(Func<bool> condition)
    {
        var watch = Stopwatch.StartNew();
        while (!condition())
        {
            Assert.True(watch.Elapsed < TimeSpan.FromSeconds(20), "It did not come about.");
            await Task.Delay(5);
        }
    }

    static Task Paused(RunJob job) => Until(() => job.State is RunStage.Paused or RunStage.Finished);

    static double Level(RunJob job) => new RunResults(job).Curve("i.y")!.Values[^1];

    [Fact]
    public async Task It_goes_on_step_by_step_to_a_time_and_to_a_condition()
    {
        var (job, player) = Play();
        Assert.Equal(RunStage.Paused, job.State);
        player.Go(new PauseAt { Clock = player.Clock("Seen") }, null);
        await Paused(job);
        player.Go(new PauseAt { Clock = player.Clock("Seen") }, null);
        await Paused(job);
        Assert.Equal(0.25, job.Reached, 0.26);
        player.Go(new PauseAt { Time = 3 }, null);
        await Paused(job);
        Assert.Equal((3.0, 3.0), (job.Reached, Math.Round(Level(job), 9)));
        player.Go(new PauseAt { Stops = [new Stop(player.Condition("level > 4.2"), "condition")] }, null);
        await Paused(job);
        Assert.Equal(4.2, job.Reached, 1e-6);
        Assert.Throws<DocumentException>(() => player.Condition("levle > 1"));
        Assert.Throws<DocumentException>(() => player.Condition("level"));
        Assert.Throws<NotFoundException>(() => player.Clock("Rate"));
        player.Go(new PauseAt(), null);
        await job.Finished;
        Assert.Equal((20.0, null), (job.Result!.Trace.Times[^1], job.Result.Failure));
        Assert.Throws<DocumentException>(() => player.Pause());
    }

    [Fact]
    public async Task Requirements_are_judged_on_the_way_as_far_as_the_rest_cannot_change_them()
    {
        var (job, player) = Play();
        VerdictKind[] Kinds() => [.. RunView.Of(job, player).Verdicts.Select(v => v.Kind)];
        player.Go(new PauseAt { Time = 1 }, null);
        await Paused(job);
        Assert.Equal([VerdictKind.Open, VerdictKind.Open, VerdictKind.Open], Kinds());
        player.Go(new PauseAt { Time = 5 }, null);
        await Paused(job);
        Assert.Equal([VerdictKind.Open, VerdictKind.Met, VerdictKind.Missed], Kinds());
        player.Go(new PauseAt(), null);
        await job.Finished;
        Assert.Equal([VerdictKind.Met, VerdictKind.Met, VerdictKind.Missed], Kinds());
    }

    [Fact]
    public async Task A_value_set_while_it_runs_counts_from_then_on_and_is_an_event()
    {
        var (job, player) = Play();
        player.Go(new PauseAt { Time = 2 }, null);
        await Paused(job);
        player.Set("Rate.k", "3");
        player.Go(new PauseAt { Time = 4 }, null);
        await Paused(job);
        Assert.Null(job.Result?.Failure);
        Assert.Equal(2 + 3 * 2, Level(job), 1e-9);
        Assert.Contains(RunView.Of(job, player).Events, e => e is { Time: 2, Part: "Rate", What: "Rate.k = 3", IsChange: true });
        var refused = Assert.Throws<DocumentException>(() => player.Set("Rate.k", "fast"));
        Assert.Contains("cannot become fast", refused.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_state_is_gone_back_to_and_branched_from()
    {
        var (job, player) = Play();
        player.Go(new PauseAt { Time = 5 }, null);
        await Paused(job);
        var saved = player.Save("before the flood");
        Assert.Equal((5, "before the flood"), (saved.Time, saved.Name));
        player.Set("Rate.k", "10");
        player.Go(new PauseAt { Time = 6 }, null);
        await Paused(job);
        var branch = bench.Runs.Branch(job.Id, saved.Id, "w", default);
        var other = bench.Runs.Player(branch.Id)!;
        Assert.Equal((5, job.Id), (branch.Reached, branch.BranchOf));
        other.Go(new PauseAt { Time = 6 }, null);
        await Paused(branch);
        Assert.Equal((15, 6), (Math.Round(Level(job), 6), Math.Round(Level(branch), 6)));
        Assert.Equal([2, 1], bench.Runs.List(id).Select(r => r.Number));
        Assert.Throws<NotFoundException>(() => bench.Runs.Branch(job.Id, "s9", "w", default));
    }

    [Fact]
    public async Task A_run_that_is_over_can_still_be_branched()
    {
        var (job, player) = Play();
        player.Go(new PauseAt { Time = 5 }, null);
        await Paused(job);
        var saved = player.Save(null);
        player.Go(new PauseAt(), null);
        await job.Finished;
        await Until(() => Record.Exception(() => player.SetPace(1)) is DocumentException);
        Assert.Equal(20, RunView.Of(job, player).Reached);
        var branch = bench.Runs.Branch(job.Id, saved.Id, "w", default);
        Assert.Equal((5, RunStage.Paused), (branch.Reached, branch.State));
        bench.Runs.Player(branch.Id)!.Go(new PauseAt { Time = 7 }, null);
        await Paused(branch);
        Assert.Equal(7, Level(branch), 1e-9);
    }

    [Fact]
    public async Task What_is_asked_while_a_run_ends_is_done_or_refused()
    {
        for (var i = 0; i < 20; i++)
        {
            var (job, player) = Play();
            player.Go(new PauseAt(), null);
            var asked = Enumerable
                .Range(0, 4)
                .Select(_ => Task.Run(() => Record.Exception(() => player.Save(null))))
                .Append(Task.Run(() => Record.Exception(() => player.Stop())))
                .ToList();
            foreach (var task in asked)
                Assert.True(await task.WaitAsync(TimeSpan.FromSeconds(20)) is null or DocumentException);
            await job.Finished;
            bench.Runs.Remove(job.Id);
        }
    }

    [Fact]
    public async Task A_pinned_branch_keeps_the_values_that_were_set_by_hand()
    {
        var (job, player) = Play();
        player.Set("Rate.k", "3");
        player.Go(new PauseAt { Time = 1 }, null);
        await Paused(job);
        var branch = bench.Runs.Branch(job.Id, player.Save(null).Id, "w", default);
        bench.Runs.Player(branch.Id)!.Stop();
        await branch.Finished;
        bench.Runs.Put(branch.Id, new RunLabel("", "", true), default);
        var loaded = bench.KeptRuns.Load(branch.Id, default)!;
        Assert.Equal(3, loaded.Parameters.Values[loaded.Prepared.Model.Find("Rate.k")!.Index]);
        loaded.Dispose();
    }

    [Fact]
    public async Task It_is_never_ahead_of_its_pace_and_stands_where_it_is_paused()
    {
        var (job, player) = Play();
        var watch = Stopwatch.StartNew();
        // Slow enough that a busy machine does not see the end of the run.
        player.Go(new PauseAt(), 0.5);
        foreach (var mark in (double[])[0.02, 0.05, 0.1, 0.2])
        {
            await Until(() => job.Reached >= mark);
            // Read in this order, the clock can only have gone on. A step may end a tick of the clock later.
            var reached = job.Reached;
            Assert.InRange(reached, mark, 0.5 * (watch.Elapsed.TotalSeconds + 0.05));
        }

        player.Pause();
        var stood = job.Reached;
        await Task.Delay(50);
        Assert.Equal(stood, job.Reached);
        player.Stop();
        await job.Finished;
        Assert.Equal(stood, job.Reached);
    }

    [Fact]
    public async Task A_window_that_watches_is_sent_what_is_new()
    {
        var (job, player) = Play();
        player.Watch("w1", new RunWatchRequest("", ["i.y"], -1));
        player.Go(new PauseAt { Time = 1 }, null);
        await Paused(job);
        player.Go(new PauseAt { Time = 2 }, null);
        await Paused(job);
        await Until(() => bench.Frames.Any(f => f.Frame is { Time: 2, State: "paused" }));
        var points = bench.Frames.Where(f => f.Watcher == "w1").SelectMany(f => f.Frame.Curves).ToList();
        var times = points.SelectMany(c => c.Times).ToList();
        Assert.Equal(times.Order(), times);
        Assert.Equal((0, 2), (times[0], times[^1]));
        Assert.All(points, c => Assert.Equal(c.Times[^1], c.Values[^1], 1e-9));
        Assert.Equal("time", bench.Frames.Last(f => f.Frame.Reason is not null).Frame.Reason);
        Assert.Equal(2, bench.Frames.Last().Frame.Values["i.y"], 1e-9);
        player.Watch("w1", null);
    }

    [Fact]
    public async Task Edits_do_not_touch_a_run_that_is_played()
    {
        var (job, player) = Play();
        player.Go(new PauseAt { Time = 1 }, null);
        await Paused(job);
        bench.Edit(id, new PatchOperation("add", "/definitions/main/parts/s/parameters/k", "7"));
        await bench.Run(id, "w");
        player.Go(new PauseAt { Time = 2 }, null);
        await Paused(job);
        Assert.Equal(2, Level(job), 1e-9);
    }

    [Fact]
    public void Urgent_work_goes_before_what_waits_longer()
    {
        var queue = new TurnQueue(1);
        queue.Take(Urgency.Batch, default);
        var order = new List<Urgency>();
        var threads = new List<Thread>();
        foreach (var urgency in (Urgency[])[Urgency.Batch, Urgency.Live, Urgency.Interactive])
        {
            var thread = new Thread(() =>
            {
                queue.Take(urgency, default);
                lock (order)
                    order.Add(urgency);
                queue.Release();
            });
            thread.Start();
            threads.Add(thread);
            SpinWait.SpinUntil(() => queue.IsAwaited(urgency), 5000);
        }

        queue.Release();
        threads.ForEach(t => t.Join());
        Assert.Equal([Urgency.Interactive, Urgency.Live, Urgency.Batch], order);
        using var stop = new CancellationTokenSource();
        queue.Take(Urgency.Batch, default);
        stop.CancelAfter(20);
        Assert.Throws<TaskCanceledException>(() => queue.Take(Urgency.Batch, stop.Token));
        queue.Release();
    }

    [Fact]
    public async Task What_was_set_by_hand_drives_the_model_again_as_a_stimulus()
    {
        var (job, player) = Play();
        foreach (var (time, rate) in ((double, string)[])[(2, "3"), (4.5, "-1"), (6, "0.5")])
        {
            player.Go(new PauseAt { Time = time }, null);
            await Paused(job);
            player.Set("Rate.k", rate);
        }

        player.Go(new PauseAt(), null);
        await Until(() => job.State == RunStage.Finished);
        var played = new RecordedCourses(bench.Runs, new ComputeGate()).Played(job.Id, default);
        Assert.Empty(played.Left);
        var track = Assert.Single(played.Stimulus.Tracks.Values);
        Assert.Equal(("s.k", TrackShape.Set), (track.Target, track.Shape));
        Assert.Equal([0, 2, 4.5, 6], track.Times);
        Assert.Equal([1, 3, -1, 0.5], track.Values);

        var document = bench.Models.Session(id).Document;
        var driven = document with
        {
            Stimuli = new() { ["p"] = played.Stimulus },
            Settings = document.Settings with { Stimulus = "p" },
        };
        var again = await bench.Run(bench.Create(driven));
        // 1 · 2 + 3 · 2.5 − 1 · 1.5 + 0.5 · 14.
        Assert.Equal(15, Level(job), 1e-6);
        Assert.Equal(Level(job), Level(again));
    }

    [Fact]
    public async Task A_paced_run_with_values_set_meanwhile_is_made_again_in_every_bit()
    {
        var (job, player) = Play();
        player.Go(new PauseAt(), 20);
        foreach (var (time, rate) in ((double, string)[])[(0.1, "3"), (0.5, "-1"), (1.5, "0.5")])
        {
            await Until(() => job.Reached >= time);
            player.Set("Rate.k", rate);
        }

        // Pausing, another pace and a gain of a part are repeated as well.
        player.Pause();
        player.Set("Level.k", "2");
        player.Go(new PauseAt { Time = 4 }, 50);
        await Paused(job);
        player.Go(new PauseAt(), null);
        await Until(() => job.State == RunStage.Finished);
        var played = new RecordedCourses(bench.Runs, new ComputeGate()).Played(job.Id, default);
        Assert.Equal(["s.k", "i.k"], played.Stimulus.Tracks.Values.Select(t => t.Target));

        var document = bench.Models.Session(id).Document;
        var again = await bench.Run(
            bench.Create(
                document with
                {
                    Stimuli = new() { ["p"] = played.Stimulus },
                    Settings = document.Settings with { Stimulus = "p" },
                }
            )
        );
        Assert.Equal(job.Trace!.Times, again.Trace!.Times);
        foreach (var variable in job.Trace.Variables)
            Assert.Equal(job.Trace.Column(variable), again.Trace.Column(variable));
        // The source equals its parameter, and so has no column.
        var course = new RunResults(again).Curve("s.y")!;
        Assert.Equal([1, 3, -1, 0.5], course.Values.Where((v, i) => i == 0 || v != course.Values[i - 1]));
        Assert.Equal(course.Values, new RunResults(job).Curve("s.y")!.Values);
    }

    [Fact]
    public async Task A_run_in_which_nothing_was_set_is_refused_as_a_stimulus()
    {
        var (job, player) = Play();
        player.Stop();
        await Until(() => job.State == RunStage.Finished);
        var courses = new RecordedCourses(bench.Runs, new ComputeGate());
        Assert.Throws<Parts.RefusedException>(() => courses.Played(job.Id, default));
        Assert.Throws<NotFoundException>(() => courses.Played("gone", default));
        Assert.Throws<NotFoundException>(() => courses.Of(job.Id, "nothing.y", default));
    }
}
