using System.Text;
using System.Text.Json.Nodes;
using AnchorBend.Interchange.Sheets;
using AnchorBend.Modeling.Documents;
using AnchorBend.Verification;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Test cases of a lag behind a step: after a second it is at k·h·(1 − e^(−1/T)).</summary>
public sealed class CaseTests : IDisposable
{
    Bench bench = new();

    public void Dispose()
    {
        bench.Cases.Dispose();
        bench.Workers.Dispose();
        bench.RunStore.Dispose();
    }

    static double Last(double k, double height, double time) => k * height * (1 - Math.Exp(-1 / time));

    static ModelDocument Basin(params (string Id, CaseNode Node)[] cases) =>
        new DiagramDefinition
        {
            Name = "Basin",
            Parts = new()
            {
                ["s"] = Part("Step", "Inflow", ("height", "2"), ("startTime", "0")),
                ["l"] = Part("Lag", "Level", ("k", "4"), ("T", "1 s")),
            },
            Wires = new() { ["w"] = Wire("s.y", "l.u") },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "1 s", Live = false },
            Measures = new()
            {
                ["m"] = new MeasureNode { Name = "Last", Expression = "final(Level.y)" },
            },
            Requirements = new()
            {
                ["q"] = new RequirementNode
                {
                    Name = "Not over 6",
                    Signal = "l.y",
                    Limit = "6",
                },
                ["late"] = new RequirementNode
                {
                    Name = "Rises in the end",
                    Signal = "",
                    Rule = "whenever time > 5 s then within 1 s Level.y > 1",
                },
            },
            Faults = new()
            {
                ["f"] = new FaultNode
                {
                    Name = "Inflow doubled",
                    Kind = FaultKind.Gain,
                    Signal = "s.y",
                    Value = "2",
                },
            },
            Cases = cases.ToDictionary(c => c.Id, c => c.Node),
        };

    static CaseNode Case(string name, params (string Target, string Text)[] values) =>
        new()
        {
            Name = name,
            Values = values
                .Select((v, i) => (v, i))
                .ToDictionary(
                    v => $"v{v.i}",
                    v => new CaseValueNode
                    {
                        Target = v.v.Target,
                        Text = v.v.Text,
                        Order = v.i,
                    }
                ),
        };

    ModelSession Session(ModelDocument document) => bench.Models.Session(bench.Create(document));

    CasesView Ran(ModelSession session, CaseChoice choice = CaseChoice.All, params string[] cases)
    {
        bench.Cases.Start(session, cases.Length > 0 ? cases : null, choice, default);
        Assert.True(
            SpinWait.SpinUntil(() => bench.Cases.View(session).Suite!.State == SuiteState.Finished, 30_000),
            $"{bench.Cases.View(session).Suite}"
        );
        return bench.Cases.View(session);
    }

    static CaseRow Row(CasesView view, string id) => view.Cases.Single(c => c.Id == id);

    [Fact]
    public void Cases_set_values_of_their_own_runs_and_are_judged_by_the_requirements_that_these_decide()
    {
        var session = Session(
            Basin(("a", Case("As it is")), ("b", Case("Quick", ("l.T", "200 ms"))), ("c", Case("High", ("s.height", "4"))))
        );
        var view = Ran(session);
        Assert.Equal([CaseOutcome.Passed, CaseOutcome.Failed, CaseOutcome.Failed], view.Cases.Select(c => c.Outcome!.Value));
        // What a run of a second does not decide, a rule on later times, is none of its requirements.
        Assert.All(view.Cases, c => Assert.Equal("q", Assert.Single(c.Cells).Requirement));
        double[] wanted = [6 - Last(4, 2, 1), 6 - Last(4, 2, 0.2), 6 - Last(4, 4, 1)];
        foreach (var (row, margin) in view.Cases.Zip(wanted))
            Assert.Equal(margin, row.Cells[0].Margin!.Value, 1e-5);
        Assert.Equal("4", session.Document.Main.Parts["l"].Parameters["k"]);
        Assert.Equal((3, 1, 2), (view.Suite!.Done, view.Suite.Passed, view.Suite.Failed));
    }

    [Fact]
    public void Faults_stimuli_and_ends_belong_to_a_case_too()
    {
        var document = Basin(
            ("a", Case("Doubled", ("#fault:f", "on"))),
            ("b", Case("Driven") with { Stimulus = "flood", End = "2 s" }),
            ("c", Case("Later") with { End = "7 s" })
        );
        document.Stimuli["flood"] = new StimulusNode
        {
            Name = "Flood",
            Tracks = new()
            {
                ["t"] = new TrackNode
                {
                    Target = "s.y",
                    Times = [0, 1],
                    Values = [1, 1],
                },
            },
        };
        var view = Ran(Session(document));
        Assert.Equal(6 - Last(4, 4, 1), Row(view, "a").Cells[0].Margin!.Value, 1e-5);
        Assert.Equal(6 - 4 * (1 - Math.Exp(-2)), Row(view, "b").Cells[0].Margin!.Value, 1e-4);
        // Seven seconds decide the rule on what comes after five.
        Assert.Equal(["q", "late"], Row(view, "c").Cells.Select(c => c.Requirement));
    }

    [Fact]
    public void What_is_set_for_a_group_holds_in_its_cases_and_nowhere_else()
    {
        var document = Basin(
            ("a", Case("In it") with { Group = "g" }),
            ("b", Case("In it, by itself", ("s.height", "1")) with { Group = "g" }),
            ("c", Case("Outside"))
        );
        document.CaseGroups["g"] = new CaseGroupNode { Name = "High", Values = Case("", ("s.height", "3")).Values };
        var view = Ran(Session(document));
        Assert.Equal(["a", "b", "c"], view.Cases.Select(c => c.Id));
        double[] wanted = [6 - Last(4, 3, 1), 6 - Last(4, 1, 1), 6 - Last(4, 2, 1)];
        Assert.All(view.Cases.Zip(wanted), c => Assert.Equal(c.Second, c.First.Cells[0].Margin!.Value, 1e-5));
    }

    [Fact]
    public void Measures_are_held_between_limits()
    {
        CaseNode Held(string? least, string? most) =>
            Case("Held") with
            {
                Requirements = [],
                Measures = new()
                {
                    ["h"] = new HeldMeasureNode
                    {
                        Measure = "m",
                        AtLeast = least,
                        AtMost = most,
                    },
                },
            };
        var view = Ran(Session(Basin(("a", Held("5", "5.1")), ("b", Held("5.1", null)), ("c", Held(null, null)))));
        Assert.Equal([CaseOutcome.Passed, CaseOutcome.Failed, CaseOutcome.Open], view.Cases.Select(c => c.Outcome!.Value));
        // 5.0570: nearer to the upper limit.
        Assert.Equal(5.1 - Last(4, 2, 1), Row(view, "a").Measures[0].Margin!.Value, 1e-5);
        Assert.Equal(Last(4, 2, 1) - 5.1, Row(view, "b").Measures[0].Margin!.Value, 1e-5);
    }

    [Fact]
    public async Task A_case_made_of_a_run_passes_until_the_model_does_something_else()
    {
        var session = Session(Basin());
        var run = await bench.Run(session.Id);
        var work = new CaseWork(bench.Runs, bench.Package);
        var made = work.Captured(run, session.Document, "As it was", ["l.y", "s.y"]);
        bench.Edit(session.Id, [.. made.Operations]);
        var id = Assert.Single(session.Document.Cases).Key;
        Assert.Equal(CaseOutcome.Passed, Row(Ran(session), id).Outcome);
        Assert.False(Row(bench.Cases.View(session), id).IsStale);

        // What a part looks like is none of what it does.
        var shape = new JsonObject
        {
            ["s1"] = new JsonObject { ["kind"] = "box", ["order"] = 1 },
        };
        bench.Edit(session.Id, new PatchOperation("add", "/definitions/main/parts/l/shapes", shape));
        Assert.False(Row(bench.Cases.View(session), id).IsStale);

        // Half as quick: it leaves its tolerance, 5 of 5.06 · 1 %, where 8(e^(−t/2) − e^(−t)) is as large.
        bench.Edit(session.Id, new PatchOperation("replace", "/definitions/main/parts/l/parameters/T", JsonValue.Create("2 s")));
        Assert.True(Row(bench.Cases.View(session), id).IsStale);
        Assert.Equal(CaseOutcome.Failed, Row(Ran(session, CaseChoice.Stale), id).Outcome);
        var detail = bench.Cases.Detail(session, id);
        var course = detail.Result!.Courses.Single(c => c.Label == "Level.y");
        var tolerance = session.Document.Cases[id].Expected.Values.Single(e => e.Signal == "l.y").Absolute;
        Assert.Equal(0.05, tolerance);
        double off(double t) => 8 * (Math.Exp(-t / 2) - Math.Exp(-t)) - tolerance;
        var (low, high) = (0.0, 0.1);
        while (high - low > 1e-12)
            (low, high) = off((low + high) / 2) > 0 ? (low, (low + high) / 2) : ((low + high) / 2, high);
        Assert.Equal(low, course.Exit!.At, 1e-5);
        Assert.Equal(8 * (1 - Math.Exp(-low / 2)), course.Exit.Actual, 1e-5);
        Assert.Equal(1, detail.LastPassed);
        Assert.Equal(VerdictKind.Met, detail.Result.Courses.Single(c => c.Label == "Inflow.y").Kind);
    }

    [Fact]
    public async Task A_run_that_has_not_ended_or_has_not_the_signals_makes_no_case()
    {
        var session = Session(Basin());
        var run = await bench.Run(session.Id);
        var work = new CaseWork(bench.Runs, bench.Package);
        Assert.Contains("none of these", Assert.Throws<RefusedException>(() => work.Captured(run, session.Document, "x", ["q.y"])).Message);
    }

    [Fact]
    public void Drawing_and_words_leave_results_as_they_are_and_changes_of_requirements_touch_their_own()
    {
        var session = Session(Basin(("a", Case("As it is")), ("b", Case("Later") with { End = "7 s" })));
        Ran(session);
        bench.Edit(
            session.Id,
            new PatchOperation("replace", "/definitions/main/parts/l/x", JsonValue.Create(200)),
            new PatchOperation("replace", "/requirements/q/name", JsonValue.Create("Never over 6")),
            new PatchOperation("replace", "/cases/a/name", JsonValue.Create("Just so"))
        );
        Assert.DoesNotContain(bench.Cases.View(session).Cases, c => c.IsStale);
        bench.Edit(session.Id, new PatchOperation("replace", "/requirements/late/rule", JsonValue.Create("always Level.y < 9")));
        var cells = bench.Cases.View(session).Cases.SelectMany(c => c.Cells).ToList();
        Assert.Equal([false, false, true], cells.Select(c => c.IsStale));
        bench.Edit(session.Id, new PatchOperation("add", "/cases/a/end", JsonValue.Create("2 s")));
        Assert.True(Row(bench.Cases.View(session), "a").Cells[0].IsStale);
    }

    [Fact]
    public void Failed_and_stale_cases_are_run_by_themselves()
    {
        var session = Session(Basin(("a", Case("As it is")), ("b", Case("High", ("s.height", "4")))));
        Ran(session);
        Assert.Equal(1, Ran(session, CaseChoice.Failed).Suite!.Cases);
        Assert.Throws<DocumentException>(() => bench.Cases.Start(session, null, CaseChoice.Stale, default));
        bench.Edit(
            session.Id,
            new PatchOperation("replace", "/cases/a/values", new JsonObject()),
            new PatchOperation("add", "/cases/c", Json())
        );
        Assert.Equal(["c"], bench.Cases.View(session).Cases.Where(c => c.IsStale).Select(c => c.Id));
        Assert.Equal(1, Ran(session, CaseChoice.Stale).Suite!.Cases);
        Assert.Throws<RefusedException>(() => bench.Cases.Start(session, ["gone"], CaseChoice.All, default));

        static JsonNode Json() => JsonNode.Parse("""{ "name": "New" }""")!;
    }

    [Fact]
    public void What_cannot_run_says_why_and_the_rest_goes_on()
    {
        var session = Session(
            Basin(
                ("a", Case("Wrong", ("l.T", "nonsense"))),
                ("b", Case("Gone", ("x.k", "3"))),
                ("c", Case("Lost") with { Stimulus = "none" }),
                ("d", Case("Sound"))
            )
        );
        var view = Ran(session);
        Assert.Equal(
            [CaseOutcome.Broken, CaseOutcome.Broken, CaseOutcome.Broken, CaseOutcome.Passed],
            view.Cases.Select(c => c.Outcome!.Value)
        );
        Assert.Contains("nonsense", view.Cases[0].Problem, StringComparison.Ordinal);
        Assert.Contains("x.k", view.Cases[1].Problem, StringComparison.Ordinal);
        Assert.Contains("stimulus", view.Cases[2].Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void A_part_is_run_alone_in_a_frame_that_feeds_its_ports()
    {
        var document = Basin(("a", Case("Level alone") with { Subject = "l", Stimulus = "fed", Requirements = ["q"] }));
        document.Stimuli["fed"] = new StimulusNode
        {
            Name = "Fed",
            Tracks = new()
            {
                ["t"] = new TrackNode
                {
                    Target = "l.u",
                    Times = [0, 1],
                    Values = [1.25, 1.25],
                },
            },
        };
        Assert.Equal(6 - Last(4, 1.25, 1), Row(Ran(Session(document)), "a").Cells[0].Margin!.Value, 1e-5);
    }

    [Fact]
    public void A_part_inside_a_subsystem_is_run_alone_with_the_names_of_the_whole_model()
    {
        var inner = new DiagramDefinition
        {
            Name = "Station",
            Parts = new() { ["l"] = Part("Lag", "Level", ("k", "4"), ("T", "1 s")), ["c"] = Part("Constant", "Idle") },
            Wires = new() { ["w"] = Wire("c.y", "l.u") },
        };
        var document = new DiagramDefinition
        {
            Name = "Sound",
            Parts = new() { ["p"] = Part("#station", "North") },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "1 s" },
            Stimuli = new()
            {
                ["fed"] = new StimulusNode
                {
                    Name = "Fed",
                    Tracks = new()
                    {
                        ["t"] = new TrackNode
                        {
                            Target = "p/l.u",
                            Times = [0, 1],
                            Values = [1, 1],
                        },
                    },
                },
            },
            Cases = new()
            {
                ["a"] = new CaseNode
                {
                    Name = "Level alone",
                    Subject = "p/l",
                    Stimulus = "fed",
                    Values = Case("", ("p/l.k", "3")).Values,
                    Expected = new()
                    {
                        ["e"] = new ExpectedNode
                        {
                            Signal = "p/l.y",
                            Times = [1],
                            Values = [Last(3, 1, 1)],
                            Absolute = 1e-4,
                        },
                    },
                },
            },
        };
        var view = Ran(Session(document.With("station", inner)));
        Assert.Equal((CaseOutcome.Passed, null), (view.Cases[0].Outcome!.Value, view.Cases[0].Problem));
    }

    [Fact]
    public void After_the_program_was_killed_the_cases_that_are_left_are_run()
    {
        var document = Basin([.. Enumerable.Range(0, 8).Select(i => ($"c{i}", Case($"Case {i}")))]);
        var store = new MemoryCaseStore();
        store.Put(new StoredSuite("s", "m", 3, document.ToJson(), [.. document.Cases.Keys], SuiteState.Running, DateTime.UtcNow));
        var made = new CaseRun(document, d => Modeling.Catalog.PartCatalog.Of(d), 3).Of("c0", default);
        for (var i = 0; i < 5; i++)
            store.Add("s", made with { Case = $"c{i}", Seconds = -1 });
        bench = new Bench(cases: store);
        bench.Cases.Begin();
        Assert.True(SpinWait.SpinUntil(() => store.List(null)[0].State == SuiteState.Finished, 30_000));
        Assert.Equal(8, store.Results("s").Count);
        Assert.Equal(5, store.Results("s").Count(r => r.Seconds == -1));
        Assert.All(store.Results("s"), r => Assert.Equal(CaseOutcome.Passed, r.Outcome));
    }

    [Fact]
    public void A_run_of_cases_that_is_stopped_keeps_what_it_has()
    {
        var session = Session(Basin([.. Enumerable.Range(0, 300).Select(i => ($"c{i}", Case($"Case {i}")))]));
        var suite = bench.Cases.Start(session, null, CaseChoice.All, default);
        Assert.True(SpinWait.SpinUntil(() => bench.Cases.View(session).Suite!.Done > 3, 30_000));
        bench.Cases.Stop(suite.Id);
        Assert.True(SpinWait.SpinUntil(() => bench.Cases.View(session).Suite!.Running.Count == 0, 30_000));
        var done = bench.Cases.View(session).Cases.Count(c => c.Outcome is not null);
        Assert.InRange(done, 3, 299);
        Assert.Equal(SuiteState.Stopped, bench.CaseStore.List(session.Id)[0].State);
        Assert.Equal(300 - done, bench.Cases.Start(session, null, CaseChoice.Stale, default).Cases);
    }

    [Fact]
    public void What_a_case_expects_goes_out_as_a_table_and_comes_back()
    {
        var node = Case("Table") with
        {
            Expected = new()
            {
                ["e1"] = new ExpectedNode
                {
                    Signal = "l.y",
                    Times = [0, 0.5, 0.5, 1],
                    Values = [0, 1, 2, 3],
                    Absolute = 0.5,
                },
                ["e2"] = new ExpectedNode
                {
                    Signal = "s.y",
                    Times = [0, 1],
                    Values = [2, 2],
                    Lower = [1, 1],
                    Upper = [3, 3],
                },
            },
        };
        var document = Basin(("a", node));
        foreach (var form in (SpreadsheetForm[])[SpreadsheetForm.Text, SpreadsheetForm.Workbook])
        {
            var read = CaseWork.Read(document, "a", CaseWork.Table(document, "a", form).File);
            var session = Session(document);
            bench.Edit(session.Id, [.. read.Operations]);
            foreach (var (id, course) in session.Document.Cases["a"].Expected)
            {
                var was = node.Expected[id];
                Assert.Equal((was.Signal, was.Absolute), (course.Signal, course.Absolute));
                Assert.Equal([was.Times, was.Values, was.Lower, was.Upper], [course.Times, course.Values, course.Lower, course.Upper]);
            }
        }

        ExpectedNode Only(string table)
        {
            var session = Session(document);
            bench.Edit(session.Id, [.. CaseWork.Read(document, "a", Encoding.UTF8.GetBytes(table)).Operations]);
            return Assert.Single(session.Document.Cases["a"].Expected).Value;
        }

        Assert.Equal([0.0, 4], Only("time;Level.y, m\n0;0\n2;4\n").Values);
        foreach (var wrong in (string[])["", "a;b\n1;2", "time;\n0;1", "time;Level.y\n0;x", "time;Level.y;Level.y lower\n0;1;\n1;2;1"])
            Assert.Throws<DocumentException>(() => Only(wrong));
    }

    [Fact]
    public void A_requirement_that_a_case_names_and_that_is_gone_leaves_it_open()
    {
        var view = Ran(Session(Basin(("a", Case("Names two") with { Requirements = ["q", "gone"] }))));
        Assert.Equal(CaseOutcome.Open, view.Cases[0].Outcome);
        Assert.Equal(VerdictKind.Open, view.Cases[0].Cells.Single(c => c.Requirement == "gone").Kind);
    }

    [Theory]
    [InlineData(-1, null, "begins after")]
    [InlineData(0, "furlong?", "is no unit")]
    public void What_the_run_does_not_show_of_an_expected_course_is_not_held(double from, string? unit, string told)
    {
        var node = Case("Expected") with
        {
            Requirements = [],
            Expected = new()
            {
                ["e"] = new ExpectedNode
                {
                    Signal = "s.y",
                    Unit = unit,
                    Times = [from, 1],
                    Values = [2, 2],
                    Absolute = 1,
                },
            },
        };
        var row = Ran(Session(Basin(("a", node)))).Cases[0];
        Assert.Equal(CaseOutcome.Open, row.Outcome);
        Assert.Contains(told, row.Courses[0].Explanation, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_run_whose_stimulus_is_gone_makes_no_case()
    {
        var document = Basin();
        document.Stimuli["flood"] = new StimulusNode { Name = "Flood" };
        var session = Session(document with { Settings = document.Settings with { Stimulus = "flood" } });
        var run = await bench.Run(session.Id);
        var work = new CaseWork(bench.Runs, bench.Package);
        var without = session.Document with { Stimuli = [] };
        Assert.Contains("stimulus", Assert.Throws<RefusedException>(() => work.Captured(run, without, "x", ["l.y"])).Message);
    }

    [Fact]
    public void A_part_whose_names_would_mean_something_else_in_its_frame_is_not_run_alone()
    {
        // The use gives k what is called T outside; inside, T is another parameter.
        var inner = new DiagramDefinition
        {
            Name = "Station",
            Parameters = new()
            {
                ["k"] = new ParameterNode { Value = "1" },
                ["T"] = new ParameterNode { Value = "2" },
            },
            Parts = new() { ["l"] = Part("Gain", "Level", ("k", "k")), ["c"] = Part("Constant", "Idle") },
            Wires = new() { ["w"] = Wire("c.y", "l.u") },
        };
        var outer = new DiagramDefinition
        {
            Name = "Sound",
            Parameters = new() { ["T"] = new ParameterNode { Value = "5" } },
            Parts = new() { ["p"] = Part("#station", "North", ("k", "T")) },
        };
        var document = outer.AsModel().With("station", inner) with
        {
            Settings = new RunSettings { End = "1 s" },
            Cases = new()
            {
                ["a"] = new CaseNode { Name = "Alone", Subject = "p/l" },
            },
        };
        var row = Ran(Session(document)).Cases[0];
        Assert.Equal(CaseOutcome.Broken, row.Outcome);
        Assert.Contains("'T' means different parameters", row.Problem, StringComparison.Ordinal);
    }
}
