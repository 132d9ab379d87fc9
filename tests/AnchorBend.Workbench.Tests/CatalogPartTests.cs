using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Tests;

/// <summary>What the catalog says of parts before any is placed.</summary>
public class CatalogPartTests
{
    static CatalogPart Of(string name) => CatalogPart.Of(PartCatalog.Standard.Describe(name), PartCatalog.Standard);

    static PortView Port(string part, string port) => Of(part).Fresh.Ports.Single(p => p.Name == port);

    [Fact]
    public void A_fresh_part_looks_as_the_model_shows_it_once_it_is_placed()
    {
        var diagram = new DiagramDefinition { Name = "All" };
        foreach (var part in PartCatalog.Standard.Parts)
            diagram.Parts[$"p{diagram.Parts.Count}"] = new PartNode { Type = part.Name, Name = $"{part.Title} {diagram.Parts.Count}" };
        var document = diagram.AsModel();
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Of(document), null);
        var builder = new ModelViewBuilder(prepared, document, PartCatalog.Of(document), PartPath.Root, null);
        var view = builder.Build(0, 0, false, false);
        var others = diagram
            .Parts.Select(p => (p.Value.Type, Fresh: Of(p.Value.Type).Fresh, Placed: view.Parts[p.Key]))
            .Where(p => Look(p.Fresh) != Look(p.Placed))
            .Select(p => $"{p.Type}: {Look(p.Fresh)} but {Look(p.Placed)}");
        Assert.Equal("", string.Join("\n", others));
        Assert.True(diagram.Parts.Count > 200);
    }

    static string Look(PartView view) =>
        $"{view.Width} × {view.Height} {view.Shape} {view.Symbol} "
        + string.Join(", ", view.Ports.Select(p => $"{p.Name} {p.Side} {p.Kind} {p.Plug} {p.Domain}"));

    [Fact]
    public void A_signal_goes_from_an_output_to_an_input()
    {
        Assert.Contains(Port("Gain", "u").Plug, Port("Step", "y").Takes);
        Assert.Contains(Port("Step", "y").Plug, Port("Gain", "u").Takes);
        Assert.DoesNotContain(Port("Gain", "y").Plug, Port("Step", "y").Takes);
    }

    [Fact]
    public void A_connection_joins_ports_of_its_domain_only()
    {
        Assert.Contains(Port("Spring", "a").Plug, Port("Mass", "b").Takes);
        Assert.DoesNotContain(Port("Resistor", "p").Plug, Port("Mass", "b").Takes);
        Assert.DoesNotContain(Port("Gain", "u").Plug, Port("Mass", "b").Takes);
    }

    [Theory]
    [InlineData("real", "real", true)]
    [InlineData("boolean", "real", true)]
    [InlineData("vector", "real", false)]
    [InlineData("bundle", "vector", false)]
    [InlineData("bundle", "bundle", true)]
    [InlineData("real", "any", true)]
    [InlineData("vector", "any", true)]
    [InlineData("bundle", "any", true)]
    public void Several_signals_in_one_wire_keep_away_from_a_port_for_one(string from, string to, bool joins)
    {
        var output = PortKinds.Of("y", null, false, "right", from, null);
        var input = PortKinds.Of("u", null, true, "left", to, null);
        Assert.Equal(joins, output.Takes.Contains(input.Plug));
        Assert.Equal(joins, input.Takes.Contains(output.Plug));
    }

    [Fact]
    public void A_fresh_face_shows_symbols_where_a_placed_part_shows_values()
    {
        Assert.Equal("k", Of("Gain").Fresh.Face);
        Assert.DoesNotContain("<<", string.Concat(PartCatalog.Standard.Parts.Select(p => Of(p.Name).Fresh.Face)), StringComparison.Ordinal);
    }

    [Fact]
    public void A_level_without_a_face_shows_its_title_as_text()
    {
        var document = new DiagramDefinition { Name = "M" }
            .AsModel()
            .With("d", new DiagramDefinition { Name = "50 % {duty} $1" });
        var part = PartCatalog.Of(document).Describe("#d");
        Assert.Equal(@"\text{50  duty 1}", part.Face);
    }
}
