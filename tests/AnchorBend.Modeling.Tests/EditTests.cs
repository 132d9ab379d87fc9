using System.Text.Json.Nodes;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using CsCheck;

namespace AnchorBend.Modeling.Tests;

/// <summary>Edits: what they touch, and that reading what they touched gives what reading all would.</summary>
public class EditTests
{
    static ModelDocument Model() =>
        new DiagramDefinition
        {
            Name = "M",
            Parts = new()
            {
                ["p"] = new PartNode { Type = "Gain", Name = "P" },
                ["q"] = new PartNode { Type = "#inner", Name = "Q" },
                ["x"] = new PartNode { Type = "Lag", Name = "X" },
            },
            Wires = new()
            {
                ["w"] = new WireNode
                {
                    From = new("p", "y"),
                    To = new("q", "in"),
                    Bends = [new Point(1, 2)],
                },
            },
            Signals = new()
            {
                ["p.y"] = new SignalNode { Name = "s", Probe = 1 },
            },
            Parameters = new() { ["k"] = new ParameterNode { Value = "1" } },
            Areas = new() { ["a"] = new AreaNode { Text = "A" } },
            Notes = new() { ["n"] = new NoteNode { Text = "N" } },
        }
            .AsModel()
            .With(
                "inner",
                new DiagramDefinition
                {
                    Name = "Inner",
                    Parts = new()
                    {
                        ["i"] = new PartNode { Type = "InputPort", Name = "in" },
                        ["g"] = new PartNode { Type = "Gain", Name = "G" },
                    },
                }
            ) with
        {
            Requirements = new()
            {
                ["r"] = new RequirementNode { Name = "R", Signal = "p.y" },
            },
        };

    static bool IsPort(string type) => PortPart.KindOf(PartCatalog.Standard.Find(type)) is not null;

    [Theory]
    [InlineData("/deliveries/y/step", EditEffect.Layout)]
    [InlineData("/definitions/main/parts/p/x", EditEffect.Layout)]
    [InlineData("/definitions/main/parts/p/y", EditEffect.Layout)]
    [InlineData("/definitions/main/parts/p/flip", EditEffect.Layout)]
    [InlineData("/definitions/main/wires/w/bends", EditEffect.Layout)]
    [InlineData("/definitions/main/wires/w/bends/0/x", EditEffect.Layout)]
    [InlineData("/definitions/main/signals/p.y/probe", EditEffect.Layout)]
    [InlineData("/definitions/main/areas/a/text", EditEffect.Layout)]
    [InlineData("/definitions/main/notes/n", EditEffect.Layout)]
    [InlineData("/definitions/main/description", EditEffect.Layout)]
    [InlineData("/definitions/main/parameters/k/description", EditEffect.Layout)]
    [InlineData("/settings/live", EditEffect.Layout)]
    [InlineData("/definitions/main/parts/p/parameters/x", EditEffect.Values)]
    [InlineData("/definitions/main/parts/p/parameters/flip", EditEffect.Values)]
    [InlineData("/definitions/main/parameters/k/value", EditEffect.Values)]
    [InlineData("/definitions/main/parameters/k/unit", EditEffect.Structure)]
    [InlineData("/definitions/main/parameters/probe", EditEffect.Structure)]
    [InlineData("/definitions/main/signals/p.x", EditEffect.Structure)]
    [InlineData("/definitions/main/parts/x", EditEffect.Structure)]
    [InlineData("/definitions/main/parts/p/name", EditEffect.Structure)]
    [InlineData("/definitions/inner/parts/g/x", EditEffect.Layout)]
    [InlineData("/definitions/inner/parts/i/y", EditEffect.Structure)]
    [InlineData("/definitions/gone/parts/p/x", EditEffect.Structure)]
    [InlineData("/definitions/text/text", EditEffect.Structure)]
    [InlineData("/root", EditEffect.Structure)]
    [InlineData("/settings/end", EditEffect.Settings)]
    [InlineData("/requirements/r/limit", EditEffect.Verification)]
    public void What_an_edit_touches_is_told_by_its_place(string path, EditEffect effect)
    {
        Assert.Equal(effect, EditEffects.Of([new PatchOperation("replace", path, 1)], Model(), IsPort));
        Assert.Equal(
            effect | EditEffect.Layout,
            EditEffects.Of(
                [new PatchOperation("replace", "/definitions/main/areas/a/x", 1), new PatchOperation("replace", path, 1)],
                Model(),
                IsPort
            )
        );
    }

    static readonly string[] Paths =
    [
        "/definitions/main/parts/p",
        "/definitions/main/parts/p/x",
        "/definitions/main/parts/p/name",
        "/definitions/main/parts/new",
        "/definitions/main/parts/q/parameters/k",
        "/definitions/main/wires/w",
        "/definitions/main/wires/w/bends/-",
        "/definitions/main/signals/p.y",
        "/definitions/main/signals/p.y/name",
        "/definitions/main/parameters/k",
        "/definitions/main/parameters/k/value",
        "/definitions/main/areas/a",
        "/definitions/main/notes/n/text",
        "/definitions/main/name",
        "/definitions/main/face",
        "/definitions/main/parts",
        "/definitions/inner/parts/g/parameters/k",
        "/definitions/inner",
        "/definitions/added",
        "/requirements/r",
        "/requirements/r/signal",
        "/settings/end",
        "/settings/steadyParts/-",
        "/settings",
        "/root",
        "/other",
    ];

    static readonly string[] Values =
    [
        "1",
        "\"text\"",
        "null",
        """{"type":"Gain","name":"New","x":1,"y":2,"parameters":{}}""",
        """{"from":{"part":"p","port":"y"},"to":{"part":"x","port":"u"}}""",
        """{"value":"3"}""",
        """{"name":"level"}""",
        """{"kind":"diagram","name":"D"}""",
        """{"kind":"text","name":"T","text":"block T end T;"}""",
        """{"name":"R2","signal":"s","limit":"1"}""",
        """{"x":3,"y":4}""",
        "\"p.y\"",
        "{}",
    ];

    /// <summary>Any operations, most of which do not fit.</summary>
    static readonly Gen<List<PatchOperation>> Operations = Gen.Select(
            Gen.Int[0, Paths.Length - 1],
            Gen.Int[0, 2],
            Gen.Int[0, Values.Length - 1]
        )
        .Select(s => new PatchOperation(((string[])["add", "remove", "replace"])[s.Item2], Paths[s.Item1], JsonNode.Parse(Values[s.Item3])))
        .List[1, 4];

    [Fact]
    public void Reading_what_an_edit_touched_is_reading_all_of_it()
    {
        var start = Model();
        Operations.Sample(
            operations =>
            {
                var editable = new EditableDocument((JsonObject)JsonNode.Parse(start.ToJson())!);
                string? expected;
                try
                {
                    var (patched, _) = JsonPatch.Apply(JsonNode.Parse(start.ToJson())!, operations);
                    expected = ModelDocument.FromJson(patched.ToJsonString()).ToJson();
                }
                catch (DocumentException)
                {
                    expected = null;
                }

                try
                {
                    editable.Apply(operations);
                    Assert.Equal(expected, editable.Document.ToJson());
                }
                catch (DocumentException)
                {
                    Assert.Null(expected);
                    Assert.Equal(start.ToJson(), editable.Document.ToJson());
                }

                Assert.Equal(editable.Document.ToJson(), ModelDocument.FromJson(editable.ToJson()).ToJson());
            },
            iter: 20_000
        );
    }

    [Fact]
    public void The_inverse_of_an_edit_leads_back()
    {
        var start = Model();
        Operations.Sample(
            operations =>
            {
                var editable = new EditableDocument((JsonObject)JsonNode.Parse(start.ToJson())!);
                try
                {
                    editable.Apply(editable.Apply(operations));
                }
                catch (DocumentException)
                {
                    return;
                }

                Assert.True(JsonNode.DeepEquals(JsonNode.Parse(start.ToJson()), JsonNode.Parse(editable.Document.ToJson())));
            },
            iter: 5_000
        );
    }

    [Fact]
    public void An_edit_shares_what_it_does_not_touch()
    {
        var editable = new EditableDocument((JsonObject)JsonNode.Parse(Model().ToJson())!);
        var before = editable.Document;
        editable.Apply([new PatchOperation("replace", "/definitions/main/parts/p/x", 8)]);
        Assert.Equal(8, editable.Document.Main.Parts["p"].X);
        Assert.Same(before.Definitions["inner"], editable.Document.Definitions["inner"]);
        Assert.Same(before.Main.Wires, editable.Document.Main.Wires);
        Assert.Same(before.Main.Parts["x"], editable.Document.Main.Parts["x"]);
    }
}
