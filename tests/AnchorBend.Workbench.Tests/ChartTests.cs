using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;
using AnchorBend.Simulation;
using static AnchorBend.Tests.Diagrams;
using static AnchorBend.Workbench.Tests.ChartParts;

namespace AnchorBend.Workbench.Tests;

/// <summary>State charts as parts: what W3C SCXML (2015) says of their steps, on small charts.</summary>
public class ChartTests
{
    /// <summary>The signals of a chart over time, whose inputs are expressions of the number k of the look, from 0 on.</summary>
    sealed class Played
    {
        readonly RunResult result;
        readonly PreparedModel prepared;

        public Played(ChartDefinition chart, double end, params (string Name, string Type, string Value)[] inputs)
        {
            var text =
                "block Inputs\n"
                + string.Concat(inputs.Select(i => $"output {i.Type} {i.Name};\n"))
                + "Integer k(start = -1, fixed = true);\nalgorithm\nwhen sample(0, 0.1) then\nk := k + 1;\n"
                + string.Concat(inputs.Select(i => $"{i.Name} := {i.Value};\n"))
                + "end when;\nend Inputs;\n";
            var parts = new Dictionary<string, PartNode> { ["c"] = Part("#c", "Chart") };
            if (inputs.Length > 0)
                parts["s"] = Part("Inputs", "Source");
            var document = new DiagramDefinition
            {
                Name = "Test",
                Parts = parts,
                Wires = inputs.ToDictionary(i => $"w{i.Name}", i => Wire($"s.{i.Name}", $"c.{i.Name}")),
            }
                .AsModel()
                .With("c", chart)
                .With("inputs", new TextDefinition { Name = "Inputs", Text = text });
            prepared = DocumentPreparation.Prepare(DocumentLimits.Checked(document), PartCatalog.Of(document));
            Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => $"{f.Part} {f.Item}: {f.Message}")));
            using var session = new RunSession(
                prepared,
                new ParameterSet(prepared.Model),
                new RunOptions { End = end, OutputInterval = 0.05 }
            );
            session.Advance(new PauseAt(), default);
            result = session.Result();
        }

        public SimulationFailure? Failure => result.Failure;

        /// <summary>A value after a look: half a period behind it.</summary>
        public double At(int look, string name)
        {
            var variable = prepared.Find($"Chart.{name}")!;
            var values = Simulation.Recording.RecordedSignal.Values(
                prepared,
                new ParameterSet(prepared.Model).Values,
                result.Trace,
                variable
            );
            return new Verification.Curve([.. result.Trace.Times], values).At(0.1 * look + 0.05)!.Value;
        }

        /// <summary>The active states that have none in them, by their paths.</summary>
        public string Active(int look, params string[] of) => string.Join(" ", of.Where(s => At(look, $"in {s}") == 1));
    }

    [Fact]
    public void A_guard_leads_on_and_what_is_active_acts_at_every_look()
    {
        var chart = Chart(
            [("a", State("Far")), ("b", State("Near", during: "n := n + 1", entry: "n := 0"))],
            [Go("a", "b", "u >= 3 and u < 6"), Go("b", "a", "u >= 6")],
            Name("u", NameKind.Input),
            Name("n", NameKind.Output)
        );
        var played = new Played(chart, 1, ("u", "Integer", "k"));
        Assert.Equal("Far", played.Active(2, "Far", "Near"));
        Assert.Equal("Near", played.Active(3, "Far", "Near"));
        Assert.Equal("Far", played.Active(6, "Far", "Near"));
        // The look that enters it is the first at which it acts.
        Assert.Equal([1, 2, 3, 3], new[] { 3, 4, 5, 6 }.Select(k => played.At(k, "n")));
    }

    [Fact]
    public void Microsteps_go_on_until_nothing_is_left_to_do()
    {
        var chart = Chart(
            [("a", State("A")), ("b", State("B", entry: "way := 10 * way + 2")), ("c", State("C", entry: "way := 10 * way + 3"))],
            [Go("a", "b", "u == 1"), Go("b", "c", "way > 1"), Go("c", "a", "u == 2")],
            Name("u", NameKind.Input),
            Name("way", NameKind.Output)
        );
        var played = new Played(chart, 0.5, ("u", "Integer", "if k == 1 then 1 elseif k == 3 then 2 else 0"));
        Assert.Equal(("C", 23), (played.Active(1, "A", "B", "C"), played.At(1, "way")));
        Assert.Equal("A", played.Active(3, "A", "B", "C"));
    }

    [Fact]
    public void An_inner_transition_goes_before_an_outer_one_and_priority_before_the_rest()
    {
        var chart = Chart(
            [("p", State("P")), ("x", State("X", "p")), ("y", State("Y", "p")), ("q", State("Q"))],
            [
                Go("p", "q", "u > 0"),
                Go("x", "y", "u > 0 and not done", action: "done := true; way := 10 * way + 1", priority: 1),
                Go("x", "q", "u > 1", action: "way := 10 * way + 2", priority: 0),
            ],
            Name("u", NameKind.Input),
            Name("done", NameKind.Local, "Boolean"),
            Name("way", NameKind.Output)
        );
        // With u = 1 the inner transition to Y is taken, then, in the next microstep, the outer one.
        var one = new Played(chart, 0.3, ("u", "Integer", "if k == 1 then 1 else 0"));
        Assert.Equal((1, "Q"), (one.At(1, "way"), one.Active(1, "P/X", "P/Y", "Q")));
        // With u = 2 the one that goes first leaves at once.
        var two = new Played(chart, 0.3, ("u", "Integer", "if k == 1 then 2 else 0"));
        Assert.Equal((2, "Q"), (two.At(1, "way"), two.Active(1, "P/X", "P/Y", "Q")));
    }

    [Fact]
    public void States_are_left_from_the_inside_and_entered_from_the_outside()
    {
        var chart = Chart(
            [
                ("p", State("P", exit: "way := 10 * way + 2")),
                ("x", State("X", "p", exit: "way := 10 * way + 1")),
                ("q", State("Q", entry: "way := 10 * way + 4")),
                ("y", State("Y", "q", entry: "way := 10 * way + 5")),
            ],
            [Go("x", "y", "u == 1", action: "way := 10 * way + 3")],
            Name("u", NameKind.Input),
            Name("way", NameKind.Output)
        );
        Assert.Equal(12345, new Played(chart, 0.3, ("u", "Integer", "k")).At(1, "way"));
    }

    [Fact]
    public void Regions_go_side_by_side_and_are_done_when_all_are()
    {
        var chart = Chart(
            [
                ("r", State("Both", kind: ChartStateKind.Parallel)),
                ("a", State("Left", "r")),
                ("a1", State("L1", "a")),
                ("a2", State("End", "a", ChartStateKind.Final)),
                ("b", State("Right", "r")),
                ("b1", State("R1", "b")),
                ("b2", State("End", "b", ChartStateKind.Final)),
                ("z", State("After")),
            ],
            [Go("a1", "a2", "u >= 1"), Go("b1", "b2", "u >= 3"), Go("r", "z", on: "done")],
            Name("u", NameKind.Input)
        );
        var played = new Played(chart, 0.6, ("u", "Integer", "k"));
        string At(int look) => played.Active(look, "Both/Left/L1", "Both/Left/End", "Both/Right/R1", "Both/Right/End", "After");
        Assert.Equal("Both/Left/L1 Both/Right/R1", At(0));
        Assert.Equal("Both/Left/End Both/Right/R1", At(1));
        Assert.Equal("After", At(3));
    }

    [Theory]
    [InlineData(ChartStateKind.History, "M/B/B1")]
    [InlineData(ChartStateKind.DeepHistory, "M/B/B2")]
    public void Histories_lead_back_to_what_was_active(ChartStateKind kind, string expected)
    {
        var chart = Chart(
            [
                ("m", State("M")),
                ("h", State("H", "m", kind)),
                ("a", State("A", "m")),
                ("b", State("B", "m")),
                ("b1", State("B1", "b")),
                ("b2", State("B2", "b")),
                ("o", State("Out")),
            ],
            [Go("a", "b", "u == 1"), Go("b1", "b2", "u == 2"), Go("m", "o", "u == 3"), Go("o", "h", "u == 4")],
            Name("u", NameKind.Input)
        );
        var played = new Played(chart, 0.6, ("u", "Integer", "k"));
        string[] all = ["M/A", "M/B/B1", "M/B/B2", "Out"];
        Assert.Equal(["M/A", "M/B/B1", "M/B/B2", "Out", expected], Enumerable.Range(0, 5).Select(k => played.Active(k, all)));
        // Before anything was left, a history stands for what is entered first.
        var fresh = new Played(
            chart with
            {
                States = new(chart.States) { ["o"] = chart.States["o"] with { Order = -1 } },
            },
            0.6,
            ("u", "Integer", "if k == 2 then 4 else 0")
        );
        Assert.Equal(["Out", "M/A"], new[] { 1, 2 }.Select(k => fresh.Active(k, all)));
    }

    [Fact]
    public void Events_are_taken_one_after_the_other_those_of_the_chart_first()
    {
        var chart = Chart(
            [("a", State("A"))],
            [
                Go("a", null, on: "first", action: "way := 10 * way + 1; again := true"),
                Go("a", null, on: "second", action: "way := 10 * way + 2"),
                Go("a", null, on: "again", action: "way := 10 * way + 9"),
            ],
            Name("first", NameKind.Event),
            Name("second", NameKind.Event),
            Name("again", NameKind.Signal),
            Name("way", NameKind.Output)
        );
        var played = new Played(chart, 1, ("first", "Boolean", "k >= 2 and k < 5"), ("second", "Boolean", "mod(k, 2) == 0 and k > 0"));
        // Both rise at the second look; held up, an event does not come again.
        Assert.Equal([0, 0, 192, 192, 1922], Enumerable.Range(0, 5).Select(k => played.At(k, "way")));
    }

    [Fact]
    public void Time_counts_from_entry_again_and_again_or_while_a_guard_holds()
    {
        var chart = Chart(
            [("a", State("A")), ("b", State("B")), ("c", State("C"))],
            [Go("a", "b", after: "300 ms"), Go("b", null, every: "0.2 s", action: "n := n + 1"), Go("b", "c", "u > 0", held: "0.25 s")],
            Name("u", NameKind.Input),
            Name("n", NameKind.Output)
        );
        // The guard holds for two looks, breaks, and holds from the tenth on.
        var played = new Played(chart, 1.6, ("u", "Integer", "if k == 6 or k == 7 or k >= 10 then 1 else 0"));
        string At(int look) => played.Active(look, "A", "B", "C");
        Assert.Equal(["A", "B", "B", "B", "C"], new[] { 2, 3, 8, 12, 13 }.Select(At));
        // Entered at 0.3 s: at 0.5, 0.7, 0.9 and 1.1 s.
        Assert.Equal([0, 1, 1, 2, 4], new[] { 4, 5, 6, 7, 11 }.Select(k => played.At(k, "n")));
    }

    [Fact]
    public void Junctions_are_passed_without_a_stop_and_words_stand_for_numbers()
    {
        var chart = Chart(
            [("a", State("A")), ("j", State("J", kind: ChartStateKind.Junction)), ("b", State("B")), ("c", State("C"))],
            [
                Go("a", "j", "u > 0", action: "way := 1"),
                Go("j", "b", "mode == slow", action: "way := 10 * way + 2"),
                Go("j", "c", "mode == fast", priority: 1),
            ],
            Name("u", NameKind.Input),
            Name("mode", NameKind.Input, "{slow, fast, off}"),
            Name("way", NameKind.Output)
        );
        var played = new Played(chart, 0.5, ("u", "Integer", "if k >= 1 then 1 else 0"), ("mode", "Integer", "if k < 3 then 3 else 2"));
        Assert.Equal(["A", "A", "C"], new[] { 1, 2, 3 }.Select(k => played.Active(k, "A", "B", "C")));
        Assert.Equal(1, played.At(3, "way"));
    }

    [Fact]
    public void A_chart_that_goes_around_without_an_end_stops_the_run_and_says_so()
    {
        var chart = Chart([("a", State("A")), ("b", State("B"))], [Go("a", "b", "u > 0"), Go("b", "a")], Name("u", NameKind.Input));
        var played = new Played(chart, 0.5, ("u", "Integer", "if k >= 2 then 1 else 0"));
        Assert.NotNull(played.Failure);
        Assert.Contains("goes around without an end", played.Failure.Message, StringComparison.Ordinal);
        Assert.Matches("Transition (A → B|B → A)", played.Failure.Message);
        Assert.Equal(0.2, played.Failure.Time, 1e-9);
    }

    [Fact]
    public void With_the_continuous_model_guards_make_exact_instants()
    {
        var chart = Chart(
            [("a", State("A")), ("b", State("B"))],
            [Go("a", "b", "x > 0.5 and at == 0", action: "at := time"), Go("b", "a", after: "0.2 s", action: "back := time")],
            Name("x", NameKind.Input, "Real"),
            Name("at", NameKind.Output, "Real"),
            Name("back", NameKind.Output, "Real")
        ) with
        {
            Period = null,
        };
        var document = new DiagramDefinition
        {
            Name = "Test",
            Parts = { ["s"] = Part("Sine", "Wave", ("f", "0.5 Hz")), ["c"] = Part("#c", "Chart") },
            Wires = { ["w"] = Wire("s.y", "c.x") },
        }
            .AsModel()
            .With("c", chart);
        var prepared = DocumentPreparation.Prepare(DocumentLimits.Checked(document), PartCatalog.Of(document));
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => f.Message)));
        using var session = new RunSession(prepared, new ParameterSet(prepared.Model), new RunOptions { End = 0.4 });
        session.Advance(new PauseAt(), default);
        double Last(string name) => session.Trace.Column(prepared.Compiled!.Plan.RepresentativeOf($"Chart.{name}"))[^1];
        // sin(π t) = 1/2 at a sixth of a second.
        Assert.Equal(1.0 / 6, Last("at"), 1e-8);
        Assert.Equal(1.0 / 6 + 0.2, Last("back"), 1e-8);
    }

    [Theory]
    [InlineData("u >", null, "Transition A → B, guard")]
    [InlineData("u > 0", "n := ", "Transition A → B, action")]
    [InlineData("u > 0", "end when; when u > 1 then n := 2", "Transition A → B, action")]
    [InlineData("u > 0", "n := 1; equation n = 3", "Only statements")]
    public void What_is_wrong_in_a_text_is_found_at_its_place(string guard, string? action, string told)
    {
        var chart = Chart(
            [("a", State("A")), ("b", State("B"))],
            [Go("a", "b", guard, action: action)],
            Name("u", NameKind.Input),
            Name("n", NameKind.Output)
        );
        var document = new DiagramDefinition { Name = "Test", Parts = { ["c"] = Part("#c", "Chart") } }
            .AsModel()
            .With("c", chart);
        var prepared = DocumentPreparation.Prepare(DocumentLimits.Checked(document), PartCatalog.Of(document));
        Assert.False(prepared.CanRun);
        Assert.Contains(prepared.Findings, f => f.Message.Contains(told, StringComparison.Ordinal));
    }

    [Fact]
    public void A_broken_chart_is_no_document()
    {
        static void Refused(ChartDefinition chart) =>
            Assert.Throws<DocumentException>(() =>
                DocumentLimits.Checked(
                    new DiagramDefinition { Name = "Test" }
                        .AsModel()
                        .With("c", chart)
                )
            );
        var around = Chart([("a", State("A", "b")), ("b", State("B", "a"))], []);
        Refused(around);
        Refused(Chart([("a", State("A"))], [Go("a", "nowhere")]));
        Refused(
            Chart(
                [("a", State("A")), ("j", State("J", kind: ChartStateKind.Junction)), ("k", State("K", kind: ChartStateKind.Junction))],
                [Go("a", "j"), Go("j", "k"), Go("k", "j")]
            )
        );
        Refused(Chart([("a", State("A"))], [], Name("u", NameKind.Input), Name("u", NameKind.Output)));
    }

    [Fact]
    public void A_chart_is_kept_as_it_is_in_the_document()
    {
        var chart = Chart(
            [("a", State("A", entry: "n := 1")), ("h", State("H", kind: ChartStateKind.History))],
            [Go("a", null, every: "2 s", local: true)],
            Name("n", NameKind.Output, "Real")
        );
        var document = new DiagramDefinition { Name = "Test" }
            .AsModel()
            .With("c", chart);
        var read = ModelDocument.FromJson(document.ToJson());
        Assert.Equal(document.ToJson(), read.ToJson());
        Assert.Equal("2 s", ((ChartDefinition)read.Definitions["c"]).Transitions["t0"].Every);
    }

    [Fact]
    public void Its_class_is_read_as_text_and_belongs_to_the_chart()
    {
        var bench = new Bench();
        var chart = Chart([("a", State("A"))], [], Name("u", NameKind.Input)) with { Period = "20 ms" };
        var document = new DiagramDefinition { Name = "Test", Parts = { ["c"] = Part("#c", "Chart") } }
            .AsModel()
            .With("c", chart);
        var session = bench.Models.Session(bench.Create(document));
        var texts = new Parts.PartTexts(
            bench.Package,
            bench.Open,
            new Compute.ComputeGate(),
            bench,
            Microsoft.Extensions.Logging.Abstractions.NullLogger<Parts.PartTexts>.Instance
        );
        var read = texts.Read(session, "#c", default);
        Assert.Equal(("Chart under test", "form"), (read.Name, read.Home));
        Assert.Contains("period(unit = \"s\", min = 0) = (20) * 0.001", read.Text, StringComparison.Ordinal);
    }

    /// <summary>Thirty regions of ten states, each with two ways on: what grows with the square of the states would be refused.</summary>
    [Fact]
    public void Charts_of_three_hundred_states_and_six_hundred_transitions_run()
    {
        var states = new List<(string, ChartStateNode)> { ("top", State("Top", kind: ChartStateKind.Parallel)) };
        var transitions = new List<ChartTransitionNode>();
        for (var r = 0; r < 30; r++)
        {
            states.Add(($"r{r}", State($"R{r}", "top")));
            for (var s = 0; s < 10; s++)
            {
                states.Add(($"r{r}s{s}", State($"S{s}", $"r{r}", entry: "n := n + 1")));
                transitions.Add(Go($"r{r}s{s}", $"r{r}s{(s + 1) % 10}", $"u >= {3 * r} and elapsed() > 0.05"));
                transitions.Add(Go($"r{r}s{s}", $"r{r}s{(s + 2) % 10}", $"u < {3 * r - 12} and elapsed() > 0.05", priority: 1));
            }
        }

        var chart = Chart([.. states], [.. transitions], Name("u", NameKind.Input), Name("n", NameKind.Output));
        var played = new Played(chart, 0.5, ("u", "Integer", "k"));
        // All regions are entered at look 0. A region goes a state on from look 3 r on, and two on while the look is before 3 r - 12.
        Assert.Equal(30, played.At(0, "n"));
        Assert.Equal(1, played.At(0, "in Top/R7/S0"));
        Assert.Equal(1, played.At(3, "in Top/R1/S1"));
        Assert.Equal(1, played.At(3, "in Top/R9/S6"));
        Assert.Equal(1, played.At(3, "in Top/R4/S0"));
        Assert.Equal(1, played.At(4, "in Top/R0/S4"));
    }
}
