using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.Views;
using Microsoft.Extensions.Logging.Abstractions;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Faces of subsystems: what is asked, when, with which choices; how they look; and definitions kept in the package.</summary>
public class FaceTests
{
    /// <summary>A step into a net, whose drag is asked for where the water is not still.</summary>
    static ModelDocument Winch() =>
        new DiagramDefinition
        {
            Name = "Winch",
            Parts = { ["s"] = Part("Step", "Wish", 0, 0), ["n"] = Part("#net", "Net", 160, 0) },
            Wires = { ["w"] = Wire("s.y", "n.speed") },
        }
            .AsModel()
            .With(
                "net",
                new DiagramDefinition
                {
                    Name = "Net in water",
                    Parameters =
                    {
                        ["water"] = new ParameterNode
                        {
                            Value = "1",
                            Description = "State of the water",
                            Choices = [new("still", "0"), new("moving", "1")],
                        },
                        ["drag"] = new ParameterNode
                        {
                            Value = "3",
                            Description = "Drag",
                            Group = "Water",
                            ShownWhen = "water > 0",
                        },
                    },
                    Parts =
                    {
                        ["i"] = Part("InputPort", "speed", 0, 40, ("unit", "m/s"), ("description", "Speed downwards")),
                        ["g"] = Part("Gain", "Drag", 120, 40, ("k", "drag*water")),
                        ["o"] = Part("OutputPort", "pull", 240, 40),
                        ["b"] = Part("OutputPort", "brake", 240, 0),
                    },
                    Wires =
                    {
                        ["a"] = Wire("i.port", "g.u"),
                        ["c"] = Wire("g.y", "o.port"),
                        ["d"] = Wire("g.y", "b.port"),
                    },
                }
            ) with
        {
            Settings = new RunSettings { Live = false },
        };

    static ModelDocument WithFace(FaceNode face)
    {
        var model = Winch();
        return model.With("net", (DiagramDefinition)model.Definitions["net"] with { Face = face });
    }

    static PartView View(ModelDocument model)
    {
        var bench = new Bench();
        return bench.Models.Open(bench.Create(model), PartPath.Root, default).View.Parts["n"];
    }

    [Theory]
    [InlineData(null, true)]
    [InlineData("0", false)]
    [InlineData("2 - 1", true)]
    public void A_parameter_is_asked_for_where_its_condition_holds_for_this_use(string? water, bool asked)
    {
        var model = Winch();
        if (water is not null)
            model.Main.Parts["n"] = Part("#net", "Net", 160, 0, ("water", water));
        var parameters = View(model).Parameters;
        Assert.Equal(asked, parameters["drag"].Shown);
        Assert.True(parameters["water"].Shown);
        Assert.Equal(["water", "drag"], parameters.Keys);
    }

    [Fact]
    public void A_condition_that_cannot_be_read_or_speaks_of_nothing_is_a_finding()
    {
        foreach (var condition in (string[])["water >", "wind > 0"])
        {
            var model = Winch();
            ((DiagramDefinition)model.Definitions["net"]).Parameters["drag"] = new ParameterNode { Value = "3", ShownWhen = condition };
            Assert.Contains(DocumentPreparation.Prepare(model, PartCatalog.Of(model)).Findings, f => f.Severity == Severity.Error);
        }
    }

    [Fact]
    public void Choices_are_offered_by_their_names_and_a_rename_follows_into_conditions()
    {
        var described = PartCatalog.Of(Winch()).Describe("#net");
        var water = described.Parameters.Single(p => p.Name == "water");
        Assert.Equal([("still", "0"), ("moving", "1")], water.Choices!.Select(c => (c.Name, c.Value)));
        Assert.Equal("Water", described.Parameters.Single(p => p.Name == "drag").Group);
        var change = new RenameParameter
        {
            Level = "n",
            Name = "water",
            To = "sea",
        };
        var renamed = change.Of(Winch(), PartCatalog.Of(Winch())).Document;
        var inside = (DiagramDefinition)renamed.Definitions["net"];
        Assert.Equal("sea > 0", inside.Parameters["drag"].ShownWhen);
        Assert.Equal("drag*sea", inside.Parts["g"].Parameters["k"]);
    }

    [Fact]
    public void A_drawn_symbol_shows_the_values_of_the_use_and_makes_room_for_itself()
    {
        var face = new FaceNode
        {
            Help = "A net, $F = c v$.",
            Sketch =
            [
                new StrokeNode { Kind = StrokeKind.Line, Points = [new(0, 0), new(8, 8)] },
                new StrokeNode
                {
                    Kind = StrokeKind.Text,
                    Points = [new(4, 4)],
                    Text = "c = <<drag>>, <<water>>",
                },
            ],
        };
        var model = WithFace(face);
        model.Main.Parts["n"] = Part("#net", "Net", 160, 0, ("drag", "7"));
        var view = View(model);
        Assert.Equal("c = 7, moving", view.Drawing!.Sketch![1].Text);
        Assert.Null(view.Symbol);
        Assert.True(view.Height >= 64 && view.Width > View(Winch()).Width, $"{view.Width} by {view.Height}");
        Assert.Equal("A net, $F = c v$.", PartCatalog.Of(model).Describe("#net").Article);
    }

    [Fact]
    public void Ports_have_units_and_descriptions_and_stand_in_the_order_of_their_places()
    {
        var view = View(Winch());
        Assert.Equal(["brake", "pull"], view.Ports.Where(p => !p.IsInput).Select(p => p.Name));
        Assert.Equal("Speed downwards", view.Ports.Single(p => p.IsInput).Description);
        var prepared = DocumentPreparation.Prepare(Winch(), PartCatalog.Of(Winch()));
        Assert.Equal("m/s", prepared.Model.Find("Net.speed")!.Unit!.Symbol);
    }

    [Theory]
    [InlineData("right", 5, "left: speed, right: pull brake")]
    [InlineData("left", 0, "left: brake speed, right: pull")]
    [InlineData("left", 1, "left: speed brake, right: pull")]
    [InlineData("top", 0, "left: speed, right: pull, top: brake")]
    public void A_port_is_moved_on_the_plate_and_everything_stays_connected(string side, int index, string expected)
    {
        var model = Winch();
        var change = new MovePort
        {
            Level = "n",
            Port = "b",
            Side = side,
            Index = index,
        };
        var moved = change.Of(model, PartCatalog.Of(model)).Document;
        var ports = PartCatalog.Of(moved).Describe("#net").Ports;
        var told = ((string[])["left", "right", "top", "bottom"])
            .Where(s => ports.Any(p => p.Side == s))
            .Select(s => $"{s}: {string.Join(' ', ports.Where(p => p.Side == s).Select(p => p.Name))}");
        Assert.Equal(expected, string.Join(", ", told));
        var prepared = DocumentPreparation.Prepare(moved, PartCatalog.Of(moved));
        Assert.True(prepared.CanRun);
        Assert.DoesNotContain(prepared.Findings, f => f.Code == "loose-wire");
    }

    [Fact]
    public void A_port_that_is_wired_to_nothing_inside_is_a_finding_where_it_stands()
    {
        var model = Winch();
        ((DiagramDefinition)model.Definitions["net"]).Wires.Remove("a");
        var finding = Assert.Single(DocumentPreparation.Prepare(model, PartCatalog.Of(model)).Findings, f => f.Code == "unwired-port");
        Assert.Equal(("n/i", Severity.Warning), (finding.Place.ToString(), finding.Severity));
    }

    [Fact]
    public void Wires_to_a_port_that_was_deleted_inside_stay_outside_and_are_told()
    {
        var model = Winch();
        ((DiagramDefinition)model.Definitions["net"]).Parts.Remove("i");
        ((DiagramDefinition)model.Definitions["net"]).Wires.Remove("a");
        var finding = Assert.Single(DocumentPreparation.Prepare(model, PartCatalog.Of(model)).Findings, f => f.Code == "loose-wire");
        Assert.Contains("'speed' of 'Net'", finding.Message, StringComparison.Ordinal);
        Assert.Single(model.Main.Wires);
    }

    [Fact]
    public void Parameters_that_nothing_uses_are_remarked_at_every_level()
    {
        var model = Winch();
        model.Main.Parameters["spare"] = new ParameterNode { Value = "1" };
        ((DiagramDefinition)model.Definitions["net"]).Parameters["old"] = new ParameterNode { Value = "1" };
        var bench = new Bench();
        var found = bench.Models.Open(bench.Create(model), PartPath.Root, default).View.Findings.Where(f => f.Code == "unused-parameter");
        Assert.Equal([(null, "spare"), ("n", "old")], found.Select(f => (f.Part, f.Item)));
    }

    [Theory]
    [InlineData("Create 'c' on the face of Net in water", "net", false)]
    [InlineData("Create 'c' for this level alone", "net", true)]
    [InlineData("Create 'c' for the whole model", "main", false)]
    public void A_name_that_nobody_declares_can_be_created_where_it_is_wanted(string label, string definition, bool derived)
    {
        var model = Winch();
        ((DiagramDefinition)model.Definitions["net"]).Parts["g"] = Part("Gain", "Drag", 120, 40, ("k", "c"));
        var bench = new Bench();
        var id = bench.Create(model);
        var finding = bench.Models.Open(id, PartPath.Root, default).View.Findings.Single(f => f.Code == "unknown-name");
        Assert.Equal(3, finding.Fixes.Count(f => f.Label.StartsWith("Create", StringComparison.Ordinal)));
        bench.Edit(id, [.. finding.Fixes.Single(f => f.Label == label).Operations]);
        var made = (DiagramDefinition)bench.Models.Session(id).Document.Definitions[definition];
        Assert.Equal(derived, made.Parameters["c"].IsDerived);
        Assert.True(bench.Models.Open(id, PartPath.Root, default).View.CanRun);
    }

    [Fact]
    public void The_place_of_an_imbalance_is_found_by_counting()
    {
        var model = Winch();
        model.Main.Parts["x"] = Part("Inertia", "Loose", 0, 200);
        var text = new TextDefinition
        {
            Name = "Twice",
            Text = "block Twice\n  input Real u;\n  output Real y;\nequation\n  y = u;\n  y = 2*u;\nend Twice;",
        };
        model = model.With("t", text);
        model.Main.Parts["t"] = Part("#t", "Two", 0, 300);
        model.Main.Wires["e"] = Wire("s.y", "t.u");
        var bench = new Bench();
        var balance = bench.Models.Balance(bench.Create(model), PartPath.Root, default);
        Assert.Equal(-1, balance.Parts.Single(p => p.Name == "Two").Missing);
        Assert.All(balance.Parts.Where(p => p.Name != "Two"), p => Assert.Equal((p.Name, 0), (p.Name, p.Missing)));
        // A model that runs has none, on every level.
        var even = bench.Create(Winch());
        Assert.All(bench.Models.Balance(even, PartPath.Root, default).Parts, p => Assert.Null(p.Missing));
        Assert.True(PartPath.TryParse("n", out var inside));
        Assert.Equal(["Drag", "brake", "pull", "speed"], bench.Models.Balance(even, inside, default).Parts.Select(p => p.Name).Order());
    }

    static PartTexts Package(Bench bench) => new(bench.Package, bench.Open, bench.Compute, bench, NullLogger<PartTexts>.Instance);

    [Fact]
    public void A_definition_kept_in_the_package_is_a_part_of_every_model_and_can_be_taken_in_again()
    {
        var bench = new Bench();
        var id = bench.Create(Winch());
        var texts = Package(bench);
        Assert.Equal("NetInWater", texts.KeepDiagram(bench.Models.Session(id), "net", null, false, default));
        Assert.Throws<RefusedException>(() => texts.KeepDiagram(bench.Models.Session(id), "net", null, false, default));
        Assert.Equal("NetInWater", texts.KeepDiagram(bench.Models.Session(id), "net", null, true, default));

        var described = bench.Package.Catalog.Describe("NetInWater");
        Assert.Equal("Net in water", described.Title);
        Assert.Equal(
            ["speed left", "brake right", "pull right"],
            described
                .Ports.Select(p => $"{p.Name} {p.Side}")
                .Order(StringComparer.Ordinal)
                .Reverse()
                .OrderBy(p => p.EndsWith("right", StringComparison.Ordinal))
                .ThenBy(p => p)
        );
        Assert.Equal(["still", "moving"], described.Parameters[0].Choices!.Select(c => c.Name));

        // In another model it gives the same numbers as the subsystem did.
        var other = new DiagramDefinition
        {
            Name = "Other",
            Parts = { ["s"] = Part("Step", "Wish", 0, 0), ["n"] = Part("NetInWater", "Net", 160, 0, ("drag", "5")) },
            Wires = { ["w"] = Wire("s.y", "n.speed") },
        }.AsModel();
        var prepared = DocumentPreparation.Prepare(other, PartCatalog.Of(other, bench.Package.Catalog));
        Assert.True(prepared.CanRun);
        Assert.Equal(5, prepared.Model.ParameterValues()[prepared.Model.Find("Net.Drag.k")!.Index]);

        // What is asked follows from what the use says, as in the model it came from.
        foreach (var (water, asked) in ((string, bool)[])[("0", false), ("1", true)])
        {
            other.Main.Parts["n"] = Part("NetInWater", "Net", 160, 0, ("water", water));
            var view = bench.Models.Open(bench.Create(other), PartPath.Root, default).View;
            Assert.Equal(asked, view.Parts["n"].Parameters["drag"].Shown);
            Assert.Equal(["water", "drag"], view.Parts["n"].Parameters.Keys);
        }

        var taken = texts.Diagram("NetInWater", default);
        var inside = (DiagramDefinition)taken.Definitions[taken.Root];
        var before = (DiagramDefinition)Winch().Definitions["net"];
        Assert.Equal(before.Parameters["drag"].ShownWhen, inside.Parameters["drag"].ShownWhen);
        Assert.Equal(before.Parts.Keys.Order(), inside.Parts.Keys.Order());
        Assert.Equal(before.Wires["a"], inside.Wires["a"] with { Bends = before.Wires["a"].Bends });
    }

    [Fact]
    public void A_definition_that_leans_on_a_level_above_is_not_kept_before_it_stands_by_itself()
    {
        var model = Winch();
        model.Main.Parameters["rho"] = new ParameterNode { Value = "1" };
        ((DiagramDefinition)model.Definitions["net"]).Parts["g"] = Part("Gain", "Drag", 120, 40, ("k", "rho*drag"));
        var bench = new Bench();
        var id = bench.Create(model);
        var refusal = Assert.Throws<DocumentException>(() =>
            Package(bench).KeepDiagram(bench.Models.Session(id), "net", null, false, default)
        );
        Assert.Contains("'rho'", refusal.Message, StringComparison.Ordinal);
        Assert.Throws<NotFoundException>(() => Package(bench).KeepDiagram(bench.Models.Session(id), "main", null, false, default));
    }

    [Fact]
    public void A_turned_part_has_its_size_turned_and_reads_back_from_a_text()
    {
        var model = Winch();
        var upright = View(model);
        model.Main.Parts["n"] = model.Main.Parts["n"] with { Turn = 1 };
        Assert.Equal((upright.Height, upright.Width), (View(model).Width, View(model).Height));
        for (var turn = 0; turn < 4; turn++)
        {
            model.Main.Parts["n"] = model.Main.Parts["n"] with { Turn = turn, Flip = turn % 2 == 0 };
            var back = TextImport.Read(TextExport.Write(model, PartCatalog.Of(model))).Main.Parts["n"];
            Assert.Equal((turn, turn % 2 == 0), (back.Turn, back.Flip));
        }

        model.Main.Parts["n"] = model.Main.Parts["n"] with { Turn = 4 };
        Assert.Throws<DocumentException>(() => DocumentLimits.Checked(model));
    }

    [Fact]
    public void Two_parts_of_one_name_do_not_meet_in_the_package()
    {
        static ModelDocument With(double factor)
        {
            var text = $"block Own input Real u; output Real y; equation y = {factor} * u; end Own;";
            var model = Winch().With("own", new TextDefinition { Name = "Own", Text = text });
            ((DiagramDefinition)model.Definitions["net"]).Parts["g"] = Part("#own", "Drag", 120, 40);
            return model;
        }

        var bench = new Bench();
        var texts = Package(bench);
        string Keep(double factor, string name) =>
            texts.KeepDiagram(bench.Models.Session(bench.Create(With(factor))), "net", name, true, default);
        Assert.Equal("First", Keep(2, "First"));
        Assert.Equal("Same", Keep(2, "Same"));
        // Another text of that name would silently stand for the first.
        var refusal = Assert.Throws<RefusedException>(() => Keep(3, "Second"));
        Assert.Contains("'Own'", refusal.Message, StringComparison.Ordinal);
    }
}
