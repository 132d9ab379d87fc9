using System.Numerics;
using static AnchorBend.Simulation.Tests.PhysicalRun;

namespace AnchorBend.Simulation.Tests;

/// <summary>Parts of drives against exact solutions, balances of power and the formulas of their steady states.</summary>
public class DriveTests
{
    const string Three =
        "Real u[3]; equation u[1] = 2 * cos(5 * time) + 0.3; u[2] = 2 * cos(5 * time - 2.0943951023931953) + 0.3; "
        + "u[3] = 2 * cos(5 * time + 2.0943951023931953) + 0.3; ";

    [Fact]
    public void A_balanced_set_is_a_vector_of_its_amplitude_that_turns()
    {
        const string text = "ClarkeTransform t; InverseClarke b; " + Three + "t.u = u; b.u = t.y;";
        Near(2 * Math.Cos(5 * 0.7), Value(text, "t.y[1]", 0.7));
        Near(2 * Math.Sin(5 * 0.7), Value(text, "t.y[2]", 0.7));
        Near(0.3, Value(text, "t.y[3]", 0.7));
        for (var k = 1; k <= 3; k++)
            Near(Value(text, $"u[{k}]", 0.7), Value(text, $"b.y[{k}]", 0.7));
    }

    [Fact]
    public void With_power_that_stays_products_keep_their_sum()
    {
        const string text =
            "ClarkeTransform v(scaling = ClarkeTransform.Scaling.power), i(scaling = ClarkeTransform.Scaling.power); Real lost; "
            + "equation v.u = {3 * time, 1 - time, time ^ 2}; i.u = {2, 5 * time, -1}; "
            + "lost = v.u[1] * i.u[1] + v.u[2] * i.u[2] + v.u[3] * i.u[3] - v.y[1] * i.y[1] - v.y[2] * i.y[2] - v.y[3] * i.y[3];";
        Assert.Equal(0, Value(text, "lost", 0.6), 1e-12);
    }

    [Fact]
    public void What_turns_with_the_frame_stands_still_in_it()
    {
        const string text =
            "ParkTransform t; ParkTransform b(back = true); equation t.u = {4 * cos(7 * time + 0.2), 4 * sin(7 * time + 0.2), 0.5}; "
            + "t.angle = 7 * time; b.u = t.y; b.angle = 7 * time;";
        Near(4 * Math.Cos(0.2), Value(text, "t.y[1]", 0.9));
        Near(4 * Math.Sin(0.2), Value(text, "t.y[2]", 0.9));
        Near(4 * Math.Cos(7 * 0.9 + 0.2), Value(text, "b.y[1]", 0.9));
        Near(0.5, Value(text, "b.y[3]", 0.9));
    }

    const string Rails = "VoltageSource dc(V = 48); Ground g; ";

    [Fact]
    public void The_rails_give_what_the_phases_take_and_the_switches_lose()
    {
        const string text =
            Rails
            + "AveragedInverter inv(R = 0.1); Resistor ra(R = 2), rb(R = 3), rc(R = 5); Real lost; equation inv.duty = {0.8, 0.3, 0.5}; "
            + "connect(dc.p, inv.p); connect(dc.n, inv.n); connect(g.p, dc.n); connect(inv.a, ra.p); connect(inv.b, rb.p); "
            + "connect(inv.c, rc.p); connect(ra.n, rb.n); connect(ra.n, rc.n); "
            + "lost = inv.p.v * inv.p.i + inv.n.v * inv.n.i + inv.a.v * inv.a.i + inv.b.v * inv.b.i + inv.c.v * inv.c.i "
            + "- 0.1 * (inv.a.i ^ 2 + inv.b.i ^ 2 + inv.c.i ^ 2);";
        Assert.Equal(0, Value(text, "lost", 0.1), 1e-9);
        Near(
            48 * 0.5,
            Value(text, "inv.a.v", 0.1) - Value(text, "inv.b.v", 0.1) - 0.1 * (Value(text, "inv.a.i", 0.1) - Value(text, "inv.b.i", 0.1))
        );
    }

    [Fact]
    public void A_current_that_is_switched_off_goes_on_through_the_diode()
    {
        // Charged for 2 ms through R and the switch, then against the knee of the lower diode.
        const string text =
            Rails
            + "HalfBridge h(deadTime = 1, Ron = 0.01, Vdiode = 0.8, Rdiode = 0.02, Goff = 1e-9); Resistor r(R = 1); Inductor l(L = 2e-3); "
            + "equation h.u = time < 2e-3; h.enabled = true; connect(dc.p, h.p); connect(dc.n, h.n); connect(g.p, dc.n); "
            + "connect(h.a, r.p); connect(r.n, l.p); connect(l.n, dc.n);";
        var first = 48 / 1.01 * (1 - Math.Exp(-2e-3 * 1.01 / 2e-3));
        // Before the first change the dead time is over long since.
        Near(first, Value(text, "l.stored", 2e-3), 1e-5);
        var rate = 1.02 / 2e-3;
        Near((first + 0.8 / 1.02) * Math.Exp(-rate * 1e-3) - 0.8 / 1.02, Value(text, "l.stored", 3e-3), 1e-5);
        // When it has come to nothing it stays there.
        Assert.Equal(0, Value(text, "l.stored", 0.05), 1e-4);
    }

    const string Feed =
        "SignalVoltage va, vb, vc; Ground g; parameter Real one(unit = \"V\") = 1; equation connect(va.n, g.p); "
        + "connect(vb.n, g.p); connect(vc.n, g.p); "
        + "connect(va.p, m.a); connect(vb.p, m.b); connect(vc.p, m.c); ";

    [Fact]
    public void A_locked_rotor_leaves_a_winding_of_resistance_and_inductance()
    {
        const string text =
            "SynchronousMachine m(R = 0.2, Ld = 1e-3, Lq = 3e-3); FixedShaft f; "
            + Feed
            + "va.u = 6 * one; vb.u = 0 * one; vc.u = 0 * one; connect(m.shaft, f.a);";
        Near(6 * 2.0 / 3 / 0.2 * (1 - Math.Exp(-0.2 / 1e-3 * 4e-3)), Value(text, "m.id", 4e-3));
        Near(-Value(text, "m.id", 4e-3) / 2, Value(text, "m.b.i", 4e-3));
    }

    [Fact]
    public void In_the_frame_of_its_magnets_it_is_the_machine_of_its_three_phases()
    {
        // Self and mutual inductances over the angle (Krause): Ld = 3/2 (L1 + L2) + Ll, Lq = 3/2 (L1 − L2) + Ll.
        const string twin = """
            model Twin
              ElectricalPort a; ElectricalPort b; ElectricalPort c; RotationalPort shaft;
              parameter Real R = 0.2; parameter Real L1 = 1e-3; parameter Real L2 = -0.4e-3; parameter Real Ll = 0.2e-3;
              parameter Real psi = 0.05;
              constant Real k = 2.0943951023931953;
              Real th; Real x(start = 0.05 * (1 + 0.5), fixed = true); Real y(start = 0.05 * (-0.5 + 0.5), fixed = true);
              Real ia; Real ib; Real ic; Real la; Real lb; Real lc;
            equation
              th = 4 * shaft.angle;
              ic = -ia - ib;
              la = (L1 + Ll + L2 * cos(2 * th)) * ia + (-L1 / 2 + L2 * cos(2 * th - k)) * ib
                + (-L1 / 2 + L2 * cos(2 * th + k)) * ic + psi * cos(th);
              lb = (-L1 / 2 + L2 * cos(2 * th - k)) * ia + (L1 + Ll + L2 * cos(2 * th + k)) * ib
                + (-L1 / 2 + L2 * cos(2 * th)) * ic + psi * cos(th - k);
              lc = (-L1 / 2 + L2 * cos(2 * th + k)) * ia + (-L1 / 2 + L2 * cos(2 * th)) * ib
                + (L1 + Ll + L2 * cos(2 * th - k)) * ic + psi * cos(th + k);
              x = la - lb; y = lb - lc;
              der(x) = a.v - b.v - R * (ia - ib); der(y) = b.v - c.v - R * (ib - ic);
              a.i = ia; b.i = ib; c.i = ic; shaft.torque = 0;
            end Twin;
            """;
        const string text =
            twin
            + "model M SynchronousMachine m(R = 0.2, Ld = 1.1e-3, Lq = 2.3e-3, flux = 0.05); Twin t; ShaftSpeedSource w; "
            + "SignalVoltage va, vb, vc; Ground g; parameter Real one(unit = \"V\") = 1; parameter Real speed(unit = \"rad/s\") = 60; "
            + "equation w.u = speed; connect(w.b, m.shaft); connect(m.shaft, t.shaft); connect(va.n, g.p); connect(vb.n, g.p); "
            + "connect(vc.n, g.p); connect(va.p, m.a); connect(vb.p, m.b); connect(vc.p, m.c); connect(va.p, t.a); connect(vb.p, t.b); "
            + "connect(vc.p, t.c); va.u = 20 * one * cos(240 * time + 1.9); vb.u = 20 * one * cos(240 * time + 1.9 - 2.0943951023931953); "
            + "vc.u = 18 * one * cos(240 * time + 1.9 + 2.0943951023931953); end M;";
        foreach (var time in (double[])[1e-3, 0.01, 0.05])
        {
            Near(Value(text, "t.ia", time), Value(text, "m.a.i", time), 1e-5);
            Near(Value(text, "t.ib", time), Value(text, "m.b.i", time), 1e-5);
        }
    }

    [Fact]
    public void Its_steady_torque_is_that_of_the_two_axes()
    {
        const string text =
            "SynchronousMachine m(R = 0.2, Ld = 1e-3, Lq = 2e-3, flux = 0.05, pairs = 4); ShaftSpeedSource w; "
            + Feed
            + "w.u = 100 * rate; connect(w.b, m.shaft); va.u = 25 * one * cos(400 * time + 2); "
            + "vb.u = 25 * one * cos(400 * time + 2 - 2.0943951023931953); vc.u = 25 * one * cos(400 * time + 2 + 2.0943951023931953);";
        var whole = text.Replace("Ground g;", "Ground g; parameter Real rate(unit = \"rad/s\") = 1;", StringComparison.Ordinal);
        // 25 cos 2 and 25 sin 2 along and across: 0.2 id − 0.8 iq = vd, 0.2 iq + 0.4 id + 20 = vq.
        double vd = 25 * Math.Cos(2),
            vq = 25 * Math.Sin(2) - 20,
            det = 0.2 * 0.2 + 0.8 * 0.4,
            id = (0.2 * vd + 0.8 * vq) / det,
            iq = (0.2 * vq - 0.4 * vd) / det;
        Near(1.5 * 4 * (0.05 * iq - 1e-3 * id * iq), Value(whole, "m.torque", 0.3), 1e-5);
    }

    [Theory]
    [InlineData(140)]
    [InlineData(155)]
    [InlineData(170)]
    public void An_induction_machine_comes_to_the_torque_of_its_equivalent_circuit(double speed)
    {
        var text =
            "InductionMachine m(pairs = 2, Rs = 0.5, Rr = 0.4, Lm = 0.06, Ls = 2e-3, Lr = 2e-3); ShaftSpeedSource w; "
            + Feed.Replace("Ground g;", "Ground g; parameter Real rate(unit = \"rad/s\") = 1;", StringComparison.Ordinal)
            + FormattableString.Invariant($"w.u = {speed} * rate; connect(w.b, m.shaft); va.u = 300 * one * cos(314 * time); ")
            + "vb.u = 300 * one * cos(314 * time - 2.0943951023931953); vc.u = 300 * one * cos(314 * time + 2.0943951023931953);";
        // Rr over the slip, beside the main inductance (Krause): torque 3 p I² Rr / (s ωs), of effective values.
        var slip = (314 - 2 * speed) / 314;
        Complex stator = new(0.5, 314 * 2e-3),
            rotor = new(0.4 / slip, 314 * 2e-3),
            main = new(0, 314 * 0.06);
        var together = main * rotor / (main + rotor);
        var i = 300 / (stator + together) * together / rotor;
        var torque = 1.5 * 2 * i.Magnitude * i.Magnitude * 0.4 / slip / 314;
        Near(torque, Value(text, "m.torque", 3), 1e-4);
    }

    [Fact]
    public void Two_phases_between_flat_tops_are_a_winding_against_twice_the_voltage()
    {
        // From 35 to 60 electrical degrees phases a and b stand on their flat tops, c is free.
        const string text =
            "BrushlessMachine m(pairs = 1, R = 0.3, L = 5e-4, k = 0.05); Inertia j(J = 1e9, angle0 = 0.6108652381980153, speed0 = 100); "
            + "VoltageSource dc(V = 24); Ground g; Resistor free(R = 1e7); equation connect(m.shaft, j.a); connect(dc.p, m.a); "
            + "connect(dc.n, m.b); connect(dc.n, g.p); connect(m.c, free.p); connect(free.n, g.p);";
        const double time = 3e-3;
        var expected = (24 - 2 * 0.05 * 100) / 0.6 * (1 - Math.Exp(-0.6 * time / 1e-3));
        Near(expected, Value(text, "m.ia", time), 1e-5);
        Near(2 * 0.05 * expected, Value(text, "m.torque", time), 1e-5);
    }

    [Fact]
    public void Commutation_by_table_keeps_both_phases_on_their_flat_tops()
    {
        // Over a turn: whichever phases the table joins, their voltages at work are a whole flat top each.
        const string text =
            "SectorSensor s; CommutationTable t; BrushlessMachine m(pairs = 1); Inertia j(J = 1e9, speed0 = 1, angle0 = 0.3); Ground g; "
            + "Resistor a(R = 1e6), b(R = 1e6), c(R = 1e6); equation connect(m.shaft, j.a); s.angle = m.angle; t.u = s.y; "
            + "connect(m.a, a.p); connect(m.b, b.p); connect(m.c, c.p); connect(a.n, g.p); connect(b.n, g.p); connect(c.n, g.p);";
        for (var angle = 0.41; angle < 6.6; angle += 0.31)
            Near(2, Enumerable.Range(1, 3).Sum(k => Value(text, $"t.y[{k}]", angle - 0.3) * Value(text, $"m.s[{k}]", angle - 0.3)));
    }

    [Theory]
    [InlineData("CarrierComparison.Carrier.triangle")]
    [InlineData("CarrierComparison.Carrier.sawtooth")]
    public void Pulses_have_the_shares_that_are_wanted(string carrier)
    {
        var text =
            $"CarrierComparison m(n = 2, f = 1000, carrier = {carrier}); Real x[2](each start = 0); equation m.duty = {{0.37, 1.2}}; "
            + "for k in 1:2 loop der(x[k]) = if m.y[k] then 1 else 0; end for;";
        Near(0.37 * 0.02, Value(text, "x[1]", 0.02), 1e-8);
        Near(0.02, Value(text, "x[2]", 0.02), 1e-8);
    }

    [Fact]
    public void Space_vectors_keep_what_lies_between_phases_up_to_the_rails_over_root_three()
    {
        const string text =
            "SpaceVectorDuties m; parameter Real one(unit = \"V\") = 1; equation m.vdc = 100 * one; "
            + "m.u = {57.735026918 * one * cos(time), 57.735026918 * one * cos(time - 2.0943951023931953), "
            + "57.735026918 * one * cos(time + 2.0943951023931953)};";
        foreach (var time in (double[])[0.1, 0.7, 1.3, 2.9])
        {
            Near(
                Value(text, "m.u[1]", time) - Value(text, "m.u[2]", time),
                100 * (Value(text, "m.duty[1]", time) - Value(text, "m.duty[2]", time))
            );
            Near(1, Value(text, "m.duty[1]", time) + Value(text, "m.duty[2]", time) + Value(text, "m.duty[3]", time) - Middle(text, time));
        }

        // The highest and the lowest phase lie the same way from the rails.
        static double Middle(string text, double time)
        {
            double[] d = [Value(text, "m.duty[1]", time), Value(text, "m.duty[2]", time), Value(text, "m.duty[3]", time)];
            Array.Sort(d);
            Assert.True(d[0] >= 0 && d[2] <= 1);
            return d[1];
        }
    }

    [Fact]
    public void A_bridge_that_switches_gives_on_the_whole_what_its_mean_gives()
    {
        const string load =
            "Resistor ra(R = 1), rb(R = 1), rc(R = 1); Inductor la(L = 1e-3), lb(L = 1e-3), lc(L = 1e-3, hold = false); equation "
            + "connect(dc.p, inv.p); connect(dc.n, inv.n); connect(g.p, dc.n); connect(inv.a, ra.p); connect(inv.b, rb.p); "
            + "connect(inv.c, rc.p); connect(ra.n, la.p); connect(rb.n, lb.p); connect(rc.n, lc.p); "
            + "connect(la.n, lb.n); connect(lb.n, lc.n); ";
        var averaged = Value(Rails + "AveragedInverter inv; " + load + "inv.duty = {0.7, 0.4, 0.4};", "la.stored", 0.02);
        Near(48 * 0.3 * 2 / 3, averaged, 1e-4);
        var switching =
            Rails
            + "InverterBridge inv(Ron = 1e-4, Rdiode = 1e-4, Vdiode = 0.01); CarrierComparison m(f = 5000); Real x(start = 0); "
            + load
            + "m.duty = {0.7, 0.4, 0.4}; for k in 1:3 loop inv.upper[k] = m.y[k]; inv.lower[k] = not m.y[k]; end for; der(x) = la.stored;";
        // Over the last 25 periods.
        var mean = (Value(switching, "x", 0.02) - Value(switching, "x", 0.015)) / 0.005;
        Near(averaged, mean, 2e-3);
    }

    [Fact]
    public void A_direct_current_machine_rises_with_its_winding_and_runs_up_to_its_voltage()
    {
        const string machine = "DirectCurrentMachine m(R = 0.5, L = 1e-3, k = 0.1); VoltageSource dc(V = 12); Ground g; ";
        const string feed = "equation connect(dc.p, m.p); connect(dc.n, m.n); connect(g.p, dc.n); ";
        Near(
            12 / 0.5 * (1 - Math.Exp(-0.5 * 2e-3 / 1e-3)),
            Value(machine + "FixedShaft f; " + feed + "connect(m.shaft, f.a);", "m.i", 2e-3)
        );
        var loaded =
            machine
            + "Inertia j(J = 1e-5); TorqueSource t; parameter Real load(unit = \"N.m\") = -0.2; "
            + feed
            + "connect(m.shaft, j.a); connect(j.b, t.b); t.u = load;";
        // Torque 0.2 takes 2 A, which leave 11 V of 12 for the speed.
        Near(2, Value(loaded, "m.i", 1));
        Near(110, Value(loaded, "m.w", 1));
    }

    [Fact]
    public void A_field_winding_gives_voltage_and_torque_in_its_own_time()
    {
        const string text =
            "FieldMachine m(R = 0.5, L = 2e-3, Rf = 100, Lf = 10, M = 0.5); VoltageSource dc(V = 60), field(V = 200); Ground g; "
            + "Inertia j(J = 1e9, speed0 = 50); equation connect(dc.p, m.p); connect(dc.n, m.n); connect(g.p, dc.n); "
            + "connect(field.p, m.fp); connect(field.n, m.fn); connect(m.fn, g.p); connect(m.shaft, j.a);";
        Near(2 * (1 - Math.Exp(-100 * 0.05 / 10)), Value(text, "m.f", 0.05));
        // In the end 2 A of field induce 50 V; 10 V over 0.5 Ω are left.
        Near(20, Value(text, "m.i", 3));
    }

    [Fact]
    public void Six_diodes_make_of_three_phases_three_root_three_over_pi_of_their_amplitude()
    {
        const string text =
            "RectifierBridge m(Vknee = 0, Ron = 1e-6, Goff = 1e-9); Resistor load(R = 10); Real x(start = 0); "
            + Feed
            + "va.u = 100 * one * cos(314.1592653589793 * time); vb.u = 100 * one * cos(314.1592653589793 * time - 2.0943951023931953); "
            + "vc.u = 100 * one * cos(314.1592653589793 * time + 2.0943951023931953); connect(m.p, load.p); connect(m.n, load.n); "
            + "der(x) = m.p.v - m.n.v;";
        Near(100 * 3 * Math.Sqrt(3) / Math.PI * 0.02, Value(text, "x", 0.02), 1e-5);
    }

    [Fact]
    public void An_encoder_counts_and_a_resolver_waves()
    {
        const string text =
            "Encoder e(lines = 100); Resolver r(pairs = 2, amplitude = 3); equation e.angle = 1.7 * time - 0.5; r.angle = e.angle;";
        foreach (var time in (double[])[0.05, 0.33, 0.9])
        {
            var angle = 1.7 * time - 0.5;
            Near(Math.Floor(angle / (Math.PI / 200)) * (Math.PI / 200), Value(text, "e.y", time));
            Near(3 * Math.Sin(2 * angle), Value(text, "r.sine", time));
            Near(3 * Math.Cos(2 * angle), Value(text, "r.cosine", time));
        }
    }
}
