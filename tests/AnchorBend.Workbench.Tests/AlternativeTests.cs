using System.Text.Json.Nodes;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Runs;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Options that a condition leaves out, slots with several realisations, and runs of all of them.</summary>
public class AlternativeTests
{
    /// <summary>A constant 3 through a gain into a monitor-like lag; what is between is to be varied.</summary>
    static ModelDocument Chain(Func<PartNode, PartNode>? gain = null) =>
        new DiagramDefinition
        {
            Name = "Chain",
            Parameters = { ["with_gain"] = new ParameterNode { Value = "true" } },
            Parts =
            {
                ["c"] = Part("Constant", "Source", ("k", "3")),
                ["g"] = (gain ?? (p => p))(Part("Gain", "Amplifier", ("k", "2"))),
                ["e"] = Part("Gain", "End", ("k", "10")),
            },
            Wires = { ["a"] = Wire("c.y", "g.u"), ["b"] = Wire("g.y", "e.u") },
            Signals =
            {
                ["e.y"] = new SignalNode { Name = "result", Probe = 0 },
            },
        }.AsModel() with
        {
            Settings = new RunSettings { Live = false, End = "1 s" },
        };

    static PreparedModel Prepared(ModelDocument document, params (string Path, string Text)[] set) =>
        DocumentPreparation.Prepare(document, PartCatalog.Of(document), overrides: set.ToDictionary(s => s.Path, s => s.Text));

    static double Last(PreparedModel prepared, string signal = "End.y")
    {
        Assert.DoesNotContain(prepared.Findings, f => f.Severity >= Severity.Warning);
        using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), new RunOptions { End = 1 });
        var result = simulator.Run();
        Assert.Null(result.Failure);
        return result.Trace.At(prepared.Compiled!.Plan.Representative[prepared.Model.Find(signal)!.Index], 1);
    }

    [Theory]
    [InlineData("true", 60)]
    [InlineData("false", 0)]
    public void An_option_is_in_the_model_when_its_condition_holds_and_zero_stands_for_it_else(string with, double expected) =>
        Assert.Equal(expected, Last(Prepared(Chain(g => g with { OnlyWhen = "with_gain" }), ("with_gain", with))), 12);

    [Fact]
    public void What_an_option_would_have_fed_gets_the_stated_value()
    {
        var document = Chain(g =>
            g with
            {
                OnlyWhen = "not with_gain",
                Otherwise = new() { ["y"] = "0.5 + 1" },
            }
        );
        Assert.Equal(15, Last(Prepared(document)), 12);
    }

    [Theory]
    [InlineData("true", "false", 60)]
    [InlineData("false", "true", 90)]
    [InlineData("false", "false", 70)]
    public void An_input_that_several_options_feed_gets_the_stated_value_while_none_of_them_is_in(string one, string two, double expected)
    {
        var document = Chain(g => g with { OnlyWhen = "with_gain" });
        var main = document.Main;
        document = document.WithMain(
            main with
            {
                Parameters = new(main.Parameters) { ["with_other"] = new ParameterNode { Value = "false" } },
                Parts = new(main.Parts)
                {
                    ["o"] = Part("Gain", "Other", ("k", "3")) with
                    {
                        OnlyWhen = "with_other",
                        Otherwise = new() { ["y"] = "7" },
                    },
                },
                Wires = new(main.Wires) { ["c"] = Wire("c.y", "o.u"), ["d"] = Wire("o.y", "e.u") },
            }
        );
        Assert.Equal(expected, Last(Prepared(document, ("with_gain", one), ("with_other", two))), 12);
        Assert.Equal(document.ToJson(true), TextImport.Read(TextExport.Write(document, PartCatalog.Of(document))).ToJson(true));
    }

    [Fact]
    public void A_condition_that_cannot_be_read_is_told_and_nothing_stands_for_the_part()
    {
        var finding = Assert.Single(Prepared(Chain(g => g with { OnlyWhen = "with_gain and" })).Findings, f =>
            f.Severity == Severity.Error
        );
        Assert.Equal(("Amplifier", "only when"), (finding.Part, finding.Item));
    }

    [Fact]
    public void A_stated_value_with_a_unit_arrives_in_the_unit_of_what_it_feeds()
    {
        var document = Chain();
        var main = document.Main;
        document = document.WithMain(
            main with
            {
                Parts = new(main.Parts)
                {
                    ["g"] = main.Parts["g"] with
                    {
                        OnlyWhen = "not with_gain",
                        Otherwise = new() { ["y"] = "30 N" },
                    },
                    ["e"] = Part("ForceSource", "End"),
                    ["m"] = Part("Mass", "Cart", ("m", "10 kg")),
                },
                Wires = new()
                {
                    ["a"] = Wire("c.y", "g.u"),
                    ["b"] = Wire("g.y", "e.f"),
                    ["d"] = Wire("e.flange", "m.flangeA"),
                },
            }
        );
        var ports = PartCatalog.Standard.Describe("ForceSource").Ports.Select(p => p.Name).ToList();
        document = document.WithMain(
            document.Main with
            {
                Wires = new()
                {
                    ["a"] = Wire("c.y", "g.u"),
                    ["b"] = Wire($"g.y", $"e.{ports[0]}"),
                    ["d"] = Wire($"e.{ports[1]}", $"m.{PartCatalog.Standard.Describe("Mass").Ports[0].Name}"),
                },
            }
        );
        // 30 N on 10 kg for 1 s.
        Assert.Equal(3, Last(Prepared(document), "Cart.v"), 6);
    }

    [Fact]
    public void A_condition_may_speak_of_a_switch_of_any_level_above()
    {
        var document = Chain();
        var (answer, _) = Made(document, new MakeSubsystem { Parts = ["g"], Name = "Box" });
        var box = answer.Definitions.First(d => d.Value.Name == "Box");
        var inner = (DiagramDefinition)box.Value;
        answer = answer.With(
            box.Key,
            inner with
            {
                Parts = inner.Parts.ToDictionary(p => p.Key, p => p.Key == "g" ? p.Value with { OnlyWhen = "with_gain" } : p.Value),
            }
        );
        Assert.Equal(60, Last(Prepared(answer)), 12);
        Assert.Equal(0, Last(Prepared(answer, ("with_gain", "false"))), 12);
    }

    [Fact]
    public void A_condition_that_changes_during_the_run_is_told_of()
    {
        var prepared = Prepared(Chain(g => g with { OnlyWhen = "Source.y > 1" }));
        Assert.Contains(prepared.Findings, f => f is { Severity: Severity.Error, Code: "variability" });
    }

    static (ModelDocument Document, IReadOnlyList<string> Selection) Made(ModelDocument document, Restructuring change)
    {
        var made = change.Of(document, PartCatalog.Of(document));
        // What an edit would come to must lead to the same document.
        var editable = new EditableDocument((JsonObject)JsonNode.Parse(document.ToJson())!);
        editable.Apply(DocumentDifference.Between(document, made.Document));
        Assert.True(JsonNode.DeepEquals(JsonNode.Parse(made.Document.ToJson()), JsonNode.Parse(editable.Document.ToJson())));
        return (editable.Document, made.Selection);
    }

    /// <summary>The amplifier as a slot: the gain itself, a lag, and an empty subsystem that is wired through.</summary>
    static ModelDocument Slot()
    {
        var (document, _) = Made(Chain(), new MakeSlot { Part = "g" });
        (document, _) = Made(
            document,
            new AddAlternative
            {
                Part = "g",
                Type = "Lag",
                Name = "With lag",
            }
        );
        return document;
    }

    [Fact]
    public void A_part_made_a_slot_behaves_as_before()
    {
        var (document, selection) = Made(Chain(), new MakeSlot { Part = "g" });
        Assert.Equal(["g"], selection);
        Assert.Equal(60, Last(Prepared(document)), 12);
        Assert.Equal(["Gain"], Slots.Of(document.DiagramOf(document.Main.Parts["g"])!).Select(a => a.Name));
    }

    [Theory]
    [InlineData("\"Gain\"", 60)]
    [InlineData("Gain", 60)]
    [InlineData("With lag", 0)]
    [InlineData("if 2 > 1 then \"Gain\" else \"With lag\"", 60)]
    public void The_realisation_that_is_chosen_is_in(string choice, double atStart)
    {
        var prepared = Prepared(Slot(), ("Amplifier.alternative", choice));
        Assert.DoesNotContain(prepared.Findings, f => f.Severity >= Severity.Warning);
        using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), new RunOptions { End = 1 });
        var trace = simulator.Run().Trace;
        Assert.Equal(atStart, trace.At(prepared.Compiled!.Plan.Representative[prepared.Model.Find("End.y")!.Index], 0), 9);
    }

    [Fact]
    public void A_part_chooses_for_itself_by_a_parameter_of_its_own_or_by_one_of_the_model()
    {
        var document = Slot();
        var main = document.Main;
        document = document.WithMain(
            main with
            {
                Parameters = new(main.Parameters) { ["detail"] = new ParameterNode { Value = "\"With lag\"" } },
                Parts = new(main.Parts) { ["g"] = main.Parts["g"] with { Parameters = new() { ["alternative"] = "detail" } } },
            }
        );
        Assert.NotNull(Prepared(document).Model.Find("Amplifier.With lag.y"));
        Assert.Null(Prepared(document, ("detail", "\"Gain\"")).Model.Find("Amplifier.With lag.y"));
    }

    [Fact]
    public void A_name_that_is_no_alternative_is_an_error_with_the_nearest_one()
    {
        var finding = Assert.Single(Prepared(Slot(), ("Amplifier.alternative", "\"Gian\"")).Findings, f => f.Code == "no-alternative");
        Assert.Equal("Did you mean Gain?", finding.Suggestion);
        Assert.Equal("g", finding.Place.ToString());
    }

    [Fact]
    public void A_realisation_without_a_wire_to_a_port_is_told_of_and_mended_by_one_click()
    {
        var document = Slot();
        var (id, slot) = document.Level(PartPath.Root.Then("g"))!.Value;
        var lag = Slots.Of(slot)[1].Parts[0];
        document = document.With(id, slot with { Wires = slot.Wires.Where(w => w.Value.From.Part != lag).ToDictionary() });
        var finding = Assert.Single(Prepared(document).Findings, f => f.Code == "alternative-port");
        Assert.Contains("'With lag'", finding.Message);
        var editable = new EditableDocument((JsonObject)JsonNode.Parse(document.ToJson())!);
        editable.Apply(finding.Fix!.Operations);
        Assert.DoesNotContain(Prepared(editable.Document).Findings, f => f.Code == "alternative-port");
    }

    [Fact]
    public void A_face_that_a_realisation_has_too_but_does_not_get_is_told_of()
    {
        var document = Slot();
        var (id, slot) = document.Level(PartPath.Root.Then("g"))!.Value;
        document = document.With(
            id,
            slot with
            {
                Parameters = new(slot.Parameters)
                {
                    ["T"] = new ParameterNode { Value = "2 s", Unit = "s" },
                },
            }
        );
        var finding = Assert.Single(Prepared(document).Findings, f => f.Code == "alternative-face");
        Assert.Equal("Hand 'T' on", finding.Fix!.Label);
        Assert.Contains("'With lag'", finding.Message);
    }

    [Fact]
    public void Renaming_an_alternative_is_followed_by_all_that_chooses_it()
    {
        var document = Slot();
        var main = document.Main;
        document = document.WithMain(
            main with
            {
                Parts = new(main.Parts) { ["g"] = main.Parts["g"] with { Parameters = new() { ["alternative"] = "\"With lag\"" } } },
            }
        );
        var (renamed, _) = Made(
            document,
            new RenameAlternative
            {
                Part = "g",
                Name = "With lag",
                To = "Slow",
            }
        );
        Assert.Equal("\"Slow\"", renamed.Main.Parts["g"].Parameters["alternative"]);
        Assert.NotNull(Prepared(renamed).Model.Find("Amplifier.Slow.y"));
    }

    [Fact]
    public void The_last_alternative_stays_and_one_that_is_chosen_gives_way_to_the_next()
    {
        var (document, _) = Made(Slot(), new RemoveAlternative { Part = "g", Name = "Gain" });
        Assert.NotNull(Prepared(document).Model.Find("Amplifier.With lag.y"));
        var refused = Assert.Throws<DocumentException>(() => Made(document, new RemoveAlternative { Part = "g", Name = "With lag" }));
        Assert.Contains("only realisation", refused.Message);
    }

    [Fact]
    public void Keeping_one_alternative_leaves_a_subsystem_that_can_be_dissolved()
    {
        var (kept, _) = Made(Slot(), new KeepAlternative { Part = "g", Name = "Gain" });
        Assert.Equal(60, Last(Prepared(kept)), 12);
        var (dissolved, _) = Made(kept, new Dissolve { Part = "g" });
        Assert.Equal(60, Last(Prepared(dissolved)), 12);
        Assert.Equal(3, dissolved.Main.Parts.Count);
    }

    [Fact]
    public void A_new_realisation_has_the_ports_of_its_slot()
    {
        var (document, _) = Made(Slot(), new AddAlternative { Part = "g", Name = "Own" });
        var (_, slot) = document.Level(PartPath.Root.Then("g"))!.Value;
        var own = Slots.Of(slot)[2].Parts[0];
        Assert.Equal(2, slot.Wires.Values.Count(w => w.From.Part == own || w.To.Part == own));
        Assert.Equal(2, document.DiagramOf(slot.Parts[own])!.Parts.Count);
    }

    [Fact]
    public void A_slot_cannot_hold_itself()
    {
        var document = Slot();
        var type = document.Main.Parts["g"].Type;
        Assert.Contains(
            "cannot hold itself",
            Assert.Throws<DocumentException>(() => Made(document, new AddAlternative { Part = "g", Type = type })).Message
        );
    }

    [Fact]
    public void Options_and_slots_come_back_from_their_text()
    {
        var document = Slot();
        var main = document.Main;
        document = document.WithMain(
            main with
            {
                Parameters = new(main.Parameters)
                {
                    ["mode"] = new ParameterNode { Value = "\"Gain\"", Description = "Which one" },
                },
                Parts = new(main.Parts)
                {
                    ["g"] = main.Parts["g"] with
                    {
                        OnlyWhen = "with_gain and  true",
                        Otherwise = new() { ["y"] = "7" },
                        Parameters = new() { ["alternative"] = "mode" },
                    },
                },
            }
        );
        var text = TextExport.Write(document, PartCatalog.Of(document));
        var read = TextImport.Read(text);
        Assert.Equal(document.ToJson(true), read.ToJson(true));
        Assert.Equal(text, TextExport.Write(read, PartCatalog.Of(read)));
        Assert.Equal(70, Last(Models.ModelSource.OfText(text).Prepare(new Dictionary<string, string> { ["with_gain"] = "false" })), 12);
    }

    [Fact]
    public void The_view_says_what_is_left_out_and_which_realisation_is_in()
    {
        var bench = new Bench();
        var id = bench.Create(Slot());
        var part = bench.Models.Open(id, PartPath.Root, default).View.Parts["g"];
        Assert.Equal("Gain", part.Slot!.Present);
        Assert.Equal(["Gain", "With lag"], part.Slot.Names);
        var inner = bench.Models.Open(id, PartPath.Root.Then("g"), default);
        var lag = inner.Document.Level(PartPath.Root.Then("g"))!.Value.Diagram.Parts.Single(p => p.Value.Name == "With lag").Key;
        Assert.True(inner.View.Parts[lag].LeftOut);
        var answer = bench.EditAt(
            id,
            PartPath.Root.Then("g"),
            new PatchOperation("add", "/definitions/main/parts/g/parameters/alternative", "\"With lag\"")
        );
        Assert.False(answer.Change.Parts![lag]!.LeftOut);
    }

    [Fact]
    public void Stepping_to_another_realisation_is_told_to_the_level_that_shows_the_slot()
    {
        var bench = new Bench();
        var id = bench.Create(Slot());
        bench.Models.Open(id, PartPath.Root, default);
        var answer = bench.Edit(id, new PatchOperation("add", "/definitions/main/parts/g/parameters/alternative", "\"With lag\""));
        Assert.Equal("With lag", answer.Change.Parts!["g"]!.Slot!.Present);
    }

    [Fact]
    public async Task All_combinations_run_and_tell_what_differs()
    {
        var document = Slot();
        var main = document.Main;
        document = document.WithMain(
            main with
            {
                Parts = new(main.Parts) { ["e"] = main.Parts["e"] with { OnlyWhen = "with_gain" }, ["z"] = Part("Gain", "Tail") },
                Wires = new(main.Wires) { ["z"] = Wire("e.y", "z.u") },
                Signals = new()
                {
                    ["z.y"] = new SignalNode { Name = "result", Probe = 0 },
                },
            }
        );
        var bench = new Bench();
        var session = bench.Models.Session(bench.Create(document));
        var choices = ModelChoices.Of(session.Prepare().Prepared, document);
        Assert.Equal(["Amplifier.alternative", "with_gain"], choices.Select(c => c.Path));
        var set = bench.Sets.Start(session, [.. choices.Select(c => new WantedChoice(c.Path, [.. c.Values.Select(v => v.Name)]))], default);
        await set.Finished;
        var members = set.View().Members;
        Assert.Equal(
            ["Gain, with_gain off", "Gain, with_gain on", "With lag, with_gain off", "With lag, with_gain on"],
            members.Select(m => m.Label)
        );
        Assert.All(members, m => Assert.Equal("finished", m.State));
        Assert.Equal([0, 60], members.Take(2).Select(m => m.Signals["z.y"].Last));
        // A lag of 1 s from zero, 1 s after a step of 3, times ten.
        Assert.Equal(30 * (1 - Math.Exp(-1)), members[3].Signals["z.y"].Last, 1e-4);
        Assert.Equal(1, members[3].States);
        Assert.All(members, m => Assert.NotNull(bench.Runs.Find(m.Run!)));
        bench.Models.Delete(session.Id);
        Assert.All(members, m => Assert.Null(bench.Runs.Find(m.Run!)));
    }

    [Fact]
    public void An_option_inside_a_realisation_that_is_not_in_can_be_chosen_all_the_same()
    {
        var (document, _) = Made(Slot(), new MakeSubsystem { Parts = ["c"], Name = "Front" });
        var (id, slot) = document.Level(PartPath.Root.Then("g"))!.Value;
        var lag = Slots.Of(slot)[1].Parts[0];
        (document, _) = Made(
            document,
            new MakeSubsystem
            {
                Level = "g",
                Parts = [lag],
                Name = "Inner",
            }
        );
        var (innerId, inner) = document
            .Definitions.Where(d => d.Value.Name == "Inner")
            .Select(d => (d.Key, (DiagramDefinition)d.Value))
            .Single();
        document = document.With(
            innerId,
            inner with
            {
                Parts = inner.Parts.ToDictionary(p => p.Key, p => p.Key == lag ? p.Value with { OnlyWhen = "with_gain" } : p.Value),
            }
        );
        var choices = ModelChoices.Of(Prepared(document), document);
        Assert.Equal(["Amplifier.alternative", "with_gain"], choices.Select(c => c.Path));
    }

    [Fact]
    public void Too_many_combinations_are_refused_with_their_number()
    {
        var choice = new ModelChoice(
            "a",
            "a",
            "slot",
            null,
            [.. Enumerable.Range(0, 9).Select(i => new ChoiceValue($"{i}", $"\"{i}\""))],
            "0"
        );
        var names = choice.Values.Select(v => v.Name).ToList();
        var refused = Assert.Throws<DocumentException>(() =>
            Combination.All([choice, choice with { Path = "b" }], [new WantedChoice("a", names), new WantedChoice("b", names)])
        );
        Assert.Contains("81 combinations", refused.Message);
        Assert.Throws<DocumentException>(() => Combination.All([choice], [new WantedChoice("a", ["nothing"])]));
    }
}
