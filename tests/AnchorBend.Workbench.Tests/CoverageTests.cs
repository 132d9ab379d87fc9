using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Coverage;
using AnchorBend.Workbench.Models;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>What cases come by of the decisions, charts and alternatives of a model.</summary>
public sealed class CoverageTests : IDisposable
{
    readonly Bench bench = new();

    public void Dispose()
    {
        bench.Cases.Dispose();
        bench.Workers.Dispose();
        bench.RunStore.Dispose();
    }

    static CaseNode Case(string name, params (string Target, string Text)[] values) =>
        new()
        {
            Name = name,
            Values = values
                .Select((v, i) => (v, i))
                .ToDictionary(v => $"v{v.i}", v => new CaseValueNode { Target = v.v.Target, Text = v.v.Text }),
        };

    /// <summary>A level between limits of ±1.</summary>
    static ModelDocument Limited(params (string Id, CaseNode Node)[] cases) =>
        new DiagramDefinition
        {
            Name = "Basin",
            Parts = new() { ["s"] = Part("Constant", "Swell", ("k", "0.5")), ["l"] = Part("Saturation", "Stops") },
            Wires = new() { ["w"] = Wire("s.y", "l.u") },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "1 s", Live = false },
            Cases = cases.ToDictionary(c => c.Id, c => c.Node),
        };

    CoverageView Covered(ModelSession session)
    {
        bench.Cases.Start(session, null, CaseChoice.All, default);
        Assert.True(SpinWait.SpinUntil(() => bench.Cases.View(session).Suite!.State == SuiteState.Finished, 30_000));
        return bench.Cases.Coverage(session, default);
    }

    ModelSession Session(ModelDocument document) => bench.Models.Session(bench.Create(document));

    static CoveragePoint Point(CoverageView view, string text, string kind = "decision") =>
        view.Points.Single(p => p.Text == text && p.Kind == kind);

    static string[] Holes(CoverageView view, string kind = "decision") =>
        [.. view.Points.Where(p => p.Kind == kind).SelectMany(p => p.Sides).Where(s => s.Count == 0).Select(s => s.Words)];

    [Fact]
    public void Limits_that_are_never_reached_are_named_in_words()
    {
        var session = Session(Limited(("a", Case("Small"))));
        var view = Covered(session);
        Assert.Equal(["input never above upper limit", "input never below lower limit"], Holes(view, "decision"));
        Assert.Equal(
            [
                "input never falls past lower limit",
                "input never falls past upper limit",
                "input never rises past lower limit",
                "input never rises past upper limit",
            ],
            Holes(view, "border").Order()
        );
        Assert.Equal(
            [new CoverageTotal("border", "border", 0, 0, 4), new("decision", "decision", 2, 0, 4)],
            view.Kinds.OrderBy(k => k.Key)
        );
        Assert.Equal(new CoverageTotal("l", "Stops", 2, 0, 8), Assert.Single(view.Parts));
        Assert.Equal(("l", "Saturation"), (view.Points[0].Part, view.Points[0].Type));
    }

    [Fact]
    public void Cases_add_up_and_each_hole_that_one_alone_closes_says_which()
    {
        var session = Session(
            Limited(
                ("a", Case("Small")),
                ("b", Case("Low", ("s.k", "-3"))),
                ("c", Case("High", ("s.k", "3"))),
                ("d", Case("Higher", ("s.k", "4")))
            )
        );
        var view = Covered(session);
        Assert.Empty(Holes(view));
        Assert.Null(Point(view, "u > upper").Sides[0].Only);
        Assert.Equal("b", Point(view, "u < lower").Sides[0].Only);
    }

    [Fact]
    public void Results_of_a_program_that_counted_otherwise_are_read_and_do_not_count()
    {
        var session = Session(Limited(("a", Case("Small"))));
        Covered(session);
        var json = System.Text.Json.JsonSerializer.SerializeToNode(bench.CaseStore.Newest(session.Id, "a"))!.AsObject();
        json.Remove("Tally");
        json["Counts"] = new JsonArray(new JsonObject { ["Owner"] = "Stops", ["Yes"] = 3 });
        var older = System.Text.Json.JsonSerializer.Deserialize<CaseResult>(json)!;
        Assert.Equal(CaseOutcome.Open, older.Outcome);
        bench.CaseStore.Add(bench.CaseStore.List(session.Id)[0].Id, older);
        var view = bench.Cases.Coverage(session, default);
        Assert.Equal((0, 1), (view.Cases, view.Stale));
    }

    [Fact]
    public void Results_that_are_out_of_date_do_not_count()
    {
        var session = Session(Limited(("a", Case("Small")), ("b", Case("Large", ("s.k", "3")))));
        Assert.Equal((2, 0), (Covered(session).Cases, Covered(session).Stale));
        bench.Edit(session.Id, new PatchOperation("replace", "/cases/b/values/v0/text", JsonValue.Create("0.1")));
        var view = bench.Cases.Coverage(session, default);
        Assert.Equal((1, 1), (view.Cases, view.Stale));
        Assert.Equal(2, Holes(view).Length);
        bench.Edit(session.Id, new PatchOperation("add", "/definitions/main/parts/l/parameters/upper", JsonValue.Create("2")));
        Assert.Equal((0, 2), (bench.Cases.Coverage(session, default).Cases, bench.Cases.Coverage(session, default).Stale));
    }

    [Fact]
    public void A_justification_stays_while_its_place_does_and_is_told_when_that_changes()
    {
        var session = Session(Limited(("a", Case("Small"))));
        var hole = Point(Covered(session), "u > upper");
        bench.Edit(
            session.Id,
            new PatchOperation(
                "add",
                "/justifications/j",
                JsonNode.Parse($$"""{ "goal": "{{hole.Key}}", "side": "yes", "reason": "The swell is never that high.", "by": "Ada" }""")
            )
        );
        var view = bench.Cases.Coverage(session, default);
        Assert.Equal(1, view.Kinds.Single(k => k.Key == "decision").Justified);
        Assert.Equal("j", Point(view, "u > upper").Sides[0].Justification);
        Assert.Empty(view.Lost);

        // Something else changes: what is written stays.
        bench.Edit(session.Id, new PatchOperation("replace", "/definitions/main/parts/l/name", JsonValue.Create("Buffers")));
        Assert.Equal("j", Point(Covered(session), "u > upper").Sides[0].Justification);

        // The part becomes another.
        bench.Edit(session.Id, new PatchOperation("replace", "/definitions/main/parts/l/type", JsonValue.Create("DeadZone")));
        view = Covered(session);
        Assert.Equal("The swell is never that high.", Assert.Single(view.Lost).Reason);
        Assert.All(view.Kinds, k => Assert.Equal(0, k.Justified));
    }

    [Fact]
    public void Every_side_of_every_kind_can_be_justified()
    {
        var document = new DiagramDefinition
        {
            Name = "Basin",
            Parts = new()
            {
                ["s"] = Part("Constant", "Level", ("k", "0.5")),
                ["w"] = Part("InRange", "Window"),
                ["t"] = Part("Table", "Area", ("x", "{0, 1, 2.5, 4}"), ("values", "{0, 2, 3, 9}")),
            },
            Wires = new() { ["v"] = Wire("s.y", "w.u"), ["u"] = Wire("s.y", "t.u") },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "1 s", Live = false },
            Cases = new() { ["a"] = Case("Low") },
        };
        var session = Session(document);
        var holes = Covered(session).Points.SelectMany(p => p.Sides.Where(s => s.Count == 0).Select(s => (p.Key, s.Side))).ToList();
        Assert.True(holes.Select(h => h.Side).Distinct().Count() >= 6);
        var number = 0;
        foreach (var (key, side) in holes)
            bench.Edit(
                session.Id,
                new PatchOperation(
                    "add",
                    $"/justifications/j{++number}",
                    new JsonObject
                    {
                        ["goal"] = key,
                        ["side"] = side,
                        ["reason"] = "As it is.",
                    }
                )
            );
        var view = bench.Cases.Coverage(session, default);
        Assert.All(view.Points.SelectMany(p => p.Sides).Where(s => s.Count == 0), s => Assert.NotNull(s.Justification));
        Assert.Empty(view.Lost);
    }

    [Fact]
    public void Parts_that_faults_bring_in_are_none_of_the_model()
    {
        var document = Limited(("a", Case("Small")));
        document.Faults["f"] = new FaultNode
        {
            Name = "Doubled",
            Kind = FaultKind.Gain,
            Signal = "s.y",
            Value = "2",
        };
        Assert.Equal("Stops", Assert.Single(Covered(Session(document)).Parts).Name);
    }

    [Fact]
    public void Counting_changes_no_bit_of_what_a_case_gives()
    {
        var document = Limited(("a", Case("Large", ("s.k", "3"))));
        var setup = CaseSetup.Of(document, document.Cases["a"]);
        double[] Values(bool counting)
        {
            var prepared = setup.Prepare(d => Modeling.Catalog.PartCatalog.Of(d));
            prepared = counting ? prepared.Counting() : prepared;
            using var session = new Simulation.RunSession(prepared, new Compiler.Preparation.ParameterSet(prepared.Model), setup.Options);
            session.Advance(new Simulation.PauseAt());
            var trace = session.Result().Trace;
            return [.. trace.Variables.SelectMany(v => trace.Column(v))];
        }

        Assert.Equal(Values(false), Values(true));
    }

    [Fact]
    public void A_part_that_is_run_alone_adds_to_its_own_places()
    {
        var document = Limited(("a", Case("Small")), ("b", Case("Alone") with { Subject = "l", Stimulus = "up" }));
        document.Stimuli["up"] = new StimulusNode
        {
            Name = "Up",
            Tracks = new()
            {
                ["t"] = new TrackNode
                {
                    Target = "l.u",
                    Times = [0, 1],
                    Values = [0, 5],
                },
            },
        };
        var view = Covered(Session(document));
        Assert.Equal("b", Point(view, "u > upper").Sides[0].Only);
        Assert.Equal(["input never below lower limit"], Holes(view));
    }

    static string[] Words(CoveragePoint point) => [.. point.Sides.Where(s => s.Count == 0).Select(s => s.Words)];

    [Fact]
    public void Conditions_that_never_decide_alone_are_named_and_cases_show_them_together()
    {
        ModelDocument Window(params (string Id, CaseNode Node)[] cases) =>
            new DiagramDefinition
            {
                Name = "Basin",
                Parts = new() { ["s"] = Part("Constant", "Level", ("k", "0.5")), ["w"] = Part("InRange", "Window") },
                Wires = new() { ["v"] = Wire("s.y", "w.u") },
            }.AsModel() with
            {
                Settings = new RunSettings { End = "1 s", Live = false },
                Cases = cases.ToDictionary(c => c.Id, c => c.Node),
            };
        const string both = "u >= lower and u <= upper";
        var inside = ("a", Case("Inside"));
        var below = ("b", Case("Below", ("s.k", "-1")));
        var above = ("c", Case("Above", ("s.k", "2")));
        Assert.Equal(
            ["u >= lower never decides alone", "u <= upper never decides alone"],
            Words(Point(Covered(Session(Window(inside))), both, "modified condition/decision"))
        );
        var view = Covered(Session(Window(inside, below)));
        var point = Point(view, both, "modified condition/decision");
        Assert.Equal(["u <= upper never decides alone"], Words(point));
        // It takes both cases.
        Assert.Null(point.Sides[0].Only);
        point = Point(Covered(Session(Window(inside, below, above))), both, "modified condition/decision");
        Assert.Empty(Words(point));
        // Both sides of the whole were seen long before.
        Assert.Empty(Holes(view));
    }

    [Fact]
    public void A_course_through_a_border_shows_both_its_sides()
    {
        var document = Limited(("a", Case("Swell") with { Stimulus = "up" }));
        document.Stimuli["up"] = new StimulusNode
        {
            Name = "Up and down",
            Tracks = new()
            {
                ["t"] = new TrackNode
                {
                    Target = "l.u",
                    Times = [0, 0.5, 1],
                    Values = [0, 5, 0],
                },
            },
        };
        var view = Covered(Session(document with { Cases = new() { ["a"] = Case("Swell") with { Subject = "l", Stimulus = "up" } } }));
        Assert.Empty(Words(Point(view, "u > upper", "border")));
        Assert.Equal(
            ["input never falls past lower limit", "input never rises past lower limit"],
            Words(Point(view, "u < lower", "border")).Order()
        );
    }

    [Fact]
    public void Intervals_of_a_table_that_are_never_read_are_named_by_their_knots()
    {
        var document = new DiagramDefinition
        {
            Name = "Basin",
            Parts = new()
            {
                ["s"] = Part("Constant", "Level", ("k", "0.5")),
                ["t"] = Part("Table", "Area", ("x", "{0, 1, 2.5, 4}"), ("values", "{0, 2, 3, 9}")),
            },
            Wires = new() { ["v"] = Wire("s.y", "t.u") },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "1 s", Live = false },
            Cases = new() { ["a"] = Case("Low"), ["b"] = Case("High", ("s.k", "3")) },
        };
        var point = Assert.Single(Covered(Session(document)).Points, p => p.Kind == "table interval");
        Assert.Equal(["never between 1 and 2.5"], Words(point));
        Assert.Equal(["a", null, "b"], point.Sides.Select(s => s.Only));
    }
}
