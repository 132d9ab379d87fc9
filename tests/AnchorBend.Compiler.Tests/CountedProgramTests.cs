using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Terms;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Compiler.Tests;

/// <summary>Code that counts what it decides computes the same, and tells where each decision stands in the text.</summary>
public class CountedProgramTests
{
    const string Gate = """
        parameter Real k = 2;
        Real x(start = 0);
        Real y;
        discrete Real n(start = 0);
        equation
        der(x) = k;
        y = if x > 1 then 2 * x else x;
        algorithm
        when sample(0, 0.1) then
          if n < 3 then
            n := n + 1;
          else
            n := 0;
          end if;
        end when;
        """;

    static (RunResult Result, IReadOnlyList<TalliedPlace> Tally) Run(string text, bool counting)
    {
        var prepared = TextModel.Prepare(text);
        using var simulator = new Simulator(
            PlanEmitter.Compile(prepared.Compiled!.Plan, counting),
            new ParameterSet(prepared.Model),
            new RunOptions { End = 1.05 }
        );
        return (simulator.Run(), simulator.Tally().Places);
    }

    [Fact]
    public void It_computes_the_same_bits_as_code_that_does_not_count()
    {
        var (plain, counted) = (Run(Gate, false).Result, Run(Gate, true).Result);
        Assert.Null(plain.Failure);
        Assert.Equal(plain.Trace.Times, counted.Trace.Times);
        foreach (var variable in plain.Trace.Variables)
            Assert.Equal(plain.Trace.Column(variable), counted.Trace.Column(variable));
    }

    [Fact]
    public void Steps_are_counted_at_their_events_with_their_places_in_the_text()
    {
        var tally = Run(Gate, true).Tally;
        // Eleven samples from 0 to 1 s: n goes 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3. Lines count from the one of the class on.
        var choice = Assert.Single(tally, t => t.Origin.Kind == OriginKind.Decision && t.Origin.At.Line > 8);
        Assert.Equal((2, 9), (choice.No, choice.Yes));
        var decision = choice.Origin;
        var sets = tally.Where(t => t.Origin.Kind == OriginKind.Assignment).OrderBy(t => t.Origin.At.Line).ToList();
        Assert.Equal([9, 2], sets.Select(s => s.Yes));
        Assert.Equal(decision.At.Line + 1, sets[0].Origin.At.Line);
        Assert.Equal(decision.At.Line + 3, sets[1].Origin.At.Line);
    }

    [Fact]
    public void Decisions_of_equations_come_out_both_ways_where_the_run_sees_both()
    {
        var tally = Run(Gate, true).Tally;
        var both = Assert.Single(tally, t => t.Origin.Kind == OriginKind.Decision && t.Origin.At.Line <= 8);
        Assert.True(both.No > 0 && both.Yes > 0);
        Assert.Contains(tally, t => t.Origin.Kind == OriginKind.Condition && t.Origin.At.Line == both.Origin.At.Line && t.Yes > 0);
        // With k = 0.1 x stays below 1.
        var never = Run(Gate.Replace("k = 2", "k = 0.1", StringComparison.Ordinal), true).Tally;
        Assert.Equal(0, Assert.Single(never, t => t.Origin.Kind == OriginKind.Decision && t.Origin.At.Line <= 8).Yes);
    }

    [Fact]
    public void Functions_are_told_with_the_instance_that_calls_them()
    {
        const string text = """
            model Part Real x(start = 0.5); Real y; equation der(x) = 1; y = limited(x); end Part;
            function limited input Real u; output Real y; algorithm y := if u > 1 then 1 else u; end limited;
            model M Part a; Part b(x(start = 3)); end M;
            """;
        var prepared = TextModel.Prepare(text);
        using var simulator = new Simulator(
            PlanEmitter.Compile(prepared.Compiled!.Plan, true),
            new ParameterSet(prepared.Model),
            new RunOptions { End = 1 }
        );
        simulator.Run();
        var tally = simulator.Tally().Places.Where(t => t.Origin.Kind == OriginKind.Decision).ToDictionary(t => t.Origin.Owner);
        Assert.Equal("limited", tally["a"].Origin.Type);
        Assert.True(tally["a"] is { No: > 0, Yes: > 0 });
        Assert.True(tally["b"] is { No: 0, Yes: > 0 });
    }

    static Tally TallyOf(string text, double end)
    {
        var prepared = TextModel.Prepare(text);
        using var simulator = new Simulator(
            PlanEmitter.Compile(prepared.Compiled!.Plan, true),
            new ParameterSet(prepared.Model),
            new RunOptions { End = end }
        );
        Assert.Null(simulator.Run().Failure);
        return simulator.Tally();
    }

    [Fact]
    public void Several_conditions_are_counted_together_with_what_came_of_them()
    {
        // x rises from 0 to 3: only the second fails before 1, both hold until 2, then the first fails and the second is not asked.
        var tally = TallyOf("Real x(start = 0); Boolean y; equation der(x) = 1; y = x < 2 and x > 1;", 3);
        var vectors = Assert.Single(tally.Vectors);
        Assert.Equal(2, vectors.Conditions);
        Assert.Equal(["F- False", "TF False", "TT True"], vectors.Seen.Select(s => $"{s.Ways} {s.Outcome}").Order(StringComparer.Ordinal));
        // Put together they are a decision of their own.
        var decision = Assert.Single(tally.Places, p => p.Origin.Kind == OriginKind.Decision);
        Assert.Equal(vectors.Seen.Where(s => s.Outcome).Sum(s => s.Count), decision.Yes);
        Assert.Equal(vectors.Seen.Where(s => !s.Outcome).Sum(s => s.Count), decision.No);
    }

    [Fact]
    public void Plain_truths_are_conditions_too_and_what_is_negated_keeps_its_place()
    {
        const string text =
            "Boolean a; Boolean b; Boolean c; Boolean y; equation a = time > 1; b = time > 2; c = time > 3; " + "y = a and not (b or c);";
        var vectors = Assert.Single(TallyOf(text, 4).Vectors);
        Assert.Equal(3, vectors.Conditions);
        // Before 1 s the first decides; then all are asked; from 2 s on the second decides.
        Assert.Equal(
            ["F-- False", "TFF True", "TT- False"],
            vectors.Seen.Select(s => $"{s.Ways} {s.Outcome}").Order(StringComparer.Ordinal)
        );
    }

    [Fact]
    public void Conditions_within_conditions_are_noted_by_themselves()
    {
        const string text =
            "Real x(start = 0); Real y; equation der(x) = 1; " + "y = if x > 1 and (if x > 2 and x < 9 then 1 else 0) > 0.5 then 1 else 0;";
        var tally = TallyOf(text, 3);
        Assert.Equal(2, tally.Vectors.Count);
        var ways = tally.Vectors.Select(v => string.Join(' ', v.Seen.Select(s => s.Ways).Distinct().Order(StringComparer.Ordinal))).Order();
        Assert.Equal(["F- TF TT", "F- TT"], ways.Order(StringComparer.Ordinal));
    }

    [Fact]
    public void Relations_count_how_often_they_turn()
    {
        // A sine of one hertz for 2.4 s rises past a half three times and falls past it twice.
        var tally = TallyOf("Real y; equation y = if sin(6.283185307179586 * time) > 0.5 then 1 else 0;", 2.4);
        var relation = Assert.Single(tally.Places, p => p.Origin.Kind == OriginKind.Condition);
        Assert.Equal((3, 2), (relation.Up, relation.Down));
        // One that never turns has no border that it came by, whichever side it is on.
        tally = TallyOf("Real y; equation y = if sin(time) > 5 then 1 else 0;", 3);
        relation = Assert.Single(tally.Places, p => p.Origin.Kind == OriginKind.Condition);
        Assert.Equal((0, 0, 0), (relation.Up, relation.Down, relation.Yes));
    }

    [Fact]
    public void Tables_count_the_intervals_that_they_are_read_in()
    {
        const string text =
            "parameter Real xs[4] = {0, 1, 2, 3}; parameter Real ys[4] = {0, 1, 4, 9}; Real u(start = -0.5); Real y; "
            + "equation der(u) = 1; y = interpolate(u, xs, ys);";
        var table = Assert.Single(TallyOf(text, 2).Tables);
        Assert.Equal([0.0, 1, 2, 3], table.Knots);
        // From -0.5 to 1.5: before the first knot, in the first interval and in the second.
        Assert.Equal([true, true, true, false, false], table.Counts.Select(c => c > 0));
        Assert.Equal([false, true, false, false, false], Single(0.25).Counts.Select(c => c > 0));
        // The last knot belongs to the last interval, an inner one to that behind it.
        Assert.Equal([false, false, false, true, false], Single(3).Counts.Select(c => c > 0));
        Assert.Equal([false, false, true, false, false], Single(1).Counts.Select(c => c > 0));
        Assert.Equal([false, false, false, false, true], Single(3.5).Counts.Select(c => c > 0));

        TalliedTable Single(double at) =>
            Assert.Single(
                TallyOf(
                    FormattableString.Invariant(
                        $"parameter Real xs[4] = {{0, 1, 2, 3}}; parameter Real ys[4] = {{0, 1, 4, 9}}; Real u(start = {at}, "
                    ) + "fixed = true); Real y; equation der(u) = 0; y = interpolate(u, xs, ys);",
                    1
                ).Tables
            );
    }

    [Theory]
    [InlineData("equation when x > 0.5 then n = pre(n) + 1; elsewhen x > 5 then n = 0; end when;")]
    [InlineData("algorithm when x > 0.5 then n := pre(n) + 1; elsewhen x > 5 then n := 0; end when;")]
    public void Clauses_count_how_often_their_time_comes(string clause)
    {
        var tally = TallyOf($"Real x(start = 0); discrete Integer n(start = 0, fixed = true); equation der(x) = 1; {clause}", 2);
        var clauses = tally.Places.Where(p => p.Origin.Kind == OriginKind.Clause).OrderBy(p => p.Origin.At.Column).ToList();
        Assert.Equal([true, false], clauses.Select(c => c.Yes > 0));
    }
}
