using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Views;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>What a window is sent after an edit, put on what it had, is what it would be sent on opening the model anew.</summary>
public class ViewTests
{
    static ModelDocument Model() =>
        new DiagramDefinition
        {
            Name = "M",
            Parameters = { ["gain"] = new ParameterNode { Value = "2" } },
            Parts =
            {
                ["s"] = Part("Step", "Wish"),
                ["e"] = Part("Sum", "Error"),
                ["c"] = Part("PID", "Controller", ("k", "gain"), ("form", "Form.PI")),
                ["p"] = Part("#plant", "Plant", ("T", "3 s")),
            },
            Wires =
            {
                ["a"] = Wire("s.y", "e.u[1]"),
                ["b"] = Wire("e.y", "c.r"),
                ["d"] = Wire("c.u", "p.u"),
                ["f"] = Wire("p.y", "e.u[2]"),
            },
            Signals =
            {
                ["p.y"] = new SignalNode { Name = "level", Probe = 0 },
            },
        }
            .AsModel()
            .With(
                "plant",
                new DiagramDefinition
                {
                    Name = "Plant",
                    Parameters =
                    {
                        ["T"] = new ParameterNode { Value = "1 s", Unit = "s" },
                    },
                    Parts =
                    {
                        ["i"] = Part("InputPort", "u"),
                        ["l"] = Part("Lag", "Slow", ("T", "T")),
                        ["o"] = Part("OutputPort", "y"),
                    },
                    Wires = { ["a"] = Wire("i.port", "l.u"), ["b"] = Wire("l.y", "o.port") },
                }
            ) with
        {
            Settings = new RunSettings { Live = false },
        };

    static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web) { WriteIndented = true };

    static string Together(SortedDictionary<string, string> parts, SortedDictionary<string, string> signals, string others) =>
        string.Join(
            '\n',
            parts.Select(p => $"part {p.Key} {p.Value}").Concat(signals.Select(s => $"signal {s.Key} {s.Value}")).Append(others)
        );

    static SortedDictionary<string, string> Texts<T>(IEnumerable<KeyValuePair<string, T>> entries) =>
        new(entries.ToDictionary(e => e.Key, e => JsonSerializer.Serialize(e.Value, Json)), StringComparer.Ordinal);

    /// <summary>What a window has after a change, as the interface puts it together.</summary>
    static string After(ModelView before, ViewChange change)
    {
        static IEnumerable<KeyValuePair<string, T>> Merged<T>(
            IReadOnlyDictionary<string, T> old,
            IReadOnlyDictionary<string, T?>? now,
            bool anew
        )
            where T : class
        {
            var all = anew ? [] : old.ToDictionary();
            foreach (var (key, value) in now ?? new Dictionary<string, T?>())
                if (value is null)
                    all.Remove(key);
                else
                    all[key] = value;
            return all;
        }

        var parameters = Texts(Merged(before.Parameters, change.Parameters, change.IsWhole));
        var findings = change.Findings ?? before.Findings;
        var own = change.OwnParts ?? before.OwnParts;
        return Together(
            Texts(Merged(before.Parts, change.Parts, change.IsWhole)),
            Texts(Merged(before.Signals, change.Signals, change.IsWhole)),
            JsonSerializer.Serialize(
                new
                {
                    parameters,
                    findings,
                    own,
                    change.CanRun,
                    change.Equations,
                    change.Unknowns,
                },
                Json
            )
        );
    }

    static string Whole(ModelView view) =>
        Together(
            Texts(view.Parts),
            Texts(view.Signals),
            JsonSerializer.Serialize(
                new
                {
                    parameters = Texts(view.Parameters),
                    findings = view.Findings,
                    own = view.OwnParts,
                    view.CanRun,
                    view.Equations,
                    view.Unknowns,
                },
                Json
            )
        );

    public static TheoryData<string, string, string, string> Edits() =>
        new()
        {
            { "move", "replace", "/definitions/main/parts/c/x", "64" },
            { "flip", "add", "/definitions/main/parts/c/flip", "true" },
            { "value", "replace", "/definitions/main/parts/c/parameters/k", "\"7\"" },
            { "value with a name", "replace", "/definitions/main/parts/c/parameters/k", "\"3*gain\"" },
            { "choice", "replace", "/definitions/main/parts/c/parameters/form", "\"Form.PID\"" },
            { "model parameter", "replace", "/definitions/main/parameters/gain/value", "\"5\"" },
            { "bad value", "replace", "/definitions/main/parts/c/parameters/k", "\"2*gian\"" },
            { "reset", "remove", "/definitions/main/parts/c/parameters/k", "null" },
            { "face of a level", "replace", "/definitions/main/parts/p/parameters/T", "\"9 s\"" },
            { "inside a level", "replace", "/definitions/plant/parts/l/parameters/T", "\"2*T\"" },
            { "port of a level renamed", "replace", "/definitions/plant/parts/o/name", "\"out\"" },
            { "part renamed", "replace", "/definitions/main/parts/p/name", "\"Tank\"" },
            { "signs", "add", "/definitions/main/parts/e/parameters/signs", "\"{1, -1, 1}\"" },
            { "signal named", "replace", "/definitions/main/signals/p.y/name", "\"height\"" },
            { "signal plotted", "add", "/definitions/main/signals/c.u", "{\"probe\":1}" },
            { "wire gone", "remove", "/definitions/main/wires/b", "null" },
            { "part gone", "remove", "/definitions/main/parts/s", "null" },
            { "part added", "add", "/definitions/main/parts/n", "{\"type\":\"Gain\",\"name\":\"New\",\"x\":0,\"y\":0,\"parameters\":{}}" },
            { "settings", "replace", "/settings/end", "\"no time\"" },
            { "requirement", "add", "/requirements/r", "{\"name\":\"R\",\"signal\":\"gone.y\",\"limit\":\"1\"}" },
            {
                "definition added",
                "add",
                "/definitions/t",
                "{\"kind\":\"text\",\"name\":\"T\",\"text\":\"block T output Real y; equation y = 1; end T;\"}"
            },
        };

    [Theory]
    [MemberData(nameof(Edits))]
    public void A_change_on_what_was_shown_is_what_is_shown_anew(string what, string op, string path, string value)
    {
        foreach (var level in (string[])["", "p"])
        {
            PartPath.TryParse(level, out var at);
            var bench = new Bench();
            var id = bench.Create(Model());
            var before = bench.Models.Open(id, at, default).View;
            var edit = new PatchOperation(op, path, value == "null" ? null : JsonNode.Parse(value));
            var change = bench.EditAt(id, at, edit).Change;
            var fresh = new Bench();
            var anew = fresh.Models.Open(fresh.Create(bench.Models.Session(id).Document), at, default).View;
            Assert.Equal(Whole(anew), After(before, change));
            Assert.False(change.IsWhole, what);
            // And back again.
            var origin = new EditOrigin(change.Revision, at, "w");
            var shown = bench.Models.Open(id, at, default).View;
            Assert.Equal(Whole(before), After(shown, bench.Models.Undo(id, origin, default).Change));
        }
    }

    [Theory]
    [InlineData("/definitions/main/parts/s/x", "64", 0)]
    [InlineData("/definitions/main/parts/c/parameters/k", "\"7\"", 1)]
    [InlineData("/definitions/main/parameters/gain/value", "\"5\"", 1)]
    public void Only_what_an_edit_touched_is_sent(string path, string value, int parts)
    {
        var bench = new Bench();
        var id = bench.Create(Model());
        bench.Models.Open(id, PartPath.Root, default);
        var change = bench.Edit(id, new PatchOperation("replace", path, JsonNode.Parse(value))).Change;
        Assert.Equal(parts == 0 ? "" : "c", string.Join(",", change.Parts?.Select(p => p.Key) ?? []));
        Assert.Null(change.Signals);
        Assert.Null(change.OwnParts);
        // Once a field speaks no longer of a parameter, nothing does.
        Assert.Equal(
            path.EndsWith("/k", StringComparison.Ordinal) ? ["unused-parameter"] : [],
            change.Findings?.Select(f => f.Code).Where(c => c != "unconnected") ?? []
        );
    }

    /// <summary>Hours of tuning must not fill the memory: what a model was some edits ago nobody has any more.</summary>
    [Theory]
    [InlineData("/definitions/main/parts/c/parameters/k", "\"{0}\"")]
    [InlineData("/definitions/main/parts/s/x", "{0}")]
    [InlineData("/definitions/main/parts/p/name", "\"Plant {0}\"")]
    public void What_a_model_was_is_given_up(string path, string value)
    {
        var bench = new Bench();
        var id = bench.Create(Model());
        bench.Models.Open(id, PartPath.Root, default);
        var earlier = Enumerable.Range(1, 40).Select(n => Edited(bench, id, path, string.Format(value, n * 8))).ToList();
        for (var n = 0; n < 3; n++)
        {
            GC.Collect();
            GC.WaitForPendingFinalizers();
        }

        // The present one, the one shown before, and what a cache or two may hold.
        Assert.InRange(earlier.Count(e => e.IsAlive), 0, 5);
    }

    [System.Runtime.CompilerServices.MethodImpl(System.Runtime.CompilerServices.MethodImplOptions.NoInlining)]
    static WeakReference Edited(Bench bench, string id, string path, string value)
    {
        bench.Edit(id, new PatchOperation("replace", path, JsonNode.Parse(value)));
        return new WeakReference(bench.Models.Session(id).Document);
    }

    [Fact]
    public void A_window_that_shows_another_level_is_sent_all_of_it()
    {
        var bench = new Bench();
        var id = bench.Create(Model());
        bench.Models.Open(id, PartPath.Root, default);
        Assert.True(PartPath.TryParse("p", out var level));
        var change = bench.EditAt(id, level, new PatchOperation("replace", "/definitions/plant/parts/l/x", 8)).Change;
        Assert.True(change.IsWhole);
        Assert.Equal("plant", change.Definition);
        Assert.Equal(["i.port", "l.y", "o.port"], change.Signals!.Keys.Order());
        Assert.Equal("p/l.y", change.Signals["l.y"]!.Reference);
    }

    [Fact]
    public void A_window_whose_level_is_taken_away_goes_to_the_root()
    {
        var bench = new Bench();
        var id = bench.Create(Model());
        Assert.True(PartPath.TryParse("p", out var level));
        bench.Models.Open(id, level, default);
        var change = bench.EditAt(id, level, new PatchOperation("remove", "/definitions/main/parts/p")).Change;
        Assert.Equal(("", "main", true), (change.Level, change.Definition, change.IsWhole));
        Assert.Throws<NotFoundException>(() => bench.Models.Open(id, level, default));
    }

    [Fact]
    public void Actions_of_a_sum_are_edits_that_do_what_they_say()
    {
        var bench = new Bench();
        var id = bench.Create(Model());
        var sum = bench.Models.Open(id, PartPath.Root, default).View.Parts["e"];
        Assert.Equal(["+", "−"], sum.Ports.Where(p => p.IsInput).Select(p => p.Sign));
        bench.Edit(id, [.. sum.Ports[0].Action!.Operations]);
        bench.Edit(id, [.. bench.Models.Open(id, PartPath.Root, default).View.Parts["e"].Actions[0].Operations]);
        Assert.Equal("{-1, -1, 1}", bench.Models.Session(id).Document.Main.Parts["e"].Parameters["signs"]);
    }
}
