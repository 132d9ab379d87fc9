using static AnchorBend.Simulation.Tests.PhysicalRun;

namespace AnchorBend.Simulation.Tests;

/// <summary>Converters, feeds and modulation of drives against exact solutions and balances over a period.</summary>
public class ConverterTests
{
    [Fact]
    public void A_transistor_with_a_drop_carries_one_way_and_its_diode_the_other()
    {
        const string text =
            "BipolarSwitch s(Vforward = 1.2, Ron = 0.1, Vdiode = 1, Rdiode = 0.2, Goff = 1e-9); SignalVoltage v; Resistor r(R = 1); Ground g; "
            + "parameter Real one(unit = \"V\") = 1; equation s.gate = time < 2; v.u = (if mod(time, 2) < 1 then 10 else -10) * one; "
            + "connect(v.p, r.p); connect(r.n, s.p); connect(s.n, v.n); connect(v.n, g.p);";
        Near((10 - 1.2) / 1.1, Value(text, "s.i", 0.5));
        Near(-(10 - 1) / 1.2, Value(text, "s.i", 1.5));
        // Open: only the diode's way is left.
        Assert.Equal(0, Value(text, "s.i", 2.5), 1e-7);
        Near(-(10 - 1) / 1.2, Value(text, "s.i", 3.5));
    }

    const string Converter =
        "VoltageSource dc(V = 24); Ground g; Resistor load(R = 5); CarrierComparison m(n = 1, f = 20000, "
        + "carrier = CarrierComparison.Carrier.sawtooth, sampling = CarrierComparison.Sampling.once); Real x(start = 0); ";
    const string Joined =
        "equation connect(dc.p, s.p); connect(dc.n, s.n); connect(g.p, dc.n); connect(s.out, load.p); connect(load.n, dc.n); "
        + "m.duty = {0.4}; s.gate = m.y[1]; der(x) = load.v; ";

    [Fact]
    public void A_step_down_converter_comes_to_the_balance_of_its_inductor()
    {
        const string text =
            Converter + "StepDownConverter s(v0 = 9, Ron = 0.05, Vdiode = 0.6, Rdiode = 0.05, RL = 0.1, Goff = 1e-7); " + Joined;
        // Over a period: D (V − i Ron) − (1 − D) (Vd + i Rd) − i RL is the voltage at the load.
        var expected = (0.4 * 24 - 0.6 * 0.6) / (1 + (0.05 + 0.1) / 5);
        var x = Values(text, "x", 0.049, 0.05);
        Near(expected, (x[1] - x[0]) / 1e-3, 2e-4);
    }

    [Fact]
    public void A_step_up_converter_comes_to_the_balance_of_its_inductor()
    {
        const string text =
            Converter + "StepUpConverter s(v0 = 38, Ron = 0.05, Vdiode = 0.6, Rdiode = 0.05, RL = 0.1, C = 2e-3, Goff = 1e-7); " + Joined;
        // V = i RL + D i Ron + (1 − D) (v + Vd + i Rd), and the load takes (1 − D) i.
        var ratio = 1 / (0.6 * 5);
        var expected = (24 - 0.6 * 0.6) / (0.6 + ratio * (0.1 + 0.05));
        var x = Values(text, "x", 0.149, 0.15);
        Near(expected, (x[1] - x[0]) / 1e-3, 1e-3);
    }

    [Fact]
    public void What_a_converter_takes_and_does_not_give_is_heat()
    {
        const string text =
            Converter
            + "StepDownConverter s(heatPort = true, v0 = 9, RC = 0.02); FixedTemperature air; Real e(start = 0); Real h(start = 0); "
            + Joined
            + "connect(s.heat, air.b); der(e) = s.p.v * s.p.i + s.n.v * s.n.i + s.out.v * s.out.i; der(h) = -s.heat.Q;";
        const double end = 0.02;
        double stored(double time) =>
            0.5 * 2e-4 * Math.Pow(Value(text, "s.current", time), 2) + 0.5 * 4.7e-4 * Math.Pow(Value(text, "s.c.stored", time), 2);
        var before = 0.5 * 4.7e-4 * 81;
        Near(Value(text, "e", end) - (stored(end) - before), Value(text, "h", end), 1e-5);
    }

    [Fact]
    public void A_link_is_charged_through_its_cable_as_a_damped_swing()
    {
        const string text =
            "BatteryFeed b(V = 48, R = 0.02, L = 2e-6); DirectLink k(C = 1e-3, R = 1e-9); Ground g; "
            + "equation connect(b.p, k.p); connect(b.n, k.n); connect(k.n, g.p);";
        double decay = 0.02 / (2 * 2e-6),
            own = Math.Sqrt(1 / (2e-6 * 1e-3) - decay * decay);
        foreach (var t in (double[])[5e-5, 2e-4, 6e-4])
            Near(48 * (1 - Math.Exp(-decay * t) * (Math.Cos(own * t) + decay / own * Math.Sin(own * t))), Value(text, "k.y", t), 1e-6);
    }

    [Theory]
    [InlineData("triangle", "natural")]
    [InlineData("triangle", "once")]
    [InlineData("triangle", "twice")]
    [InlineData("sawtooth", "natural")]
    [InlineData("sawtooth", "once")]
    [InlineData("sawtooth", "twice")]
    public void However_shares_are_taken_over_each_period_has_its_share(string carrier, string sampling)
    {
        var text =
            $"CarrierComparison m(n = 4, f = 1000, carrier = CarrierComparison.Carrier.{carrier}, "
            + $"sampling = CarrierComparison.Sampling.{sampling}, least = 0.02); Real x[4](each start = 0); "
            + "equation m.duty = {0.37, 1.2, -0.3, 0.5}; for k in 1:4 loop der(x[k]) = if m.y[k] then 1 else 0; end for;";
        double[] shares = [0.37, 0.98, 0.02, 0.5];
        for (var k = 1; k <= 4; k++)
            foreach (var x in Values(text, $"x[{k}]", 0.001, 0.004, 0.02).Zip((double[])[0.001, 0.004, 0.02]))
                Near(shares[k - 1] * x.Second, x.First, 1e-8);
    }

    [Fact]
    public void Taken_over_at_both_ends_each_half_has_the_share_of_its_sample()
    {
        const string text =
            "CarrierComparison m(n = 1, f = 1000, sampling = CarrierComparison.Sampling.twice); Real x(start = 0); "
            + "equation m.duty = {0.2 + 100 * time}; der(x) = if m.y[1] then 1 else 0;";
        var x = Values(text, "x", 0.0005, 0.001, 0.0015);
        Near(0.2 * 5e-4, x[0]);
        Near(0.25 * 5e-4, x[1] - x[0]);
        Near(0.3 * 5e-4, x[2] - x[1]);
    }

    [Fact]
    public void The_dead_time_takes_its_share_unless_it_is_made_up_for()
    {
        static string Text(string duty) =>
            "VoltageSource hi(V = 24), lo(V = 24); Ground g; HalfBridge h(deadTime = 2e-6, Ron = 1e-4, Vdiode = 1e-3, Rdiode = 1e-4); "
            + "Resistor r(R = 2); Inductor l(L = 1e-2, i0 = 4.8); DeadTimeCompensation c(n = 1, deadTime = 2e-6, f = 10000); "
            + "CarrierComparison m(n = 1, f = 10000, sampling = CarrierComparison.Sampling.twice); Real x(start = 0); "
            + "equation connect(hi.p, h.p); connect(hi.n, g.p); connect(lo.p, g.p); connect(lo.n, h.n); connect(h.a, r.p); "
            + "connect(r.n, l.p); connect(l.n, g.p); c.duty = {0.7}; c.i = {l.stored}; "
            + $"m.duty = {duty}; h.u = m.y[1]; h.enabled = true; der(x) = h.a.v;";
        double Mean(string duty)
        {
            var x = Values(Text(duty), "x", 0.04, 0.05);
            return (x[1] - x[0]) / 0.01;
        }

        // 0.7 of ±24 V is 9.6 V; 2 µs of each 100 µs at the lower rail instead of the upper one take 0.96 V.
        Near(9.6 - 0.02 * 48, Mean("{0.7}"), 2e-3);
        Near(9.6, Mean("c.y"), 2e-3);
    }

    [Fact]
    public void Measured_currents_have_their_gains_and_offsets_and_noise_of_its_size()
    {
        const string wiring =
            "Ground g; CurrentSource a(I = 3), b(I = -1); equation connect(a.n, s.a); connect(a.p, g.p); connect(b.n, s.b); "
            + "connect(b.p, g.p); connect(s.a2, g.p); connect(s.b2, g.p); connect(s.c2, g.p); ";
        var exact = "PhaseCurrentSensor s(offset = {0.1, -0.2, 0}, gain = {1.02, 1, 1}); " + wiring;
        Near(Math.Abs(3 * 1.02), Math.Abs(Value(exact, "s.y[1]", 0.1) - 0.1));
        Near(1, Math.Abs(Value(exact, "s.y[2]", 0.1) + 0.2));
        var noisy =
            "PhaseCurrentSensor s(noisy = true, sigma = 0.2, bandwidth = 1000); Real q(start = 0); Real m(start = 0); "
            + wiring
            + "der(m) = s.noise[1]; der(q) = s.noise[1] ^ 2;";
        // Of 2,000 values the deviation is known within 1.6 % (its own standard deviation, σ over √2n): four of them.
        Near(0.04, Value(noisy, "q", 1), 2 * 4 * 0.016);
        Assert.Equal(0, Value(noisy, "m", 1), 4 * 0.2 / Math.Sqrt(2000));
    }

    [Fact]
    public void Rated_values_count_as_one_and_come_back()
    {
        const string text =
            "PerUnit v(quantity = PerUnit.Quantity.voltage, S = 3000, V = 40), i(quantity = PerUnit.Quantity.current, S = 3000, V = 40), "
            + "m(quantity = PerUnit.Quantity.torque, S = 3000, V = 40, f = 60, pairs = 3), "
            + "w(quantity = PerUnit.Quantity.speed, S = 3000, V = 40, f = 60, pairs = 3), z(quantity = PerUnit.Quantity.torque, back = true); "
            + "equation v.u = 40; i.u = 50; m.u = 3000 * 3 / (2 * 3.141592653589793 * 60); w.u = 2 * 3.141592653589793 * 20; z.u = 0.7;";
        foreach (var name in (string[])["v.y", "i.y", "m.y", "w.y"])
            Near(1, Value(text, name, 0.1), 1e-12);
        Near(0.7 * 1000 * 4 / (2 * Math.PI * 50), Value(text, "z.y", 0.1), 1e-12);
    }
}
