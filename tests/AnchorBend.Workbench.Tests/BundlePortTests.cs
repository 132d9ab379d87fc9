using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Views;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Ports for bundles on their own level, as the interface gets them.</summary>
public class BundlePortTests
{
    /// <summary>A level that reads from one port for a bundle and writes to another; the ports stand at its left and right.</summary>
    static (PartView In, PartView Out) Ports(params (string From, string To)[] wires)
    {
        var level = new DiagramDefinition
        {
            Name = "Level",
            Parts =
            {
                ["in"] = Part("BundlePort", "in", 0, 0, ("members", "a, b")),
                ["g"] = Part("Gain", "Gain", 200),
                ["out"] = Part("BundlePort", "out", 400, 0, ("members", "c")),
            },
            Wires = wires.Select((w, i) => (Key: $"w{i}", Wire: Wire(w.From, w.To))).ToDictionary(w => w.Key, w => w.Wire),
        };
        var document = new DiagramDefinition { Name = "Root", Parts = { ["l"] = Part("#level", "Level") } }
            .AsModel()
            .With("level", level);
        var bench = new Bench();
        PartPath.TryParse("l", out var path);
        var view = bench.Models.Open(bench.Create(document), path, default).View;
        return (view.Parts["in"], view.Parts["out"]);
    }

    static PortView Port(PartView part, string name) => part.Ports.Single(p => p.Name == name);

    [Fact]
    public void All_ports_are_at_the_side_towards_the_level()
    {
        var (left, right) = Ports();
        Assert.All(left.Ports, p => Assert.Equal("right", p.Side));
        Assert.All(right.Ports, p => Assert.Equal("left", p.Side));
        Assert.Equal(["a", "b", "bundle"], left.Ports.Select(p => p.Name));
    }

    [Fact]
    public void What_no_wire_ends_at_goes_either_way()
    {
        var (left, right) = Ports();
        Assert.All(left.Ports.Concat(right.Ports), p => Assert.True(p.IsEither));
        Assert.Contains("in one", Port(left, "a").Takes);
        Assert.Contains("out one", Port(left, "a").Takes);
        Assert.Contains("either bundle", Port(left, "bundle").Takes);
    }

    [Fact]
    public void A_wire_says_whether_a_member_is_read_or_written()
    {
        var (left, right) = Ports(("in.a", "g.u"), ("g.y", "out.c"));
        Assert.Equal((false, false), (Port(left, "a").IsInput, Port(left, "a").IsEither));
        Assert.DoesNotContain("out one", Port(left, "a").Takes);
        Assert.Equal((true, false), (Port(right, "c").IsInput, Port(right, "c").IsEither));
        Assert.True(Port(left, "b").IsEither);
        Assert.True(Port(right, "bundle").IsEither);
    }

    static PartView Joined(string? type, string text)
    {
        var main = new DiagramDefinition
        {
            Name = "Root",
            Parts =
            {
                ["a"] = Part("Constant", "Level", ("k", "30 m")),
                ["b"] = Part("BooleanConstant", "Valid"),
                ["v"] = Part("ConstantVector", "Way", ("k", "{1, 2, 3}")),
                ["j"] = Part(
                    "Bundle",
                    "Joined",
                    [("members", "level, valid, way"), .. type is null ? [] : ((string, string)[])[("type", type)]]
                ),
            },
            Wires =
            {
                ["x"] = Wire("a.y", "j.level"),
                ["y"] = Wire("b.y", "j.valid"),
                ["z"] = Wire("v.y", "j.way"),
            },
        };
        var document = main.AsModel().With("t", new TextDefinition { Name = "Told", Text = text });
        var bench = new Bench();
        return bench.Models.Open(bench.Create(document), PartPath.Root, default).View.Parts["j"];
    }

    const string Told =
        "expandable connector Told \"What it is\"\n  Real level(unit = \"m\");\n  Boolean valid;\n  Real way[3];\nend Told;";

    [Fact]
    public void Free_members_are_proposed_as_a_type_could_declare_them()
    {
        var bundle = Joined(null, Told).Bundle!;
        Assert.Equal((null, null), (bundle.Type, bundle.Definition));
        Assert.Equal(["Told"], bundle.Types);
        Assert.Equal(
            [
                new DeclaredMember("level", "Real", "m", null, null),
                new DeclaredMember("valid", "Boolean", null, null, null),
                new DeclaredMember("way", "Real", null, 3, null),
            ],
            bundle.Members
        );
    }

    [Fact]
    public void A_type_is_shown_with_what_it_declares_and_changed_in_its_text_where_that_says_more()
    {
        var bundle = Joined("Told", Told).Bundle!;
        Assert.Equal(("Told", "t", "What it is"), (bundle.Type, bundle.Definition, bundle.Description));
        Assert.Equal(["level", "valid", "way"], bundle.Members.Select(m => m.Name));
        var more = Joined("Told", Told.Replace("Real way[3]", "parameter Real p = 1; Real way[3]", StringComparison.Ordinal)).Bundle!;
        Assert.Equal(("Told", null), (more.Type, more.Definition));
    }

    [Theory]
    [InlineData("plain", null, null)]
    [InlineData("with \"quotes\" and \\ strokes", "m/s2", 12)]
    [InlineData("umlauts äöü, Greek φ", "°C", null)]
    public void A_type_reads_back_from_its_text(string about, string? unit, int? size)
    {
        DeclaredMember[] members = [new("first", "Real", unit, size, about), new("second", "Boolean", null, null, null)];
        var (classes, errors) = Parser.ParseFile(BundleTypeText.Write("Told", about, members));
        Assert.Empty(errors);
        Assert.Equal(about, classes[0].Description);
        Assert.Equal(members, BundleTypeText.Members(classes[0]));
    }
}
