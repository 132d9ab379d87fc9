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

    static (RunResult Result, IReadOnlyList<(Origin Origin, long No, long Yes)> Tally) Run(string text, bool counting)
    {
        var prepared = TextModel.Prepare(text);
        using var simulator = new Simulator(
            PlanEmitter.Compile(prepared.Compiled!.Plan, counting),
            new ParameterSet(prepared.Model),
            new RunOptions { End = 1.05 }
        );
        return (simulator.Run(), simulator.Tally());
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
        var (decision, no, yes) = Assert.Single(tally, t => t.Origin.Kind == OriginKind.Decision && t.Origin.At.Line > 8);
        Assert.Equal((2, 9), (no, yes));
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
        var tally = simulator.Tally().Where(t => t.Origin.Kind == OriginKind.Decision).ToDictionary(t => t.Origin.Owner);
        Assert.Equal("limited", tally["a"].Origin.Type);
        Assert.True(tally["a"] is { No: > 0, Yes: > 0 });
        Assert.True(tally["b"] is { No: 0, Yes: > 0 });
    }
}
