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
            "Step s(startTime = 1); PID c(form = PID.Form.P, k = 4); Lag p(T = 0.5); equation connect(s.y, c.r); connect(c.u, p.u); connect(p.y, c.y);";
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
}
