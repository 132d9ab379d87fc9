using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Modeling.Written;
using AnchorBend.Simulation;
using AnchorBend.Verification;
using static AnchorBend.Tests.Diagrams;
using static AnchorBend.Workbench.Tests.ChartParts;

namespace AnchorBend.Workbench.Tests;

/// <summary>A state with all in it becomes a chart of its own; what the model does stays the same.</summary>
public class MoveStateTests
{
    /// <summary>Surveys while the tide is high: two legs in turn, faster or slower.</summary>
    static readonly ChartDefinition Mission = Chart(
        [
            ("moored", State("Moored", entry: "light := 0")),
            ("survey", State("Survey", entry: "light := 1; legs := 0", exit: "speed := 0")),
            ("out", State("Out", "survey", entry: "speed := fast; legs := legs + 1")),
            ("back", State("Back", "survey", entry: "speed := -fast")),
        ],
        [
            Go("moored", "survey", "level > 0.5"),
            Go("survey", "moored", "level < 0"),
            Go("out", "back", null) with
            {
                After = "0.7 s",
            },
            Go("back", "out", "level > 0.1 and enabled") with
            {
                After = "0.5 s",
            },
        ],
        Name("level", NameKind.Input, "Real"),
        Name("enabled", NameKind.Input, "Boolean"),
        Name("fast", NameKind.Parameter, "Real", "2"),
        Name("speed", NameKind.Output, "Real"),
        Name("legs", NameKind.Output, "Real"),
        Name("light", NameKind.Output, "Real")
    );

    /// <summary>Two regions: one counts high waters, the other tells a light by it.</summary>
    static readonly ChartDefinition Watch = Chart(
        [
            ("all", State("All", kind: ChartStateKind.Parallel)),
            ("a", State("Water", "all")),
            ("low", State("Low", "a")),
            ("high", State("High", "a", entry: "count := count + 1")),
            ("b", State("Light", "all")),
            ("off", State("Off", "b", entry: "light := 0")),
            ("on", State("On", "b", entry: "light := 1")),
        ],
        [Go("low", "high", "level > 0.5"), Go("high", "low", "level < 0"), Go("off", "on", "count > 1.5")],
        Name("level", NameKind.Input, "Real"),
        Name("count", NameKind.Output, "Real"),
        Name("light", NameKind.Output, "Real")
    );

    static ModelDocument Model(ChartDefinition chart) =>
        new DiagramDefinition
        {
            Name = "Tide",
            Parts = new()
            {
                ["s"] = Part("Sine", "Sea", ("amplitude", "1"), ("f", "0.2 Hz")),
                ["e"] = Part("BooleanConstant", "Ready", ("k", "true")),
                ["c"] = Part("#chart", "Mission", ("fast", "3")),
                ["i"] = Part("Integrator", "Way"),
            },
            Wires = new()
            {
                ["w"] = Wire("s.y", "c.level"),
                ["e"] = Wire("e.y", "c.enabled"),
                ["i"] = Wire("c.speed", "i.u"),
            },
            Signals = new() { ["c.speed"] = new SignalNode { Name = "speed" } },
        }
            .AsModel()
            .With("chart", chart) with
        {
            Requirements = new()
            {
                ["r"] = new RequirementNode
                {
                    Name = "Turns",
                    Kind = RequirementKind.UpperLimit,
                    Signal = "c.in Survey/Back",
                    Limit = "2",
                },
            },
            Alerts = new()
            {
                ["a"] = new AlertNode { Text = "Turning", Condition = "Mission.'in Survey/Back' and Mission.speed < 0" },
            },
            Settings = new RunSettings { End = "12 s", Live = false },
        };

    static ModelDocument Tide(ChartDefinition chart) =>
        Model(chart) is var model && chart == Watch
            ? model.WithMain(
                model.Main with
                {
                    Parts = new() { ["s"] = model.Main.Parts["s"], ["c"] = Part("#chart", "Mission") },
                    Wires = new() { ["w"] = Wire("s.y", "c.level") },
                    Signals = [],
                }
            ) with
            {
                Requirements = [],
                Alerts = [],
            }
            : model;

    static Restructured Moved(ModelDocument document, string state) =>
        new MoveState { Level = "c", State = state }.Of(document, PartCatalog.Of(document));

    static Func<string, double[]> Run(ModelDocument document)
    {
        var prepared = DocumentPreparation.Prepare(DocumentLimits.Checked(document), PartCatalog.Of(document));
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => f.Message)));
        using var session = new RunSession(
            prepared,
            new ParameterSet(prepared.Model),
            new RunOptions { End = 12, OutputTimes = [.. Enumerable.Range(0, 240).Select(k => 0.05 * k + 0.02)] }
        );
        session.Advance(new PauseAt());
        Assert.Null(session.Failure);
        var trace = session.Trace;
        var rows = Enumerable.Range(0, 240).Select(k => 0.05 * k + 0.02).ToArray();
        return name => [.. rows.Select(t => trace.At(prepared.Compiled!.Plan.Representative[prepared.Find(name)!.Index], t))];
    }

    [Fact]
    public void A_state_goes_with_its_names_and_the_model_does_what_it_did()
    {
        var document = Tide(Mission);
        var moved = Moved(document, "survey");
        var part = moved.Document.Main.Parts.Keys.Except(document.Main.Parts.Keys).Single();
        var (before, after) = (Run(document), Run(moved.Document));
        Assert.Contains(before("Mission.speed"), v => v == 3);
        Assert.Equal(before("Mission.speed"), after("Survey.speed"));
        Assert.Equal(before("Mission.legs"), after("Survey.legs"));
        Assert.Equal(before("Way.y"), after("Way.y"));
        Assert.Equal(before("Mission.in Survey/Out"), after("Survey.in Survey/Out"));
        Assert.Equal(before("Mission.in Survey"), after("Mission.in Survey"));
        // What spoke of the state and the port does so still.
        Assert.Equal($"{part}.in Survey/Back", moved.Document.Requirements["r"].Signal);
        Assert.Equal("speed", moved.Document.Main.Signals[$"{part}.speed"].Name);
        Assert.Equal("Survey.'in Survey/Back' and Survey.speed < 0", moved.Document.Alerts["a"].Condition);
        Assert.Equal("3", moved.Document.Main.Parts[part].Parameters["fast"]);
        Assert.False(moved.Document.Main.Parts["c"].Parameters.ContainsKey("fast"));
    }

    [Fact]
    public void A_region_that_is_always_active_leaves_its_chart_and_is_wired_to_what_stays()
    {
        var document = Tide(Watch);
        foreach (var (state, name, signal) in ((string, string, string)[])[("b", "Light", "light"), ("a", "Water", "count")])
        {
            var moved = Moved(document, state);
            var (before, after) = (Run(document), Run(moved.Document));
            Assert.Contains(before("Mission.light"), v => v == 1);
            Assert.Equal(before($"Mission.{signal}"), after($"{name}.{signal}"));
            Assert.Equal(before("Mission.light"), after(state == "b" ? "Light.light" : "Mission.light"));
            Assert.Single(moved.Document.Main.Wires.Values, w => w.From.Port == "count" && w.To.Port == "count");
            Assert.DoesNotContain(((ChartDefinition)moved.Document.Definitions["chart"]).States, s => s.Key == state);
        }
    }

    [Fact]
    public void What_comes_of_it_has_no_errors_and_nothing_unused()
    {
        var moved = Moved(Tide(Mission), "survey").Document;
        var prepared = DocumentPreparation.Prepare(moved, PartCatalog.Of(moved));
        Assert.DoesNotContain(prepared.Findings, f => f.Code is "chart-unused" or "chart-never-set" or "chart-unreachable");
    }

    public static TheoryData<ChartDefinition, string, string> Refused =>
        new()
        {
            { Mission, "moored", "Nothing stands in" },
            { Mission, "gone", "choose one" },
            { Watch, "all", "all there is" },
            { With(Mission, Go("out", "moored", null)), "survey", "leads from 'Out' out of 'Survey'" },
            { With(Mission, Go("moored", "back", null)), "survey", "leads from 'Moored' to 'Back'" },
            { With(Mission, Go("survey", "survey", "level > 2")), "survey", "left and entered again" },
            { With(Mission, Go("survey", "moored", null) with { Event = "done" }), "survey", "to be done" },
            { With(Mission, Go("moored", null, "legs > 3")), "survey", "wait for each other" },
            { With(Mission, Go("moored", null, null) with { Action = "legs := 3" }), "survey", "set in the state and in the rest" },
        };

    static ChartDefinition With(ChartDefinition chart, ChartTransitionNode more) =>
        chart with
        {
            Transitions = new(chart.Transitions) { ["more"] = more },
        };

    [Theory]
    [MemberData(nameof(Refused))]
    public void What_a_part_could_not_do_is_refused_and_says_why(ChartDefinition chart, string state, string message) =>
        Assert.Contains(message, Assert.Throws<DocumentException>(() => Moved(Tide(chart), state)).Message, StringComparison.Ordinal);
}
