using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Tests;

namespace AnchorBend.Verification.Tests;

public class RequirementTests
{
    const string Ringing =
        "Step s(height = 2, startTime = 1); SecondOrder p(w = 3, D = 0.4); parameter Real most = 7; equation connect(s.y, p.u);";

    static Verdict Check(RequirementNode requirement, string text = Ringing, double end = 11)
    {
        var prepared = TextModel.Prepare(text);
        var parameters = new ParameterSet(prepared.Model);
        var result = TextModel.Run(
            prepared,
            new RunOptions
            {
                End = end,
                RelativeTolerance = 1e-9,
                AbsoluteTolerance = 1e-11,
                OutputInterval = 1e-3,
            }
        );
        return new RequirementCheck(prepared, parameters, result.Trace, 0, end).Check("r", requirement);
    }

    static RequirementNode Of(RequirementKind kind, string limit) =>
        new()
        {
            Name = "r",
            Kind = kind,
            Signal = "p.y",
            Reference = "s.y",
            Limit = limit,
            From = "1 s",
        };

    static readonly double Decay = 0.4 / Math.Sqrt(1 - 0.16);

    [Fact]
    public void Overshoot_is_that_of_the_damping()
    {
        var expected = 100 * Math.Exp(-Math.PI * Decay);
        var verdict = Check(Of(RequirementKind.Overshoot, "20 %"));
        Assert.Equal(VerdictKind.Missed, verdict.Kind);
        Assert.Equal(expected, verdict.Actual!.Value, 1e-4);
        Assert.Equal(20 - expected, verdict.Margin!.Value, 1e-4);
        Assert.Equal(1 + Math.PI / (3 * Math.Sqrt(1 - 0.16)), verdict.Decides!.Value, 1e-3);
    }

    [Theory]
    [InlineData(RequirementKind.UpperLimit, "values are missing")]
    [InlineData(RequirementKind.SettlingTime, "values are missing")]
    public void Missing_values_leave_a_requirement_open(RequirementKind kind, string told)
    {
        var prepared = TextModel.Prepare(Ringing);
        var place = prepared.Compiled!.Plan.RepresentativeOf("p.y");
        var source = prepared.Compiled.Plan.RepresentativeOf("s.y");
        using var trace = Trace.Of(
            [place, source],
            [0, 1, 2, 3],
            [
                [0, 1, double.NaN, 2],
                [2, 2, 2, 2],
            ]
        );
        var check = new RequirementCheck(prepared, new ParameterSet(prepared.Model), trace, 0, 3);
        var verdict = check.Check("r", Of(kind, kind == RequirementKind.UpperLimit ? "7" : "1 s"));
        Assert.Equal((VerdictKind.Open, null, null), (verdict.Kind, verdict.Margin, verdict.Actual));
        Assert.Contains(told, verdict.Explanation, StringComparison.Ordinal);
        using var other = Trace.Of(
            [source],
            [0, 3],
            [
                [2, 2],
            ]
        );
        var none = new RequirementCheck(prepared, new ParameterSet(prepared.Model), other, 0, 3).Check("r", Of(kind, "1"));
        Assert.Equal((VerdictKind.Open, "The run did not keep this signal."), (none.Kind, none.Explanation));
    }

    [Fact]
    public void A_limit_takes_units_expressions_and_a_window()
    {
        Assert.Equal(VerdictKind.Met, Check(Of(RequirementKind.UpperLimit, "most")).Kind);
        Assert.Equal(VerdictKind.Missed, Check(Of(RequirementKind.UpperLimit, "2.1")).Kind);
        var late = Check(Of(RequirementKind.UpperLimit, "2.1") with { From = "8 s", To = "11 s" });
        Assert.Equal(VerdictKind.Met, late.Kind);
        Assert.InRange(late.Decides!.Value, 8, 11);
    }

    [Fact]
    public void Rise_time_of_a_lag_is_its_time_constant_times_ln_nine()
    {
        var verdict = Check(Of(RequirementKind.RiseTime, "1 s"), "Step s(startTime = 1); Lag p(T = 0.5); equation connect(s.y, p.u);");
        Assert.Equal(0.5 * Math.Log(9), verdict.Actual!.Value, 1e-4);
        Assert.Equal(VerdictKind.Missed, verdict.Kind);
    }

    [Fact]
    public void Settling_time_of_a_lag_is_when_it_enters_the_band()
    {
        var verdict = Check(
            Of(RequirementKind.SettlingTime, "3 s") with
            {
                Band = "5 %",
            },
            "Step s(startTime = 1); Lag p(T = 0.5); equation connect(s.y, p.u);"
        );
        Assert.Equal(0.5 * Math.Log(20), verdict.Actual!.Value, 1e-4);
        Assert.Equal(VerdictKind.Met, verdict.Kind);
        Assert.Equal(2, verdict.Lines.Count);
    }

    [Fact]
    public void Steady_state_error_of_a_proportional_loop_is_computed()
    {
        // P control with gain 4 leaves 1/(1 + 4) of the step.
        const string text =
            "Step s(startTime = 1); PID c(form = PID.Form.P, k = 4); Lag p(T = 0.5); "
            + "equation connect(s.y, c.r); connect(c.u, p.u); connect(p.y, c.y);";
        Assert.Equal(0.2, Check(Of(RequirementKind.SteadyStateError, "0.1"), text).Actual!.Value, 1e-6);
    }

    [Fact]
    public void A_limit_in_another_unit_is_converted()
    {
        const string text = "Real v(unit = \"m/s\"); equation v = 5;";
        var verdict = Check(
            new RequirementNode
            {
                Name = "r",
                Kind = RequirementKind.UpperLimit,
                Signal = "v",
                Limit = "20 km/h",
            },
            text
        );
        Assert.Equal(VerdictKind.Met, verdict.Kind);
        Assert.Equal(20 / 3.6 - 5, verdict.Margin!.Value, 1e-9);
        Assert.Contains("m/s", verdict.Unit, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("p.yy", "1")]
    [InlineData("p.y", "1 kg")]
    [InlineData("p.y", "nothing")]
    [InlineData("p.y", "")]
    public void What_cannot_be_checked_is_open_and_says_why(string signal, string limit)
    {
        var verdict = Check(
            new RequirementNode
            {
                Name = "r",
                Kind = RequirementKind.Overshoot,
                Signal = signal,
                Limit = limit,
            }
        );
        Assert.Equal(VerdictKind.Open, verdict.Kind);
        Assert.NotEmpty(verdict.Explanation);
    }

    [Fact]
    public void A_run_that_ended_early_leaves_the_verdict_open()
    {
        const string text = "Real x(start = 1); equation der(x) = x * x;";
        Assert.Equal(
            VerdictKind.Open,
            Check(
                new RequirementNode
                {
                    Name = "r",
                    Kind = RequirementKind.LowerLimit,
                    Signal = "x",
                    Limit = "0",
                },
                text,
                2
            ).Kind
        );
    }

    static Verdict OnMeasure(string expression, RequirementKind kind, string limit, string? measure = "m")
    {
        var prepared = TextModel.Prepare(
            "Step s(height = 2, startTime = 1); SecondOrder p(w = 3, D = 0.4); Real h(unit = \"m\"); "
                + "equation connect(s.y, p.u); h = 3*time;"
        );
        var result = TextModel.Run(prepared, new RunOptions { End = 11, OutputInterval = 1e-3 });
        var measures = new Dictionary<string, MeasureNode>
        {
            ["m"] = new() { Name = "Most", Expression = expression },
        };
        var requirement = new RequirementNode
        {
            Name = "r",
            Kind = kind,
            Signal = "",
            Measure = measure,
            Limit = limit,
        };
        return new RequirementCheck(prepared, new ParameterSet(prepared.Model), result.Trace, 0, 11, measures).Check("r", requirement);
    }

    [Theory]
    // 3 m/s for 11 s: 33 m at the end.
    [InlineData("final(h)", RequirementKind.UpperLimit, "40", VerdictKind.Met, 7)]
    [InlineData("final(h)", RequirementKind.UpperLimit, "3000 cm", VerdictKind.Missed, -3)]
    [InlineData("final(h)", RequirementKind.LowerLimit, "30 m", VerdictKind.Met, 3)]
    [InlineData("first(h, from = 5 s)", RequirementKind.LowerLimit, "16", VerdictKind.Missed, -1)]
    public void A_measure_is_held_to_a_limit_in_its_unit(
        string expression,
        RequirementKind kind,
        string limit,
        VerdictKind expected,
        double margin
    )
    {
        var verdict = OnMeasure(expression, kind, limit);
        Assert.Equal(expected, verdict.Kind);
        Assert.Equal(margin, verdict.Margin!.Value, 1e-6);
        Assert.Equal("m", verdict.Unit);
        Assert.Equal("Most", verdict.Explanation);
    }

    [Fact]
    public void A_share_is_held_to_per_cent_as_it_is_read()
    {
        var expected = 100 * Math.Exp(-Math.PI * Decay);
        var verdict = OnMeasure("overshoot(p.y, from = 1)", RequirementKind.UpperLimit, "30");
        Assert.Equal(("%", VerdictKind.Met), (verdict.Unit, verdict.Kind));
        Assert.Equal(30 - expected, verdict.Margin!.Value, 0.01);
    }

    [Theory]
    [InlineData("maximum(nothing)", RequirementKind.UpperLimit, "1", "m", "no signal 'nothing'")]
    [InlineData("final(h)", RequirementKind.UpperLimit, "1 s", "m", "given in s")]
    [InlineData("final(h)", RequirementKind.RiseTime, "1", "m", "upper or a lower limit")]
    [InlineData("final(h)", RequirementKind.UpperLimit, "1", "gone", "not in the model any more")]
    [InlineData("crossing(h, 99)", RequirementKind.UpperLimit, "1", "m", "")]
    public void What_a_measure_does_not_decide_stays_open_and_says_why(
        string expression,
        RequirementKind kind,
        string limit,
        string measure,
        string told
    )
    {
        var verdict = OnMeasure(expression, kind, limit, measure);
        Assert.Equal(VerdictKind.Open, verdict.Kind);
        Assert.NotEmpty(verdict.Explanation);
        Assert.Contains(told, verdict.Explanation, StringComparison.Ordinal);
    }

    [Fact]
    public void Lines_of_limits_say_which_side_is_allowed()
    {
        Assert.All(Check(Of(RequirementKind.UpperLimit, "3")).Lines, l => Assert.True(l.IsUpper));
        Assert.All(Check(Of(RequirementKind.LowerLimit, "0")).Lines, l => Assert.False(l.IsUpper));
        var settling = Check(Of(RequirementKind.SettlingTime, "4 s")).Lines;
        Assert.Equal([true, false], settling.Select(l => l.IsUpper));
        Assert.True(settling[0].Value > settling[1].Value);
        // Until the limit it may be anywhere: the window begins at 1 s.
        Assert.All(settling, l => Assert.Equal(5, l.From, 1e-12));
    }
}
