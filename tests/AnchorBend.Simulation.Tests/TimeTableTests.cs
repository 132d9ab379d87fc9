using AnchorBend.Compiler.Preparation;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Tables and pulses along time: every knot is met, whatever the rate, and no step sees beyond it.</summary>
public class TimeTableTests
{
    static readonly IntegrationMethod[] Methods =
    [
        IntegrationMethod.Auto,
        IntegrationMethod.DormandPrince54,
        IntegrationMethod.Radau5,
        IntegrationMethod.BackwardDifferences,
    ];

    public static TheoryData<IntegrationMethod> AllMethods => [.. Methods];

    static (RunResult Result, double Last) Run(string text, string name, IntegrationMethod method, double end, double tolerance = 1e-6)
    {
        var prepared = TextModel.Prepare(text);
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings));
        var result = TextModel.Run(
            prepared,
            new RunOptions
            {
                End = end,
                Method = method,
                OutputTimes = [end],
                RelativeTolerance = tolerance,
                AbsoluteTolerance = tolerance,
            }
        );
        Assert.Null(result.Failure);
        return (result, result.Trace[result.Trace.Rows - 1, prepared.Compiled!.Plan.RepresentativeOf(name)]);
    }

    static double Last(string text, string name, IntegrationMethod method, double end, double tolerance = 1e-6) =>
        Run(text, name, method, end, tolerance).Last;

    [Theory, MemberData(nameof(AllMethods))]
    public void Narrow_pulses_are_not_leapt_over(IntegrationMethod method)
    {
        // A thousandth of each period is true; the slow lag alone would let steps grow over many periods.
        const string text =
            "BooleanPulse pulses(period = 0.7, width = 0.001); BooleanToReal level; Integrator count; Lag slow(T = 500); equation connect(pulses.y, level.u); connect(level.y, count.u); connect(level.y, slow.u);";
        Assert.Equal(143 * 0.0007, Last(text, "count.y", method, 100), 1e-9);
    }

    [Theory, MemberData(nameof(AllMethods))]
    public void Steps_of_a_table_end_steps_of_the_method(IntegrationMethod method)
    {
        var (result, last) = Run(
            "Real x(start = 0, fixed = true); equation der(x) = interpolate(time, {0, 1, 2, 3}, {1, -1, 2, 0}, \"steps\");",
            "x",
            method,
            5
        );
        Assert.Equal(2, last, 1e-12);
        Assert.Equal(0, result.Statistics.Rejected);
    }

    [Theory]
    [InlineData("2 * time", 0.5)]
    [InlineData("time / 0.3", 0.3)]
    [InlineData("(time - 1) / T", 0.8)]
    public void Knots_come_at_the_rate_of_the_abscissa(string abscissa, double period)
    {
        // Half of each period is 1; the integral over whole periods is half their length.
        var text =
            $"parameter Real T = 0.8; Real x(start = 0, fixed = true); equation der(x) = interpolate({abscissa}, {{0, 0.5, 1}}, {{1, 0, 0}}, \"repeat steps\");";
        foreach (var method in Methods)
            Assert.Equal(20 * period, Last(text, "x", method, 40 * period), 1e-9);
    }

    [Theory]
    [InlineData(-2.0)]
    [InlineData(0.0)]
    [InlineData(3.0)]
    public void A_rate_that_a_parameter_turns_round_is_read_as_it_is(double rate)
    {
        // The integral of |k t - 3| from 0 to 4, as a table with its non-smooth point there.
        var text =
            $"parameter Real k = {rate.ToString(System.Globalization.CultureInfo.InvariantCulture)}; Real x(start = 0, fixed = true); equation der(x) = interpolate(k * time, {{-20, 3, 40}}, {{23, 0, 37}}, \"linear\");";
        var exact = rate switch
        {
            -2.0 => 28,
            0.0 => 12,
            _ => 15,
        };
        foreach (var method in Methods)
            Assert.Equal(exact, Last(text, "x", method, 4, 1e-7), 1e-4);
    }

    [Theory, MemberData(nameof(AllMethods))]
    public void A_saw_with_a_jump_at_every_turn_keeps_its_mean(IntegrationMethod method)
    {
        const string text = "Real x(start = 0, fixed = true); equation der(x) = interpolate(time / 0.25, {0, 1}, {0, 1}, \"repeat\");";
        Assert.Equal(5, Last(text, "x", method, 10), 1e-6);
    }

    [Theory, MemberData(nameof(AllMethods))]
    public void A_narrow_peak_after_events_of_others_is_seen(IntegrationMethod method)
    {
        const string text = """
            Real x(start = 0, fixed = true), z(start = 0, fixed = true), s;
            equation der(x) = if sin(6.283185307179586 * time) > 0.99999 then 1 else 0; s = floor(3.7 * time); der(z) = s - z;
            """;
        var width = (Math.PI - 2 * Math.Asin(0.99999)) / (2 * Math.PI);
        Assert.Equal(200 * width, Last(text, "x", method, 200.2, 1e-9), 1e-7);
    }

    [Fact]
    public void A_run_saved_within_a_stretch_goes_on_bit_by_bit()
    {
        const string text =
            "parameter Real T = 0.3; Real x(start = 0, fixed = true); equation der(x) = interpolate(time / T, {0, 0.4, 1}, {1, -0.5, -0.5}, \"repeat steps\") - 0.1 * x;";
        var prepared = TextModel.Prepare(text);
        var options = new RunOptions { End = 5, OutputTimes = [5] };
        using var here = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), options);
        Assert.Null(here.RunUntil(1.05));
        using var restored = Simulator.Restore(prepared.Compiled!, new ParameterSet(prepared.Model), options, here.Save());
        var place = prepared.Compiled!.Plan.RepresentativeOf("x");
        var (first, second) = (here.Run().Trace, restored.Run().Trace);
        Assert.Equal(first[first.Rows - 1, place], second[second.Rows - 1, place]);
    }
}
