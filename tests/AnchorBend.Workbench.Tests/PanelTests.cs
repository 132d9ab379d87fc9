using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Panels;
using AnchorBend.Workbench.Runs;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Panels: what their items set and show, what they set in a run, alerts that it raises.</summary>
public sealed class PanelTests : IDisposable
{
    readonly Bench bench = new();
    readonly string id;

    public PanelTests() =>
        id = bench.Create(
            new DiagramDefinition
            {
                Name = "Tank",
                Parts = new()
                {
                    ["q"] = Part("Constant", "Inflow", ("k", "0")),
                    ["on"] = Part("BooleanConstant", "Pump", ("k", "false")),
                    ["mode"] = Part("WholeConstant", "Mode", ("k", "1")),
                    ["flow"] = Part("BooleanToReal", "As a flow"),
                    ["sum"] = Part("Sum", "Both", ("signs", "{1, 1}")),
                    ["i"] = Part("Integrator", "Level"),
                },
                Wires = new()
                {
                    ["a"] = Wire("on.y", "flow.u"),
                    ["b"] = Wire("q.y", "sum.u[1]"),
                    ["c"] = Wire("flow.y", "sum.u[2]"),
                    ["d"] = Wire("sum.y", "i.u"),
                },
                Signals = new()
                {
                    ["i.y"] = new SignalNode { Name = "level", Unit = "m" },
                },
            }.AsModel() with
            {
                Alerts = new()
                {
                    ["high"] = new AlertNode { Text = "Level high", Condition = "level > 2" },
                    ["quiet"] = new AlertNode
                    {
                        Text = "Level high, but the pump runs",
                        Condition = "level > 2",
                        Inhibit = "Pump.y",
                    },
                    ["wrong"] = new AlertNode { Text = "Never", Condition = "depth > 2" },
                },
                Panels = new()
                {
                    ["p"] = new PanelNode
                    {
                        Name = "Panel",
                        Items = new()
                        {
                            ["slide"] = new PanelItemNode { Kind = PanelItemKind.Slider, Target = "q.k" },
                            ["dial"] = new PanelItemNode
                            {
                                Kind = PanelItemKind.Dial,
                                Target = "i.y",
                                Unit = "cm",
                            },
                            ["gone"] = new PanelItemNode { Kind = PanelItemKind.Lamp, Target = "x.y" },
                            ["empty"] = new PanelItemNode { Kind = PanelItemKind.Switch },
                        },
                    },
                },
                Settings = new RunSettings { End = "20 s", Live = false },
            }
        );

    public void Dispose()
    {
        bench.Runs.Forget(id);
        bench.RunStore.Dispose();
    }

    PanelView View()
    {
        var (prepared, document, _) = bench.Models.Session(id).Prepare();
        return new PanelViews(prepared, document).Of(document.Panels["p"]);
    }

    [Fact]
    public void Items_tell_what_they_set_and_show_and_what_is_wrong()
    {
        var items = View().Items;
        Assert.Equal(("Inflow", 0.0, "Real"), (items["slide"].Label, items["slide"].Value, items["slide"].Type));
        Assert.Equal(("level", "cm", 100.0), (items["dial"].Label, items["dial"].Unit, items["dial"].Signal!.Scale));
        Assert.Equal("What it shows is not in the model any more.", items["gone"].Problem);
        Assert.Equal("Choose what it sets.", items["empty"].Problem);
    }

    [Fact]
    public void Values_of_sources_are_found_first_by_a_search()
    {
        var (prepared, document, _) = bench.Models.Session(id).Prepare();
        var found = new PanelViews(prepared, document).Settable("pump", 10);
        Assert.Equal(("on.k", "Pump", "Boolean"), (found[0].Target, found[0].Label, found[0].Type));
    }

    [Fact]
    public void What_a_control_sets_is_spoken_of_as_signals_are()
    {
        var (prepared, document, _) = bench.Models.Session(id).Prepare();
        var found = Views.SignalCatalog.Of(prepared, document).Views([("q.k", null), ("gone.k", null)]);
        Assert.Equal(("q.k", "Inflow.k"), (Assert.Single(found).Signal, found[0].View.Label));
    }

    [Fact]
    public void A_condition_that_cannot_be_read_is_a_finding() =>
        Assert.Contains(bench.Models.Open(id, PartPath.Root, default).View.Findings, f =>
            f.Code == "alert" && f.Item == "Never" && f.Message.Contains("no signal 'depth'", StringComparison.Ordinal)
        );

    static void Wait(RunJob job, double time) =>
        Assert.True(SpinWait.SpinUntil(() => job.State != RunStage.Running && job.Reached >= time, 20_000));

    [Fact]
    public async Task Sources_of_all_types_are_set_while_it_runs_also_from_zero_and_played_again()
    {
        var job = bench.Runs.Play(bench.Models.Session(id), "w", default);
        var player = bench.Runs.Player(job.Id)!;
        player.Go(new PauseAt { Time = 2 }, null);
        Wait(job, 2);
        player.Set("Inflow.k", "0.5");
        player.Set("Mode.k", "3");
        player.Go(new PauseAt { Time = 4 }, null);
        Wait(job, 4);
        player.Set("Pump.k", "true");
        player.Set("Inflow.k", "0");
        player.Go(new PauseAt { Time = 6 }, null);
        Wait(job, 6);
        // 2 s at 0.5, then 2 s at 1.
        var played = new RunResults(job);
        var readings = played.Readings(["i.y", "mode.y", "on.y"], 6);
        Assert.Equal(3, readings["i.y"], 9);
        Assert.Equal((3, 1), (readings["mode.y"], readings["on.y"]));
        var alerts = new AlertWatch(job).Now();
        var alert = Assert.Single(alerts);
        Assert.Equal("high", alert.Alert);
        Assert.InRange(alert.Since, 5, 5.05);
        player.Stop();
        Assert.True(SpinWait.SpinUntil(() => job.Result is not null, 20_000));
        var stimulus = new RecordedCourses(bench.Runs, new Compute.ComputeGate()).Played(job.Id, default);
        Assert.Empty(stimulus.Left);
        var session = bench.Models.Session(id);
        session.Edit(
            session.Revision,
            "Play again",
            [
                new PatchOperation("add", "/stimuli/s", System.Text.Json.JsonSerializer.SerializeToNode(stimulus.Stimulus, Web)),
                new PatchOperation("add", "/settings/stimulus", System.Text.Json.Nodes.JsonValue.Create("s")),
            ]
        );
        var again = bench.Runs.Start(session, default);
        await again.Finished;
        Assert.Null(again.Result!.Failure);
        foreach (var signal in (string[])["i.y", "mode.y", "on.y"])
        foreach (var time in (double[])[1, 3, 5, 6])
            Assert.Equal(played.Readings([signal], time)[signal], new RunResults(again).Readings([signal], time)[signal]);
    }

    static readonly System.Text.Json.JsonSerializerOptions Web = new(System.Text.Json.JsonSerializerDefaults.Web)
    {
        Converters = { new System.Text.Json.Serialization.JsonStringEnumConverter(System.Text.Json.JsonNamingPolicy.CamelCase) },
    };

    [Fact]
    public void What_is_refused_says_why()
    {
        var session = bench.Models.Session(id);
        var job = bench.Runs.Play(session, "w", default);
        var player = bench.Runs.Player(job.Id)!;
        foreach (var (path, text) in ((string, string)[])[("Mode.k", "1.5"), ("Pump.k", "3"), ("Inflow.k", "true"), ("Nobody.k", "1")])
            Assert.Throws<DocumentException>(() => player.Set(path, text));
    }
}
