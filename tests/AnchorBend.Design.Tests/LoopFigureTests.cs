using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>Responses over time, error integrals and peaks against their closed forms.</summary>
public class LoopFigureTests
{
    static LinearSystem Fraction(string b, string a) =>
        CrossingTests.Plant($"TransferFunction f(b = {b}, a = {a}); equation f.u = 0;", "f.u", "f.y");

    static LinearSystem Late(string b, string a, double delay) =>
        CrossingTests.Plant(
            $"TransferFunction f(b = {b}, a = {a}); DeadTime d(T = {delay}); equation f.u = 0; connect(f.y, d.u);",
            "f.u",
            "d.y"
        );

    static PidGains Pi(double kp, double ki) => new(PidForm.PI, kp, kp / ki, 0, 10, 1, 0);

    [Fact]
    public void A_late_lag_answers_after_its_dead_time()
    {
        var response = new TimeResponse(Late("{1}", "{2, 1}", 1), 0.01);
        for (var k = 0; k <= 500; k++)
        {
            var y = response.Next();
            Assert.Equal(k <= 100 ? 0 : 1 - Math.Exp(-(0.01 * k - 1) / 2), y, 1e-6);
        }
    }

    [Theory]
    [InlineData(0.01)]
    [InlineData(0.013)]
    public void A_late_integrator_in_a_loop_goes_by_the_method_of_steps(double step)
    {
        // y' = k (1 − y(t − 1)) from t = 1 on: k (t − 1), then less k² (t − 2)²/2, then more k³ (t − 3)³/6.
        const double k = 0.7;
        var loop = new PidGains(PidForm.P, k, 1, 0, 10, 1, 0).ClosedLoop(Late("{1}", "{1, 0}", 1));
        var response = new TimeResponse(loop, step);
        for (var n = 0; n * step <= 4; n++)
        {
            double Power(double from, int p) => n * step > from ? Math.Pow(n * step - from, p) : 0;
            var expected = k * Power(1, 1) - k * k * Power(2, 2) / 2 + k * k * k * Power(3, 3) / 6;
            Assert.Equal(expected, response.Next(), 1e-4);
        }
    }

    [Theory]
    [InlineData(1, 0.5)]
    [InlineData(0.4, 1)]
    [InlineData(0.2, 2)]
    public void The_error_of_a_swinging_loop_is_that_of_a_damped_sine(double kp, double ki)
    {
        // On 1/s a load gives 1/(s² + kp s + ki): ∫|e^(−σt) sin(ωt)/ω| dt = coth(πσ/(2ω))/(σ² + ω²).
        var (sigma, omega) = (kp / 2, Math.Sqrt(ki - kp * kp / 4));
        var expected = 1 / Math.Tanh(Math.PI * sigma / (2 * omega)) / ki;
        Assert.Equal(expected, ErrorIntegral.Load(Pi(kp, ki), Fraction("{1}", "{1, 0}"), 1 / omega), 1e-3 * expected);
    }

    [Fact]
    public void Without_overshoot_it_is_one_over_the_integral_gain()
    {
        var gains = Pi(0.3, 0.1);
        Assert.Equal(10, ErrorIntegral.Load(gains, Fraction("{1}", "{1, 3, 3, 1}"), gains.Ti), 1e-2);
        Assert.Equal(10, ErrorIntegral.SetPoint(gains, Fraction("{1}", "{1, 3, 3, 1}"), gains.Ti), 1e-2);
    }

    [Fact]
    public void A_dead_time_much_shorter_than_the_loop_costs_no_steps_and_changes_nothing()
    {
        var (with, without) = (Late("{1}", "{1, 3, 3, 1}", 1e-5), Fraction("{1}", "{1, 3, 3, 1}"));
        var gains = Pi(0.3, 0.1);
        Assert.Equal(ErrorIntegral.Load(gains, without, 10), ErrorIntegral.Load(gains, with, 10), 1e-3);
    }

    [Fact]
    public void A_point_of_a_run_has_what_was_set_before_it()
    {
        var prepared = TextModel.Prepare("parameter Real k = 1; Real x(start = 0); equation der(x) = k - x;");
        var settings = new RunOptions { End = 20, Script = new RunScript([], [new SetValue(1, "k", 5)]) };
        var point = OperatingPoint.AtTime(prepared, new ParameterSet(prepared.Model), 20, settings);
        Assert.Equal(5, point.Values[prepared.Model.Find("x")!.Index], 1e-5);
        Assert.Equal(5, point.Values[prepared.Model.Find("k")!.Index]);
    }

    [Theory]
    [InlineData(0.2)]
    [InlineData(0.5)]
    public void Peaks_and_delay_margin_of_a_second_order_loop_have_closed_forms(double damping)
    {
        // L = 1/(s (s + 2 ζ)), so T = 1/(s² + 2 ζ s + 1).
        var figures = LoopFigures.Of(new PidGains(PidForm.P, 1, 1, 0, 10, 1, 0), Fraction("{1}", $"{{1, {2 * damping}, 0}}"));
        Assert.Equal(1 / (2 * damping * Math.Sqrt(1 - damping * damping)), figures.Complementary.Value, 1e-6);
        Assert.Equal(Math.Sqrt(1 - 2 * damping * damping), figures.Complementary.Frequency, 1e-4);
        var crossing = Math.Sqrt(Math.Sqrt(1 + 4 * Math.Pow(damping, 4)) - 2 * damping * damping);
        Assert.Equal(Math.Atan(2 * damping / crossing) / crossing, figures.DelayMargin, 1e-6);
        Assert.True(figures.IsStable);
        Assert.Null(figures.LoadIae);
    }

    [Fact]
    public void Gains_of_the_parallel_form_are_those_of_the_ideal_one_multiplied_out()
    {
        Assert.Equal((2, 0.5, 1), new PidGains(PidForm.PID, 2, 4, 0.5, 10, 1, 0).Parallel);
        Assert.Equal((2, 0.5, 0), new PidGains(PidForm.PI, 2, 4, 0.5, 10, 1, 0).Parallel);
        Assert.Equal((2, 0, 1), new PidGains(PidForm.PD, 2, 4, 0.5, 10, 1, 0).Parallel);
    }
}
