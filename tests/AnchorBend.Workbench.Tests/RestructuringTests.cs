using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Changes of a model's structure, on a small winch of two motors.</summary>
public class RestructuringTests
{
    /// <summary>A set-point, and a motor (a gain and a lag) used twice; J is a parameter of the model that motors speak of.</summary>
    static ModelDocument Winch()
    {
        var main = new DiagramDefinition
        {
            Name = "Winch",
            Parameters =
            {
                ["J"] = new ParameterNode { Value = "2" },
                ["r"] = new ParameterNode { Value = "0.15 m" },
            },
            Parts =
            {
                ["s"] = Part("Constant", "Set-point", ("k", "r")),
                ["m"] = Part("#motor", "Left", ("T", "0.5 s")),
                ["n"] = Part("#motor", "Right", ("T", "0.25 s")),
            },
            Wires = { ["w"] = Wire("s.y", "m.torque wanted"), ["v"] = Wire("s.y", "n.torque wanted") },
            Signals = { ["m.y"] = new SignalNode { Probe = 0 } },
        };
        var motor = new DiagramDefinition
        {
            Name = "Motor",
            Parameters = { ["T"] = new ParameterNode { Value = "1" } },
            Parts =
            {
                ["i"] = Part("InputPort", "torque wanted"),
                ["g"] = Part("Gain", "Stage", ("k", "3*J")),
                ["l"] = Part("Lag", "Filter", ("T", "T")),
                ["o"] = Part("OutputPort", "y"),
            },
            Wires =
            {
                ["a"] = Wire("i.port", "g.u"),
                ["b"] = Wire("g.y", "l.u"),
                ["c"] = Wire("l.y", "o.port"),
            },
        };
        var model = main.AsModel().With("motor", motor);
        model.Requirements["q"] = new RequirementNode
        {
            Name = "Limit",
            Signal = "m/l.y",
            Limit = "9",
        };
        return model;
    }

    static ModelDocument Done(ModelDocument model, Restructuring change) => change.Of(model, PartCatalog.Of(model)).Document;

    static PreparedModel Prepared(ModelDocument model)
    {
        var prepared = DocumentPreparation.Prepare(model, PartCatalog.Of(model));
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => $"{f.Part} {f.Item}: {f.Message}")));
        return prepared;
    }

    static double Value(PreparedModel prepared, string name) => prepared.Model.ParameterValues()[prepared.Model.Find(name)!.Index];

    [Fact]
    public void A_name_that_a_level_does_not_declare_is_that_of_the_nearest_level_above()
    {
        var prepared = Prepared(Winch());
        Assert.Equal(6, Value(prepared, "Left.Stage.k"), 12);
        // The motor's own parameter of the same name comes first.
        var motor = (DiagramDefinition)Winch().Definitions["motor"];
        motor.Parameters["J"] = new ParameterNode { Value = "5" };
        Assert.Equal(15, Value(Prepared(Winch().With("motor", motor)), "Left.Stage.k"), 12);
    }

    [Fact]
    public void A_name_that_no_level_declares_is_told_where_it_is_spoken_of()
    {
        var model = Winch();
        model.Main.Parameters.Remove("J");
        var finding = Assert.Single(DocumentPreparation.Prepare(model, PartCatalog.Of(model)).Findings, f =>
            f.Code == "unknown-name" && f.Part.StartsWith("Left")
        );
        Assert.Contains("'J'", finding.Message, StringComparison.Ordinal);
        Assert.Equal("m/g", finding.Place.ToString());
    }

    [Fact]
    public void Names_from_above_and_ports_of_several_words_are_kept_by_a_text()
    {
        var model = Winch();
        var text = TextExport.Write(model, PartCatalog.Of(model));
        var back = TextImport.Read(text);
        Assert.Equal(["T"], ((DiagramDefinition)back.Definitions["motor"]).Parameters.Keys);
        Assert.Equal(["T"], back.Main.Parts["m"].Parameters.Keys);
        Assert.Equal(model.Main.Wires["w"].To, back.Main.Wires["w"].To);
        Assert.Equal(6, Value(Prepared(back), "Left.Stage.k"), 12);
    }

    [Fact]
    public void A_parameter_is_renamed_in_all_that_speaks_of_it()
    {
        var here = Done(Winch(), new RenameParameter { Name = "J", To = "inertia" });
        Assert.Equal("3*inertia", ((DiagramDefinition)here.Definitions["motor"]).Parts["g"].Parameters["k"]);
        Assert.Equal(["inertia", "r"], here.Main.Parameters.Keys);
        var inside = Done(
            Winch(),
            new RenameParameter
            {
                Level = "m",
                Name = "T",
                To = "T_s",
            }
        );
        Assert.Equal("T_s", ((DiagramDefinition)inside.Definitions["motor"]).Parts["l"].Parameters["T"]);
        Assert.Equal("0.5 s", inside.Main.Parts["m"].Parameters["T_s"]);
        Assert.Equal(0.5, Value(Prepared(inside), "Left.Filter.T"), 12);
    }

    [Theory]
    [InlineData("2x", "cannot be the name")]
    [InlineData("a.b", "cannot be the name")]
    [InlineData("r", "is taken")]
    [InlineData("Left", "is taken")]
    public void A_name_that_cannot_be_is_refused_with_the_reason(string to, string why)
    {
        var refused = Assert.Throws<DocumentException>(() => Done(Winch(), new RenameParameter { Name = "J", To = to }));
        Assert.Contains(why, refused.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_parameter_of_a_part_is_lifted_to_the_face_with_its_value_and_unit()
    {
        var model = Done(
            Winch(),
            new LiftParameter
            {
                Level = "m",
                Part = "g",
                Parameter = "k",
            }
        );
        var motor = (DiagramDefinition)model.Definitions["motor"];
        Assert.Equal("3*J", motor.Parameters["k"].Value);
        Assert.Equal("k", motor.Parts["g"].Parameters["k"]);
        Assert.Equal(6, Value(Prepared(model), "Right.Stage.k"), 12);
    }

    [Fact]
    public void One_use_made_independent_leaves_the_other_as_it_was()
    {
        var model = Done(Winch(), new MakeIndependent { Part = "n" });
        var type = model.Main.Parts["n"].Type;
        Assert.NotEqual("#motor", type);
        Assert.Equal("#motor", model.Main.Parts["m"].Type);
        Assert.Equal("Motor 2", model.DiagramOf(model.Main.Parts["n"])!.Name);
        Prepared(model);
    }

    [Fact]
    public void Dissolving_one_of_two_uses_puts_the_face_in_place_and_keeps_the_definition()
    {
        var model = Done(Winch(), new Dissolve { Part = "m" });
        Assert.Contains("motor", model.Definitions.Keys);
        var filter = model.Main.Parts.Values.First(p => p.Name == "Filter");
        Assert.Equal("0.5 s", filter.Parameters["T"]);
        Assert.Equal("3*J", model.Main.Parts.Values.First(p => p.Name == "Stage").Parameters["k"]);
        // What was asked of the signal inside, and its curve, follow it.
        var id = model.Main.Parts.First(p => p.Value.Name == "Filter").Key;
        Assert.Equal($"{id}.y", model.Requirements["q"].Signal);
        Assert.Equal(0, model.Main.Signals[$"{id}.y"].Probe);
        Assert.Equal(6, Value(Prepared(model), "Stage.k"), 12);
    }

    [Fact]
    public void A_face_within_a_longer_expression_becomes_a_parameter_of_the_level()
    {
        var motor = (DiagramDefinition)Winch().Definitions["motor"];
        motor.Parts["l"] = motor.Parts["l"] with { Parameters = new() { ["T"] = "T/2" } };
        var model = Done(Winch().With("motor", motor), new Dissolve { Part = "m" });
        Assert.Equal("0.5 s", model.Main.Parameters["T"].Value);
        Assert.Equal(0.25, Value(Prepared(model), "Filter.T"), 12);
    }

    [Fact]
    public void A_port_takes_its_wires_along_when_it_is_renamed()
    {
        var model = Done(
            Winch(),
            new RenamePart
            {
                Level = "m",
                Part = "o",
                To = "speed",
            }
        );
        Assert.Contains("m.speed", model.Main.Signals.Keys);
        model = Done(
            model,
            new RenamePart
            {
                Level = "n",
                Part = "i",
                To = "command",
            }
        );
        Assert.Equal(new PortReference("n", "command"), model.Main.Wires["v"].To);
        Prepared(model);
    }

    [Fact]
    public void A_definition_is_called_as_its_only_use()
    {
        var model = Done(Winch(), new MakeSubsystem { Parts = ["s"] });
        var made = model.Main.Parts.First(p => p.Value.Name == "Subsystem");
        model = Done(model, new RenamePart { Part = made.Key, To = "Wish" });
        Assert.Equal("Wish", model.DiagramOf(model.Main.Parts[made.Key])!.Name);
    }

    [Fact]
    public void Responses_on_sheets_follow_their_signals_into_a_subsystem()
    {
        var model = Winch();
        var response = new ResponseNode
        {
            From = "s.y",
            To = "m/l.y",
            Open = ["s.y"],
        };
        model.PlotSheets["p"] = new PlotSheetNode
        {
            Name = "Response",
            Tiles =
            {
                ["t"] = new TileNode { Kind = TileKind.Response, Response = response },
            },
        };
        var moved = Done(model, new MakeSubsystem { Parts = ["s", "m", "n"], Name = "Hull" });
        var hull = moved.Main.Parts.First(p => p.Value.Name == "Hull").Key;
        var followed = moved.PlotSheets["p"].Tiles["t"].Response!;
        Assert.Equal($"{hull}/s.y", followed.From);
        Assert.Equal($"{hull}/m/l.y", followed.To);
        Assert.Equal([$"{hull}/s.y"], followed.Open);
    }

    [Fact]
    public void A_response_of_an_unknown_form_is_refused_with_the_forms_there_are()
    {
        var model = Winch();
        var response = new ResponseNode
        {
            From = "s.y",
            To = "m.y",
            Shows = "sound",
        };
        model.PlotSheets["p"] = new PlotSheetNode { Name = "Response", Tiles = { ["t"] = new TileNode { Response = response } } };
        var refused = Assert.Throws<DocumentException>(() => ModelDocument.FromJson(model.ToJson()));
        Assert.Contains("gain, phase, nyquist, nichols, step", refused.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Fields_that_speak_of_a_part_by_name_follow_it()
    {
        var model = Winch();
        model.Main.Parts["x"] = Part("Gain", "Copy", ("k", "Left.T*2"));
        var renamed = Done(model, new RenamePart { Part = "m", To = "Port side" });
        Assert.Equal("'Port side'.T*2", renamed.Main.Parts["x"].Parameters["k"]);
        var enclosed = Done(renamed, new MakeSubsystem { Parts = ["m"], Name = "Hull" });
        Assert.Equal("Hull.'Port side'.T*2", enclosed.Main.Parts["x"].Parameters["k"]);
    }

    [Fact]
    public void A_part_is_replaced_with_its_wires_and_the_fields_that_both_have()
    {
        var model = Winch();
        model.Main.Parts["x"] = Part("Lag", "After", ("T", "2 s"), ("k", "4"));
        model.Main.Wires["z"] = Wire("m.y", "x.u");
        var replaced = Done(model, new ReplacePart { Part = "x", Type = "Integrator" });
        Assert.Equal(("Integrator", "After"), (replaced.Main.Parts["x"].Type, replaced.Main.Parts["x"].Name));
        Assert.Equal(new PortReference("x", "u"), replaced.Main.Wires["z"].To);
        Assert.Equal(["k"], replaced.Main.Parts["x"].Parameters.Keys);
        Assert.Throws<DocumentException>(() => Done(model, new ReplacePart { Part = "x", Type = "Nothing" }));
    }

    [Theory]
    [InlineData("q", "no part 'q'")]
    [InlineData("s", "no subsystem")]
    public void What_is_no_subsystem_is_not_dissolved(string part, string why)
    {
        var refused = Assert.Throws<DocumentException>(() => Done(Winch(), new Dissolve { Part = part }));
        Assert.Contains(why, refused.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_selection_of_ports_alone_makes_no_subsystem() =>
        Assert.Throws<DocumentException>(() => Done(Winch(), new MakeSubsystem { Level = "m", Parts = ["i"] }));

    [Fact]
    public void Where_a_parameter_is_used_is_told_through_levels()
    {
        var uses = ParameterUses.Of(Winch(), ModelDocument.MainId);
        Assert.Equal(["Left.Stage.k", "Right.Stage.k"], uses["J"]);
        Assert.Equal(["Set-point.k"], uses["r"]);
    }

    [Fact]
    public void The_operations_lead_from_one_document_to_the_other()
    {
        var before = Winch();
        foreach (
            var change in (Restructuring[])
                [
                    new MakeSubsystem { Parts = ["m", "n"], Name = "Both" },
                    new Dissolve { Part = "m" },
                    new MakeIndependent { Part = "m" },
                    new RenameParameter { Name = "J", To = "K" },
                    new LiftParameter
                    {
                        Level = "n",
                        Part = "l",
                        Parameter = "k",
                    },
                ]
        )
        {
            var after = Done(before, change);
            var editable = new EditableDocument((System.Text.Json.Nodes.JsonObject)System.Text.Json.Nodes.JsonNode.Parse(before.ToJson())!);
            var inverse = editable.Apply(DocumentDifference.Between(before, after));
            Assert.Empty(DocumentDifference.Between(editable.Document, after));
            editable.Apply(inverse);
            Assert.Empty(DocumentDifference.Between(editable.Document, before));
        }
    }

    [Fact]
    public void A_name_that_means_something_below_is_refused_rather_than_meant_instead()
    {
        // 3*J in the motors would read 3*T, which is the motor's own.
        var refused = Assert.Throws<DocumentException>(() => Done(Winch(), new RenameParameter { Name = "J", To = "T" }));
        Assert.Contains("means something else", refused.Message, StringComparison.Ordinal);
        // The motor's T would become the J that its stage has from above.
        Assert.Throws<DocumentException>(() =>
            Done(
                Winch(),
                new RenameParameter
                {
                    Level = "m",
                    Name = "T",
                    To = "J",
                }
            )
        );
    }

    [Fact]
    public void A_lifted_parameter_takes_no_name_that_another_field_has_from_above()
    {
        var model = Done(
            Winch(),
            new LiftParameter
            {
                Level = "m",
                Part = "l",
                Parameter = "k",
                Name = "J",
            }
        );
        Assert.Equal(["T", "J_2"], ((DiagramDefinition)model.Definitions["motor"]).Parameters.Keys);
        Assert.Equal(6, Value(Prepared(model), "Left.Stage.k"), 12);
    }

    [Fact]
    public void A_port_takes_no_name_that_a_field_inside_speaks_of()
    {
        var model = Winch();
        model.Main.Signals["s.y"] = new SignalNode { Name = "J" };
        var made = Done(model, new MakeSubsystem { Parts = ["m", "n"], Name = "Both" });
        Assert.Equal(6, Value(Prepared(made), "Both.Left.Stage.k"), 12);
    }

    [Fact]
    public void A_value_that_begins_to_speak_of_a_name_from_above_is_that_name()
    {
        var model = Winch();
        ((DiagramDefinition)model.Definitions["motor"]).Parts["g"].Parameters["k"] = "3";
        var before = Prepared(model);
        var after = Winch();
        if (DocumentPreparation.Again(before, after, [("Left.Stage.k", "3*J"), ("Right.Stage.k", "3*J")]) is { } quick)
            Assert.Equal(6, Value(quick, "Left.Stage.k"), 12);
        Assert.Equal(6, Value(Prepared(after), "Left.Stage.k"), 12);
    }

    [Fact]
    public void Definitions_that_use_each_other_twice_are_looked_through_within_limits()
    {
        var model = new DiagramDefinition { Name = "Top", Parameters = { ["J"] = new ParameterNode { Value = "1" } } }.AsModel();
        const int depth = 40;
        for (var n = 0; n < depth; n++)
        {
            var next = n + 1 < depth ? $"#l{n + 1}" : "Gain";
            var level = new DiagramDefinition { Name = $"Level {n}", Parts = { ["a"] = Part(next, "A"), ["b"] = Part(next, "B") } };
            model = model.With($"l{n}", level);
        }

        model.Main.Parts["x"] = Part("#l0", "First");
        // 2⁴⁰ places: what is counted ends, whether it comes to one that speaks of the name or not.
        Assert.Empty(ParameterUses.Of(model, ModelDocument.MainId));
    }

    /// <summary>The winch with a measure of the left motor.</summary>
    static ModelDocument Measured(string expression)
    {
        var model = Winch();
        model.Measures["a"] = new MeasureNode { Name = "A", Expression = expression };
        return model;
    }

    [Theory]
    [InlineData("maximum(Left.Filter.y, from = 2 s)", "maximum(Hoist.Left.Filter.y, from = 2 s)")]
    [InlineData("final(Left.y) - final(Right.y)", "final(Hoist.Left.y) - final(Right.y)")]
    [InlineData("final('Set-point'.y)", "final('Set-point'.y)")]
    public void Measures_follow_parts_into_a_subsystem(string before, string after)
    {
        var done = Done(Measured(before), new MakeSubsystem { Parts = ["m"], Name = "Hoist" });
        Assert.Equal(after, done.Measures["a"].Expression);
    }

    [Fact]
    public void Measures_follow_parts_out_of_a_subsystem()
    {
        var made = Done(Measured("maximum(Left.y)"), new MakeSubsystem { Parts = ["m"], Name = "Hoist" });
        var hoist = made.Main.Parts.First(p => p.Value.Name == "Hoist").Key;
        Assert.Equal("maximum(Left.y)", Done(made, new Dissolve { Part = hoist }).Measures["a"].Expression);
    }
}
