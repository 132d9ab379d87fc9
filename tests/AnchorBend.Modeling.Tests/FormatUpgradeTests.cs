using System.Text.Json.Nodes;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Tests;

/// <summary>Documents and edits of the first format open as ones of the present format.</summary>
public class FormatUpgradeTests
{
    const string First = """
        {
          "format": "anchor-bend-model/1",
          "name": "Tank",
          "description": "Old",
          "parts": {
            "a": { "type": "Step", "name": "Wish", "x": 8, "y": 16, "parameters": { "height": "2" } },
            "b": { "type": "Own", "name": "Mine", "x": 96, "y": 16, "parameters": {} }
          },
          "wires": { "w": { "from": { "part": "a", "port": "y" }, "to": { "part": "b", "port": "u" }, "bends": [] } },
          "signals": { "b.y": { "name": "level", "probe": 0 } },
          "parameters": { "gain": { "value": "3" } },
          "requirements": { "r": { "name": "R", "kind": "upperLimit", "signal": "level", "limit": "4" } },
          "areas": { "c": { "text": "All", "x": 0, "y": 0, "width": 10, "height": 10 } },
          "classes": { "Own": { "text": "block Own input Real u; output Real y; equation y = 2 * u; end Own;" } },
          "settings": { "end": "5 s", "live": false }
        }
        """;

    [Fact]
    public void The_one_diagram_becomes_the_root_and_its_texts_definitions()
    {
        var read = ModelDocument.FromJson(First);
        Assert.Equal(("anchor-bend-model/4", "main", "Tank", "Old"), (read.Format, read.Root, read.Name, read.Description));
        Assert.Equal(["a", "b"], read.Main.Parts.Keys);
        Assert.Equal("#Own", read.Main.Parts["b"].Type);
        Assert.Equal("Own", Assert.IsType<TextDefinition>(read.Definitions["Own"]).Name);
        Assert.Equal("b.y", read.Requirements["r"].Signal);
        Assert.Equal(("5 s", false), (read.Settings.End, read.Settings.Live));
        Assert.Equal("All", read.Main.Areas["c"].Text);
        Assert.Empty(DocumentElaboration.Elaborate(read, PartCatalog.Of(read)).Findings);
    }

    [Fact]
    public void What_was_upgraded_reads_back_as_it_is()
    {
        var model = ModelDocument.FromJson(First);
        Assert.Equal(model.ToJson(), ModelDocument.FromJson(model.ToJson()).ToJson());
    }

    [Theory]
    [InlineData("""{"op":"replace","path":"/name","value":"Other"}""")]
    [InlineData("""{"op":"replace","path":"/parts/a/parameters/height","value":"7"}""")]
    [InlineData("""{"op":"remove","path":"/wires/w"}""")]
    [InlineData("""{"op":"add","path":"/parameters/b~1c","value":{"value":"1"}}""")]
    [InlineData(
        """{"op":"replace","path":"/classes/Own/text","value":"block Own input Real u; output Real y; equation y = u; end Own;"}"""
    )]
    [InlineData("""{"op":"add","path":"/classes/New","value":{"text":"block New end New;"}}""")]
    [InlineData("""{"op":"replace","path":"/requirements/r/limit","value":"9"}""")]
    [InlineData("""{"op":"replace","path":"/settings/end","value":"9 s"}""")]
    public void An_edit_of_the_first_format_does_the_same_after_the_upgrade(string text)
    {
        var node = JsonNode.Parse(text)!;
        var edit = new PatchOperation(node["op"]!.GetValue<string>(), node["path"]!.GetValue<string>(), node["value"]?.DeepClone());
        var (editedFirst, _) = JsonPatch.Apply(JsonNode.Parse(First)!, [edit]);
        var upgraded = new EditableDocument(DocumentJson.Upgraded(JsonNode.Parse(First)));
        upgraded.Apply(FormatUpgrade.Operations([edit], 1));
        Assert.Equal(ModelDocument.FromJson(editedFirst.ToJsonString()).ToJson(), upgraded.Document.ToJson());
    }

    [Fact]
    public void Ids_that_could_not_stand_in_a_path_get_others_everywhere()
    {
        var text = First
            .Replace("\"b\":", "\"b 1/x\":", StringComparison.Ordinal)
            .Replace("\"part\": \"b\"", "\"part\": \"b 1/x\"", StringComparison.Ordinal)
            .Replace("\"b.y\"", "\"b 1/x.y\"", StringComparison.Ordinal)
            .Replace("\"signal\": \"level\"", "\"signal\": \"b 1/x.y\"", StringComparison.Ordinal);
        var model = ModelDocument.FromJson(text);
        Assert.Equal("b-1-x", model.Main.Wires["w"].To.Part);
        Assert.Equal(["b-1-x.y"], model.Main.Signals.Keys);
        Assert.Equal("b-1-x.y", model.Requirements["r"].Signal);
        Assert.Empty(DocumentElaboration.Elaborate(model, PartCatalog.Of(model)).Findings);
    }

    [Theory]
    [InlineData("anchor-bend-model/5", "reads up to 'anchor-bend-model/4'")]
    [InlineData("anchor-bend-model/0", "reads up to")]
    [InlineData("anchor-bend-model/1x", "reads up to")]
    public void A_later_format_is_not_looked_into(string format, string reason) =>
        Assert.Contains(
            reason,
            Assert.Throws<DocumentException>(() => ModelDocument.FromJson($$"""{"format":"{{format}}","what":[]}""")).Message,
            StringComparison.Ordinal
        );

    const string Second = """
        {
          "format": "anchor-bend-model/2",
          "root": "main",
          "definitions": {
            "main": {
              "kind": "diagram",
              "name": "Winch",
              "parts": {
                "a": { "type": "RateLimiter", "name": "Ramp", "parameters": {} },
                "b": { "type": "Inertia", "name": "Rotor", "parameters": { "phi0": "1", "w0": "2 rpm", "J": "3" } },
                "c": { "type": "#own", "name": "Mine", "parameters": { "w0": "5" } }
              }
            },
            "own": { "kind": "text", "name": "Own", "text": "block Own parameter Real w0 = 1; UnitDelay d; end Own;" }
          }
        }
        """;

    [Fact]
    public void Parts_and_parameters_that_were_called_otherwise_have_the_names_of_now()
    {
        var read = ModelDocument.FromJson(Second);
        Assert.Equal("SlewLimit", read.Main.Parts["a"].Type);
        Assert.Equal(["J", "angle0", "speed0"], read.Main.Parts["b"].Parameters.Keys.Order(StringComparer.Ordinal));
        // What a user calls so in a part of the own stays as it is; the text finds the catalog's part under its new name.
        Assert.Equal(["w0"], read.Main.Parts["c"].Parameters.Keys);
        Assert.Contains("w0 = 1; SampleDelay d", ((TextDefinition)read.Definitions["own"]).Text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("""{"op":"add","path":"/definitions/main/parts/n","value":{"type":"DeadZone","name":"N","parameters":{}}}""")]
    [InlineData("""{"op":"replace","path":"/definitions/main/parts/a/type","value":"TransportDelay"}""")]
    [InlineData("""{"op":"replace","path":"/definitions/main/parts/b/parameters/phi0","value":"4"}""")]
    [InlineData(
        """{"op":"replace","path":"/definitions/own","value":{"kind":"text","name":"Own","text":"block Own DiscreteLag d; end Own;"}}"""
    )]
    public void An_edit_of_the_second_format_does_the_same_after_the_upgrade(string text)
    {
        var node = JsonNode.Parse(text)!;
        var edit = new PatchOperation(node["op"]!.GetValue<string>(), node["path"]!.GetValue<string>(), node["value"]?.DeepClone());
        var (edited, _) = JsonPatch.Apply(JsonNode.Parse(Second)!, [edit]);
        var upgraded = new EditableDocument(DocumentJson.Upgraded(JsonNode.Parse(Second)));
        upgraded.Apply(FormatUpgrade.Operations([edit], 2));
        Assert.Equal(ModelDocument.FromJson(edited.ToJsonString()).ToJson(), upgraded.Document.ToJson());
    }

    [Fact]
    public void Every_new_name_is_one_of_the_catalog()
    {
        foreach (
            var old in (string[])
                [
                    "ZeroPoleGain",
                    "UnitDelay",
                    "TransportDelay",
                    "VariableDelay",
                    "DeadZone",
                    "RateLimiter",
                    "CoulombViscous",
                    "DiscreteNotch",
                ]
        )
        {
            Assert.NotEqual(old, RenamedParts.Type(old));
            Assert.Contains(RenamedParts.Type(old), PartCatalog.Standard.Names);
            Assert.DoesNotContain(old, PartCatalog.Standard.Names);
            // Texts of a user's package are found under the old name too.
            Assert.Same(PartCatalog.Standard.Find(RenamedParts.Type(old)), PartCatalog.Standard.Find(old));
        }
    }

    [Theory]
    [InlineData(
        "RotationalPort a \"End, left\", shaft; equation a.phi = shaft.phi; a.tau + shaft.tau = 0;",
        "RotationalPort a \"End, left\", shaft; equation a.angle = shaft.angle; a.torque + shaft.torque = 0;"
    )]
    [InlineData(
        "TranslationalPort p[2]; Real m; equation p[1].f = 2 * m.s; p[2].s = x.f;",
        "TranslationalPort p[2]; Real m; equation p[1].force = 2 * m.s; p[2].position = x.f;"
    )]
    [InlineData("extends BetweenShafts; equation a.tau = 3;", "extends BetweenShafts; equation a.torque = 3;")]
    [InlineData("Inertia j; equation y = j.phi;", "Inertia j; equation y = j.phi;")]
    [InlineData(
        "connector C Real s; flow Real f; end C; C a; equation a.s = 0;",
        "connector C Real s; flow Real f; end C; C a; equation a.s = 0;"
    )]
    public void Texts_speak_of_the_quantities_of_mechanical_ports_by_their_words(string before, string now) =>
        Assert.Equal(now, RenamedQuantities.Text(before));

    [Fact]
    public void What_is_said_of_the_quantities_of_ports_goes_with_their_names()
    {
        const string third = """
            {
              "format": "anchor-bend-model/3", "root": "main",
              "definitions": { "main": { "kind": "diagram", "name": "M",
                "parts": { "j": { "type": "Inertia", "name": "J", "x": 0, "y": 0 }, "k": { "type": "Bundle", "name": "B", "x": 0, "y": 0 } },
                "signals": { "j.a.phi": { "name": "turn" }, "j.a.tau": { "probe": 0 }, "j.w": { "name": "speed" }, "k.sea.s": { "name": "swell" } } } },
              "requirements": { "r": { "name": "R", "kind": "upperLimit", "signal": "p/j.a.tau", "limit": "4" } }
            }
            """;
        var read = ModelDocument.FromJson(third);
        Assert.Equal(["j.a.angle", "j.a.torque", "j.w", "k.sea.s"], read.Main.Signals.Keys.Order());
        Assert.Equal("p/j.a.torque", read.Requirements["r"].Signal);
        var edit = new PatchOperation("add", "/definitions/main/signals/j.a.phi/name", "other");
        Assert.Equal("/definitions/main/signals/j.a.angle/name", FormatUpgrade.Operations([edit], 3)[0].Path);
    }
}
