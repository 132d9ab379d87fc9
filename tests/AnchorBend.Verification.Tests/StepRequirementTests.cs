using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Tests;

namespace AnchorBend.Verification.Tests;

/// <summary>Responses without a window: every step of the set-point is an occasion, judged by exact solutions of lags.</summary>
public class StepRequirementTests
{
    /// <summary>The set-point goes to 1 at 2 s, to 3 at 8 s and back to 2 at 11 s; a lag of 0.5 s follows.</summary>
    const string Stairs =
        "Step a(height = 1, startTime = 2); Step b(height = 2, startTime = 8); Step c(height = -1, startTime = 11); "
        + "Real r; Lag p(T = 0.5); equation r = a.y + b.y + c.y; p.u = r;";

    static Verdict Check(RequirementKind kind, string limit, string text = Stairs, double end = 20, double stopped = double.NaN)
    {
        var prepared = TextModel.Prepare(text);
        var options = new RunOptions
        {
            End = double.IsNaN(stopped) ? end : stopped,
            RelativeTolerance = 1e-9,
            AbsoluteTolerance = 1e-11,
            OutputInterval = 1e-3,
        };
        var node = new RequirementNode
        {
            Name = "r",
            Kind = kind,
            Signal = "p.y",
            Reference = "r",
            Limit = limit,
            Band = "5 %",
        };
        return new RequirementCheck(prepared, new ParameterSet(prepared.Model), TextModel.Run(prepared, options).Trace, 0, end).Check(
            "r",
            node
        );
    }

    [Fact]
    public void Every_step_of_the_set_point_is_found_and_judged()
    {
        var verdict = Check(RequirementKind.SettlingTime, "1.6 s");
        Assert.Equal(VerdictKind.Met, verdict.Kind);
        Assert.Equal([2.0, 8, 11], verdict.Occasions.Select(o => Math.Round(o.At!.Value, 9)));
        // A lag enters a band of 5 % of its step after T ln 20, whatever the step.
        foreach (var occasion in verdict.Occasions)
            Assert.Equal(0.5 * Math.Log(20), occasion.Actual!.Value, 1e-4);
        Assert.Contains("3 times, worst at", verdict.Explanation, StringComparison.Ordinal);
    }

    [Fact]
    public void The_margin_is_that_of_the_worst_step()
    {
        // The step to 3 is cut off by the next one after 3 s, 6 T: e^-6 of 2 is left; of the others far less.
        var verdict = Check(RequirementKind.SteadyStateError, "0.003");
        Assert.Equal(VerdictKind.Missed, verdict.Kind);
        Assert.Equal(2 * Math.Exp(-6), verdict.Actual!.Value, 1e-6);
        Assert.Equal(0.003 - 2 * Math.Exp(-6), verdict.Margin!.Value, 1e-6);
        Assert.Contains("3 times, missed 1, worst at 8 s", verdict.Explanation, StringComparison.Ordinal);
        // Both lines of each step, over its own stretch.
        Assert.Equal([(2.0, 8.0, 1.003), (2, 8, 0.997), (8, 11, 3.003), (8, 11, 2.997), (11, 20, 2.003), (11, 20, 1.997)], Lines(verdict));
    }

    static IEnumerable<(double, double, double)> Lines(Verdict verdict) =>
        verdict.Lines.Select(l => (Math.Round(l.From, 6), Math.Round(l.To, 6), Math.Round(l.Value, 6)));

    [Fact]
    public void A_step_that_the_next_one_cuts_off_before_its_time_is_over_is_open()
    {
        const string Hurried =
            "Step a(height = 1, startTime = 1); Step b(height = 1, startTime = 1.5); Real r; Lag p(T = 0.5); "
            + "equation r = a.y + b.y; p.u = r;";
        var verdict = Check(RequirementKind.SettlingTime, "2 s", Hurried, 8);
        Assert.Equal([VerdictKind.Open, VerdictKind.Met], verdict.Occasions.Select(o => o.Kind));
        Assert.Equal(VerdictKind.Open, verdict.Kind);
        Assert.Contains("next step comes", verdict.Explanation, StringComparison.Ordinal);
        // With a limit shorter than its stretch it has had its time.
        Assert.Equal(VerdictKind.Missed, Check(RequirementKind.SettlingTime, "0.4 s", Hurried, 8).Kind);
        Assert.Equal(VerdictKind.Open, Check(RequirementKind.RiseTime, "2 s", Hurried, 8).Kind);
    }

    [Fact]
    public void A_run_that_begins_away_from_its_set_point_begins_with_a_step()
    {
        const string Away = "Step a(height = 1, offset = 2, startTime = 5); Lag p(T = 0.5); Real r; equation r = a.y; p.u = r;";
        var verdict = Check(RequirementKind.RiseTime, "1.2 s", Away, 10);
        Assert.Equal([0.0, 5], verdict.Occasions.Select(o => o.At!.Value));
        foreach (var occasion in verdict.Occasions)
            Assert.Equal(0.5 * Math.Log(9), occasion.Actual!.Value, 1e-4);
    }

    [Fact]
    public void Small_changes_beside_large_ones_are_no_steps()
    {
        const string Ripple =
            "Step a(height = 10, startTime = 2); Step b(height = 0.5, startTime = 4); Real r; Lag p(T = 0.2); "
            + "equation r = a.y + b.y; p.u = r;";
        var verdict = Check(RequirementKind.Overshoot, "6 %", Ripple, 6);
        Assert.Empty(verdict.Occasions);
        Assert.Contains("once, at 2 s", verdict.Explanation, StringComparison.Ordinal);
        Assert.Equal(VerdictKind.Met, verdict.Kind);
    }

    [Fact]
    public void A_set_point_that_moves_steadily_has_no_steps()
    {
        const string Ramp = "Real r; Lag p(T = 0.5); equation r = time; p.u = r;";
        // A lag follows a ramp by its time constant.
        var verdict = Check(RequirementKind.SteadyStateError, "0.6", Ramp, 10);
        Assert.Equal(0.5, verdict.Actual!.Value, 1e-4);
        Assert.DoesNotContain("once", verdict.Explanation, StringComparison.Ordinal);
    }

    [Fact]
    public void Rows_without_both_sides_of_a_jump_show_a_step_too()
    {
        var prepared = TextModel.Prepare(Stairs);
        var plan = prepared.Compiled!.Plan;
        using var trace = Trace.Of(
            [plan.RepresentativeOf("p.y"), plan.RepresentativeOf("r")],
            [0, 1, 2, 3, 4, 5, 6],
            [
                [0, 0, 0, 0.6, 1, 1, 1],
                [0, 0, 1, 1, 1, 1, 1],
            ]
        );
        var node = new RequirementNode
        {
            Name = "r",
            Kind = RequirementKind.RiseTime,
            Signal = "p.y",
            Reference = "r",
            Limit = "2 s",
        };
        var verdict = new RequirementCheck(prepared, new ParameterSet(prepared.Model), trace, 0, 6).Check("r", node);
        // From 0.1 to 0.9 on straight lines: 2 1/6 to 3 3/4 s.
        Assert.Equal(3.75 - (2 + 1.0 / 6), verdict.Actual!.Value, 1e-9);
        Assert.Contains("once, at 2 s", verdict.Explanation, StringComparison.Ordinal);
    }

    [Fact]
    public void Of_very_many_steps_all_are_judged_and_some_are_told_and_drawn()
    {
        const int steps = 2000;
        var prepared = TextModel.Prepare(Stairs);
        var plan = prepared.Compiled!.Plan;
        // The set-point goes up and down at each second; the signal follows within half a second, but for the last time.
        double[] times = [.. Enumerable.Range(0, steps).SelectMany(k => (double[])[k, k, k + 0.5])];
        double[] set = [.. Enumerable.Range(0, steps).SelectMany(k => (double[])[(k + 1) % 2, k % 2, k % 2])];
        double[] signal = [.. set.Select((v, i) => i % 3 == 1 || i == 3 * steps - 1 ? set[i - i % 3] : v)];
        using var trace = Trace.Of([plan.RepresentativeOf("p.y"), plan.RepresentativeOf("r")], times, [signal, set]);
        var node = new RequirementNode
        {
            Name = "r",
            Kind = RequirementKind.SteadyStateError,
            Signal = "p.y",
            Reference = "r",
            Limit = "0.5",
        };
        var verdict = new RequirementCheck(prepared, new ParameterSet(prepared.Model), trace, 0, steps - 0.5).Check("r", node);
        Assert.Equal((VerdictKind.Missed, 200, 400), (verdict.Kind, verdict.Occasions.Count, verdict.Lines.Count));
        Assert.Contains($"{steps} times, missed 1, worst at {steps - 1} s", verdict.Explanation, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("4", VerdictKind.Open)]
    [InlineData("0.5", VerdictKind.Missed)]
    public void A_run_that_goes_on_is_judged_by_what_cannot_change_any_more(string limit, VerdictKind kind) =>
        Assert.Equal(kind, Check(RequirementKind.UpperLimit, limit, stopped: 5).Kind);

    [Fact]
    public void Steps_that_are_over_have_their_verdict_while_the_run_goes_on()
    {
        var verdict = Check(RequirementKind.SettlingTime, "1.6 s", stopped: 9);
        Assert.Equal([VerdictKind.Met, VerdictKind.Open], verdict.Occasions.Select(o => o.Kind));
        Assert.Equal(VerdictKind.Open, verdict.Kind);
        Assert.Equal(VerdictKind.Missed, Check(RequirementKind.SettlingTime, "1.4 s", stopped: 9).Kind);
    }
}
