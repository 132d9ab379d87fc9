using AnchorBend.Tests;
using static AnchorBend.Simulation.Tests.PhysicalRun;

namespace AnchorBend.Simulation.Tests;

/// <summary>Mechanisms in the plane and bodies in space against exact motions, closed geometry and what is kept.</summary>
public class MechanismTests
{
    const string Pendulum =
        "PlaneGround g; PlanePin p(q0 = -0.2, hold = true); PlaneBody b(useB = false, m = 2, J = 0.3, xm = 0.6); "
        + "equation connect(g.b, p.a); connect(p.b, b.a); ";

    /// <summary>The complete elliptic integral of the first kind, by the mean of arithmetic and geometric ones (Gauss).</summary>
    static double Elliptic(double k)
    {
        double a = 1,
            b = Math.Sqrt(1 - k * k);
        while (Math.Abs(a - b) > 1e-15)
            (a, b) = ((a + b) / 2, Math.Sqrt(a * b));
        return Math.PI / (2 * a);
    }

    [Fact]
    public void A_pendulum_comes_back_after_its_exact_period()
    {
        // From −0.2 below the horizontal: π/2 − 0.2 from hanging, with k = sin of half of it.
        var period = 4 * Math.Sqrt((0.3 + 2 * 0.36) / (2 * 9.81 * 0.6)) * Elliptic(Math.Sin((Math.PI / 2 - 0.2) / 2));
        var q = Values(Pendulum, "p.q", period / 2, period, 5 * period);
        Near(-Math.PI + 0.2, q[0], 1e-6);
        Near(-0.2, q[1], 1e-6);
        Near(-0.2, q[2], 1e-5);
    }

    [Fact]
    public void Its_pin_carries_weight_and_what_the_turning_pulls()
    {
        // Hanging, at the lowest point: m (g + ω² l) with ω² = 2 m g l (1 − cos) / J.
        var period = 4 * Math.Sqrt((0.3 + 2 * 0.36) / (2 * 9.81 * 0.6)) * Elliptic(Math.Sin((Math.PI / 2 - 0.2) / 2));
        var squared = 2 * 2 * 9.81 * 0.6 * (1 - Math.Cos(Math.PI / 2 - 0.2)) / (0.3 + 2 * 0.36);
        Near(2 * (9.81 + squared * 0.6), Value(Pendulum, "b.a.fy", period / 4), 1e-5);
        Assert.Equal(0, Value(Pendulum, "b.a.fx", period / 4), 1e-3);
    }

    const string FourBar =
        "PlaneGround g1, g2(x0 = 2); PlanePin p1(q0 = 1, hold = true), p2, p3, p4; "
        + "PlaneBody crank(xb = 0.5, xm = 0.25, m = 1, J = 0.02), coupler(xb = 2, xm = 1, m = 3, J = 1, phi0 = 0.2), "
        + "rocker(xb = 1.2, xm = 0.6, m = 2, J = 0.25, phi0 = 1.5); "
        + "equation connect(g1.b, p1.a); connect(p1.b, crank.a); connect(crank.b, p2.a); connect(p2.b, coupler.a); "
        + "connect(coupler.b, p3.a); connect(p3.b, rocker.b); connect(rocker.a, p4.b); connect(p4.a, g2.b);";

    [Fact]
    public void A_four_bar_linkage_keeps_to_its_closed_geometry_and_its_energy()
    {
        const string more =
            "Real e; equation e = 0.5 * (crank.m * (crank.vx ^ 2 + crank.vy ^ 2) + crank.J * crank.w ^ 2 + coupler.m * (coupler.vx ^ 2 + "
            + "coupler.vy ^ 2) + coupler.J * coupler.w ^ 2 + rocker.m * (rocker.vx ^ 2 + rocker.vy ^ 2) + rocker.J * rocker.w ^ 2) "
            + "+ 9.81 * (crank.m * crank.y + coupler.m * coupler.y + rocker.m * rocker.y);";
        var text = FourBar.Replace("equation", more, StringComparison.Ordinal);
        var times = Enumerable.Range(0, 11).Select(k => 10.0 * k).ToArray();
        var result = TextModel.Values(text, "e", times, Tight with { End = 100 });
        Assert.All(result, e => Assert.Equal(result[0], e, 1e-5));
        var angles = TextModel.Values(text, "p1.q", times, Tight with { End = 100 });
        var x = TextModel.Values(text, "coupler.b.x", times, Tight with { End = 100 });
        var y = TextModel.Values(text, "coupler.b.y", times, Tight with { End = 100 });
        for (var k = 0; k < times.Length; k++)
        {
            // Lengths of coupler and rocker, from where the crank stands.
            Assert.Equal(2, Math.Sqrt(Math.Pow(x[k] - 0.5 * Math.Cos(angles[k]), 2) + Math.Pow(y[k] - 0.5 * Math.Sin(angles[k]), 2)), 1e-8);
            Assert.Equal(1.2, Math.Sqrt(Math.Pow(x[k] - 2, 2) + Math.Pow(y[k], 2)), 1e-8);
        }
    }

    [Fact]
    public void A_crank_drives_its_piston_by_the_law_of_the_slider()
    {
        const string text =
            "PlaneGround g; PlanePin p1(driven = true), p2, p3; PlaneBody crank(xb = 0.1, xm = 0), rod(xb = 0.3, xm = 0.15, phi0 = -0.1), "
            + "piston(useB = false, xm = 0); PlaneSlide s(s0 = 0.4); AngleSource drive; FixedShaft f; parameter Real one(unit = \"rad\") = 1; "
            + "equation connect(g.b, p1.a); connect(p1.b, crank.a); connect(crank.b, p2.a); connect(p2.b, rod.a); connect(rod.b, p3.a); "
            + "connect(p3.b, piston.a); connect(g.b, s.a); connect(s.b, piston.a); connect(drive.b, p1.shaft); drive.u = 3 * time * one + 0.4 * one;";
        foreach (var t in (double[])[0.1, 0.9, 2.3])
        {
            var q = Value(text, "p1.q", t);
            Near(0.1 * Math.Cos(q) + Math.Sqrt(0.09 - Math.Pow(0.1 * Math.Sin(q), 2)), Value(text, "s.s", t), 1e-8);
        }
    }

    [Fact]
    public void A_pin_in_a_slot_follows_the_sine_of_its_crank()
    {
        const string text =
            "PlaneGround g; PlanePin p(driven = true); PlaneBody crank(xb = 0.2, xm = 0), yoke(useB = false, xm = 0); PlaneSlide s; "
            + "PlaneSlot k(alpha = 1.5707963267948966); AngleSource drive; parameter Real one(unit = \"rad\") = 1; equation connect(g.b, p.a); "
            + "connect(p.b, crank.a); connect(g.b, s.a); connect(s.b, yoke.a); connect(k.a, yoke.a); connect(k.b, crank.b); "
            + "connect(drive.b, p.shaft); drive.u = (2 * time + 0.3) * one;";
        foreach (var t in (double[])[0.2, 1.4])
            Near(0.2 * Math.Cos(Value(text, "p.q", t)), Value(text, "s.s", t), 1e-8);
    }

    [Fact]
    public void A_body_on_a_spring_swings_at_the_root_of_stiffness_over_mass()
    {
        const string text =
            "PlaneGround g(y0 = 2); PlaneBody b(useB = false, xm = 0, m = 4, hold = true, y0 = 0.8); PlaneSpring s(k = 100, d = 0, l0 = 1); "
            + "equation connect(g.b, s.a); connect(s.b, b.a);";
        // At rest the spring is 4·9.81/100 longer; it begins 0.2 m longer than its length.
        var middle = 1 - 4 * 9.81 / 100;
        foreach (var t in (double[])[0.3, 1.7])
            Near(middle + (0.8 - middle) * Math.Cos(5 * t), Value(text, "b.y", t), 1e-6);
    }

    [Fact]
    public void A_rope_does_not_push()
    {
        const string text =
            "PlaneGround g(y0 = 0); PlaneBody b(useB = false, xm = 0, m = 1, hold = true, y0 = 0.2, x0 = 0.3); "
            + "PlaneSpring s(k = 1e4, d = 10, l0 = 1, pullsOnly = true); equation connect(g.b, s.a); connect(s.b, b.a);";
        // Free fall until it is 1 m from the post.
        Near(0.2 - 0.5 * 9.81 * 0.16, Value(text, "b.y", 0.4), 1e-7);
        Assert.True(Value(text, "s.pull", 0.6) >= 0);
        Assert.InRange(Value(text, "s.length", 5), 0.9, 1.02);
    }

    [Fact]
    public void A_cylinder_between_two_pins_holds_a_beam_by_its_lever()
    {
        // The rod is a stiff spring: at rest its force times its arm is the weight's moment.
        const string text =
            "PlaneGround g, foot(x0 = 0.5, y0 = -0.5); PlanePin p(damping = 500); PlaneBody b(xb = 0.5, xm = 1, m = 10, J = 3); PlaneStrut s(l0 = 0.5); "
            + "Spring spring(c = 1e6); Damper damper(d = 1e4); equation connect(g.b, p.a); connect(p.b, b.a); connect(foot.b, s.a); "
            + "connect(b.b, s.b); connect(s.base, spring.a); connect(s.rod, spring.b); connect(s.base, damper.a); connect(s.rod, damper.b);";
        Near(10 * 9.81 * 1 / 0.5, Value(text, "s.rod.force", 5), 1e-3);
    }

    [Fact]
    public void A_wheel_that_is_driven_holds_the_speed_of_its_rim()
    {
        const string text =
            "PlaneBody axle(useB = false, xm = 0, m = 20, J = 1, hold = true, y0 = 0.3); PlaneWheel w(r = 0.3, roll = 0); PlaneForce f("
            + "useTorque = true); parameter Real one(unit = \"N.m\") = -6; equation connect(axle.a, w.a); connect(axle.a, f.b); f.t = one;";
        // A torque of 6 N.m on 20 kg and 1 kg.m²: a = τ r / (m r² + J) while it rolls.
        var speed = Values(text, "axle.vx", 2, 3);
        Near(6 * 0.3 / (20 * 0.09 + 1), speed[1] - speed[0], 2e-2);
        Near(speed[1], -0.3 * Value(text, "axle.w", 3), 2e-2);
    }

    [Fact]
    public void A_point_comes_to_rest_on_a_line()
    {
        const string text =
            "PlaneGround g; PlaneBody b(useB = false, xm = 0, m = 2, J = 1, hold = true, y0 = 0.5, vx0 = 1); PlaneContact c(k = 1e4, d = 200, mu = 0.2); "
            + "equation connect(g.b, c.a); connect(b.a, c.b);";
        Near(-2 * 9.81 / 1e4, Value(text, "c.h", 4), 1e-3);
        Assert.Equal(0, Value(text, "b.vx", 4), 1e-3);
    }

    [Fact]
    public void A_free_symmetric_top_turns_its_axis_at_the_rate_of_Euler()
    {
        const string text = "SpaceBody b(J = {2, 2, 3}, g = 0, w0 = {0.4, 0, 5}); equation b.f = {0, 0, 0}; b.t = {0, 0, 0};";
        var rate = (3.0 - 2) / 2 * 5;
        foreach (var t in (double[])[0.3, 7, 50])
        {
            Near(0.4 * Math.Cos(rate * t), Value(text, "b.w[1]", t), 1e-5);
            Near(0.4 * Math.Sin(rate * t), Value(text, "b.w[2]", t), 1e-5);
        }

        Assert.Equal(0, Value(text, "b.off", 100), 1e-8);
    }

    [Fact]
    public void Turned_about_one_axis_its_attitude_is_that_angle_and_what_falls_falls()
    {
        const string text =
            "SpaceBody b(e0 = {0.1, 0.2, 0.3}, v0 = {1, 0, 4}); SpaceBody c(J = {1, 2, 4}, g = 0); parameter Real one(unit = \"N.m\") = 1; "
            + "equation b.f = {0, 0, 0}; b.t = {0, 0, 0}; c.f = {0, 0, 0}; c.t = {0, 0, 0.8 * one};";
        Near(0.1, Value(text, "b.e[1]", 0.5), 1e-9);
        Near(0.2, Value(text, "b.e[2]", 0.5), 1e-9);
        Near(0.3, Value(text, "b.e[3]", 0.5), 1e-9);
        Near(4 * 0.5 - 0.5 * 9.81 * 0.25, Value(text, "b.r[3]", 0.5), 1e-8);
        Near(0.5 * 0.2 * 4, Value(text, "c.e[3]", 2), 1e-8);
    }
}
