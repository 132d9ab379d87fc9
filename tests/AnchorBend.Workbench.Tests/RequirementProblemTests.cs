using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Views;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>A requirement that no run would judge is a finding at once.</summary>
public class RequirementProblemTests
{
    static string[] Findings(RequirementNode requirement)
    {
        var document = new DiagramDefinition
        {
            Name = "Basin",
            Parts = new() { ["s"] = Part("Constant", "Inflow"), ["t"] = Part("TankLevel", "Tank") },
            Wires = new() { ["w"] = Wire("s.y", "t.u") },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "10 s", Live = false },
            Requirements = new() { ["r"] = requirement },
            Measures = new()
            {
                ["m"] = new MeasureNode { Name = "Top", Expression = "maximum(Tank.yy)" },
            },
        };
        var catalog = PartCatalog.Of(document);
        var builder = new ModelViewBuilder(DocumentPreparation.Prepare(document, catalog), document, catalog, PartPath.Root, null);
        return [.. builder.Build(0, 0, false, false).Findings.Where(f => f.Item == "r").Select(f => f.Message)];
    }

    static readonly RequirementNode Level = new()
    {
        Name = "r",
        Signal = "t.y",
        Limit = "3 m",
    };

    [Fact]
    public void What_can_be_judged_is_no_finding()
    {
        Assert.Empty(Findings(Level));
        // A window behind the end of the run is the run's matter.
        Assert.Empty(Findings(Level with { From = "60 s", To = "90 s" }));
        Assert.Empty(Findings(Level with { Signal = "", Rule = "always Tank.y < 3 m" }));
        Assert.Empty(Findings(Level with { Kind = RequirementKind.SettlingTime, Limit = "2 min", Band = "5 %" }));
    }

    [Theory]
    [InlineData("3 kg", null, null, "is given in kg, but m")]
    [InlineData("most", null, null, "most")]
    [InlineData("3 m", "5 m", null, "start of the window is given in m")]
    [InlineData("3 m", "9 s", "2 s", "ends before it begins")]
    [InlineData("3 +", null, null, "")]
    public void A_limit_or_a_window_that_cannot_be_read_is_one(string limit, string? from, string? to, string told) =>
        Assert.Contains(told, Assert.Single(Findings(Level with { Limit = limit, From = from, To = to })), StringComparison.Ordinal);

    [Theory]
    [InlineData("always Tank.y < 3 kg")]
    [InlineData("always Tank.y")]
    [InlineData("always Tank.y < ")]
    [InlineData("always Tank.level < 3 m")]
    public void So_is_a_rule(string rule) =>
        Assert.Contains("is not judged", Assert.Single(Findings(Level with { Signal = "", Rule = rule })), StringComparison.Ordinal);

    [Fact]
    public void And_a_measure_that_says_nothing() =>
        Assert.Contains("Tank.yy", Assert.Single(Findings(Level with { Signal = "", Measure = "m" })), StringComparison.Ordinal);
}
