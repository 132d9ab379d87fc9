using System.Text.Json.Nodes;
using AnchorBend.Modeling.Comparison;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Workbench.History;
using AnchorBend.Workbench.Models;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>What a model was: its log, checkpoints, copies, restoring, and differences of states.</summary>
public class HistoryTests
{
    static ModelDocument Chain() =>
        new DiagramDefinition
        {
            Name = "Chain",
            Parameters = { ["k"] = new ParameterNode { Value = "2" } },
            Parts =
            {
                ["c"] = Part("Constant", "Source", 0, 0, ("k", "3")),
                ["g"] = Part("Gain", "Amplifier", 100, 0, ("k", "k")),
                ["b"] = Part("#box", "Box", 200, 0),
            },
            Wires = { ["w"] = Wire("c.y", "g.u") },
        }
            .AsModel()
            .With("box", new DiagramDefinition { Name = "Box", Parts = { ["i"] = Part("Constant", "Inside", 0, 0, ("k", "1")) } });

    static PatchOperation Set(string path, string? value) => value is null ? new("remove", path) : new("add", path, JsonNode.Parse(value));

    static (Bench Bench, ModelHistory History, string Id) Opened()
    {
        var bench = new Bench();
        var id = bench.Create(Chain());
        return (bench, new ModelHistory(bench.Store, bench.Models, bench.Package, bench.Compute), id);
    }

    [Fact]
    public void The_log_tells_what_was_done_by_whom_and_what_it_touched()
    {
        var (bench, history, id) = Opened();
        bench.Models.Edit(
            id,
            new EditOrigin(0, PartPath.Root, "w", "Iva"),
            "Set k of Source",
            [Set("/definitions/main/parts/c/parameters/k", "\"4\"")],
            default
        );
        bench.Edit(id, Set("/definitions/main/parts/c/x", "8"));
        bench.Models.Undo(id, new EditOrigin(2, PartPath.Root, "w", "Ben"), default);
        var entries = history.Read(id, null, 10).Entries;
        Assert.Equal([(3, "undo", "Ben"), (2, "edit", ""), (1, "edit", "Iva")], entries.Select(e => (e.Revision, e.Kind, e.Author)));
        Assert.Equal(["Layout", "Layout", "Values"], entries.Select(e => e.Effect));
        Assert.Equal([2, 1], history.Read(id, 3, 10).Entries.Select(e => e.Revision));
    }

    [Fact]
    public void Any_revision_can_be_read_copied_and_made_the_present_one_again()
    {
        var (bench, history, id) = Opened();
        bench.Edit(id, Set("/definitions/main/parts/c/parameters/k", "\"4\""));
        bench.Edit(id, Set("/definitions/main/wires/w", null), Set("/definitions/main/parts/g", null));
        bench.Models.Undo(id, new EditOrigin(2, PartPath.Root, "w"), default);
        Assert.True(JsonNode.DeepEquals(JsonNode.Parse(Chain().ToJson()), JsonNode.Parse(history.At(id, 0).ToJson())));
        Assert.Equal(2, history.At(id, 2).Main.Parts.Count);
        Assert.Throws<NotFoundException>(() => history.At(id, 4));
        var copy = bench.Models.Session(history.Copy(id, 2, "Older", default)).Present().Document;
        Assert.Equal(("Older", 2), (copy.Name, copy.Main.Parts.Count));
        var answer = history.Restore(id, new EditOrigin(3, PartPath.Root, "w"), 0, default);
        Assert.Equal(4, answer.Revision);
        Assert.Equal("3", bench.Models.Session(id).Present().Document.Main.Parts["c"].Parameters["k"]);
        // Restoring is an edit: it can be taken back.
        bench.Models.Undo(id, new EditOrigin(4, PartPath.Root, "w"), default);
        Assert.Equal("4", bench.Models.Session(id).Present().Document.Main.Parts["c"].Parameters["k"]);
        Assert.Throws<DocumentException>(() => history.Restore(id, new EditOrigin(5, PartPath.Root, "w"), 5, default));
    }

    [Fact]
    public void Checkpoints_name_revisions()
    {
        var (bench, history, id) = Opened();
        bench.Edit(id, Set("/definitions/main/parts/c/x", "8"));
        history.Keep(id, 1, " First light ", "As shown on Friday", "Iva");
        history.Keep(id, 0, "Begin", "", null);
        history.Keep(id, 1, "Second thought", "", "Iva");
        Assert.Equal([(1, "Second thought"), (0, "Begin")], history.Read(id, null, 5).Checkpoints.Select(c => (c.Revision, c.Name)));
        history.Drop(id, 0);
        Assert.Single(history.Read(id, null, 5).Checkpoints);
        Assert.Throws<NotFoundException>(() => history.Drop(id, 0));
        Assert.Throws<DocumentException>(() => history.Keep(id, 1, " ", "", null));
        Assert.Throws<NotFoundException>(() => history.Keep(id, 7, "Later", "", null));
    }

    static List<Difference> Between(ModelDocument left, ModelDocument right) =>
        [.. ModelComparison.Between(left, right).SelectMany(l => l.Differences)];

    static ModelDocument After(ModelDocument document, params PatchOperation[] operations)
    {
        var editable = new EditableDocument((JsonObject)JsonNode.Parse(document.ToJson())!);
        editable.Apply(operations);
        return editable.Document;
    }

    [Fact]
    public void States_that_are_the_same_do_not_differ() =>
        Assert.Empty(ModelComparison.Between(Chain(), ModelDocument.FromJson(Chain().ToJson())));

    [Fact]
    public void What_was_added_removed_changed_and_moved_is_told_by_level()
    {
        var right = After(
            Chain(),
            Set("/definitions/main/parts/c/parameters/k", "\"4\""),
            Set("/definitions/main/parts/g/x", "140"),
            Set("/definitions/main/parts/n", """{"type":"Lag","name":"New","x":0,"y":0,"parameters":{}}"""),
            Set("/definitions/main/wires/w", null),
            Set("/definitions/main/wires/v", """{"from":{"part":"c","port":"y"},"to":{"part":"n","port":"u"},"bends":[]}"""),
            Set("/definitions/main/parameters/k/value", "\"5\""),
            Set("/definitions/box/parts/i/parameters/k", "\"7\""),
            Set("/settings/end", "\"99 s\"")
        );
        var levels = ModelComparison.Between(Chain(), right);
        Assert.Equal(["Chain", "Box", ""], levels.Select(l => l.Name));
        Assert.Equal("b", levels[1].Left);
        var main = levels[0].Differences.Select(d => (d.What, d.Name, d.Change)).ToHashSet();
        Assert.Equal(
            [
                ("part", "Source", Change.Changed),
                ("part", "Amplifier", Change.Moved),
                ("part", "New", Change.Added),
                ("wire", "Source.y → Amplifier.u", Change.Removed),
                ("wire", "Source.y → New.u", Change.Added),
                ("parameter", "k", Change.Changed),
            ],
            main
        );
        var field = levels[0].Differences.Single(d => d.Name == "Source").Fields.Single();
        Assert.Equal(("k", "3", "4", true), (field.Field, field.Left, field.Right, field.IsValue));
        Assert.Equal("settings", levels[2].Differences.Single().What);
    }

    [Fact]
    public void Every_change_taken_over_leaves_nothing_that_differs()
    {
        var right = After(
            Chain(),
            Set("/definitions/main/parts/c", """{"type":"Constant","name":"Renamed","x":5,"y":0,"parameters":{"k":"9"}}"""),
            Set("/definitions/main/parts/n", """{"type":"#own","name":"New","x":0,"y":0,"parameters":{}}"""),
            Set("/definitions/own", """{"kind":"diagram","name":"Own","parts":{"q":{"type":"InputPort","name":"u","parameters":{}}}}"""),
            Set("/definitions/main/wires/w", null),
            Set("/definitions/main/wires/v", """{"from":{"part":"c","port":"y"},"to":{"part":"n","port":"u"},"bends":[]}"""),
            Set("/definitions/main/signals/c.y", """{"name":"level","probe":0}"""),
            Set("/definitions/main/areas/a", """{"text":"Here","x":0,"y":0,"width":80,"height":80}"""),
            Set("/definitions/main/description", "\"It does\""),
            Set("/definitions/box/parts/i", null),
            Set("/sheets/s", """{"name":"S","chooser":"col","active":"\"A\"","columns":{"a":{"name":"A"}},"rows":{}}"""),
            Set("/requirements/r", """{"name":"R","kind":"upperLimit","signal":"c.y","limit":"9"}""")
        );
        var document = Chain();
        for (var round = 0; round < 3 && Between(document, right) is { Count: > 0 } differences; round++)
            foreach (var difference in differences)
            {
                // What depends on another change comes with it or in the next round.
                try
                {
                    if (
                        Between(document, right).Find(d => (d.What, d.Name) == (difference.What, difference.Name)) is
                        { Take.Count: > 0 } now
                    )
                        document = After(document, [.. now.Take]);
                }
                catch (DocumentException) { }
            }
        Assert.Empty(ModelComparison.Between(document, right));
        Assert.True(JsonNode.DeepEquals(JsonNode.Parse(document.ToJson()), JsonNode.Parse(right.ToJson())));
    }

    [Fact]
    public void Models_made_apart_are_matched_by_names()
    {
        var other = new DiagramDefinition
        {
            Name = "Chain",
            Parameters = { ["k"] = new ParameterNode { Value = "2" } },
            Parts =
            {
                ["p1"] = Part("Gain", "Amplifier", 100, 0, ("k", "k")),
                ["p2"] = Part("Constant", "Source", 0, 0, ("k", "30")),
                ["p3"] = Part("#d7", "Box", 200, 0),
            },
            Wires = { ["w9"] = Wire("p2.y", "p1.u") },
        }
            .AsModel()
            .With("d7", new DiagramDefinition { Name = "Box", Parts = { ["x"] = Part("Constant", "Inside", 0, 0, ("k", "1")) } });
        var difference = Assert.Single(Between(Chain(), other));
        Assert.Equal(("Source", Change.Changed, "c", "p2"), (difference.Name, difference.Change, difference.Left, difference.Right));
        Assert.Equal("30", After(Chain(), [.. difference.Take]).Main.Parts["c"].Parameters["k"]);
    }

    [Fact]
    public void Random_edits_differ_by_just_what_they_did()
    {
        var random = new Random(11);
        for (var round = 0; round < 60; round++)
        {
            var right = Chain();
            for (var i = random.Next(1, 5); i > 0; i--)
                right = random.Next(5) switch
                {
                    0 => After(right, Set("/definitions/main/parts/c/parameters/k", $"\"{random.Next(9)}\"")),
                    1 => After(right, Set("/definitions/main/parts/b/x", $"{random.Next(900)}")),
                    2 => After(
                        right,
                        Set(
                            $"/definitions/main/parts/z{random.Next(3)}",
                            $$$"""{"type":"Gain","name":"Z{{{random.Next(3)}}}","parameters":{}}"""
                        )
                    ),
                    3 => After(right, Set("/definitions/main/parameters/k/value", $"\"{random.Next(9)}\"")),
                    _ => After(right, Set("/definitions/box/name", $"\"Box {random.Next(3)}\"")),
                };
            var forward = Between(Chain(), right);
            var back = Between(right, Chain());
            Assert.Equal(forward.Count, back.Count);
            Assert.Equal(forward.Count(d => d.Change == Change.Added), back.Count(d => d.Change == Change.Removed));
            Assert.Equal(DocumentDifference.Between(Chain(), right).Count == 0, forward.Count == 0);
        }
    }

    [Fact]
    public void A_state_is_shown_at_any_level_as_it_was()
    {
        var (bench, history, id) = Opened();
        bench.Edit(id, Set("/definitions/box/parts/i", null));
        var shown = history.Show(new StateReference(id, 0, null), PartPath.Root.Then("b"), default);
        Assert.Equal("i", Assert.Single(shown.View.Parts).Key);
        var given = history.Show(new StateReference(null, null, Chain().ToJson()), PartPath.Root, default);
        Assert.Equal(3, given.View.Parts.Count);
        Assert.Throws<DocumentException>(() => history.Show(new StateReference(null, null, null), PartPath.Root, default));
        Assert.Throws<NotFoundException>(() => history.Show(new StateReference("none", null, null), PartPath.Root, default));
    }
}
