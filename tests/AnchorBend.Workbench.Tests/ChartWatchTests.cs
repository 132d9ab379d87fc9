using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Modeling.Written;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using static AnchorBend.Tests.Diagrams;
using static AnchorBend.Workbench.Tests.ChartParts;

namespace AnchorBend.Workbench.Tests;

/// <summary>Charts of a model on the bench: their view, what was taken when and why, where a run pauses, names that are changed.</summary>
public sealed class ChartWatchTests : IDisposable
{
    readonly Bench bench = new();
    readonly string id;

    static readonly ChartDefinition Gate = Chart(
        [("shut", State("Shut", entry: "open := false")), ("up", State("Open", entry: "open := true"))],
        [Go("shut", "up", "level > top and level > 0.2 m") with { Priority = 1 }, Go("up", "shut", "level < bottom")],
        Name("level", NameKind.Input, "Real") with
        {
            Unit = "m",
        },
        Name("top", NameKind.Parameter, "Real", "0.5") with
        {
            Unit = "m",
        },
        Name("bottom", NameKind.Parameter, "Real", "-0.5") with
        {
            Unit = "m",
        },
        Name("open", NameKind.Output, "Boolean")
    );

    public ChartWatchTests() =>
        id = bench.Create(
            new DiagramDefinition
            {
                Name = "Tide",
                Parts = new() { ["s"] = Part("Sine", "Water", ("amplitude", "1 m"), ("f", "0.1 Hz")), ["c"] = Part("#gate", "Gate") },
                Wires = new() { ["w"] = Wire("s.y", "c.level") },
                Signals = new() { ["c.open"] = new SignalNode { Probe = 0 } },
            }
                .AsModel()
                .With("gate", Gate) with
            {
                Settings = new RunSettings { End = "20 s", Live = false },
            }
        );

    public void Dispose()
    {
        bench.Runs.Forget(id);
        bench.RunStore.Dispose();
    }

    static readonly PartPath Chart1 = PartPath.Root.Then("c");

    RunJob Run()
    {
        var job = bench.Runs.Start(bench.Models.Session(id), default);
        job.Finished.Wait();
        return job;
    }

    [Fact]
    public void Its_level_tells_what_is_entered_first_and_the_signals_of_states_and_transitions()
    {
        var view = bench.Models.Open(id, Chart1, default).View;
        Assert.Equal("shut", view.Chart!.First[""]);
        Assert.Equal("in Open", view.Chart.States["up"]);
        Assert.Equal("c.in Open", view.Signals["in Open"].Reference);
        Assert.Equal("c.taken Shut to Open", view.Signals[view.Chart.Taken["t0"]].Reference);
        Assert.Equal(0.5, view.Parameters["top"].Value);
    }

    [Fact]
    public void An_edit_of_the_chart_is_answered_with_the_chart_as_it_is_then()
    {
        var edit = new PatchOperation("replace", "/definitions/gate/states/up/name", System.Text.Json.Nodes.JsonValue.Create("Up"));
        var answer = bench.Models.Edit(id, new EditOrigin(0, Chart1, "w"), "Rename a state", [edit], default);
        Assert.Equal("c", answer.Change.Level);
        Assert.Equal("in Up", answer.Change.Chart!.States["up"]);
        Assert.Equal("c.in Up", answer.Change.Signals!["in Up"]!.Reference);
    }

    [Fact]
    public void What_speaks_of_a_state_or_a_transition_follows_its_name_in_the_same_edit()
    {
        var session = bench.Models.Session(id);
        session.Edit(
            session.Revision,
            "Speak of them",
            [
                new PatchOperation(
                    "add",
                    "/alerts/a",
                    System.Text.Json.Nodes.JsonNode.Parse("""{ "text": "Open", "condition": "Gate.'in Open' and Water.y > 0.9" }""")
                ),
                new PatchOperation(
                    "add",
                    "/requirements/r",
                    System.Text.Json.Nodes.JsonNode.Parse(
                        """{ "name": "Seldom", "kind": "upperLimit", "signal": "c.taken Shut to Open", "limit": "3" }"""
                    )
                ),
                new PatchOperation(
                    "add",
                    "/definitions/main/signals/c.in Open",
                    System.Text.Json.Nodes.JsonNode.Parse("""{ "probe": 1 }""")
                ),
            ]
        );
        session.Edit(
            session.Revision,
            "Rename",
            [new PatchOperation("replace", "/definitions/gate/states/up/name", System.Text.Json.Nodes.JsonValue.Create("Up"))]
        );
        var document = session.Document;
        Assert.Equal("Gate.'in Up' and Water.y > 0.9", document.Alerts["a"].Condition);
        Assert.Equal("c.taken Shut to Up", document.Requirements["r"].Signal);
        Assert.Equal(1, document.Main.Signals["c.in Up"].Probe);
        session.Undo(session.Revision);
        Assert.Equal("c.taken Shut to Open", session.Document.Requirements["r"].Signal);
        Assert.True(session.Document.Main.Signals.ContainsKey("c.in Open"));
    }

    [Fact]
    public void Values_at_an_instant_light_what_is_active()
    {
        // 1 m · sin(2 π 0.1 t) passes 0.5 m at t = 5/6 s and −0.5 m at 35/6 s; looks come each 0.1 s.
        var results = new RunResults(Run());
        Assert.Equal((1, 0), (results.Values(0.8, Chart1)["c.in Shut"], results.Values(0.8, Chart1)["c.in Open"]));
        Assert.Equal((0, 1), (results.Values(1.0, Chart1)["c.in Shut"], results.Values(1.0, Chart1)["c.in Open"]));
        Assert.Equal(1, results.Values(7, Chart1)["c.taken Open to Shut"]);
    }

    [Fact]
    public void Transitions_are_listed_with_the_values_that_decided()
    {
        var taken = new ChartCourse(Run(), Chart1).Taken(8);
        Assert.Equal(2, taken.Total);
        Assert.Equal(("Open", "Shut", 5.9), (taken.Taken[0].From, taken.Taken[0].To, Math.Round(taken.Taken[0].Time, 6)));
        var first = taken.Taken[1];
        Assert.Equal(0.9, first.Time, 6);
        // sin(0.18 π) = 0.5358.
        Assert.Equal([("level", "0.5358 m"), ("top", "0.5 m")], first.Values.Select(v => (v.Name, v.Value)));
    }

    [Fact]
    public void A_parameter_that_was_set_while_it_ran_counts_from_then_on()
    {
        var job = bench.Runs.Play(bench.Models.Session(id), "w", default);
        var player = bench.Runs.Player(job.Id)!;
        player.Go(new PauseAt { Time = 0.35 }, null);
        Assert.True(SpinWait.SpinUntil(() => job.State == RunStage.Paused && job.Reached >= 0.35, 20_000));
        player.Set("Gate.top", "0.25 m");
        player.Go(new PauseAt { Time = 1.05 }, null);
        Assert.True(SpinWait.SpinUntil(() => job.State == RunStage.Paused && job.Reached >= 1.05, 20_000));
        // sin(0.2 π · 0.5) = 0.309 is the first look above the new limit.
        var taken = Assert.Single(new ChartCourse(job, Chart1).Taken(1).Taken);
        Assert.Equal([("level", "0.309 m"), ("top", "0.25 m")], taken.Values.Select(v => (v.Name, v.Value)));
        Assert.Equal((0.5, 0.25), (job.ParametersAt(0.2)[Top(job)], job.ParametersAt(0.4)[Top(job)]));
    }

    static int Top(RunJob job) => job.Prepared.Find("Gate.top")!.Index;

    [Fact]
    public void How_a_state_is_reached_tells_which_part_of_the_guard_is_missing()
    {
        var way = new ChartCourse(Run(), Chart1).To("up", 0.5);
        Assert.False(way.IsActive);
        var step = Assert.Single(way.Steps);
        // sin(0.1 π) = 0.309 lies between the two.
        Assert.Equal([false, true], step.Parts.Select(p => p.Holds));
        Assert.False(step.IsOpen);
        Assert.True(new ChartCourse(Run(), Chart1).To("up", 3).IsActive);
    }

    [Fact]
    public void A_run_pauses_where_a_state_is_entered_or_a_transition_is_taken()
    {
        var job = bench.Runs.Play(bench.Models.Session(id), "w", default);
        var player = bench.Runs.Player(job.Id)!;
        player.Go(new PauseAt { Stops = [player.StopAt(new ChartStop("c", "up", "entry"))] }, null);
        Assert.True(SpinWait.SpinUntil(() => job.State == RunStage.Paused && job.Reached > 0, 20_000));
        Assert.Equal(0.9, job.Reached, 6);
        player.Go(new PauseAt { Stops = [player.StopAt(new ChartStop("c", "t1", null))] }, null);
        Assert.True(SpinWait.SpinUntil(() => job.State == RunStage.Paused && job.Reached > 1, 20_000));
        Assert.Equal(5.9, job.Reached, 6);
        player.Go(new PauseAt { Stops = [player.StopAt(new ChartStop("c", "shut", "exit"))] }, null);
        Assert.True(SpinWait.SpinUntil(() => job.State == RunStage.Paused && job.Reached > 6, 20_000));
        Assert.Equal(10.9, job.Reached, 6);
    }

    [Fact]
    public void A_name_is_renamed_in_texts_wires_and_what_speaks_of_it()
    {
        var session = bench.Models.Session(id);
        session.Restructure(
            session.Revision,
            new RenameName
            {
                Level = "c",
                Name = "n0",
                To = "water",
            }
        );
        var chart = (ChartDefinition)session.Document.Definitions["gate"];
        Assert.Equal("water > top and water > 0.2 m", chart.Transitions["t0"].Guard);
        Assert.Equal("water", session.Document.Main.Wires["w"].To.Port);
        Assert.True(session.Prepare().Prepared.CanRun);
        Assert.Throws<DocumentException>(() =>
            session.Restructure(
                session.Revision,
                new RenameName
                {
                    Level = "c",
                    Name = "n0",
                    To = "top",
                }
            )
        );
    }

    [Fact]
    public void A_new_chart_is_placed_with_a_first_state_and_can_run()
    {
        var session = bench.Models.Session(id);
        var made = session.Restructure(session.Revision, new MakeChart { X = 16, Y = 32 });
        var part = session.Document.Main.Parts[made.Selection[0]];
        Assert.Equal(("Chart", 16), (part.Name, part.X));
        Assert.True(session.Prepare().Prepared.CanRun);
    }
}
