using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

public class DesignTests
{
    static LinearSystem Linear(string text, string from, string to, string? open = null)
    {
        var prepared = TextModel.Prepare(text);
        var point = OperatingPoint.Steady(prepared, new ParameterSet(prepared.Model));
        return Linearizer.Between(prepared, point, from, to, open);
    }

    static void Same(Complex expected, Complex actual, double tolerance = 1e-10)
    {
        Assert.Equal(expected.Real, actual.Real, tolerance);
        Assert.Equal(expected.Imaginary, actual.Imaginary, tolerance);
    }

    const string Loop =
        "Step s; PID c(k = 2, Ti = 0.8); Lag a(T = 0.5); Lag b(T = 0.1); equation connect(s.y, c.r); connect(c.u, a.u); connect(a.y, b.u); connect(b.y, c.y);";

    [Theory]
    [InlineData(0.3)]
    [InlineData(4)]
    [InlineData(50)]
    public void The_response_of_a_part_is_its_transfer_function(double w)
    {
        var s = new Complex(0, w);
        var f = Linear("TransferFunction f(b = {1, 5, 6}, a = {2, 3, 4, 5}); equation f.u = 0;", "f.u", "f.y");
        Same((s * s + 5 * s + 6) / (2 * s * s * s + 3 * s * s + 4 * s + 5), f.At(s));
    }

    [Fact]
    public void A_model_of_too_many_states_is_refused_before_its_dense_rows_are_made()
    {
        var refused = Assert.Throws<DesignException>(() =>
            Linear(
                "model M Real u; Real x[1001](each start = 0); equation u = 0; der(x[1]) = u - x[1]; for i in 2:1001 loop der(x[i]) = x[i - 1] - x[i]; end for; end M;",
                "u",
                "x[1001]"
            )
        );
        Assert.Equal("too-many-states", refused.Code);
        Assert.Contains("1001 states", refused.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Poles_and_zeros_are_those_of_the_polynomials()
    {
        var f = Linear("TransferFunction f(b = {1, 5, 6}, a = {1, 6, 11, 6}); equation f.u = 0;", "f.u", "f.y");
        Assert.Equal([-1.0, -2, -3], PolesAndZeros.Poles(f).Select(p => p.Real).OrderDescending().ToArray(), (a, b) =>
            Math.Abs(a - b) < 1e-9
        );
        Assert.Equal([-2.0, -3], PolesAndZeros.Zeros(f).Select(p => p.Real).OrderDescending().ToArray(), (a, b) => Math.Abs(a - b) < 1e-8);
        Assert.All(PolesAndZeros.Zeros(f), z => Assert.Equal(0, z.Imaginary, 1e-8));
    }

    [Fact]
    public void A_delay_turns_the_phase_exactly()
    {
        var s = new Complex(0, 3);
        var f = Linear("DeadTime d(T = 0.4); Lag l(T = 2); equation d.u = 0; connect(d.y, l.u);", "d.u", "l.y");
        Same(Complex.Exp(-0.4 * s) / (2 * s + 1), f.At(s));
    }

    [Fact]
    public void A_closed_loop_with_a_delay_inside_is_exact()
    {
        var s = new Complex(0, 1.5);
        var f = Linear(
            "Integrator i; DeadTime d(T = 0.3); Sum e; equation e.u[1] = 0; connect(i.y, d.u); connect(d.y, e.u[2]); connect(e.y, i.u);",
            "e.u[1]",
            "i.y"
        );
        Same(1 / (s + Complex.Exp(-0.3 * s)), f.At(s));
    }

    [Fact]
    public void Nonlinear_parts_give_their_slope_at_the_operating_point()
    {
        // x' = u − x³ rests at x = 2 for u = 8; the slope there is −12.
        var f = Linear("Real u; Real x(start = 1); equation u = 8; der(x) = u - x ^ 3;", "u", "x");
        Assert.Equal(-12, f.A[0, 0], 1e-6);
    }

    [Fact]
    public void An_algebraic_loop_is_differentiated_implicitly()
    {
        // y = u − y²: dy/du = 1/(1 + 2y) with y = 1 at u = 2.
        var f = Linear("Real u; Real y(start = 0.8); equation u = 2; y = u - y ^ 2;", "u", "y");
        Assert.Equal(1.0 / 3, f.D, 1e-9);
    }

    [Fact]
    public void Opening_the_loop_gives_the_plant_alone()
    {
        var s = new Complex(0, 2);
        Same(1 / ((0.5 * s + 1) * (0.1 * s + 1)), Linear(Loop, "c.u", "c.y", "c.u").At(s));
        Same(-2 * (1 + 1 / (0.8 * s)) / ((0.5 * s + 1) * (0.1 * s + 1)), Linear(Loop, "c.u", "c.u", "c.u").At(s));
    }

    [Fact]
    public void Closed_loop_from_set_point_agrees_with_the_formula()
    {
        var s = new Complex(0, 2);
        var l = 2 * (1 + 1 / (0.8 * s)) / ((0.5 * s + 1) * (0.1 * s + 1));
        Same(l / (1 + l), Linear(Loop, "s.y", "b.y").At(s));
    }

    [Fact]
    public void Margins_of_a_third_order_loop_are_the_textbook_ones()
    {
        // L = K/(s+1)³ crosses −180° at √3 with gain K/8; with K = 4 the gain margin is 2.
        var margins = StabilityMargins.Of(Linear("TransferFunction f(b = {4}, a = {1, 3, 3, 1}); equation f.u = 0;", "f.u", "f.y"));
        Assert.Equal(Math.Sqrt(3), margins.Gain!.Frequency, 1e-8);
        Assert.Equal(2, margins.Gain.Margin, 1e-8);
        // |L| = 1 at w² = 4^(2/3) − 1; the phase is −3 arctan w.
        var w = Math.Sqrt(Math.Pow(4, 2.0 / 3) - 1);
        Assert.Equal(w, margins.Phase!.Frequency, 1e-8);
        Assert.Equal(180 - 3 * Math.Atan(w) * 180 / Math.PI, margins.Phase.Margin, 1e-6);
    }

    [Theory]
    [InlineData(PidForm.PI, 3, 60)]
    [InlineData(PidForm.PID, 8, 55)]
    [InlineData(PidForm.PD, 20, 60)]
    public void Gains_meet_bandwidth_and_phase_margin_exactly(PidForm form, double bandwidth, double margin)
    {
        var plant = Linear("Lag a(T = 0.5); Lag b(T = 0.1); equation a.u = 0; connect(a.y, b.u);", "a.u", "b.y");
        var candidate = PidTuning.Solve(plant, PidGains.Shape(form), bandwidth, margin);
        Assert.True(candidate.IsExact, candidate.Remark);
        Assert.True(candidate.IsStable);
        var crossing = Assert.Single(candidate.Margins.GainCrossings, c => Math.Abs(c.Frequency - bandwidth) < 1e-6);
        Assert.Equal(margin, crossing.Margin, 1e-5);
    }

    [Fact]
    public void What_cannot_be_met_is_said_and_the_best_given()
    {
        var plant = Linear("Integrator a; Integrator b; equation a.u = 0; connect(a.y, b.u);", "a.u", "b.y");
        var candidate = PidTuning.Solve(plant, PidGains.Shape(PidForm.PI), 1, 60);
        Assert.False(candidate.IsExact);
        Assert.False(candidate.IsStable);
        Assert.Contains("unstable", candidate.Remark, StringComparison.Ordinal);
        Assert.True(PidTuning.Solve(plant, PidGains.Shape(PidForm.PD), 1, 50).IsExact);
    }

    [Fact]
    public void A_plant_of_negative_gain_gets_a_negative_gain()
    {
        var plant = Linear("Gain g(k = -3); Lag a(T = 1); equation g.u = 0; connect(g.y, a.u);", "g.u", "a.y");
        var candidate = PidTuning.Solve(plant, PidGains.Shape(PidForm.PI), 2, 60);
        Assert.True(candidate.Pid().K < 0);
        Assert.True(candidate.IsStable);
    }

    [Fact]
    public void A_controller_without_a_plant_is_refused()
    {
        var prepared = TextModel.Prepare("PID c; Step s; equation connect(s.y, c.r); c.y = 0;");
        var parameters = new ParameterSet(prepared.Model);
        var point = OperatingPoint.AtTime(prepared, parameters, 0.5, new RunOptions { End = 1 });
        Assert.Equal("no-plant", Assert.Throws<DesignException>(() => LoopDesign.Of(prepared, parameters, "c", point)).Code);
        Assert.Equal("not-a-controller", Assert.Throws<DesignException>(() => LoopDesign.Of(prepared, parameters, "s", point)).Code);
    }

    const string SampledLoop =
        "Step s; SampledPID c(k = 2); Lag a(T = 0.5); equation connect(s.y, c.r); connect(c.u, a.u); connect(a.y, c.y);";

    [Theory]
    [InlineData("s.y", "a.y", null)]
    [InlineData("c.y", "a.y", "c.y")]
    public void What_works_at_samples_is_not_linearised_silently(string from, string to, string? open)
    {
        var error = Assert.Throws<DesignException>(() => Linear(SampledLoop, from, to, open));
        Assert.Equal("sampled", error.Code);
        Assert.Contains("(c)", error.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void The_continuous_part_of_a_sampled_loop_is_linear() =>
        Same(1 / (0.5 * new Complex(0, 3) + 1), Linear(SampledLoop, "a.u", "a.y", "a.u").At(new Complex(0, 3)));

    [Fact]
    public void A_mode_that_only_switches_is_held() =>
        Same(
            2,
            Linear("Real u; Real y; Boolean on; equation u = time; on = u > 0.5; y = if on then 3 * u else 2 * u;", "u", "y")
                .At(new Complex(0, 3))
        );

    [Fact]
    public void The_steady_state_is_found_and_its_absence_told()
    {
        var prepared = TextModel.Prepare("Real x(start = 5); equation der(x) = 2 - sqrt(x);");
        Assert.Equal(4, OperatingPoint.Steady(prepared, new ParameterSet(prepared.Model)).Values[prepared.Model.Find("x")!.Index], 1e-8);
        var none = TextModel.Prepare("Real x; equation der(x) = 1;");
        Assert.Equal("steady", Assert.Throws<DesignException>(() => OperatingPoint.Steady(none, new ParameterSet(none.Model))).Code);
    }

    [Fact]
    public void The_step_response_is_exact()
    {
        var response = StepResponse.Of(Linear("SecondOrder p(w = 2, D = 0.3); equation p.u = 0;", "p.u", "p.y"), 5, 100);
        var (w, d) = (2.0, 0.3);
        var wd = w * Math.Sqrt(1 - d * d);
        for (var i = 0; i < response.Times.Length; i++)
        {
            var t = response.Times[i];
            Assert.Equal(1 - Math.Exp(-d * w * t) * (Math.Cos(wd * t) + d * w / wd * Math.Sin(wd * t)), response.Values[i], 1e-10);
        }
    }

    [Fact]
    public void The_linear_closed_loop_predicts_the_run()
    {
        // A small step on the model itself, with delay: the linear prediction uses an approximation of order 5 for the delay.
        const string text =
            "Step s(startTime = 0); PID c(k = 1.2, Ti = 0.6, form = PID.Form.PID, Td = 0.1); Lag a(T = 0.5); DeadTime d(T = 0.1); equation connect(s.y, c.r); connect(c.u, a.u); connect(a.y, d.u); connect(d.y, c.y);";
        var prepared = TextModel.Prepare(text);
        var parameters = new ParameterSet(prepared.Model);
        var point = OperatingPoint.Steady(prepared, parameters);
        var design = LoopDesign.Of(prepared, parameters, "c", point);
        var predicted = StepResponse.Of(design.Present.ClosedLoop(design.Plant), 2, 4);
        var run = TextModel.Values(text, "d.y", [0.5, 1, 1.5, 2]);
        for (var i = 0; i < 4; i++)
            Assert.Equal(run[i], predicted.Values[i + 1], 2e-3);
    }
}
