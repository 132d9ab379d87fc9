using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Rules;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Verification.Tests;

/// <summary>Temporal rules on signals whose course is known exactly.</summary>
public class RuleTests
{
    /// <summary>A ramp x = t, pulses of one second every three, and a counter of them.</summary>
    const string Signals =
        "Real x(start = 0, fixed = true, unit = \"m\"); Boolean on; discrete Integer n(start = 0, fixed = true); "
        + "equation der(x) = 1; on = sin(2 * 3.141592653589793 * time / 4) > 0; when on then n = pre(n) + 1; end when;";

    static Verdict Check(string rule, double end = 10, string text = Signals, double reached = double.NaN)
    {
        var prepared = TextModel.Prepare(text);
        var parameters = new ParameterSet(prepared.Model);
        var result = TextModel.Run(prepared, new RunOptions { End = double.IsNaN(reached) ? end : reached, OutputInterval = 0.01 });
        var node = new RequirementNode
        {
            Name = "r",
            Signal = "",
            Rule = rule,
        };
        return new RequirementCheck(prepared, parameters, result.Trace, 0, end).Check("r", node);
    }

    [Theory]
    [InlineData("always x < 12 m", 2, 10)]
    [InlineData("always x < 7", -3, 10)]
    [InlineData("never x > 12", 2, 10)]
    [InlineData("eventually x > 4", 6, 10)]
    [InlineData("eventually x > 40", -30, 10)]
    [InlineData("within 2 s x > 1.5", 0.5, 2)]
    [InlineData("within 1 s x > 1.5", -0.5, 1)]
    [InlineData("within 0.05 min x > 1.5", 1.5, 3)]
    [InlineData("x < 3 for at least 2 s", 1, 2)]
    [InlineData("x < 3 for at least 5 s", -2, 5)]
    [InlineData("always (x < 12 and x > -1)", 1, 0)]
    [InlineData("always (x < 3 or x > 2)", 0.5, 2.5)]
    [InlineData("always abs(x - 3 m) < 8", 1, 10)]
    [InlineData("x < 5 until x > 4", 0.5, 4.5)]
    [InlineData("x < 3 until x > 4", -0.5, 3.5)]
    [InlineData("x < 5 until within 3 s x > 4", -1, 3)]
    [InlineData("after x > 4, always x > 3.5", 0.5, 4)]
    [InlineData("after x > 4, within 2 s x > 5", 1, 6)]
    [InlineData("always (x > 3 implies x > 2)", 0.5, 2.5)]
    [InlineData("always (x < 4 or within 3 s x > 8)", -0.5, double.NaN)]
    public void Margins_are_those_of_the_ramp(string rule, double margin, double decides)
    {
        var verdict = Check(rule);
        // The last one looks beyond the run, but is missed within it: at x = 4.5 it is missed by 0.5 both ways.
        Assert.Equal(margin, verdict.Margin!.Value, 1e-6);
        Assert.Equal(margin >= 0 ? VerdictKind.Met : VerdictKind.Missed, verdict.Kind);
        Assert.Equal("m", verdict.Unit);
        if (!double.IsNaN(decides))
            Assert.Equal(decides, verdict.Decides!.Value, 0.01);
    }

    [Theory]
    [InlineData("always (x < 8 or within 3 s x > 12)")]
    [InlineData("after x > 9, within 2 s x > 11")]
    [InlineData("x > -1 for at least 20 s")]
    [InlineData("after x > 40, always x > 3")]
    [InlineData("whenever x > 40 then x > 3")]
    public void What_the_run_does_not_show_stays_open(string rule) => Assert.Equal(VerdictKind.Open, Check(rule).Kind);

    [Theory]
    [InlineData("always x < 12", VerdictKind.Open)]
    [InlineData("always x < 3", VerdictKind.Missed)]
    [InlineData("eventually x > 12", VerdictKind.Open)]
    [InlineData("eventually x > 2", VerdictKind.Met)]
    [InlineData("never x > 12", VerdictKind.Open)]
    [InlineData("x < 12 until x > 11", VerdictKind.Open)]
    [InlineData("x < 3 until x > 11", VerdictKind.Missed)]
    [InlineData("x < 5 until x > 3", VerdictKind.Met)]
    [InlineData("x < 12 for at least 3 s", VerdictKind.Met)]
    [InlineData("within 2 s x > 3", VerdictKind.Missed)]
    [InlineData("whenever on then x < 20", VerdictKind.Open)]
    [InlineData("whenever on then x < 3", VerdictKind.Missed)]
    public void A_run_that_was_to_go_on_decides_only_what_the_rest_cannot_change(string rule, VerdictKind kind) =>
        // The rest of the run from 5 to 10 s is not there.
        Assert.Equal(kind, Check(rule, reached: 5).Kind);

    [Theory]
    [InlineData("always x < 12 m", "0–10 s x < 12")]
    [InlineData("never x > 12", "0–10 s x < 12")]
    [InlineData("x < 12 for at least 3 s", "0–3 s x < 12")]
    [InlineData("within 4 s x > 2", "0–4 s x > 2 once")]
    [InlineData("within 4 s always x > 2", "4–10 s x > 2")]
    [InlineData("always (x < 12 and x > -1)", "0–10 s x < 12; 0–10 s x > -1")]
    [InlineData("always (x < 12 or x > 14)", "")]
    [InlineData("always not (x < -1 or x > 14)", "0–10 s x > -1; 0–10 s x < 14")]
    [InlineData("x < 5 until x > 4", "0–4 s x < 5; 0–10 s x > 4 once")]
    [InlineData("after x > 4, always x > 3.5", "4–10 s x > 3.5")]
    [InlineData("whenever on then within 2 s x > 5", "0–2 s x > 5 once; 4–6 s x > 5 once; 8–10 s x > 5 once")]
    [InlineData("always x < 2 * x + 1", "")]
    public void What_a_rule_wants_of_a_signal_can_be_drawn(string rule, string drawn) =>
        Assert.Equal(
            drawn.Split("; ", StringSplitOptions.RemoveEmptyEntries).Order(),
            Check(rule)
                .Lines.Select(l =>
                    FormattableString.Invariant(
                        $"{l.From:0.###}–{l.To:0.###} s {l.Signal} {(l.IsUpper ? "<" : ">")} {l.Value:0.###}{(l.IsOnce ? " once" : "")}"
                    )
                )
                .Order()
        );

    [Fact]
    public void Every_occasion_has_an_outcome_of_its_own()
    {
        // Pulses begin at 0, 4 and 8 s; the ramp is above 5 within 2 s of the second and third alone.
        var verdict = Check("whenever on then within 2 s x > 5", 12);
        Assert.Equal(VerdictKind.Missed, verdict.Kind);
        Assert.Equal([0.0, 4, 8], verdict.Occasions.Select(o => Math.Round(o.At!.Value, 6)));
        Assert.Equal([VerdictKind.Missed, VerdictKind.Met, VerdictKind.Met], verdict.Occasions.Select(o => o.Kind));
        double[] margins = [-3, 1, 5];
        for (var i = 0; i < 3; i++)
            Assert.Equal(margins[i], verdict.Occasions[i].Margin!.Value, 1e-6);
        Assert.Equal(-3, verdict.Margin!.Value, 1e-6);
        Assert.Contains("3 times, missed 1", verdict.Explanation, StringComparison.Ordinal);
        Assert.Contains("3 s late", verdict.Explanation, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(9, VerdictKind.Open)] // The third pulse has lasted for a second.
    [InlineData(11, VerdictKind.Met)]
    public void An_occasion_that_the_end_of_the_run_leaves_open_is_not_met(double end, VerdictKind kind) =>
        Assert.Equal(kind, Check("whenever on for at least 1.5 s then x < 20", end).Kind);

    [Fact]
    public void Where_only_times_have_a_size_the_margin_is_a_time()
    {
        var verdict = Check("whenever x > 1 then within 4 s n becomes 2");
        // The second pulse begins at 4 s, the time is over at 5 s.
        Assert.Equal((VerdictKind.Met, "s"), (verdict.Kind, verdict.Unit));
        Assert.Equal(1, verdict.Margin!.Value, 1e-6);
        verdict = Check("whenever x > 1 then within 2 s n == 2");
        Assert.Equal((VerdictKind.Missed, "s"), (verdict.Kind, verdict.Unit));
        Assert.Equal(-1, verdict.Margin!.Value, 1e-6);
        Assert.Equal(VerdictKind.Met, Check("always (not on or n > 0)").Kind);
    }

    [Theory]
    [InlineData("x stays below 12 m for at least 3 s", VerdictKind.Met)]
    [InlineData("after n is 2, always x is above 3 m", VerdictKind.Met)]
    [InlineData("after n becomes 2, x stays above 5 for at least 1 s", VerdictKind.Missed)]
    [InlineData("not (eventually x > 3)", VerdictKind.Missed)]
    [InlineData("eventually x > 3 and always x < 11", VerdictKind.Met)]
    [InlineData("(always x < 11) and (eventually x > 30)", VerdictKind.Missed)]
    [InlineData("always x < 1.5 * final(x)", VerdictKind.Met)]
    [InlineData("whenever n == 1 then after n == 2, x > 3", VerdictKind.Met)]
    public void Words_stand_for_comparisons(string rule, VerdictKind kind) => Assert.Equal(kind, Check(rule).Kind);

    [Theory]
    [InlineData("always x - x > 0", VerdictKind.Missed)]
    [InlineData("always x - x >= 0", VerdictKind.Met)]
    [InlineData("never x - x > 0", VerdictKind.Met)]
    [InlineData("always not (x - x < 0)", VerdictKind.Met)]
    [InlineData("whenever x - x > 0 then x > 40", VerdictKind.Open)]
    public void What_is_equal_is_not_larger(string rule, VerdictKind kind)
    {
        var verdict = Check(rule);
        Assert.Equal(kind, verdict.Kind);
        Assert.True(verdict.Margin is null or 0);
    }

    [Theory]
    [InlineData("x > 1 or x > 2 and eventually x > 3")]
    [InlineData("(eventually x > 1) and (eventually x > 2) or (eventually x > 3)")]
    [InlineData("(eventually x > 1) and x > 2 implies x > 3")]
    [InlineData("always (x > 1 or x > 2 and eventually x > 3)")]
    public void Connectives_that_meet_need_brackets(string rule) =>
        Assert.Contains("without brackets", Check(rule).Explanation, StringComparison.Ordinal);

    [Theory]
    [InlineData("(x > 1 or x > -2) and eventually x > 3", VerdictKind.Met)]
    [InlineData("x > 1 and x > 2 or eventually x > 3", VerdictKind.Met)]
    [InlineData("always ((x > 11 and x > 2) or (x < 11 and x > -1))", VerdictKind.Met)]
    public void What_is_clear_is_read(string rule, VerdictKind kind) => Assert.Equal(kind, Check(rule).Kind);

    [Theory]
    [InlineData("always", "a condition on signals")]
    [InlineData("whenever x > 1", "'then'")]
    [InlineData("after x > 1 always x > 2", "a comma")]
    [InlineData("within 3 x > 2", "a time with its unit")]
    [InlineData("within -3 s x > 2", "a time")]
    [InlineData("x > 1 for 3 s", "for at least")]
    [InlineData("always (x > 1", "')'")]
    [InlineData("always y > 1", "no signal 'y'")]
    [InlineData("always x", "a condition is needed")]
    [InlineData("always x > 3 s", "unit")]
    [InlineData("within 3 kg x > 2", "time")]
    [InlineData("always whenever on then x > 2", "begin a rule")]
    public void What_is_wrong_is_told(string rule, string told)
    {
        var verdict = Check(rule);
        Assert.Equal(VerdictKind.Open, verdict.Kind);
        Assert.Contains(told, verdict.Explanation, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public void Any_text_is_read_or_refused()
    {
        string[] words =
        [
            "always",
            "within",
            "2 s",
            "x > 1",
            "(",
            ")",
            "and",
            "or",
            "not",
            "then",
            "whenever",
            ",",
            "for at least",
            "until",
            "'",
            "after",
        ];
        var random = new Random(5);
        for (var n = 0; n < 3000; n++)
        {
            var text = string.Join(' ', Enumerable.Range(0, random.Next(1, 9)).Select(_ => words[random.Next(words.Length)]));
            try
            {
                Assert.NotEmpty(RuleParser.StatesOf(RuleParser.Parse(text)));
            }
            catch (LanguageException e)
            {
                Assert.NotEmpty(e.Error.Message);
            }
        }
    }
}
