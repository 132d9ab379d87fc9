using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using static AnchorBend.Tests.Diagrams;
using static AnchorBend.Workbench.Tests.ChartParts;

namespace AnchorBend.Workbench.Tests;

/// <summary>Events of a chart that looks at a sample time: what happens between two looks is not lost.</summary>
public class ChartEventTests
{
    /// <summary>How often an event was taken until an instant, by a chart that looks each second.</summary>
    static double Counted(double until, string times)
    {
        var chart = Chart(
            [("a", State("A"))],
            [Go("a", "a", on: "go", action: "n := n + 1")],
            Name("go", NameKind.Event, "Boolean"),
            Name("n", NameKind.Output)
        ) with
        {
            Period = "1 s",
        };
        var document = new DiagramDefinition
        {
            Name = "Events",
            Parts = new() { ["s"] = Part("BooleanTable", "Key", ("t", times)), ["c"] = Part("#c", "Chart") },
            Wires = new() { ["w"] = Wire("s.y", "c.go") },
        }
            .AsModel()
            .With("c", chart);
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
        Assert.True(prepared.CanRun);
        using var session = new RunSession(prepared, new ParameterSet(prepared.Model), new RunOptions { End = 10 });
        session.Advance(new PauseAt(), default);
        var result = session.Result();
        Assert.Null(result.Failure);
        var values = RecordedSignal.Values(prepared, new ParameterSet(prepared.Model).Values, result.Trace, prepared.Find("Chart.n")!);
        return new Verification.Curve([.. result.Trace.Times], values).At(until)!.Value;
    }

    [Fact]
    public void A_short_press_between_two_looks_waits_for_the_next()
    {
        Assert.Equal(0, Counted(2.9, "{2.3, 2.4}"));
        Assert.Equal(1, Counted(3.1, "{2.3, 2.4}"));
        Assert.Equal(1, Counted(9.5, "{2.3, 2.4}"));
    }

    [Fact]
    public void Held_up_it_does_not_come_again_and_several_rises_between_two_looks_are_one()
    {
        Assert.Equal(1, Counted(9.5, "{2.3, 8.4}"));
        Assert.Equal(1, Counted(9.5, "{2.1, 2.2, 2.3, 2.4}"));
        Assert.Equal(2, Counted(9.5, "{2.1, 2.2, 3.3, 3.4}"));
    }

    [Fact]
    public void A_name_of_the_user_may_be_one_that_the_steps_use_themselves()
    {
        foreach (var name in (string[])["now", "count", "steps", "free", "started"])
        {
            var chart = Chart([("a", State("A", during: $"{name} := {name} + 1"))], [], Name(name, NameKind.Output));
            var document = new DiagramDefinition
            {
                Name = "Names",
                Parts = new() { ["c"] = Part("#c", "Chart") },
            }
                .AsModel()
                .With("c", chart);
            var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
            Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => f.Message)));
        }
    }

    [Fact]
    public void Numbers_with_units_count_in_coherent_units()
    {
        var chart = Chart([("a", State("A", during: "y := 2 km + 1 m"))], [], Name("y", NameKind.Output, "Real") with { Unit = "m" });
        var document = new DiagramDefinition
        {
            Name = "Units",
            Parts = new() { ["c"] = Part("#c", "Chart") },
        }
            .AsModel()
            .With("c", chart);
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document));
        Assert.DoesNotContain(prepared.Findings, f => f.Code == "unit-clash");
        using var session = new RunSession(prepared, new ParameterSet(prepared.Model), new RunOptions { End = 1 });
        session.Advance(new PauseAt(), default);
        Assert.Equal(2001, session.Trace[session.Trace.Rows - 1, prepared.Compiled!.Plan.Representative[prepared.Find("Chart.y")!.Index]]);
    }
}
