using System.Text.Json.Nodes;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Tests;

/// <summary>References hold identities; edits are classified by their place; wires that end nowhere say where.</summary>
public class DocumentReferenceTests
{
    static ModelDocument Document(string signal, string? reference = null, params string[] resting) =>
        new DiagramDefinition
        {
            Name = "M",
            Parts = new()
            {
                ["a"] = new PartNode { Type = "Step", Name = "Wish" },
                ["b"] = new PartNode { Type = "Lag", Name = "Slow part" },
                ["c"] = new PartNode { Type = "Lag", Name = "b.y" },
            },
            Signals = new()
            {
                ["b.y"] = new SignalNode { Name = "level" },
                ["a.y"] = new SignalNode { Unit = "m" },
            },
        }.AsModel() with
        {
            Requirements = new()
            {
                ["r"] = new RequirementNode
                {
                    Name = "R",
                    Signal = signal,
                    Reference = reference,
                },
            },
            Settings = new RunSettings { SteadyParts = resting },
        };

    static ModelDocument Read(ModelDocument document) => ModelDocument.FromJson(document.ToJson());

    [Theory]
    [InlineData("level", "b.y")]
    [InlineData("Slow part.y", "b.y")]
    [InlineData("Wish.y", "a.y")]
    [InlineData("b.y", "b.y")]
    [InlineData("b.y.u", "b.y.u")]
    [InlineData("gain", "gain")]
    [InlineData("nothing.at.all", "nothing.at.all")]
    public void Names_of_older_documents_become_identities(string written, string expected)
    {
        var read = Read(Document(written, written, "Slow part", "gone"));
        Assert.Equal((expected, expected), (read.Requirements["r"].Signal, read.Requirements["r"].Reference));
        Assert.Equal(["b", "gone"], read.Settings.SteadyParts);
    }

    [Fact]
    public void Renaming_breaks_no_reference()
    {
        var json = JsonNode.Parse(Read(Document("level", null, "Slow part")).ToJson())!;
        var (renamed, _) = JsonPatch.Apply(
            json,
            [
                new PatchOperation("replace", "/definitions/main/signals/b.y/name", "height"),
                new PatchOperation("replace", "/definitions/main/parts/b/name", "Tank"),
            ]
        );
        var document = ModelDocument.FromJson(renamed.ToJsonString());
        Assert.Equal("b.y", document.Requirements["r"].Signal);
        var elaboration = DocumentElaboration.Elaborate(document, PartCatalog.Standard);
        Assert.Equal("Tank.y", elaboration.Map.NameOf(document.Requirements["r"].Signal));
        Assert.DoesNotContain(elaboration.Findings, f => f.Code == "broken-reference");
    }

    [Fact]
    public void What_speaks_of_something_gone_is_a_finding()
    {
        var findings = DocumentElaboration
            .Elaborate(Read(Document("gone.y", "level", "gone")), PartCatalog.Standard)
            .Findings.Where(f => f.Code == "broken-reference")
            .ToList();
        Assert.Equal(2, findings.Count);
        Assert.Contains(findings, f => f.Item == "R" && f.Message.Contains("signal of the requirement 'R'", StringComparison.Ordinal));
        Assert.Contains(findings, f => f.Item == "run settings");
    }

    [Fact]
    public void A_wire_to_a_renamed_port_says_which_and_offers_the_free_one()
    {
        var document = new DiagramDefinition
        {
            Name = "M",
            Parts = new()
            {
                ["a"] = new PartNode { Type = "Step", Name = "Wish" },
                ["b"] = new PartNode { Type = "#own", Name = "Mine" },
            },
            Wires = new()
            {
                ["w"] = new WireNode { From = new("a", "y"), To = new("b", "u") },
            },
        }
            .AsModel()
            .With(
                "own",
                new TextDefinition { Name = "Own", Text = "block Own input Real wish; output Real y; equation y = wish; end Own;" }
            );
        var finding = Assert.Single(DocumentElaboration.Elaborate(document, PartCatalog.Of(document)).Findings, f =>
            f.Code == "loose-wire"
        );
        Assert.Contains("from 'y' of 'Wish' ends at 'u' of 'Mine'", finding.Message, StringComparison.Ordinal);
        Assert.Equal("Connect it to 'wish'", finding.Fix!.Label);
        var (mended, _) = JsonPatch.Apply(JsonNode.Parse(document.ToJson())!, finding.Fix.Operations);
        Assert.Empty(DocumentElaboration.Elaborate(ModelDocument.FromJson(mended.ToJsonString()), PartCatalog.Of(document)).Findings);
    }

    [Fact]
    public void A_wire_whose_part_is_gone_offers_to_go_too()
    {
        var document = new DiagramDefinition
        {
            Name = "M",
            Parts = new()
            {
                ["a"] = new PartNode { Type = "Step", Name = "Wish" },
            },
            Wires = new()
            {
                ["w"] = new WireNode { From = new("a", "y"), To = new("b", "u") },
            },
        }.AsModel();
        var finding = Assert.Single(DocumentElaboration.Elaborate(document, PartCatalog.Standard).Findings);
        Assert.Equal(("loose-wire", "Remove the wire"), (finding.Code, finding.Fix!.Label));
    }

    [Theory]
    [InlineData("0.4 kV/m", 250.0, "0.25 kV/m")]
    [InlineData("3 rpm/V", 0.5235987755982989, "5 rpm/V")]
    [InlineData("2 bar/m", 1e5, "1 bar/m")]
    [InlineData("90 deg", 0.7853981633974483, "45 deg")]
    [InlineData("20 ms", 0.5, "500 ms")]
    [InlineData("5", 0.5, "0.5")]
    [InlineData("2*gain", 0.5, "0.5")]
    [InlineData("2 *", 0.5, "0.5")]
    [InlineData(null, 1.23456789012, "1.23456789")]
    public void A_computed_number_takes_the_unit_that_stood_in_its_field(string? before, double value, string expected) =>
        Assert.Equal(expected, TypedValue.InUnitOf(before, value, null));

    [Fact]
    public void Layout_and_text_take_the_size_that_the_diagram_shows()
    {
        var document = new DiagramDefinition
        {
            Name = "M",
            Parts = new()
            {
                ["s"] = new PartNode { Type = "Multiplexer", Name = "A" },
                ["m"] = new PartNode { Type = "MinMax", Name = "B" },
                ["l"] = new PartNode { Type = "Lag", Name = "C" },
            },
        };
        var sizes = new PartSizes(document, PartCatalog.Standard);
        Assert.Equal((PartCatalog.Standard.Describe("Lag").Width, PartCatalog.Standard.Describe("Lag").HeightWith(1, 1)), sizes.Of("l"));
        Assert.Equal((64, 48), sizes.Of("s"));
    }
}
