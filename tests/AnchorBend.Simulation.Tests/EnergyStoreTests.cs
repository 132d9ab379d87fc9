using static AnchorBend.Simulation.Tests.PhysicalRun;

namespace AnchorBend.Simulation.Tests;

/// <summary>Cells, packs and their management against exact solutions and balances of charge and energy.</summary>
public class EnergyStoreTests
{
    /// <summary>A cell whose tables do not change, fed with a current.</summary>
    static string Cell(string change, string current) =>
        "StoreCell c(Q = 3600, branches = 3, socs = {0, 1}, temps = {273.15, 313.15}, ocv = {{3, 3}, {4, 4}}, R0 = fill(0.01, 2, 2), "
        + $"R1 = fill(0.02, 2, 2), tau1 = 10, R2 = fill(0.03, 2, 2), tau2 = 100, R3 = fill(0.04, 2, 2), tau3 = 1000{change}); "
        + "SignalCurrent s; Ground g; parameter Real ampere(unit = \"A\") = 1; equation connect(s.n, c.p); connect(s.p, c.n); "
        + $"connect(c.n, g.p); s.u = ({current}) * ampere;";

    [Fact]
    public void A_current_from_rest_on_raises_the_voltage_by_charge_and_branches()
    {
        var text = Cell(", soc0 = 0.2", "2");
        foreach (var t in (double[])[1, 50, 800])
        {
            double Branch(double r, double tau) => 2 * r * (1 - Math.Exp(-t / tau));
            Near(3.2 + 2 * t / 3600 + 0.02 + Branch(0.02, 10) + Branch(0.03, 100) + Branch(0.04, 1000), Value(text, "c.v", t));
            Near(0.2 + 2 * t / 3600, Value(text, "c.charge", t));
        }
    }

    [Fact]
    public void What_goes_in_is_stored_at_rest_held_in_branches_or_heat()
    {
        var text =
            "Real e(start = 0); Real q(start = 0); Real h(start = 0); "
            + Cell("", "1.5 * sin(0.02 * time)")
            + "der(e) = c.v * c.i; der(q) = c.rest * c.i; der(h) = c.losses;";
        const double t = 700;
        double Held(string name, double r, double tau) => 0.5 * tau / r * Math.Pow(Value(text, name, t), 2);
        var held = Held("c.v1", 0.02, 10) + Held("c.v2", 0.03, 100) + Held("c.v3", 0.04, 1000);
        Near(Value(text, "e", t), Value(text, "q", t) + held + Value(text, "h", t), 1e-7);
    }

    [Fact]
    public void Between_its_temperatures_resistances_lie_between_their_rows()
    {
        var text = Cell(", R0 = {{0.04, 0.01}, {0.02, 0.008}}, soc0 = 0.5, T0 = 283.15", "0");
        // A quarter of the way from 0 to 40 degC, halfway between empty and full.
        var (empty, full) = (0.04 - 0.25 * 0.03, 0.02 - 0.25 * 0.012);
        Near((empty + full) / 2, Value(text.Replace("R0 = fill(0.01, 2, 2), ", "", StringComparison.Ordinal), "c.r0", 0.1));
    }

    [Fact]
    public void Some_of_the_charge_put_in_does_not_come_out_again()
    {
        var text = Cell(", efficiency = 0.9, soc0 = 0.5", "if time < 100 then 2 else -2");
        Near(0.5 + 0.9 * 200 / 3600, Value(text, "c.charge", 100), 1e-7);
        Near(0.5 + (0.9 - 1) * 200 / 3600, Value(text, "c.charge", 200), 1e-7);
    }

    [Fact]
    public void The_voltage_at_rest_leans_towards_the_way_it_was_charged_last()
    {
        var text = Cell(", hysteresis = true, Vh = 0.05, share = 0.02", "if time < 100 then 2 else -1");
        Near(1 - Math.Exp(-200.0 / 72), Value(text, "c.h", 100), 1e-6);
        var turned = 2 - Math.Exp(-200.0 / 72);
        Near(turned * Math.Exp(-50.0 / 72) - 1, Value(text, "c.h", 150), 1e-6);
    }

    [Fact]
    public void Cycles_cost_capacity_and_raise_resistances()
    {
        // Up and down by 100 A s each, in 200 s one thirty-sixth of a full cycle.
        var text = Cell(", ageing = true, cycles0 = 100, fade = 1e-3, growth = 2e-3", "if mod(time, 200) < 100 then 1 else -1");
        var cycles = 100 + 2000 / 7200.0;
        Near(cycles, Value(text, "c.cycles", 2000), 1e-8);
        Near(3600 * (1 - 1e-3 * cycles), Value(text, "c.capacity", 2000), 1e-8);
        Near(0.01 * (1 + 2e-3 * cycles), Value(text, "c.r0", 2000), 1e-8);
    }

    [Theory]
    [InlineData("SkerryCell", 20)]
    [InlineData("GannetCell", 3.2)]
    [InlineData("FulmarCell", 60)]
    public void Made_up_cells_say_that_they_are_and_last_their_hours(string name, double ampereHours)
    {
        Assert.Contains("made-up", AnchorBend.Modeling.Catalog.PartCatalog.Standard.Describe(name).Title, StringComparison.Ordinal);
        var text =
            FormattableString.Invariant(
                $"{name} c(soc0 = 0.9); SignalCurrent s; Ground g; parameter Real out(unit = \"A\") = {ampereHours / 10}; "
            ) + "equation connect(s.p, c.p); connect(s.n, c.n); connect(c.n, g.p); s.u = out;";
        var v = Values(text, "c.v", 3600, 7200, 25200);
        Near(0.2, Value(text, "c.charge", 25200), 1e-6);
        Assert.True(v[0] > v[1] && v[1] > v[2], string.Join(" ", v));
    }

    const string Pack =
        "StorePack c(ns = 4, np = 2, Q = 3600, spread = 0.05, soc0 = 0.5, C = 100, G = 2); FixedTemperature air(T = 298.15); Ground g; "
        + "SignalCurrent s; parameter Real ampere(unit = \"A\") = 1; equation connect(s.n, c.p); connect(s.p, c.n); connect(c.n, g.p); "
        + "connect(c.heat, air.b); ";

    [Fact]
    public void Cells_of_a_pack_share_its_current_and_differ_by_their_capacity()
    {
        var text = Pack + "s.u = 4 * ampere; c.balance = {false, false, false, false};";
        double[] size = [0.95, 1 - 0.05 / 3, 1 + 0.05 / 3, 1.05];
        for (var k = 1; k <= 4; k++)
            Near(0.5 + 2 * 200 / (3600 * size[k - 1]), Value(text, $"c.cell[{k}].soc", 200), 1e-8);
        Near(Enumerable.Range(1, 4).Sum(k => Value(text, $"c.v[{k}]", 200)), Value(text, "c.p.v", 200), 1e-9);
        Near(Value(text, "c.cell[4].soc", 200), Value(text, "c.charge", 200), 1e-12);
    }

    [Fact]
    public void Balancing_brings_cells_together()
    {
        var text =
            Pack.Replace(
                "spread = 0.05",
                "spread = 0, uneven = 0.05, Rb = 1, R1 = fill(1e-6, 7, 3), R2 = fill(1e-6, 7, 3)",
                StringComparison.Ordinal
            ) + "s.u = m.y; m.u = 0 * ampere; m.v = c.v; m.charge = c.charge; c.balance = m.balance;";
        text = text.Replace(
            "Ground g;",
            "Ground g; StoreManagement m(n = 4, watchesHeat = false, apart = 2e-3, from = 3);",
            StringComparison.Ordinal
        );
        var apart = Values(text, "c.v[4]", 1, 1500).Zip(Values(text, "c.v[1]", 1, 1500), (a, b) => a - b).ToArray();
        Assert.True(apart[0] > 0.04, $"{apart[0]}");
        Assert.InRange(apart[1], -1e-2, 1e-2);
    }

    static string Managed(string wanted) =>
        "StoreCell c(Q = 3600, heatPort = true, soc0 = 0.9); StoreManagement m(watchesHeat = true, vMax = 4.1, vMin = 3.3, iCharge = 3, iDischarge = 5); "
        + "HeatCapacity b(C = 40, T0 = 298.15); Convection k(area = 0.01, h = 10); FixedTemperature air(T = 298.15); SignalCurrent s; Ground g; "
        + "parameter Real ampere(unit = \"A\") = 1; equation connect(s.n, c.p); connect(s.p, c.n); connect(c.n, g.p); connect(c.heat, b.a); "
        + $"connect(b.a, k.a); connect(k.b, air.b); m.u = ({wanted}) * ampere; m.v = {{c.v}}; m.charge = c.charge; m.T = b.a.T; s.u = m.y;";

    [Fact]
    public void A_management_takes_the_current_back_before_the_highest_voltage()
    {
        var text = Managed("6");
        Near(3, Value(text, "m.y", 1), 1e-9);
        Assert.Equal(4, Value(text, "m.cause", 1.5));
        Assert.Equal(1, Value(text, "m.cause", 900));
        Assert.InRange(Value(text, "c.v", 2000), 4.05, 4.1);
        Assert.InRange(Value(text, "m.y", 2000), 0, 0.6);
        Assert.Equal(1, Value(text, "m.closed", 2000));
    }

    [Fact]
    public void Beyond_its_limits_the_contactor_opens_and_stays_open()
    {
        // The current is forced past the management.
        var text = Managed("0").Replace("s.u = m.y", "s.u = (if time < 500 then 4 else 0) * ampere", StringComparison.Ordinal);
        Assert.Equal(1, Value(text, "m.closed", 1));
        Assert.Equal(0, Value(text, "m.closed", 1000));
        Assert.Equal(5, Value(text, "m.cause", 1000));
    }

    [Fact]
    public void Charging_keeps_the_current_then_the_voltage_then_ends()
    {
        var text =
            "StoreCell c(Q = 3600, soc0 = 0.5); ChargeControl k(iMax = 1, vEnd = 4.1, iEnd = 0.05); SignalCurrent s; Ground g; "
            + "equation connect(s.n, c.p); connect(s.p, c.n); connect(c.n, g.p); k.v = c.v; s.u = k.y;";
        Near(1, Value(text, "k.y", 600), 1e-9);
        var (v, i) = (Values(text, "c.v", 1640, 1690), Values(text, "k.y", 1640, 1690));
        // While the current falls, the integral part stays a little behind.
        Near(4.1, v[0], 1e-3);
        Assert.InRange(i[0], 0.05, 0.999);
        Assert.InRange(i[1], 0, 0.9 * i[0]);
        Assert.Equal(1, Value(text, "k.full", 6000));
        Assert.Equal(0, Value(text, "k.y", 6000));
    }

    [Fact]
    public void Counting_drifts_with_the_offset_of_its_measurement()
    {
        const string text =
            "ChargeCounter k(Q = 36000, y0 = 0.5, offset = 0.1); parameter Real ampere(unit = \"A\") = 1; equation k.i = 2 * ampere;";
        Near(0.5 + 2.1 * 3600 / 36000, Value(text, "k.y", 3600), 1e-9);
    }

    [Fact]
    public void The_charge_of_a_supercapacitor_bends_its_curve_and_its_energy_is_kept()
    {
        const string text =
            "Supercapacitor c(C0 = 100, kv = 30, R = 0.01, R2 = 1e9, Rl = 1e9, v0 = 0); SignalCurrent s; Ground g; Real e(start = 0); "
            + "parameter Real ampere(unit = \"A\") = 1; equation connect(s.n, c.p); connect(s.p, c.n); connect(c.n, g.p); "
            + "s.u = 5 * ampere; der(e) = c.v * c.i - 0.01 * c.i ^ 2;";
        // 5 A for 40 s are 200 A s: 100 v + 30 v² = 200.
        var v = (-100 + Math.Sqrt(1e4 + 4 * 30 * 200)) / 60;
        Near(v, Value(text, "c.vc", 40), 1e-6);
        Near(Value(text, "e", 40), Value(text, "c.energy", 40), 1e-6);
    }
}
