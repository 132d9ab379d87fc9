using AnchorBend.Tests;
using static AnchorBend.Simulation.Tests.PhysicalRun;

namespace AnchorBend.Simulation.Tests;

/// <summary>Loops of drives and the options of machines against what they promise.</summary>
public class DriveControlTests
{
    /// <summary>A machine at a constant speed, fed by voltages in its own frame.</summary>
    static string Currents(string law, string wanted) =>
        "SynchronousMachine m(R = 0.2, Ld = 1e-3, Lq = 2e-3, flux = 0.05, pairs = 4); Inertia j(J = 1e9, speed0 = 50); "
        + $"CurrentControl c(law = CurrentControl.Law.{law}, wc = 1500, R = 0.2, Ld = 1e-3, Lq = 2e-3, flux = 0.05); "
        + "ParkTransform p(back = true); InverseClarke k; SignalVoltage va, vb, vc; Ground g; "
        + "parameter Real volt(unit = \"V\") = 1; parameter Real ampere(unit = \"A\") = 1; parameter Real rate(unit = \"rad/s\") = 1; "
        + $"equation c.r = {wanted}; c.i = {{m.id, m.iq}}; c.w = 200 * rate; c.vdc = 60 * volt; p.u = {{c.u[1], c.u[2], 0}}; "
        + "p.angle = m.angle; k.u = p.y; va.u = k.y[1]; vb.u = k.y[2]; vc.u = k.y[3]; connect(va.n, g.p); connect(vb.n, g.p); "
        + "connect(vc.n, g.p); connect(va.p, m.a); connect(vb.p, m.b); connect(vc.p, m.c); connect(m.shaft, j.a);";

    [Fact]
    public void Decoupled_currents_follow_as_lags_of_the_bandwidth()
    {
        var text = Currents("pi", "{-1 * ampere, 2 * ampere}");
        foreach (var t in (double[])[3e-4, 1e-3, 3e-3])
        {
            Near(2 * (1 - Math.Exp(-1500 * t)), Value(text, "m.iq", t), 1e-5);
            Near(-(1 - Math.Exp(-1500 * t)), Value(text, "m.id", t), 1e-5);
        }
    }

    [Fact]
    public void Estimating_what_disturbs_brings_currents_there_too()
    {
        var text = Currents("rejecting", "{-1 * ampere, 2 * ampere}");
        Near(2, Value(text, "m.iq", 0.02), 1e-4);
        Near(-1, Value(text, "m.id", 0.02), 1e-4);
        // Known but for the resistance, it is close to the lag all the way.
        Near(2 * (1 - Math.Exp(-1.5)), Value(text, "m.iq", 1e-3), 0.1);
    }

    [Fact]
    public void No_voltage_is_longer_than_the_rails_allow()
    {
        var text = Currents("pi", "{0 * ampere, 60 * ampere}");
        foreach (var t in (double[])[1e-4, 1e-3])
            Near(60 / Math.Sqrt(3), Math.Sqrt(Math.Pow(Value(text, "c.u[1]", t), 2) + Math.Pow(Value(text, "c.u[2]", t), 2)), 1e-6);
    }

    static string Drive(string law, string more = "") =>
        "SynchronousMachine m(R = 0.2, Ld = 1e-3, Lq = 1e-3, flux = 0.05, pairs = 4); Inertia j(J = 1e-3); AveragedInverter inv; "
        + "VoltageSource dc(V = 48); Ground g; RotationSensor s; TorqueSource load; "
        + $"FieldOrientedControl c(law = FieldOrientedControl.Law.{law}, wSpeed = 100, iMax = 10{more}); "
        + "parameter Real rate(unit = \"rad/s\") = 1; parameter Real newton(unit = \"N.m\") = 1; "
        + "equation connect(dc.p, inv.p); connect(dc.n, inv.n); connect(g.p, dc.n); connect(inv.a, m.a); connect(inv.b, m.b); "
        + "connect(inv.c, m.c); connect(m.shaft, j.a); connect(j.b, load.b); connect(s.a, j.b); c.r = 60 * rate; c.w = s.w; "
        + "c.angle = m.angle; c.i = {m.a.i, m.b.i, m.c.i}; c.vdc = 48 * (dc.V / 48); inv.duty = c.duty; "
        + "load.u = (if time > 0.3 then -0.5 else 0) * newton;";

    [Theory]
    [InlineData("pi")]
    [InlineData("rejecting")]
    public void A_field_oriented_drive_runs_up_at_its_limit_and_holds_its_speed_under_load(string law)
    {
        var text = Drive(law);
        // 10 A across give 3 N.m and 3,000 rad/s²; the current loops are there within some milliseconds.
        Near(3000 * 5e-3, Value(text, "j.w", 0.0105) - Value(text, "j.w", 0.0055), 0.01);
        Near(60, Value(text, "j.w", 0.29), 1e-3);
        Near(60, Value(text, "j.w", 0.9), 1e-3);
        Near(0.5 / 0.3, Value(text, "m.iq", 0.9), 1e-3);
    }

    [Fact]
    public void What_goes_into_a_machine_and_not_out_heats_its_windings()
    {
        var text = Drive("pi")
            .Replace("Inertia j", "DriveMeter p; Inertia j", StringComparison.Ordinal)
            .Replace("connect(inv.a, m.a)", "connect(inv.a, p.a); connect(p.a2, m.a)", StringComparison.Ordinal)
            .Replace("connect(inv.b, m.b)", "connect(inv.b, p.b); connect(p.b2, m.b)", StringComparison.Ordinal)
            .Replace("connect(inv.c, m.c)", "connect(inv.c, p.c); connect(p.c2, m.c)", StringComparison.Ordinal)
            .Replace("connect(m.shaft, j.a)", "connect(m.shaft, p.shaft); connect(p.load, j.a)", StringComparison.Ordinal);
        Near(0.5, Value(text, "p.torque", 0.9), 1e-3);
        Near(30, Value(text, "p.mechanical", 0.9), 1e-3);
        Near(1.5 * 0.2 * Math.Pow(0.5 / 0.3, 2), Value(text, "p.losses", 0.9), 1e-2);
    }

    [Theory]
    [InlineData("pi", 80)]
    [InlineData("pi", -80)]
    [InlineData("rejecting", 80)]
    public void A_six_step_drive_comes_to_its_speed_either_way(string law, double speed)
    {
        var text =
            "BrushlessMachine m(pairs = 4, R = 0.3, L = 5e-4, k = 0.05, viscous = 2e-3); Inertia j(J = 1e-3); InverterBridge inv; VoltageSource dc(V = 24); "
            + "Ground g; RotationSensor s; SectorSensor h; "
            + $"SixStepControl c(law = SixStepControl.Law.{law}, k = 0.005, Ti = 0.05, f = 5000); parameter Real rate(unit = \"rad/s\") = 1; "
            + "equation connect(dc.p, inv.p); connect(dc.n, inv.n); connect(g.p, dc.n); connect(inv.a, m.a); connect(inv.b, m.b); "
            + "connect(inv.c, m.c); connect(m.shaft, j.a); connect(s.a, j.b); h.angle = m.angle; c.sensors = h.y; c.w = s.w; "
            + FormattableString.Invariant($"c.r = {speed} * rate; inv.upper = c.upper; inv.lower = c.lower;");
        var values = TextModel.Values(text, "j.w", [0, 0.5], new RunOptions { End = 0.5 });
        Near(speed, values[1], 0.02);
    }

    [Fact]
    public void Saturated_windings_take_the_current_of_their_flux()
    {
        // With next to no resistance the flux grows with the voltage: L Is atan(i / Is) = V t.
        const string text =
            "SynchronousMachine m(R = 1e-9, Ld = 1e-3, Lq = 1e-3, flux = 0, Isat = 20); FixedShaft f; SignalVoltage va, vb, vc; Ground g; "
            + "parameter Real one(unit = \"V\") = 1; equation connect(va.n, g.p); connect(vb.n, g.p); connect(vc.n, g.p); "
            + "connect(va.p, m.a); connect(vb.p, m.b); connect(vc.p, m.c); va.u = 6 * one; vb.u = -3 * one; vc.u = -3 * one; "
            + "connect(m.shaft, f.a);";
        foreach (var t in (double[])[1e-3, 3e-3, 4e-3])
            Near(20 * Math.Tan(6 * t / (1e-3 * 20)), Value(text, "m.id", t), 1e-5);
    }

    [Fact]
    public void Friction_and_cogging_are_felt_at_the_shaft()
    {
        const string text =
            "BrushlessMachine m(cogging = 0.02, slots = 12, dry = 0.03, viscous = 1e-3); Inertia j(J = 1e9, speed0 = 10); "
            + "Resistor a(R = 1e9), b(R = 1e9), c(R = 1e9); Ground g; equation connect(m.a, a.p); connect(m.b, b.p); connect(m.c, c.p); "
            + "connect(a.n, g.p); connect(b.n, g.p); connect(c.n, g.p); connect(m.shaft, j.a);";
        foreach (var t in (double[])[0.013, 0.2])
            Near(0.03 + 0.01 + 0.02 * Math.Sin(12 * 10 * t), Value(text, "m.shaft.torque", t), 1e-5);
    }
}
