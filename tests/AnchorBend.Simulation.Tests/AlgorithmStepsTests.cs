using System.Globalization;
using System.Text;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>
/// Algorithms that act at events are kept as steps. What steps cannot do (calls of functions written in the language) makes terms of them, so
/// the same algorithm with such a call where it changes nothing is an independent second opinion.
/// </summary>
public class AlgorithmStepsTests
{
    static readonly string[] Names = ["a", "b", "c", "d"];

    static string Value(Random random, int depth) =>
        depth == 0
            ? random.Next(6) switch
            {
                0 => "x",
                1 => "time",
                2 => $"pre({Names[random.Next(4)]})",
                3 => $"{random.Next(-3, 4)}",
                _ => Names[random.Next(4)],
            }
            : random.Next(5) switch
            {
                0 => $"({Value(random, depth - 1)} + {Value(random, depth - 1)})",
                1 => $"0.5 * {Value(random, depth - 1)}",
                2 => $"max({Value(random, depth - 1)}, {Value(random, depth - 1)})",
                3 => $"(if {Condition(random, depth - 1)} then {Value(random, depth - 1)} else {Value(random, depth - 1)})",
                _ => $"sin({Value(random, depth - 1)})",
            };

    /// <summary>Bounds that no value meets exactly: at a tie it is rounding that decides.</summary>
    static string Bound(Random random) => (4 * random.NextDouble() - 2).ToString("F6", CultureInfo.InvariantCulture);

    static string Condition(Random random, int depth) =>
        random.Next(4) switch
        {
            0 => $"not {Value(random, depth)} > {Bound(random)}",
            1 => $"({Value(random, depth)} < {Bound(random)} and {Value(random, depth)} >= {Bound(random)})",
            2 => $"({Value(random, depth)} <= {Bound(random)} or x > 0.312345)",
            _ => $"{Value(random, depth)} > {Bound(random)}",
        };

    static void Statements(Random random, int depth, StringBuilder text)
    {
        for (var n = random.Next(1, 4); n > 0; n--)
            switch (depth == 0 ? 0 : random.Next(4))
            {
                case 1:
                    text.Append($"if {Condition(random, 1)} then\n");
                    Statements(random, depth - 1, text);
                    text.Append($"elseif {Condition(random, 0)} then\n");
                    Statements(random, depth - 1, text);
                    if (random.Next(2) == 0)
                    {
                        text.Append("else\n");
                        Statements(random, depth - 1, text);
                    }

                    text.Append("end if;\n");
                    break;
                case 2:
                    text.Append("for i in 1:2 loop\n");
                    Statements(random, depth - 1, text);
                    text.Append($"v[i] := v[3 - i] + i * {Names[random.Next(4)]};\nend for;\n");
                    break;
                case 3:
                    text.Append($"v := {{v[2], {Value(random, 1)}}};\n");
                    break;
                default:
                    text.Append($"{Names[random.Next(4)]} := {Value(random, 2)};\n");
                    break;
            }
    }

    static string Model(Random random, bool withCall)
    {
        var text = new StringBuilder("model M\nfunction same input Real u; output Real y; algorithm y := u; end same;\n");
        text.Append("Real x(start = 0.2, fixed = true), w(start = 1, fixed = true);\n");
        text.Append(string.Concat(Names.Select((n, i) => $"discrete Real {n}(start = {i - 1}, fixed = true);\n")));
        text.Append(
            "discrete Real v[2](start = {1, -1}, each fixed = true);\nequation\nder(x) = w; der(w) = -4 * x - 0.01 * a;\nalgorithm\n"
        );
        text.Append("when {sample(0, 0.3), x > 0.25} then\n");
        Statements(random, 2, text);
        // What is not set otherwise keeps its value.
        text.Append("a := a; b := b; c := c; d := d; v := v;\n");
        if (withCall)
            text.Append("a := same(a);\n");
        text.Append("elsewhen x < -0.3 then\n");
        Statements(random, 1, text);
        return text.Append("end when;\nend M;\n").ToString();
    }

    [Theory]
    [InlineData(0), InlineData(100), InlineData(200), InlineData(300)]
    public void Random_algorithms_do_as_steps_what_they_do_as_terms(int first)
    {
        for (var seed = first; seed < first + 25; seed++)
        {
            var options = new RunOptions
            {
                End = 3,
                RelativeTolerance = 1e-11,
                AbsoluteTolerance = 1e-13,
            };
            var text = Model(new Random(seed), false);
            var (steps, terms) = (TextModel.Prepare(text), TextModel.Prepare(Model(new Random(seed), true)));
            Assert.True(steps.CanRun && terms.CanRun, text);
            var (a, b) = (TextModel.Run(steps, options), TextModel.Run(terms, options));
            foreach (var name in (string[])[.. Names, "v[1]", "v[2]", "x"])
            {
                var (p, q) = (steps.Compiled!.Plan.RepresentativeOf(name), terms.Compiled!.Plan.RepresentativeOf(name));
                Assert.True(
                    Math.Abs(a.Trace[a.Trace.Rows - 1, p] - b.Trace[b.Trace.Rows - 1, q])
                        <= 1e-7 * (1 + Math.Abs(b.Trace[b.Trace.Rows - 1, q])),
                    $"seed {seed}, {name}: {a.Trace[a.Trace.Rows - 1, p]:R}, not {b.Trace[b.Trace.Rows - 1, q]:R}\n{text}"
                );
            }
        }
    }

    /// <summary>At the instant of an event a comparison with time has the truth that it goes on with.</summary>
    [Theory]
    [InlineData("time > 0.5", 1)]
    [InlineData("time >= 0.5", 1)]
    [InlineData("time < 0.5", 0)]
    [InlineData("time <= 0.5", 0)]
    [InlineData("time - pre(at) > 0.5", 1)]
    [InlineData("not time > 0.5 + pre(at)", 0)]
    public void Time_is_compared_as_in_equations(string condition, double expected)
    {
        // Half a second is a tick exactly; the same condition stands in an equation and in the steps.
        var text = $"""
            discrete Real at(start = 0, fixed = true), inSteps(start = -1, fixed = true), inEquation(start = -1, fixed = true);
            equation
            when sample(0, 0.25) then inEquation = if {condition} then 1 else 0; end when;
            algorithm
            when sample(0, 0.25) then if {condition} then inSteps := 1; else inSteps := 0; end if; at := at + 0; end when;
            """;
        var result = TextModel.Run(text, 0.6);
        var plan = TextModel.Prepare(text).Compiled!.Plan;
        Assert.Equal(
            (expected, expected),
            (
                result.Trace[result.Trace.Rows - 1, plan.RepresentativeOf("inSteps")],
                result.Trace[result.Trace.Rows - 1, plan.RepresentativeOf("inEquation")]
            )
        );
    }

    [Fact]
    public void Conditions_may_speak_of_what_the_algorithm_itself_sets()
    {
        const string text = """
            discrete Real n(start = 0, fixed = true), k(start = 0, fixed = true);
            algorithm
            when n > 2.5 then n := 0; elsewhen sample(0, 1) then n := n + 1; end when;
            when n > 1.5 then k := k + 1; end when;
            """;
        double[] times = [0.5, 1.5, 2.5, 3.5, 4.5, 5.5];
        // At 2 s it reaches 3 and goes back within the same event.
        Assert.Equal([1, 2, 0, 1, 2, 0], TextModel.Values(text, "n", times));
        Assert.Equal([0, 1, 1, 1, 2, 2], TextModel.Values(text, "k", times));
        Assert.Equal(
            [1, 2, 0, 1, 2, 0],
            TextModel.Values(
                text[..text.LastIndexOf("when n", StringComparison.Ordinal)]
                    .Replace(", k(start = 0, fixed = true)", "", StringComparison.Ordinal),
                "n",
                times
            )
        );
    }

    [Fact]
    public void A_start_value_is_not_lost_where_a_variable_equals_what_its_value_is_made_of()
    {
        // The last value is so long that it gets a variable of its own, which has no start.
        var sum = string.Join(" + ", Enumerable.Range(1, 60).Select(i => $"0.0 * sin(x + {i})"));
        var text = $"""
            function same input Real u; output Real y; algorithm y := u; end same;
            Real x(start = 0, fixed = true); discrete Real d(start = 2, fixed = true), was(start = 0, fixed = true);
            equation der(x) = 1;
            algorithm when sample(0.5, 1) then was := pre(d); d := same({sum} + d + 1); end when;
            """;
        Assert.Equal([2.0, 3.0], TextModel.Values(text, "was", [0.6, 1.6]).Select(v => Math.Round(v, 12)));
    }

    [Fact]
    public void What_steps_compare_makes_no_events_of_its_own()
    {
        const string sampled = """
            Real x; discrete Real n(start = 0, fixed = true);
            equation x = sin(10 * time);
            algorithm when sample(0, 1) then if x > 0.5 then n := n + 1; end if; end when;
            """;
        var result = TextModel.Run(sampled, 5.5);
        // Six ticks; the sixteen crossings of 0.5 in between are nobody's business.
        Assert.InRange(result.Statistics.TimeEvents + result.Statistics.StateEvents, 5, 7);
    }

    [Fact]
    public void Units_of_steps_are_checked_like_those_of_equations()
    {
        var prepared = TextModel.Prepare(
            """
            parameter Real speed(unit = "m/s") = 2; discrete Real way(unit = "m", start = 0, fixed = true);
            algorithm when sample(0, 1) then way := way + speed; end when;
            """
        );
        Assert.Contains(prepared.Findings, f => f.Message.Contains("units do not agree", StringComparison.Ordinal));
    }
}
