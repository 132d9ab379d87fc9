using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Members of bundles: renamed wherever the bundle goes, and told of where they are missing.</summary>
public class BundleMemberTests
{
    /// <summary>Two signals in a bundle that is a member of another, which is picked inside a level and outside.</summary>
    static ModelDocument Boat()
    {
        var inner = new DiagramDefinition
        {
            Name = "Helm",
            Parts =
            {
                ["in"] = Part("BundlePort", "all"),
                ["q"] = Part("Pick", "Inside", ("members", "drive.speed, drive")),
                ["r"] = Part("Pick", "Deeper", ("members", "speed")),
                ["g"] = Part("Gain", "Helm gain"),
                ["h"] = Part("Gain", "Second gain"),
            },
            Wires =
            {
                ["a"] = Wire("in.port", "q.bundle"),
                ["b"] = Wire("q.drive.speed", "g.u"),
                ["c"] = Wire("q.drive", "r.bundle"),
                ["d"] = Wire("r.speed", "h.u"),
            },
        };
        var main = new DiagramDefinition
        {
            Name = "Boat",
            Parts =
            {
                ["s"] = Part("Constant", "Speed", ("k", "4")),
                ["t"] = Part("Constant", "Torque", ("k", "7")),
                ["j"] = Part("Bundle", "Drive", ("members", "speed, torque")),
                ["k"] = Part("Bundle", "Everything", ("members", "drive")),
                ["p"] = Part("Pick", "Outside", ("members", "drive.speed")),
                ["e"] = Part("Gain", "Echo"),
                ["l"] = Part("#helm", "Helm"),
            },
            Wires =
            {
                ["a"] = Wire("s.y", "j.speed"),
                ["b"] = Wire("t.y", "j.torque"),
                ["c"] = Wire("j.bundle", "k.drive"),
                ["d"] = Wire("k.bundle", "p.bundle"),
                ["e"] = Wire("p.drive.speed", "e.u"),
                ["f"] = Wire("k.bundle", "l.all"),
            },
        };
        return main.AsModel().With("helm", inner);
    }

    static PreparedModel Prepared(ModelDocument document) => DocumentPreparation.Prepare(document, PartCatalog.Of(document));

    static ModelDocument Made(ModelDocument document, Restructuring change) => change.Of(document, PartCatalog.Of(document)).Document;

    [Fact]
    public void A_member_renamed_where_it_is_joined_is_renamed_wherever_it_is_picked()
    {
        Assert.DoesNotContain(Prepared(Boat()).Findings, f => f.Severity >= Severity.Warning);
        var renamed = Made(
            Boat(),
            new RenameMember
            {
                Part = "j",
                Member = "speed",
                To = "rate",
            }
        );
        Assert.Equal("rate, torque", renamed.Main.Parts["j"].Parameters["members"]);
        Assert.Equal("drive.rate", renamed.Main.Parts["p"].Parameters["members"]);
        var helm = (DiagramDefinition)renamed.Definitions["helm"];
        Assert.Equal("drive.rate, drive", helm.Parts["q"].Parameters["members"]);
        Assert.Equal("rate", helm.Parts["r"].Parameters["members"]);
        Assert.Equal("q", helm.Wires["b"].From.Part);
        Assert.Equal("drive.rate", helm.Wires["b"].From.Port);
        Assert.DoesNotContain(Prepared(renamed).Findings, f => f.Severity >= Severity.Warning);
    }

    [Fact]
    public void A_member_renamed_deep_inside_is_renamed_where_it_is_joined()
    {
        var renamed = Made(
            Boat(),
            new RenameMember
            {
                Level = "l",
                Part = "r",
                Member = "speed",
                To = "rate",
            }
        );
        Assert.Equal("rate, torque", renamed.Main.Parts["j"].Parameters["members"]);
        renamed = Made(
            renamed,
            new RenameMember
            {
                Part = "p",
                Member = "drive.rate",
                To = "v",
            }
        );
        Assert.Equal("drive.v", renamed.Main.Parts["p"].Parameters["members"]);
        Assert.Equal("v, torque", renamed.Main.Parts["j"].Parameters["members"]);
    }

    [Fact]
    public void A_bundle_within_is_renamed_with_all_that_is_named_through_it()
    {
        var renamed = Made(
            Boat(),
            new RenameMember
            {
                Part = "k",
                Member = "drive",
                To = "shaft",
            }
        );
        Assert.Equal("shaft.speed", renamed.Main.Parts["p"].Parameters["members"]);
        Assert.Equal("speed, torque", renamed.Main.Parts["j"].Parameters["members"]);
        Assert.Equal("shaft", ((DiagramDefinition)renamed.Definitions["helm"]).Wires["c"].From.Port);
        Assert.DoesNotContain(Prepared(renamed).Findings, f => f.Severity >= Severity.Warning);
    }

    [Fact]
    public void A_name_that_is_taken_or_none_is_refused()
    {
        string Refused(string to) =>
            Assert
                .Throws<DocumentException>(() =>
                    Made(
                        Boat(),
                        new RenameMember
                        {
                            Part = "j",
                            Member = "speed",
                            To = to,
                        }
                    )
                )
                .Message;
        Assert.Contains("already", Refused("torque"));
        Assert.Contains("cannot be the name", Refused("a b"));
        Assert.Throws<DocumentException>(() =>
            Made(
                Boat(),
                new RenameMember
                {
                    Part = "j",
                    Member = "none",
                    To = "x",
                }
            )
        );
        Assert.Throws<DocumentException>(() =>
            Made(
                Boat(),
                new RenameMember
                {
                    Part = "e",
                    Member = "u",
                    To = "x",
                }
            )
        );
    }

    [Fact]
    public void A_requirement_on_a_picked_member_follows()
    {
        var document = Boat();
        document.Requirements["q"] = new RequirementNode
        {
            Name = "Limit",
            Signal = "p.drive.speed",
            Limit = "9",
        };
        Assert.Equal(
            "p.drive.rate",
            Made(
                document,
                new RenameMember
                {
                    Part = "j",
                    Member = "speed",
                    To = "rate",
                }
            )
                .Requirements["q"]
                .Signal
        );
    }

    [Fact]
    public void What_is_missing_or_written_twice_names_both_places()
    {
        var document = Boat();
        var main = document.Main;
        var missing = document.WithMain(
            main with
            {
                Parts = new(main.Parts) { ["p"] = Part("Pick", "Outside", ("members", "drive.sped")) },
                Wires = main.Wires.ToDictionary(w => w.Key, w => w.Key == "e" ? Wire("p.drive.sped", "e.u") : w.Value),
            }
        );
        var finding = Assert.Single(Prepared(missing).Findings, f => f.Code == "bundle-member");
        Assert.Contains("'Drive'", finding.Message);
        Assert.Equal("Outside", finding.Part);
        Assert.Equal("Did you mean speed?", finding.Suggestion);
        var twice = document.WithMain(
            main with
            {
                Parts = new(main.Parts) { ["x"] = Part("Bundle", "Again", ("members", "speed")) },
                Wires = new(main.Wires) { ["x"] = Wire("t.y", "x.speed"), ["y"] = Wire("x.bundle", "k.drive") },
            }
        );
        var driver = Assert.Single(Prepared(twice).Findings, f => f.Code == "double-driver");
        Assert.Equal("'speed' is written twice: by 'Speed.y' in 'Drive' and by 'Torque.y' in 'Again'.", driver.Message);
    }
}
