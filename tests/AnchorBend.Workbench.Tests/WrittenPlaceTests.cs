using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Tables;
using AnchorBend.Modeling.Written;
using static AnchorBend.Tests.Diagrams;
using static AnchorBend.Workbench.Tests.ChartParts;

namespace AnchorBend.Workbench.Tests;

/// <summary>What is wrong in a text of a chart or a table leads to the state, transition, rule or phase that it stands in.</summary>
public class WrittenPlaceTests
{
    static List<Finding> Errors(WrittenDefinition definition)
    {
        var document = new DiagramDefinition
        {
            Name = "Model",
            Parts = new() { ["p"] = Part("#d", "Part") },
        }
            .AsModel()
            .With("d", definition);
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
        return [.. prepared.Findings.Where(f => f.Severity == Severity.Error)];
    }

    static void LeadsTo(string item, string message, WrittenDefinition definition)
    {
        var error = Errors(definition).First(f => f.Message.Contains(message, StringComparison.Ordinal));
        Assert.Equal((item, PartPath.Root.Then("p"), 0), (error.Inner, error.Place, error.At.Line));
    }

    [Theory]
    [InlineData("t0", "levle", "levle > 2", null, null)]
    [InlineData("t0", "Transition A → B, guard", "level >", null, null)]
    [InlineData("t0", "spede", null, "spede := 2", null)]
    [InlineData("b", "State B, entry", null, null, "speed := ")]
    [InlineData("b", "levle", null, null, "speed := levle")]
    public void Texts_of_charts(string item, string message, string? guard, string? action, string? entry) =>
        LeadsTo(
            item,
            message,
            Chart(
                [("a", State("A")), ("b", State("B", entry: entry))],
                [Go("a", "b", guard, action: action), Go("b", "a", "level < 0")],
                Name("level", NameKind.Input, "Real"),
                Name("speed", NameKind.Output, "Real")
            )
        );

    [Theory]
    [InlineData("> levle", "1", "levle")]
    [InlineData("> ", "1", "Rule 2, u")]
    [InlineData("> 0", "levle", "levle")]
    public void Cells_of_decision_tables(string when, string then, string message) =>
        LeadsTo(
            "r2",
            message,
            new DecisionTable
            {
                Name = "Table",
                Names = { ["u"] = Name("u", NameKind.Input, "Real"), ["y"] = Name("y", NameKind.Output, "Real") },
                Conditions = { ["c"] = new ConditionNode { Text = "u" } },
                Rules =
                {
                    ["r1"] = new RuleNode { When = { ["c"] = "< -1" }, Then = { ["y"] = "2" } },
                    ["r2"] = new RuleNode
                    {
                        Order = 1,
                        When = { ["c"] = when },
                        Then = { ["y"] = then },
                    },
                },
            }
        );

    [Theory]
    [InlineData("levle > 1", "1", "levle")]
    [InlineData("u > 1", "levle", "levle")]
    [InlineData("u > 1", "1 +", "Phase Go, y")]
    public void Texts_of_schedules(string until, string to, string message) =>
        LeadsTo(
            "f2",
            message,
            new ScheduleDefinition
            {
                Name = "Schedule",
                Names = { ["u"] = Name("u", NameKind.Input, "Real"), ["y"] = Name("y", NameKind.Output, "Real") },
                Phases =
                {
                    ["f1"] = new PhaseNode { Name = "Wait", Lasts = "1 s" },
                    ["f2"] = new PhaseNode
                    {
                        Name = "Go",
                        Order = 1,
                        Until = until,
                        Commands = { ["y"] = new CommandNode { To = to } },
                    },
                    ["f3"] = new PhaseNode { Name = "End", Order = 2 },
                },
            }
        );

    [Fact]
    public void What_is_counted_in_the_class_of_a_chart_is_of_its_transitions_and_states()
    {
        var chart = Chart(
            [("a", State("A")), ("b", State("B", entry: "n := if u > 5 then 1 else 2"))],
            [Go("a", "b", "u > 0.5"), Go("b", "a", "u < -0.5")],
            Name("u", NameKind.Input, "Real"),
            Name("n", NameKind.Output, "Real")
        );
        var document = new DiagramDefinition
        {
            Name = "Model",
            Parts = new() { ["s"] = Part("Sine", "Sea", ("f", "1 Hz")), ["p"] = Part("#d", "Part") },
            Wires = new() { ["w"] = Wire("s.y", "p.u") },
        }
            .AsModel()
            .With("d", chart);
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
        var counting = Compiler.Emission.PlanEmitter.Compile(prepared.Compiled!.Plan, true);
        using var simulator = new Simulation.Simulator(
            counting,
            new ParameterSet(prepared.Model),
            new Simulation.RunOptions { End = 3.05 }
        );
        Assert.Null(simulator.Run().Failure);
        var items = simulator.Tally().Places.Where(t => t.Origin.Owner == "Part").ToLookup(t => chart.ItemAt(t.Origin.At));
        // The sine passes the bounds once in each of three periods.
        Assert.Equal(3, Assert.Single(items["t0"], t => t.Origin.Kind == OriginKind.Condition).Yes);
        Assert.Equal(3, Assert.Single(items["t1"], t => t.Origin.Kind == OriginKind.Condition).Yes);
        var decision = Assert.Single(items["b"], t => t.Origin.Kind == OriginKind.Decision);
        Assert.Equal((3, 0), (decision.No, decision.Yes));
    }
}
