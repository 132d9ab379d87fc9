using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Networks whose states are tied to each other.</summary>
public class HighIndexTests
{
    const string Pendulum = """
        model Pendulum
          parameter Real L = 1, g = 9.81;
          Real x(start = 1), y(start = 0), vx(start = 0), vy(start = -7), F;
          Real length = sqrt(x ^ 2 + y ^ 2), energy = (vx ^ 2 + vy ^ 2) / 2 + g * y;
          Real angle(start = 1.5707963267948966), rate(start = -7), ax = L * sin(angle), ay = -L * cos(angle);
        equation
          der(x) = vx; der(y) = vy;
          der(vx) = -F * x / L; der(vy) = -F * y / L - g;
          x ^ 2 + y ^ 2 = L ^ 2;
          der(angle) = rate; der(rate) = -g / L * sin(angle);
        end Pendulum;
        """;

    [Theory]
    [InlineData("x(start = 1, fixed = true), y", "vx, vy(start = 0, fixed = true)", 90, 0)]
    [InlineData("x(start = 1, fixed = true), y", "vx, vy(start = -5, fixed = true)", 90, -5)]
    [InlineData("x(start = 0.6, fixed = true), y(start = -0.8)", "vx(start = 0, fixed = true), vy", 36.869897645844021, 0)]
    [InlineData("x(start = 0.6, fixed = true), y(start = -0.8)", "vx, vy(start = 0, fixed = true)", 36.869897645844021, 0)]
    [InlineData("x(start = 0.6), y(start = -0.8, fixed = true)", "vx(start = -4, fixed = true), vy", 36.869897645844021, -5)]
    [InlineData("x, y(start = -1, fixed = true)", "vx(start = 5, fixed = true), vy", 0, 5)]
    [InlineData(
        "x(start = 0.6, fixed = true, stateSelect = StateSelect.always), y(start = -0.8)",
        "vx(start = 0, fixed = true), vy",
        36.869897645844021,
        0
    )]
    [InlineData(
        "x(start = 0.6, fixed = true, stateSelect = StateSelect.prefer), y(start = -0.8, stateSelect = StateSelect.always)",
        "vx(start = 0, fixed = true, stateSelect = StateSelect.never), vy",
        36.869897645844021,
        0
    )]
    public void Whichever_start_values_are_fixed_the_pendulum_swings_on(string place, string speed, double degrees, double turning)
    {
        // Fixed values of two different directions once left a rate as a state beside its own integral, which stood still then.
        var text = $"""
            parameter Real g = 9.81; Real {place}, {speed}, F;
            Real angle(start = {degrees} * 3.141592653589793 / 180, fixed = true), rate(start = {turning}, fixed = true), ax = sin(angle), ay = -cos(angle);
            equation der(x) = vx; der(y) = vy; der(vx) = -F * x; der(vy) = -F * y - g; x ^ 2 + y ^ 2 = 1; der(angle) = rate; der(rate) = -g * sin(angle);
            """;
        var prepared = TextModel.Prepare(text);
        var result = TextModel.Run(
            prepared,
            new RunOptions
            {
                End = 20,
                RelativeTolerance = 1e-8,
                AbsoluteTolerance = 1e-8,
            }
        );
        Assert.Null(result.Failure);
        double[] Column(string name) => result.Trace.Column(prepared.Compiled!.Plan.RepresentativeOf(name));
        Assert.True(Column("x").Zip(Column("ax")).Max(p => Math.Abs(p.First - p.Second)) < 1e-6);
        Assert.True(Column("y").Zip(Column("ay")).Max(p => Math.Abs(p.First - p.Second)) < 1e-6);
    }

    [Theory]
    [InlineData("reinit(v, 2)"), InlineData("reinit(w, 2)"), InlineData("reinit(v, 2); reinit(w, 2)")]
    public void A_new_speed_for_one_of_two_joined_masses_is_one_for_both(string change)
    {
        // 5 a″ = −10 a from 1 with speed 1 meets zero at tan(√2 t) = −√2; from there with speed 2.
        var root = Math.Sqrt(2);
        var crossing = (Math.PI - Math.Atan(root)) / root;
        var text =
            $"Real a(start = 1, fixed = true), b, v(start = 1, fixed = true), w, f; equation der(a) = v; der(b) = w; 2 * der(v) = -f - 10 * a; 3 * der(w) = f; a = b; when a < 0 then {change}; end when;";
        Assert.Equal(root * Math.Sin(root * (2.5 - crossing)), TextModel.Values(text, "b", [0, 2.5])[1], 1e-7);
    }

    [Theory]
    [InlineData("reinit(vx, -0.9 * pre(vx))"), InlineData("reinit(vy, -0.9 * pre(vy))")]
    public void A_pendulum_is_thrown_back_in_whichever_direction_its_speed_is_given(string impact)
    {
        // At the wall the one or the other speed follows from the constraint.
        foreach (var wall in new[] { -0.3, -0.95 })
        {
            var text = $"""
                parameter Real wall = {wall}; Real x(start = 0.6, fixed = true), y(start = -0.8), vx(start = -4, fixed = true), vy, F, q(start = 0.6435011087932844, fixed = true), r(start = -5, fixed = true), ax = sin(q);
                equation der(x) = vx; der(y) = vy; der(vx) = -F * x; der(vy) = -F * y - 9.81; x ^ 2 + y ^ 2 = 1; der(q) = r; der(r) = -9.81 * sin(q);
                when x < wall then {impact}; end when; when ax < wall then reinit(r, -0.9 * pre(r)); end when;
                """;
            var x = TextModel.Values(text, "x", [0, 0.5, 1, 1.5]);
            var exact = TextModel.Values(text, "ax", [0, 0.5, 1, 1.5]);
            for (var i = 0; i < x.Length; i++)
                Assert.Equal(exact[i], x[i], 1e-6);
        }
    }

    [Theory]
    // Also where the first of the values can be taken and the second cannot.
    [
        InlineData("reinit(v, 1); reinit(w, 2)"),
        InlineData("reinit(w, 1); reinit(v, 2)"),
        InlineData("reinit(v, 1); reinit(v3, 1); reinit(w, 2)")
    ]
    public void A_speed_that_the_constraints_do_not_allow_is_told(string change)
    {
        var text =
            $"Real a(start = 1, fixed = true), b, v(start = -1, fixed = true), w, c, v3, f, h; equation der(a) = v; der(b) = w; der(v) = -f - h; der(w) = f; der(c) = v3; der(v3) = h; a = b; c = a; when a < 0 then {change}; end when;";
        var failure = TextModel.Run(text, 3).Failure!;
        Assert.Equal("reinit", failure.Code);
        Assert.Equal(1, failure.Time, 1e-7);
    }

    [Fact]
    public void A_pendulum_in_cartesian_coordinates_swings_full_circles_and_keeps_its_length()
    {
        var prepared = TextModel.Prepare(Pendulum);
        var result = TextModel.Run(
            prepared,
            new RunOptions
            {
                End = 100,
                RelativeTolerance = 1e-9,
                AbsoluteTolerance = 1e-10,
            }
        );
        Assert.Null(result.Failure);
        Assert.True(result.Statistics.StateChanges > 100, $"{result.Statistics.StateChanges} changes of states");
        var length = result.Trace.Column(prepared.Compiled!.Plan.RepresentativeOf("length"));
        Assert.True(length.Max(l => Math.Abs(l - 1)) < 1e-8);
        // 24.5 − 9.81 is left at the top, so it turns over: energy drifts by no more than errors of 1e-9 a step can add up to.
        var energy = result.Trace.Column(prepared.Compiled.Plan.RepresentativeOf("energy"));
        Assert.True(energy.Max(e => Math.Abs(e - 24.5)) < 2e-6, $"energy off by {energy.Max(e => Math.Abs(e - 24.5))}");
    }

    [Theory]
    [InlineData(1e-5)]
    [InlineData(1e-8)]
    public void The_pendulum_moves_as_its_equation_in_the_angle_says(double tolerance)
    {
        var prepared = TextModel.Prepare(Pendulum);
        var result = TextModel.Run(
            prepared,
            new RunOptions
            {
                End = 10,
                RelativeTolerance = tolerance,
                AbsoluteTolerance = tolerance,
            }
        );
        double[] Column(string name) => result.Trace.Column(prepared.Compiled!.Plan.RepresentativeOf(name));
        // Two integrations of the same motion, each within ten times the tolerance; turning amplifies both by the phase alone.
        Assert.True(Column("x").Zip(Column("ax")).Max(p => Math.Abs(p.First - p.Second)) < 20 * tolerance);
        Assert.True(Column("y").Zip(Column("ay")).Max(p => Math.Abs(p.First - p.Second)) < 20 * tolerance);
    }

    [Fact]
    public void Two_inertias_on_a_rigid_gear_move_as_one()
    {
        const string text = """
            parameter Real J1 = 2, J2 = 3, r = 4; Real w1(start = 1), w2, t1, t2;
            equation J1 * der(w1) = 10 - t1; J2 * der(w2) = t2; w1 = r * w2; t2 = r * t1;
            """;
        // With J = J1 + J2 / r² the shaft gains 10 / J a second.
        var rate = 10 / (2 + 3.0 / 16);
        Assert.Equal(1 + rate * 2, TextModel.Values(text, "w1", [2])[0], 1e-9);
        Assert.Equal((1 + rate * 2) / 4, TextModel.Values(text, "w2", [2])[0], 1e-9);
        Assert.Equal(3 * rate / 16, TextModel.Values(text, "t1", [2])[0], 1e-9);
    }

    [Theory]
    [InlineData("w2", "", "(start = 3)")]
    [InlineData("w1", "(stateSelect = StateSelect.prefer)", "(start = 3)")]
    [InlineData("w2", "(stateSelect = StateSelect.never)", "")]
    [InlineData("w2", "", "(start = 3, fixed = true)")]
    public void Start_values_and_preferences_decide_which_of_tied_quantities_is_the_state(string state, string first, string second)
    {
        var plan = TextModel
            .Prepare($"Real w1{first}; Real w2{second}; Real t; equation der(w1) = 10 - t; 3 * der(w2) = t; w1 = w2;")
            .Compiled!.Plan;
        Assert.Equal([state], plan.States.Select(plan.Model.NameOf));
    }

    [Fact]
    public void A_prescribed_motion_gives_its_force()
    {
        // Index 3: position prescribed, force wanted: m·a with a = −ω² sin ωt.
        const string text = "parameter Real m = 2; Real x; Real v; Real f; equation x = sin(3 * time); der(x) = v; m * der(v) = f;";
        Assert.Equal(-18 * Math.Sin(3 * 0.7), TextModel.Values(text, "f", [0.7])[0], 1e-12);
    }

    [Fact]
    public void A_loop_of_capacitors_shares_its_charge()
    {
        // Two capacitors in parallel behind a resistor: one time constant R (C1 + C2).
        const string text = """
            parameter Real R = 1000, C1 = 1e-6, C2 = 3e-6; Real u1, u2, i, i1, i2;
            equation C1 * der(u1) = i1; C2 * der(u2) = i2; i = i1 + i2; u1 = u2; R * i = 5 - u1;
            """;
        Assert.Equal(5 * (1 - Math.Exp(-1)), TextModel.Values(text, "u2", [4e-3])[0], 1e-7);
        Assert.Equal(3 * 5e-3 / 4 * Math.Exp(-1), TextModel.Values(text, "i2", [4e-3])[0], 1e-10);
    }

    /// <summary>The car axis of the test set for initial value problems (Schneider 1994), index 3; its values at 3 s are published
    /// there.</summary>
    [Theory]
    [InlineData(1e-5)]
    [InlineData(1e-8)]
    public void The_car_axis_meets_its_published_values(double tolerance)
    {
        const string text = """
            parameter Real L = 1, L0 = 0.5, e = 1e-2, M = 10, h = 0.1, w = 10;
            Real xl(start = 0), yl(start = 0.5), xr(start = 1), yr(start = 0.5), vxl(start = -0.5), vyl, vxr(start = -0.5), vyr, p, q, yb, xb, a, b;
            equation
            yb = h * sin(w * time); xb = sqrt(L ^ 2 - yb ^ 2); a = sqrt(xl ^ 2 + yl ^ 2); b = sqrt((xr - xb) ^ 2 + (yr - yb) ^ 2);
            der(xl) = vxl; der(yl) = vyl; der(xr) = vxr; der(yr) = vyr;
            e ^ 2 * M / 2 * der(vxl) = (L0 - a) * xl / a + p * xb + 2 * q * (xl - xr);
            e ^ 2 * M / 2 * der(vyl) = (L0 - a) * yl / a + p * yb + 2 * q * (yl - yr) - e ^ 2 * M / 2;
            e ^ 2 * M / 2 * der(vxr) = (L0 - b) * (xr - xb) / b - 2 * q * (xl - xr);
            e ^ 2 * M / 2 * der(vyr) = (L0 - b) * (yr - yb) / b - 2 * q * (yl - yr) - e ^ 2 * M / 2;
            xl * xb + yl * yb = 0; (xl - xr) ^ 2 + (yl - yr) ^ 2 = L ^ 2;
            """;
        var prepared = TextModel.Prepare(text);
        var result = TextModel.Run(
            prepared,
            new RunOptions
            {
                End = 3,
                RelativeTolerance = tolerance,
                AbsoluteTolerance = tolerance,
                OutputTimes = [3],
            }
        );
        Assert.Null(result.Failure);
        foreach (
            var (name, value) in new[]
            {
                ("xl", 0.4934557842755629e-1),
                ("yl", 0.4969894602303324),
                ("xr", 1.041742524885400),
                ("yr", 0.3739110272652214),
                ("vxl", -0.7705836840321485e-1),
                ("vyl", 0.7446866596327776e-2),
                ("vxr", 0.1755681574942899e-1),
                ("vyr", 0.7703410437794031),
            }
        )
            Assert.Equal(value, result.Trace[result.Trace.Rows - 1, prepared.Compiled!.Plan.RepresentativeOf(name)], 10 * tolerance);
    }

    [Fact]
    public void A_double_pendulum_hanging_straight_down_swings_and_keeps_its_energy()
    {
        // At the start both rods are vertical, so half of the constraints' slopes are zero.
        const string text = """
            Real x1, y1(start = -1), u1(start = 3), v1, x2, y2(start = -2), u2(start = 5), v2, f, k; Real energy = (u1 ^ 2 + v1 ^ 2 + u2 ^ 2 + v2 ^ 2) / 2 + 9.81 * (y1 + y2);
            Real rod = sqrt((x2 - x1) ^ 2 + (y2 - y1) ^ 2);
            equation der(x1) = u1; der(y1) = v1; der(x2) = u2; der(y2) = v2;
            der(u1) = -f * x1 + k * (x2 - x1); der(v1) = -f * y1 + k * (y2 - y1) - 9.81; der(u2) = -k * (x2 - x1); der(v2) = -k * (y2 - y1) - 9.81;
            x1 ^ 2 + y1 ^ 2 = 1; (x2 - x1) ^ 2 + (y2 - y1) ^ 2 = 1;
            """;
        var times = new[] { 0.5, 2, 5 };
        foreach (var energy in TextModel.Values(text, "energy", times))
            Assert.Equal(17 - 3 * 9.81, energy, 1e-7);
        foreach (var rod in TextModel.Values(text, "rod", times))
            Assert.Equal(1, rod, 1e-9);
    }

    [Fact]
    public void A_slider_crank_turns_with_its_piston()
    {
        const string text = """
            parameter Real r = 0.1, l = 0.3, m = 2, J = 0.05; Real phi(start = 0.3), w(start = 20), s, vs, a, F, tau, psi;
            Real energy = (J * w ^ 2 + m * vs ^ 2) / 2;
            equation der(phi) = w; J * der(w) = tau; s = r * cos(phi) + l * cos(psi); r * sin(phi) = l * sin(psi);
            der(s) = vs; der(vs) = a; m * a = F; tau * w = -F * vs;
            """;
        var energies = TextModel.Values(text, "energy", [0.001, 0.5, 2]);
        Assert.All(energies, e => Assert.Equal(energies[0], e, 1e-6 * energies[0]));
    }

    [Fact]
    public void Capacitors_between_nodes_written_as_balances_hide_their_constraint()
    {
        // Two nodes, C between them, R to ground at each, a source behind R at the first: one state, the voltage across C.
        const string text = """
            parameter Real C = 1e-3, R = 1000;
            Real a, b(start = 0.5, fixed = true);
            equation
              C * (der(a) - der(b)) = (1 - a) / R;
              C * (der(b) - der(a)) = -b / R;
            """;
        var b = TextModel.Values(text, "b", [1, 2])!;
        // From a = b: the voltage across C grows as 1 - exp(-t / (2 R C)), and b = (1 - it) / 2.
        Assert.Equal(Math.Exp(-0.5) / 2, b[0], 1e-7);
        Assert.Equal(Math.Exp(-1) / 2, b[1], 1e-7);
        // The balances need not cancel for the values of today alone.
        var changed = TextModel.Values(text, "b", [1], set: new Dictionary<string, string> { ["C"] = "2e-3" });
        Assert.Equal(Math.Exp(-0.25) / 2, changed[0], 1e-7);
    }
}
