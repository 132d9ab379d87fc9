using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Runs against exact solutions. With rtol 1e-8 and atol 1e-10 the error is asked to stay below ten times the tolerance.</summary>
public class ContinuousTests
{
    const double Close = 1e-7;

    [Fact]
    public void A_lag_follows_a_step_exponentially()
    {
        var y = TextModel.Values(
            "Step s(height = 3, startTime = 1); Lag l(k = 2, T = 0.5); equation connect(s.y, l.u);",
            "l.y",
            [0.5, 1.5, 2, 4]
        );
        Assert.Equal(0, y[0]);
        foreach (var (t, v) in new[] { 1.5, 2, 4 }.Zip(y.Skip(1)))
            Assert.Equal(6 * (1 - Math.Exp(-(t - 1) / 0.5)), v, Close);
    }

    [Theory]
    [InlineData(0.2)]
    [InlineData(0.7)]
    public void A_second_order_part_rings_as_computed(double d)
    {
        var w = 3.0;
        var y = TextModel.Values($"SecondOrder p(w = 3, D = {d}); equation p.u = 1;", "p.y", [0.5, 1, 3]);
        var wd = w * Math.Sqrt(1 - d * d);
        foreach (var (t, v) in new[] { 0.5, 1, 3 }.Zip(y))
            Assert.Equal(1 - Math.Exp(-d * w * t) * (Math.Cos(wd * t) + d * w / wd * Math.Sin(wd * t)), v, Close);
    }

    [Fact]
    public void A_biproper_transfer_function_passes_its_jump_at_once()
    {
        // (2s + 3)/(s + 1) = 2 + 1/(s + 1): a step gives 2 + (1 − e^−t).
        var y = TextModel.Values("TransferFunction f(b = {2, 3}, a = {1, 1}); equation f.u = 1;", "f.y", [0, 1, 2]);
        foreach (var (t, v) in new[] { 0.0, 1, 2 }.Zip(y))
            Assert.Equal(2 + 1 - Math.Exp(-t), v, Close);
    }

    [Fact]
    public void A_transfer_function_of_order_zero_is_a_gain() =>
        Assert.Equal(2.5, TextModel.Values("TransferFunction f(b = {5}, a = {2}); equation f.u = 1;", "f.y", [1])[0], Close);

    [Fact]
    public void State_space_and_transfer_function_agree()
    {
        const string text =
            "TransferFunction f(b = {4, 1}, a = {1, 2, 5}); StateSpace s(A = [0, 1; -5, -2], b = {0, 1}, c = {1, 4}); equation f.u = sin(time); s.u = f.u;";
        var a = TextModel.Values(text, "f.y", [1, 2, 5]);
        var b = TextModel.Values(text, "s.y", [1, 2, 5]);
        for (var i = 0; i < 3; i++)
            Assert.Equal(a[i], b[i], Close);
    }

    [Fact]
    public void A_delay_gives_the_past_exactly()
    {
        // y' = −y(t − 1), y = 1 before: 1 − t on [0, 1], then 1 − t + (t − 1)²/2 on [1, 2], minus (t − 2)³/6 on [2, 3].
        var y = TextModel.Values("Real y(start = 1); equation der(y) = -delay(y, 1);", "y", [0.5, 1.5, 2.5]);
        Assert.Equal(0.5, y[0], Close);
        Assert.Equal(1 - 1.5 + 0.125, y[1], Close);
        Assert.Equal(1 - 2.5 + 1.125 - Math.Pow(0.5, 3) / 6, y[2], Close);
    }

    [Fact]
    public void A_delayed_jump_comes_out_as_a_jump()
    {
        const string text = "Step s(startTime = 0.3); DeadTime d(T = 0.7); equation connect(s.y, d.u);";
        Assert.Equal([0.0, 1], TextModel.Values(text, "d.y", [0.9999999, 1.0000001]));
    }

    [Fact]
    public void An_algebraic_loop_is_solved_at_every_instant()
    {
        // a = 2b + t, b = c/4, c = a + b gives a = 3t, b = t... from b = (a + b)/4, so a = 3b and 3b = 2b + t.
        var a = TextModel.Values("Real a; Real b; Real c; equation a = 2 * b + time; b = 0.25 * c; c = a + b;", "a", [1, 2.5]);
        Assert.Equal(3, a[0], 1e-12);
        Assert.Equal(7.5, a[1], 1e-12);
    }

    [Fact]
    public void A_nonlinear_loop_keeps_to_its_branch()
    {
        // x² = 1 + t with x(0) = 1 near the start value stays the positive root.
        var x = TextModel.Values("Real x(start = 1.2); equation x * x = 1 + time;", "x", [0, 3]);
        Assert.Equal(1, x[0], 1e-10);
        Assert.Equal(2, x[1], 1e-10);
    }

    [Fact]
    public void A_singular_loop_stops_with_its_parts()
    {
        var result = TextModel.Run(
            "Gain a; Gain b; Sum s(signs = {1, 1}); equation connect(s.y, a.u); connect(a.y, b.u); connect(b.y, s.u[1]); s.u[2] = 1;",
            1
        );
        Assert.Equal("loop", result.Failure!.Code);
        Assert.Contains("a", result.Failure.Message, StringComparison.Ordinal);
        Assert.NotEmpty(result.Failure.Advice);
    }

    [Fact]
    public void Fixed_step_runge_kutta_meets_its_order()
    {
        var options = new RunOptions
        {
            End = 1,
            Method = IntegrationMethod.RungeKutta4,
            Step = 0.01,
        };
        var y = TextModel.Values("Real x(start = 1); equation der(x) = -x;", "x", [1], options);
        // Global error of RK4 on this problem is h⁴/120·t·e^−t, about 3e-11.
        Assert.Equal(Math.Exp(-1), y[0], 1e-10);
    }

    [Fact]
    public void A_recorded_table_meets_its_corners()
    {
        const string text = "RecordedTable r(t = {0, 1, 1.5}, values = {0, 2, -1}); Integrator i; equation connect(r.y, i.u);";
        Assert.Equal(1 + 0.25 * (2 + -1), TextModel.Values(text, "i.y", [1.5])[0], 1e-12);
    }

    [Fact]
    public void A_pid_with_its_filter_answers_a_ramp_as_computed()
    {
        // e = t: P gives kt, I gives k t²/(2Ti), D gives k Td (1 − e^(−tN/Td)).
        var u = TextModel.Values(
            "PID c(form = PID.Form.PID, k = 2, Ti = 4, Td = 0.5, N = 10, c = 1); equation c.r = time; c.y = 0;",
            "c.u",
            [1, 2]
        );
        foreach (var (t, v) in new[] { 1.0, 2 }.Zip(u))
            Assert.Equal(2 * (t + t * t / 8 + 0.5 * (1 - Math.Exp(-t * 20))), v, Close);
    }
}

/// <summary>Loops with conditions in them, and loops that Newton's method alone does not solve.</summary>
public class LoopTests
{
    /// <summary>An ideal diode by one parameter: off it takes the voltage, on the current. A half-wave rectifier with a resistor.</summary>
    const string Rectifier = """
        parameter Real R = 10; Real s, u, i; Boolean off; Real source = 5 * sin(6.283185307179586 * time);
        equation off = s < 0; u = if off then s else 0; i = if off then 0 else s; source = u + R * i;
        """;

    [Fact]
    public void A_loop_through_a_condition_settles_at_its_events()
    {
        foreach (var t in new[] { 0.1, 0.4, 0.6, 0.9, 1.2 })
        {
            var source = 5 * Math.Sin(2 * Math.PI * t);
            Assert.Equal(Math.Max(0, source) / 10, TextModel.Values(Rectifier, "i", [t])[0], 1e-9);
            Assert.Equal(Math.Min(0, source), TextModel.Values(Rectifier, "u", [t])[0], 1e-9);
        }
    }

    [Fact]
    public void A_bridge_of_four_diodes_rectifies_both_halves()
    {
        const string text = """
            parameter Real R = 10; Real s[4], u[4], i[4], a, b, p, n; Boolean off[4];
            Real source = 5 * sin(6.283185307179586 * time + 0.3), load;
            equation
            for k in 1:4 loop off[k] = s[k] < 0; u[k] = if off[k] then s[k] else 1e-3 * s[k]; i[k] = if off[k] then 1e-6 * s[k] else s[k]; end for;
            a - b = source; a - p = u[1]; b - p = u[2]; n - a = u[3]; n - b = u[4]; n = 0; load = p - n;
            i[1] + i[2] = load / R; i[3] + i[4] = load / R;
            """;
        foreach (var t in new[] { 0.2, 0.45, 0.7, 0.95 })
            Assert.Equal(Math.Abs(5 * Math.Sin(2 * Math.PI * t + 0.3)), TextModel.Values(text, "load", [t])[0], 2e-2);
    }

    [Fact]
    public void Homotopy_solves_what_Newton_alone_does_not()
    {
        // The arctangent throws Newton's method further and further from a distant guess; damping stalls at the peak before it.
        const string text = "Real z(start = 30), w; equation atan(z - 2) + 0.02 * z - 0.4 * exp(-(z - 8) ^ 2) = 0.1 * sin(time); w = z;";
        var z = TextModel.Values(text, "w", [1])[0];
        Assert.Equal(0.1 * Math.Sin(1), Math.Atan(z - 2) + 0.02 * z - 0.4 * Math.Exp(-Math.Pow(z - 8, 2)), 1e-10);
    }

    [Fact]
    public void Of_several_solutions_the_one_that_continues_the_motion_is_taken()
    {
        // z² = 1 + t has two solutions; from −1 the negative one goes on.
        var values = TextModel.Values("Real z(start = -1.2); equation z ^ 2 = 1 + time;", "z", [1, 3]);
        Assert.Equal(-Math.Sqrt(2), values[0], 1e-12);
        Assert.Equal(-2, values[1], 1e-12);
    }

    [Fact]
    public void A_ladder_of_a_hundred_resistors_is_solved_as_a_whole()
    {
        // With R G = 0.1 the voltages fall as a hyperbolic cosine from the open end; torn open at one place, errors would grow to 10¹³.
        const string text = """
            model Ladder parameter Real R = 10, G = 0.01; Real u[100], i[101]; Real x(start = 1);
            equation der(x) = -u[1]; i[1] * R = 5 * x - u[1]; for k in 2:100 loop i[k] * R = u[k - 1] - u[k]; end for;
            for k in 1:100 loop i[k] - i[k + 1] = G * u[k]; end for; i[101] = 0; end Ladder;
            """;
        var angle = Math.Acosh(1.05);
        double Share(int k) => Math.Cosh((100.5 - k) * angle) / Math.Cosh(100.5 * angle);
        var x = Math.Exp(-5 * Share(1) * 0.3);
        foreach (var method in new[] { IntegrationMethod.Auto, IntegrationMethod.Radau5 })
        {
            var options = new RunOptions
            {
                End = 0.3,
                Method = method,
                RelativeTolerance = 1e-9,
                AbsoluteTolerance = 1e-10,
            };
            Assert.Equal(5 * x * Share(1), TextModel.Values(text, "u[1]", [0.3], options)[0], 1e-8);
            Assert.Equal(5 * x * Share(40), TextModel.Values(text, "u[40]", [0.3], options)[0], 1e-8 * Share(40));
        }
    }
}
