using AnchorBend.Modeling;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Physical parts against exact solutions and balances of energy.</summary>
public class PhysicalNetworkTests
{
    static readonly RunOptions Tight = new()
    {
        End = 1,
        RelativeTolerance = 1e-9,
        AbsoluteTolerance = 1e-12,
    };

    static double Value(string text, string name, double time) => TextModel.Values(text, name, [0, time], Tight)[1];

    static void Near(double expected, double actual, double relative = 1e-6) =>
        Assert.True(Math.Abs(actual - expected) <= relative * Math.Max(1e-9, Math.Abs(expected)), $"{actual:R}, not {expected:R}");

    [Theory]
    [InlineData(
        "Mass m(m = 2, s0 = 1); Spring s(c = 50); TranslationalFixed f; equation connect(m.a, s.b); connect(s.a, f.a);",
        "m.s",
        0.28366218546322625
    )] // cos 5
    [InlineData(
        "Inertia j(J = 0.5, speed0 = 3); TorsionSpring s(c = 8); FixedShaft f; equation connect(j.a, s.b); connect(s.a, f.a);",
        "j.phi",
        -0.5676018714971174
    )] // 3/4 sin 4
    [InlineData(
        "Capacitor c(C = 0.5, v0 = 2); Inductor l(L = 0.5); Ground g; equation connect(c.p, l.p); connect(c.n, l.n); connect(g.p, c.n);",
        "c.stored",
        -0.8322936730942848
    )] // 2 cos 2
    [InlineData(
        "Capacitor c(C = 0.5, v0 = 2); Resistor r(R = 4); Ground g; equation connect(c.p, r.p); connect(c.n, r.n); connect(g.p, c.n);",
        "c.stored",
        1.2130613194252668
    )] // 2 e^-1/2
    [InlineData(
        "HeatCapacity h(C = 10, T0 = 400); Conduction k(G = 20); FixedTemperature e(T = 300); equation connect(h.a, k.a); connect(k.b, e.b);",
        "h.T",
        313.53352832366127
    )] // 300 + 100 e^-2
    [InlineData(
        "Mass m(m = 3, hold = false, v0 = 1); Rack r(r = 0.5); Inertia j(J = 1); TorqueSource t; parameter Real drive(unit = \"N.m\") = 7; equation t.u = drive; connect(t.b, j.a); connect(j.b, r.a); connect(r.b, m.a);",
        "j.w",
        4
    )] // 7 / (1 + 3/4)
    [InlineData(
        "Inertia a(J = 1), b(J = 2, hold = false); Gear g(ratio = 4); TorqueSource t; parameter Real drive(unit = \"N.m\") = 9; equation t.u = drive; connect(t.b, a.a); connect(a.b, g.a); connect(g.b, b.a);",
        "a.w",
        8
    )] // 9 / (1 + 2/16)
    [InlineData(
        "Mass a(m = 1), b(m = 2, hold = false); Lever l(ratio = -2); ForceSource f; parameter Real push(unit = \"N\") = 18; equation f.u = push; connect(f.b, a.a); connect(a.b, l.a); connect(l.b, b.a);",
        "b.v",
        -4
    )] // a: 18 / (1 + 8)
    [InlineData(
        "VoltageSource u(V = 12); Resistor r(R = 2), load(R = 1); Transformer t(ratio = 2); Ground g1, g2; equation connect(u.p, r.p); connect(r.n, t.p1); connect(t.n1, u.n); connect(g1.p, u.n); connect(t.p2, load.p); connect(t.n2, load.n); connect(g2.p, load.n);",
        "load.i",
        4
    )] // 12 / (2 + 4) * 2
    public void A_network_follows_its_exact_solution(string text, string name, double expected) =>
        Near(expected, Value(text, name, 1), 2e-7);

    [Theory]
    [InlineData("Inertia a(J = 2, speed0 = 10), b(J = 3); Gear g(ratio = 4); equation connect(a.b, g.a); connect(g.b, b.a);", "b.w", 2.5)]
    [InlineData("Inertia a(J = 2), b(J = 3, speed0 = 10); Gear g(ratio = 4); equation connect(a.b, g.a); connect(g.b, b.a);", "a.w", 40)]
    [InlineData("Mass a(m = 2), b(m = 3, s0 = 0.5, v0 = 1); equation connect(a.b, b.a);", "a.s", 1.5)] // 0.5 + 1 s
    [InlineData(
        "Capacitor a(C = 1), b(C = 2, v0 = 5); Ground g; equation connect(a.p, b.p); connect(a.n, b.n); connect(a.n, g.p);",
        "a.stored",
        5
    )]
    [InlineData(
        "Inductor a(L = 1, i0 = 3), b(L = 2); Ground g; equation connect(a.n, b.p); connect(a.p, b.n); connect(a.p, g.p);",
        "b.stored",
        3
    )]
    [InlineData("HeatCapacity a(C = 1), b(C = 2, T0 = 350); equation connect(a.a, b.a);", "a.T", 350)]
    [InlineData("SpeedSource p; Mass m(s0 = 2); equation p.u = 0.5; connect(p.b, m.a);", "m.s", 2.5)] // 2 + 0.5 s
    [InlineData("SpeedSource p(s0 = 2); Mass m; equation p.u = 0.5; connect(p.b, m.a);", "m.s", 2.5)]
    public void Of_parts_that_move_as_one_the_one_with_a_start_value_says_how_they_begin(string text, string name, double expected) =>
        Near(expected, Value(text, name, 1), 1e-9);

    [Theory]
    [InlineData("Mass a(v0 = 1), b(v0 = 2); equation connect(a.b, b.a);")]
    [InlineData("Mass a(v0 = 1), b(hold = true); equation connect(a.b, b.a);")]
    public void Start_values_against_each_other_are_told(string text)
    {
        var failure = TextModel.Run(TextModel.Prepare(text), Tight).Failure!;
        Assert.Equal("start", failure.Code);
        Assert.Contains("hold", failure.Advice, StringComparison.Ordinal);
    }

    [Fact]
    public void A_mass_on_a_spring_begins_at_rest_where_that_is_asked_for()
    {
        const string text =
            "Mass m(m = 2); Spring s(c = 100); TranslationalFixed f; ForceSource g; parameter Real weight(unit = \"N\") = -20; equation connect(f.a, s.a); connect(s.b, m.a); connect(g.b, m.b); g.u = weight;";
        Near(-0.2, TextModel.Values(text, "m.s", [0, 1], Tight with { SteadyStart = true })[1]);
    }

    [Fact]
    public void What_a_damper_takes_is_found_as_heat()
    {
        const string text = """
            Mass m(m = 2, v0 = 3); Damper d(d = 4, heatPort = true); TranslationalFixed f; HeatCapacity h(C = 5, T0 = 300);
            Real energy = 0.5 * 2 * m.v ^ 2 + 5 * (h.T - 300);
            equation connect(m.a, d.b); connect(d.a, f.a); connect(d.heat, h.a);
            """;
        Near(9, Value(text, "energy", 1.5), 1e-7);
        Near(3 * Math.Exp(-3), Value(text, "m.v", 1.5), 1e-6);
    }

    [Fact]
    public void A_clutch_turns_the_loss_of_two_inertias_into_heat()
    {
        const string text = """
            Inertia a(J = 1, speed0 = 10), b(J = 3); Clutch c(t = 20, c = 1e5, heatPort = true); HeatCapacity h(C = 100, T0 = 300); parameter Real pressed = 1;
            Real energy = 0.5 * a.w ^ 2 + 1.5 * b.w ^ 2 + 100 * (h.T - 300);
            equation c.u = pressed; connect(a.b, c.a); connect(c.b, b.a); connect(c.heat, h.a);
            """;
        Near(50, Value(text, "energy", 1), 1e-4); // but for what the linings hold: t²/2c = 0.002 J
        Near(2.5, Value(text, "b.w", 1), 1e-3);
    }

    [Fact]
    public void Friction_sticks_below_its_breakaway_force_and_slides_above_it()
    {
        const string text = """
            Mass m(m = 1); TranslationalFriction r(fc = 8, fs = 10); TranslationalFixed f; ForceSource p; parameter Real push(unit = "N") = 6;
            equation p.u = push; connect(p.b, m.a); connect(m.b, r.b); connect(r.a, f.a);
            """;
        Assert.True(Value(text, "m.s", 1) < 1e-4);
        var sliding = Value(text.Replace("= 6;", "= 12;", StringComparison.Ordinal), "m.v", 1);
        Assert.InRange(sliding, 3.9, 4.1); // (12 − 8) N on 1 kg, but for the breakaway
    }

    [Fact]
    public void A_motor_turns_all_of_its_conversion_into_shaft_power()
    {
        const string text = """
            VoltageSource u(V = 24); Resistor r(R = 0.5, heatPort = true); Inductor l(L = 1e-3); MotorConstant m(k = 0.1); Ground g; Inertia j(J = 0.01); HeatCapacity h(C = 50, T0 = 300);
            Real given(start = 0, fixed = true);
            Real energy = 0.5 * 1e-3 * l.i ^ 2 + 0.5 * 0.01 * j.w ^ 2 + 50 * (h.T - 300) - given;
            equation der(given) = 24 * l.i; connect(u.p, r.p); connect(r.n, l.p); connect(l.n, m.p); connect(m.n, u.n); connect(g.p, u.n); connect(m.b, j.a); connect(r.heat, h.a);
            """;
        Assert.True(Math.Abs(Value(text, "energy", 2)) < 1e-5);
    }

    [Theory]
    [InlineData(1e7, 1e-6)]
    [InlineData(-1e7, 1e-6)]
    public void An_orifice_follows_the_square_root_law_at_large_pressure(double dp, double area)
    {
        var flow = Value(
            $"PressureSource s; Orifice o(area = {area:R}, cd = 0.7); Reservoir r(p = 2e7); Fluid f(kind = Fluid.Kind.water); parameter Real level(unit = \"Pa\") = {2e7 + dp:R}; equation s.u = level; connect(s.b, o.a); connect(o.b, r.a); connect(f.a, r.a);",
            "o.q",
            1
        );
        Near(Math.Sign(dp) * 0.7 * area * Math.Sqrt(2 * Math.Abs(dp) / 998), flow, 1e-4);
    }

    [Fact]
    public void A_network_of_pump_valve_and_cylinder_takes_the_fluid_of_one_part()
    {
        const string text = """
            Fluid f(kind = Fluid.Kind.sea); Pump p; ShaftSpeedSource s; Reservoir t1, t2; FourWayValve v; Cylinder c; Mass m; TranslationalFixed w; parameter Real speed(unit = "rad/s") = 0, half = 0;
            equation s.u = speed; v.u = half; connect(s.b, p.shaft); connect(p.a, t1.a); connect(p.b, v.p); connect(v.t, t2.a); connect(v.a, c.a); connect(v.b, c.b); connect(c.rod, m.a); connect(c.base, w.a); connect(f.a, t1.a);
            """;
        var prepared = TextModel.Prepare(text);
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings));
        var values = prepared.Model.ParameterValues();
        foreach (var port in new[] { "c.b", "v.t", "p.b", "t2.a" })
            Assert.Equal(1025, values[prepared.Model.Find(port + ".rho")!.Index]);
        var two = TextModel.Prepare(
            text.Replace("Pump p;", "Pump p; Fluid other;", StringComparison.Ordinal)
                .Replace("equation", "equation connect(other.a, c.a);", StringComparison.Ordinal)
        );
        Assert.Contains(two.Findings, x => x.Code == "two-roots");
    }

    [Fact]
    public void A_cylinder_moves_with_the_flow_and_stops_at_its_end()
    {
        const string text = """
            FlowSource s; Reservoir t(p = 1e5); Cylinder c(A = 2e-3, AB = 1e-3, stroke = 0.2, d = 100, leak = 0, gas = 1e-6); Mass m(m = 20); TranslationalFixed w; parameter Real given(unit = "m3/s") = 1e-4;
            ReliefValve r(pSet = 2e7); Reservoir t2;
            equation s.u = given; connect(s.b, c.a); connect(c.b, t.a); connect(c.rod, m.a); connect(c.base, w.a); connect(r.a, c.a); connect(r.b, t2.a);
            """;
        Near(0.05, Value(text, "c.x", 1), 3e-3); // 1e-4 / 2e-3 for 1 s, less what the oil gives way
        Near(0.2, Value(text, "c.x", 6), 5e-3);
    }

    [Theory]
    [InlineData(
        "Mass m(m = 2, hold = false); Spring s(c = 50); Damper d; TranslationalFixed f; ForceSource p; parameter Real u(unit = \"N\") = 100; equation p.u = u; connect(p.b, m.a); connect(m.a, s.b); connect(s.a, f.a); connect(d.b, m.a); connect(d.a, f.a);",
        "m.s",
        2
    )]
    [InlineData(
        "Inertia j(hold = false); TorsionSpring s(c = 8); TorsionDamper d; FixedShaft f; TorqueSource p; parameter Real u(unit = \"N.m\") = 4; equation p.u = u; connect(p.b, j.a); connect(j.a, s.b); connect(s.a, f.a); connect(d.b, j.a); connect(d.a, f.a);",
        "j.phi",
        0.5
    )]
    [InlineData(
        "VoltageSource u(V = 12); Resistor r(R = 2), q(R = 4); Capacitor c(hold = false); Inductor l(hold = false); Ground g; equation connect(u.p, r.p); connect(r.n, l.p); connect(l.n, c.p); connect(c.n, u.n); connect(q.p, c.p); connect(q.n, c.n); connect(g.p, u.n);",
        "c.stored",
        8
    )]
    [InlineData(
        "HeatCapacity h(hold = false); HeatSource s(Q = 50); Conduction k(G = 5); FixedTemperature e(T = 290); equation connect(s.b, h.a); connect(h.a, k.a); connect(k.b, e.b);",
        "h.T",
        300
    )]
    [InlineData(
        "FlowSource s; Volume v(hold = false, p0 = 1e6); Orifice o(area = 1e-6); Reservoir r; parameter Real u(unit = \"m3/s\") = 1e-4; equation s.u = u; connect(s.b, v.a); connect(v.b, o.a); connect(o.b, r.a);",
        "o.q",
        1e-4
    )]
    // From far away, where the trapped gas makes the volume a hundred times softer than at rest.
    [InlineData(
        "PressureSource s; Orifice i(area = 1e-6); Volume v(hold = false); Orifice o(area = 1e-6); Reservoir r(p = 1e5); equation s.u = 21e5; connect(s.b, i.a); connect(i.b, v.a); connect(v.b, o.a); connect(o.b, r.a);",
        "v.a.p",
        11e5
    )]
    public void Each_domain_starts_at_rest_when_asked(string text, string name, double expected)
    {
        var values = TextModel.Values(text, name, [0, 1], Tight with { SteadyStart = true });
        Near(expected, values[0], 1e-6);
        Near(expected, values[1], 1e-6);
    }

    [Theory]
    [InlineData("Mass m; Resistor r; Ground g; equation connect(m.a, r.p); connect(g.p, r.n);", "domain")]
    [InlineData("VoltageSource u; Resistor r; equation connect(u.p, r.p); connect(u.n, r.n);", "no-reference")]
    [InlineData(
        "VoltageSource u; Resistor r; Ground g; Transformer t; equation connect(u.p, t.p1); connect(u.n, t.n1); connect(g.p, u.n); connect(t.p2, r.p); connect(t.n2, r.n);",
        "no-reference"
    )]
    public void A_network_that_cannot_be_is_told(string text, string code) =>
        Assert.Contains(TextModel.Prepare(text).Findings, f => f.Code == code && f.Severity == Severity.Error);

    [Fact]
    public void A_rectifier_charges_through_its_diodes()
    {
        const string text = """
            SineVoltage u(V = 20, fr = 50); Diode a(Vknee = 0.7), b(Vknee = 0.7), c(Vknee = 0.7), d(Vknee = 0.7); Capacitor s(C = 5e-3); Resistor r(R = 50), own(R = 0.05); Ground g;
            equation connect(u.p, own.p); connect(own.n, a.p); connect(a.n, s.p); connect(b.p, u.n); connect(b.n, s.p); connect(c.p, g.p); connect(c.n, a.p); connect(d.p, g.p); connect(d.n, u.n);
            connect(s.n, g.p); connect(r.p, s.p); connect(r.n, s.n);
            """;
        Assert.InRange(TextModel.Values(text, "s.stored", [0, 0.5])[1], 17.0, 18.6);
    }

    [Fact]
    public void Fluid_that_is_locked_in_and_warmed_rises_by_modulus_times_expansion()
    {
        // Without gas: p - p0 = K·β·(T - T0); 1 kW for 1 s into one litre of oil warms it by 1000 / (ρ·c·V).
        const string text =
            "Volume v(V = 1e-3, gas = 0, heatPort = true, T0 = 313.15); HeatSource h(Q = 1000); equation connect(h.b, v.heat);";
        var warmed = 1000 / (854.775 * 1900 * 1e-3);
        Near(313.15 + warmed, Value(text, "v.heat.T", 1), 1e-8);
        Near(1e5 + 1.4e9 * 7e-4 * warmed, Value(text, "v.a.p", 1), 1e-6);
    }

    [Fact]
    public void A_store_counts_its_charge()
    {
        const string text = """
            EnergyStore b(Q = 3600, soc0 = 0.5); CurrentSource load(I = 2); Ground g; Real left = b.charge;
            equation connect(b.p, load.p); connect(b.n, load.n); connect(g.p, b.n);
            """;
        Near(0.5 - 2.0 * 600 / 3600, Value(text, "left", 600), 1e-8);
    }

    [Theory]
    [InlineData(IntegrationMethod.Auto), InlineData(IntegrationMethod.BackwardDifferences), InlineData(IntegrationMethod.Radau5)]
    public void A_lossy_gear_that_turns_round_is_solved_as_far_as_numbers_go(IntegrationMethod method)
    {
        // Where the gear turns round, its torque is a small difference of large ones, and its equations cannot be met better than these
        // are rounded.
        const string text = """
            Step w(height = 1.261, startTime = 0.37); FixedShaft wall; TorqueSource f; Gain amp(k = 3.865); Inertia m0(J = 0.07975);
            TorsionSpring l0_0(c = 279.7); ShaftBacklash l0_1(gap = 0.1864, c = 101.3, d = 0.8111); Inertia m1(J = 0.1446); TorsionSpring l1_0(c = 6.054);
            TorsionDamper l1_1(d = 4.747); Inertia m2(J = 0.1082); TorsionSpring l2_0(c = 130.6); TorsionDamper l2_1(d = 0.7779);
            ShaftFriction l2_2(tc = 1.965, ts = 4, c = 104.8, d0 = 0.2614); LossyGear lev(ratio = 9.743, eta = 0.85); Inertia far(J = 0.3, hold = false);
            TorsionDamper fd(d = 0.4); Lag last(T = 0.05); RotationSensor ms; equation connect(w.y, amp.u); connect(amp.y, f.u); connect(wall.a, l0_0.a);
            connect(l0_0.b, m0.a); connect(wall.a, l0_1.a); connect(l0_1.b, m0.a); connect(m0.b, l1_0.a); connect(l1_0.b, m1.a); connect(m0.b, l1_1.a);
            connect(l1_1.b, m1.a); connect(m1.b, l2_0.a); connect(l2_0.b, m2.a); connect(m1.b, l2_1.a); connect(l2_1.b, m2.a); connect(m1.b, l2_2.a);
            connect(l2_2.b, m2.a); connect(m2.b, lev.a); connect(lev.b, far.a); connect(far.b, fd.a); connect(fd.b, wall.a); connect(f.b, m2.b);
            connect(m2.b, ms.a); connect(ms.w, last.u);
            """;
        var options = new RunOptions
        {
            End = 2.83,
            RelativeTolerance = 1e-6,
            AbsoluteTolerance = 1e-6,
        };
        var expected = TextModel.Values(
            text,
            "ms.w",
            [1, 2.83],
            options with
            {
                Method = IntegrationMethod.Radau5,
                RelativeTolerance = 1e-9,
                AbsoluteTolerance = 1e-9,
            }
        );
        Assert.Equal(expected, TextModel.Values(text, "ms.w", [1, 2.83], options with { Method = method }), (a, b) =>
            Math.Abs(a - b) < 1e-5
        );
    }
}
