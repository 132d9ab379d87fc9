using System.Text.Json.Nodes;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Workbench.Tests;

/// <summary>Ports of heat with several cells: one wire joins them cell by cell.</summary>
public class CellPortTests
{
    static ModelDocument Walls(string cells, string others) =>
        new DiagramDefinition
        {
            Name = "Walls",
            Parts =
            {
                ["a"] = Diagrams.Part("HeatWall", "Inner", ("N", cells)),
                ["b"] = Diagrams.Part("HeatWall", "Outer", 160, 0, ("N", others)),
                ["hot"] = Diagrams.Part("FixedTemperature", "Hot", -160, 0, ("T", "400 K")),
            },
            Wires = { ["w1"] = Diagrams.Wire("hot.b", "a.a"), ["w2"] = Diagrams.Wire("a.b", "b.a") },
        }.AsModel();

    static PreparedModel Prepared(ModelDocument document) => DocumentPreparation.Prepare(document, PartCatalog.Of(document));

    static double At(PreparedModel prepared, string name, double end)
    {
        using var simulator = new Simulator(
            prepared.Compiled!,
            new ParameterSet(prepared.Model),
            new RunOptions { End = end, OutputTimes = [end] }
        );
        var result = simulator.Run();
        Assert.Null(result.Failure);
        return result.Trace.At(prepared.Compiled!.Plan.RepresentativeOf(name), end);
    }

    [Fact]
    public void One_wire_joins_all_cells_and_a_single_port_meets_each()
    {
        var prepared = Prepared(Walls("3", "3"));
        Assert.DoesNotContain(prepared.Findings, f => f.Severity == Severity.Error);
        for (var i = 1; i <= 3; i++)
            Assert.Equal(400, At(prepared, $"Outer.T[{i},3]", 1e4), 1e-3);
    }

    [Fact]
    public void Unlike_numbers_of_cells_are_told_and_one_click_mends_them()
    {
        var document = Walls("3", "5");
        var finding = Assert.Single(Prepared(document).Findings, f => f.Code == "cells");
        Assert.Equal("'Inner.b' has 3 cells and 'Outer.a' has 5.", finding.Message);
        Assert.Equal("Give 'Inner' 5 cells", finding.Fix!.Label);
        var (mended, _) = JsonPatch.Apply(JsonNode.Parse(document.ToJson())!, finding.Fix.Operations);
        var after = Prepared(ModelDocument.FromJson(mended.ToJsonString()));
        Assert.DoesNotContain(after.Findings, f => f.Severity == Severity.Error);
        Assert.Equal(400, At(after, "Outer.T[5,3]", 1e4), 1e-3);
    }

    /// <summary>One of four cells is heated; along the wall nothing is conducted.</summary>
    [Fact]
    public void One_cell_can_be_picked()
    {
        var document = new DiagramDefinition
        {
            Name = "Pick",
            Parts =
            {
                ["w"] = Diagrams.Part("HeatWall", "Wall", ("N", "4"), ("T0", "300 K")),
                ["c"] = Diagrams.Part("HeatCell", "Cell", ("N", "4"), ("i", "2")),
                ["h"] = Diagrams.Part("FixedTemperature", "Hot", ("T", "350 K")),
            },
            Wires = { ["w1"] = Diagrams.Wire("w.a", "c.a"), ["w2"] = Diagrams.Wire("c.b", "h.b") },
        }.AsModel();
        var prepared = Prepared(document);
        Assert.Equal(350, At(prepared, "Wall.T[2,3]", 1e4), 1e-3);
        Assert.Equal(300, At(prepared, "Wall.T[1,3]", 1e4), 1e-9);
        Assert.Equal(300, At(prepared, "Wall.T[3,3]", 1e4), 1e-9);
    }

    /// <summary>Grouping cuts the wire of three cells; the level gets one port of three, and the run stays what it was.</summary>
    [Fact]
    public void A_level_gets_a_port_of_as_many_cells()
    {
        var document = Walls("3", "3");
        var before = At(Prepared(document), "Outer.T[2,2]", 20);
        var after = new MakeSubsystem { Parts = ["b"], Name = "Shell" }
            .Of(document, PartCatalog.Of(document))
            .Document;
        var prepared = Prepared(after);
        Assert.DoesNotContain(prepared.Findings, f => f.Severity == Severity.Error);
        Assert.Equal(before, At(prepared, "Shell.Outer.T[2,2]", 20), 1e-9);
    }
}
