using System.Text.Json.Nodes;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Bundles whose members a type declares.</summary>
public class BundleTypeTests
{
    const string Attitude = """
        expandable connector Attitude "How the boat lies"
          Real roll(unit = "rad");
          Real pitch(unit = "rad");
          Boolean valid;
        end Attitude;
        """;

    const string Boat = """
        expandable connector Boat
          Attitude lie;
          Real speed(unit = "km/h");
        end Boat;
        """;

    /// <summary>Three signals in a bundle of a type, which is a member of another with a type, read in a level.</summary>
    static ModelDocument Typed(string joined = "roll, pitch, valid")
    {
        var helm = new DiagramDefinition
        {
            Name = "Helm",
            Parts = { ["in"] = Part("BundlePort", "all", ("members", "lie.roll"), ("type", "Boat")), ["g"] = Part("Gain", "Helm gain") },
            Wires = { ["a"] = Wire("in.lie.roll", "g.u") },
        };
        var main = new DiagramDefinition
        {
            Name = "Boat",
            Parts =
            {
                ["r"] = Part("Constant", "Roll", ("k", "4 deg")),
                ["p"] = Part("Constant", "Pitch", ("k", "7 deg")),
                ["v"] = Part("BooleanConstant", "Valid"),
                ["s"] = Part("Constant", "Speed", ("k", "36 km/h")),
                ["j"] = Part("Bundle", "Lie", ("members", joined), ("type", "Attitude")),
                ["k"] = Part("Bundle", "Everything", ("members", "speed, lie"), ("type", "Boat")),
                ["q"] = Part("Pick", "Outside", ("members", "lie.pitch, speed")),
                ["e"] = Part("Gain", "Echo"),
                ["f"] = Part("Gain", "Fast"),
                ["l"] = Part("#helm", "Helm"),
            },
            Wires =
            {
                ["a"] = Wire("r.y", "j.roll"),
                ["b"] = Wire("p.y", "j.pitch"),
                ["b2"] = Wire("v.y", "j.valid"),
                ["c"] = Wire("j.bundle", "k.lie"),
                ["c2"] = Wire("s.y", "k.speed"),
                ["d"] = Wire("k.bundle", "q.bundle"),
                ["e"] = Wire("q.lie.pitch", "e.u"),
                ["e2"] = Wire("q.speed", "f.u"),
                ["f"] = Wire("k.bundle", "l.all"),
            },
        };
        return main.AsModel().With("helm", helm).With("att", Text("Attitude", Attitude)).With("boat", Text("Boat", Boat));
    }

    static TextDefinition Text(string name, string text) => new() { Name = name, Text = text };

    static PreparedModel Prepared(ModelDocument document) => DocumentPreparation.Prepare(document, PartCatalog.Of(document));

    static ModelDocument Made(ModelDocument document, Restructuring change) => change.Of(document, PartCatalog.Of(document)).Document;

    static ModelDocument With(ModelDocument document, string id, Func<PartNode, PartNode> change) =>
        document.WithMain(document.Main with { Parts = new(document.Main.Parts) { [id] = change(document.Main.Parts[id]) } });

    static ModelDocument Rewired(ModelDocument document, string id, WireNode? wire)
    {
        var wires = new Dictionary<string, WireNode>(document.Main.Wires);
        wires.Remove(id);
        if (wire is not null)
            wires[id] = wire;
        return document.WithMain(document.Main with { Wires = wires });
    }

    [Fact]
    public void What_is_declared_and_written_has_no_finding_and_is_listed_in_the_order_of_the_type()
    {
        var prepared = Prepared(Typed());
        Assert.DoesNotContain(prepared.Findings, f => f.Severity >= Severity.Warning);
        Assert.Equal(["lie", "lie.roll", "lie.pitch", "lie.valid", "speed"], prepared.Model.Bundles["Outside"].Select(m => m.Path));
        // A port without a unit of its own is in the coherent one of the kind declared, and shown as declared.
        var speed = prepared.Model.Find("Speed.y")!;
        Assert.Equal(("m/s", "km/h"), (speed.Unit?.Symbol, speed.DisplayUnit));
        Assert.Equal(["bundle", "real", "real", "boolean", "real"], prepared.Model.Bundles["Outside"].Select(m => m.Kind));
    }

    [Fact]
    public void A_name_that_the_type_does_not_declare_is_told_with_the_one_meant_and_one_click_mends_it()
    {
        var document = Rewired(Typed("rol, pitch, valid"), "a", Wire("r.y", "j.rol"));
        var finding = Assert.Single(Prepared(document).Findings, f => f.Code == "bundle-undeclared");
        Assert.Equal("'rol' is no member of Attitude.", finding.Message);
        Assert.Equal("Lie", finding.Part);
        Assert.Equal("Did you mean roll?", finding.Suggestion);
        var editable = new EditableDocument((JsonObject)JsonNode.Parse(document.ToJson())!);
        editable.Apply(finding.Fix!.Operations);
        Assert.Equal("roll, pitch, valid", editable.Document.Main.Parts["j"].Parameters["members"]);
        Assert.DoesNotContain(Prepared(editable.Document).Findings, f => f.Severity >= Severity.Warning);
    }

    [Fact]
    public void A_declared_member_that_nothing_writes_is_told_with_where_it_is_read()
    {
        var document = Rewired(Typed(), "b", null);
        var finding = Assert.Single(Prepared(document).Findings, f => f.Code == "bundle-unwritten");
        Assert.Equal("Nothing writes 'pitch' of Attitude in 'Lie'; 'pitch' is read in 'Outside'.", finding.Message);
        Assert.Equal("Lie", finding.Part);
        Assert.DoesNotContain(Prepared(document).Findings, f => f.Code == "bundle-member");
        var shorter = Rewired(Typed("roll, valid"), "b", null);
        var fix = Assert.Single(Prepared(shorter).Findings, f => f.Code == "bundle-unwritten").Fix;
        Assert.Equal("Join 'pitch', too", fix!.Label);
    }

    [Fact]
    public void A_signal_of_another_kind_or_unit_than_declared_is_told_with_both()
    {
        var kind = Rewired(Typed(), "b2", Wire("r.y", "j.valid"));
        Assert.Contains(
            "'valid' of Attitude is true or false, but 'Roll.y' is a number.",
            Prepared(kind).Findings.Where(f => f.Code == "bundle-type").Select(f => f.Message)
        );
        var unit = With(Typed(), "r", p => Part("Constant", "Roll", ("k", "4 m")));
        Assert.Contains(Prepared(unit).Findings, f => f.Code == "unit-clash" && f.Part == "Roll");
    }

    [Fact]
    public void A_number_is_no_whole_number()
    {
        var document = Typed().With("att", Text("Attitude", Attitude.Replace("Real roll(unit = \"rad\")", "Integer roll")));
        Assert.Contains(
            "'roll' of Attitude is a whole number, but 'Roll.y' is any number.",
            Prepared(document).Findings.Where(f => f.Code == "bundle-type").Select(f => f.Message)
        );
    }

    [Fact]
    public void Two_types_in_one_bundle_are_told_with_both_places()
    {
        var document = With(Typed(), "q", p => p with { Parameters = new(p.Parameters) { ["type"] = "Attitude" } });
        var finding = Assert.Single(Prepared(document).Findings, f => f.Code == "bundle-type");
        Assert.Contains("'Everything'", finding.Message);
        Assert.Contains("'Outside'", finding.Message);
        var none = With(Typed(), "q", p => p with { Parameters = new(p.Parameters) { ["type"] = "Nowhere" } });
        Assert.Contains(Prepared(none).Findings, f => f.Code == "bundle-type" && f.Message.Contains("no bundle type 'Nowhere'"));
    }

    [Fact]
    public void A_type_that_holds_itself_is_refused_and_told_where_a_text_says_so()
    {
        var text = Typed().With("boat", Text("Boat", Boat.Replace("Attitude lie", "Boat lie")));
        Assert.Contains(Prepared(text).Findings, f => f.Message.Contains("holds itself"));
        var refused = Assert.Throws<DocumentException>(() =>
            Made(
                Typed(),
                new DeclareBundle
                {
                    Definition = "att",
                    Name = "Attitude",
                    Members = [new("around", "Boat", null, null, null)],
                }
            )
        );
        Assert.Contains("cannot hold", refused.Message);
    }

    [Fact]
    public void A_bundle_with_free_members_becomes_one_of_a_new_type_and_others_can_be_of_it()
    {
        var free = With(Typed(), "j", p => Part("Bundle", "Lie", ("members", "roll, pitch, valid")));
        var made = Made(
            free,
            new DeclareBundle
            {
                Name = "Stance",
                Description = "How it stands",
                Part = "j",
                Members =
                [
                    new("roll", "Real", "rad", null, "Roll \"angle\""),
                    new("pitch", "Real", "rad", null, null),
                    new("valid", "Boolean", null, null, null),
                    new("accelerations", "Real", "m/s2", 3, null),
                ],
            }
        );
        Assert.Equal("Stance", made.Main.Parts["j"].Parameters["type"]);
        Assert.Equal("roll, pitch, valid, accelerations", made.Main.Parts["j"].Parameters["members"]);
        Assert.Contains("'accelerations' of Stance", Assert.Single(Prepared(made).Findings, f => f.Code == "bundle-unwritten").Message);
        var other = Made(made, new SetBundleType { Part = "q", Type = "Stance" });
        Assert.Equal("lie.pitch, speed", other.Main.Parts["q"].Parameters["members"]);
        var back = Made(made, new SetBundleType { Part = "j" });
        Assert.False(back.Main.Parts["j"].Parameters.ContainsKey("type"));
    }

    [Theory]
    [InlineData("a b", "Real", null, "cannot be the name of a member")]
    [InlineData("bundle", "Real", null, "cannot be the name of a member")]
    [InlineData("x", "Number", null, "no bundle type 'Number'")]
    [InlineData("x", "", null, "declare its type first")]
    [InlineData("x", "Real", "mm/sec", "The unit of 'x'")]
    public void A_member_that_cannot_be_declared_is_refused(string name, string kind, string? unit, string expected)
    {
        var change = new DeclareBundle { Name = "Other", Members = [new(name, kind, unit, null, null)] };
        Assert.Contains(expected, Assert.Throws<DocumentException>(() => Made(Typed(), change)).Message);
    }

    [Fact]
    public void A_member_renamed_anywhere_is_renamed_in_its_type_and_in_all_bundles_of_it()
    {
        var document = Typed();
        var apart = document.WithMain(
            document.Main with
            {
                Parts = new(document.Main.Parts) { ["z"] = Part("Bundle", "Other", ("members", "roll"), ("type", "Attitude")) },
            }
        );
        var renamed = Made(
            apart,
            new RenameMember
            {
                Level = "l",
                Part = "in",
                Member = "lie.roll",
                To = "heel",
            }
        );
        Assert.Contains("Real heel(unit = \"rad\")", ((TextDefinition)renamed.Definitions["att"]).Text);
        Assert.Equal("heel, pitch, valid", renamed.Main.Parts["j"].Parameters["members"]);
        Assert.Equal("heel", renamed.Main.Parts["z"].Parameters["members"]);
        var helm = (DiagramDefinition)renamed.Definitions["helm"];
        Assert.Equal("lie.heel", helm.Parts["in"].Parameters["members"]);
        Assert.Equal("lie.heel", helm.Wires["a"].From.Port);
        Assert.DoesNotContain(Prepared(renamed).Findings, f => f.Severity >= Severity.Warning && f.Part != "Other");
    }

    [Fact]
    public void A_type_under_another_name_keeps_its_bundles_and_the_types_that_hold_it()
    {
        var renamed = Made(
            Typed(),
            new DeclareBundle
            {
                Definition = "att",
                Name = "Stance",
                Members = BundleTypeText.Members(PartCatalog.Of(Typed()).Find("Attitude")!)!,
            }
        );
        Assert.Equal("Stance", renamed.Main.Parts["j"].Parameters["type"]);
        Assert.Contains("Stance lie", ((TextDefinition)renamed.Definitions["boat"]).Text);
        Assert.DoesNotContain(Prepared(renamed).Findings, f => f.Severity >= Severity.Warning);
    }

    [Theory]
    [InlineData("expandable connector Other Real roll; end Other;")]
    [InlineData("expandable connector Attitude Real; end Attitude;")]
    [InlineData("nothing of the kind")]
    public void A_type_whose_text_is_broken_is_told_and_the_model_still_opens(string text)
    {
        var bench = new Bench();
        var id = bench.Create(Typed().With("att", Text("Attitude", text)));
        var view = bench.Models.Open(id, PartPath.Root, default).View;
        Assert.False(view.CanRun);
        Assert.Contains(view.Findings, f => f.Severity == "error");
    }

    [Fact]
    public void A_joined_name_that_nothing_is_wired_to_is_told()
    {
        var free = Rewired(With(Typed(), "j", p => Part("Bundle", "Lie", ("members", "roll, pitch, valid"))), "b", null);
        var finding = Assert.Single(Prepared(free).Findings, f => f.Code == "unwired-member");
        Assert.Equal("Nothing is wired to 'pitch' of 'Lie'.", finding.Message);
    }
}
