using System.Text.Json.Nodes;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using CsCheck;

namespace AnchorBend.Modeling.Tests;

public class DocumentTests
{
    static ModelDocument Loop() =>
        new DiagramDefinition
        {
            Name = "Loop",
            Parts = new()
            {
                ["a"] = new PartNode { Type = "Step", Name = "Wish" },
                ["b"] = new PartNode
                {
                    Type = "Lag",
                    Name = "Slow part",
                    Parameters = new() { ["T"] = "250 ms", ["k"] = "2*gain" },
                },
            },
            Wires = new()
            {
                ["w"] = new WireNode { From = new("a", "y"), To = new("b", "u") },
            },
            Parameters = new() { ["gain"] = new ParameterNode { Value = "3" } },
            Signals = new() { ["b.y"] = new SignalNode { Name = "level" } },
        }.AsModel();

    [Fact]
    public void A_diagram_becomes_a_model_with_units_parameters_and_names()
    {
        var elaboration = DocumentElaboration.Elaborate(Loop(), PartCatalog.Standard);
        Assert.Empty(elaboration.Findings);
        var values = elaboration.Model.ParameterValues();
        Assert.Equal(0.25, values[elaboration.Model.Find("Slow part.T")!.Index], 15);
        Assert.Equal(6, values[elaboration.Model.Find("Slow part.k")!.Index]);
        Assert.Same(elaboration.Model.Find("Slow part.y"), elaboration.Model.Find("level"));
    }

    [Fact]
    public void Reads_back_what_it_writes()
    {
        var document = Loop();
        Assert.Equal(document.ToJson(true), ModelDocument.FromJson(document.ToJson(true)).ToJson(true));
    }

    [Theory]
    [InlineData("")]
    [InlineData("[]")]
    [InlineData("null")]
    [InlineData("{\"name\":\"x\",\"format\":\"other/9\"}")]
    [InlineData("{\"name\":\"x\",\"parts\":{\"p\":null}}")]
    [InlineData("{\"name\":\"x\",\"parts\":{\"p\":{\"type\":\"Lag\",\"name\":\"\"}}}")]
    [InlineData("{\"name\":\"x\",\"wires\":{\"w\":{\"from\":null,\"to\":null}}}")]
    [InlineData("{\"name\":\"x\",\"settings\":null}")]
    public void A_broken_document_is_refused_with_a_message(string json) =>
        Assert.Throws<DocumentException>(() => ModelDocument.FromJson(json));

    [Fact]
    public void A_wrong_unit_is_told_at_its_parameter()
    {
        var document = Loop();
        document.Main.Parts["b"].Parameters["T"] = "3 m";
        var finding = Assert.Single(DocumentElaboration.Elaborate(document, PartCatalog.Standard).Findings);
        Assert.Equal(("Slow part", "T", "unit"), (finding.Part, finding.Item, finding.Code));
    }

    [Fact]
    public void A_misspelt_name_offers_a_fix_that_mends_it()
    {
        var document = Loop();
        document.Main.Parts["b"].Parameters["k"] = "2*gian";
        var finding = Assert.Single(DocumentElaboration.Elaborate(document, PartCatalog.Standard).Findings);
        Assert.Equal("Use 'gain'", finding.Fix!.Label);
        var (mended, _) = JsonPatch.Apply(JsonNode.Parse(document.ToJson())!, finding.Fix.Operations);
        Assert.Empty(DocumentElaboration.Elaborate(ModelDocument.FromJson(mended.ToJsonString()), PartCatalog.Standard).Findings);
    }

    [Fact]
    public void A_decimal_comma_offers_the_point()
    {
        var document = Loop();
        document.Main.Parts["b"].Parameters["T"] = "2,5 s";
        var finding = Assert.Single(DocumentElaboration.Elaborate(document, PartCatalog.Standard).Findings);
        Assert.Equal(("decimal-comma", "Write 2.5 s"), (finding.Code, finding.Fix!.Label));
        var (mended, _) = JsonPatch.Apply(JsonNode.Parse(document.ToJson())!, finding.Fix.Operations);
        Assert.Equal("2.5 s", ModelDocument.FromJson(mended.ToJsonString()).Main.Parts["b"].Parameters["T"]);
    }

    [Fact]
    public void An_unconnected_input_offers_a_constant()
    {
        var document = Loop();
        document.Main.Wires.Clear();
        var finding = Assert.Single(DocumentElaboration.Elaborate(document, PartCatalog.Standard).Findings);
        var (mended, _) = JsonPatch.Apply(JsonNode.Parse(document.ToJson())!, finding.Fix!.Operations);
        Assert.Empty(DocumentElaboration.Elaborate(ModelDocument.FromJson(mended.ToJsonString()), PartCatalog.Standard).Findings);
    }

    [Fact]
    public void Undoing_any_patch_leads_back()
    {
        var start = JsonNode.Parse(Loop().ToJson())!;
        string[] paths =
        [
            "/definitions/main/parts/a/x",
            "/definitions/main/parts/c",
            "/definitions/main/parts/b/parameters/k",
            "/definitions/main/name",
            "/definitions/main/wires/w",
            "/definitions/main/signals/b.y/name",
            "/definitions/main/parameters/gain/value",
            "/definitions/main/wires/w/bends/-",
        ];
        Gen.Select(Gen.Int[0, paths.Length - 1], Gen.Int[0, 2], Gen.Int[0, 9])
            .List[1, 6]
            .Sample(
                steps =>
                {
                    var operations = steps
                        .Select(s => new PatchOperation(
                            new[] { "add", "remove", "replace" }[s.Item2],
                            paths[s.Item1],
                            JsonValue.Create(s.Item3)
                        ))
                        .ToList();
                    try
                    {
                        var (changed, inverse) = JsonPatch.Apply(start, operations);
                        var (back, _) = JsonPatch.Apply(changed, inverse);
                        Assert.True(JsonNode.DeepEquals(start, back));
                    }
                    catch (DocumentException)
                    {
                        // The patch does not fit; nothing was changed.
                    }
                },
                iter: 2000
            );
    }

    [Fact]
    public void Random_parameter_texts_give_findings_and_never_anything_else() =>
        Gen.String[Gen.Char["0123456789.+-*/^(){}[],;: abkTgainsmNe%°'\"<>=\\"], 0, 24]
            .Sample(
                text =>
                {
                    var document = Loop();
                    document.Main.Parts["b"].Parameters["T"] = text;
                    DocumentElaboration.Elaborate(document, PartCatalog.Standard);
                },
                iter: 5000
            );
}
