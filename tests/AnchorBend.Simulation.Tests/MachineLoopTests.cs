using AnchorBend.Media;
using AnchorBend.Tests;
using static AnchorBend.Simulation.Tests.PhysicalRun;

namespace AnchorBend.Simulation.Tests;

/// <summary>Fittings, gas-loaded vessels, turbines, compressors, nozzles and burners against formulas worked out by hand.</summary>
public class MachineLoopTests
{
    static double[] Ends(string text, double end, params string[] names)
    {
        var prepared = TextModel.Prepare(text);
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => $"{f.Part} {f.Item} {f.Message}")));
        var result = TextModel.Run(prepared, new RunOptions { End = end, RelativeTolerance = 1e-7 });
        Assert.True(result.Failure is null, result.Failure?.ToString());
        using var trace = result.Trace;
        var constants = prepared.Model.ParameterValues();
        return
        [
            .. names
                .Select(n => prepared.Compiled!.Plan.Representative[prepared.Find(n)!.Index])
                .Select(v => trace.Has(v) ? trace[trace.Rows - 1, v] : constants[v]),
        ];
    }

    const string Between = "PressureBoundary p(p = 2e5); PressureBoundary q(p = 1e5); equation connect(p.a, x.a); connect(x.b, q.a);";

    static readonly Medium Water = Mediums.Of(1, 0);

    /// <summary>Loss factors of Idelchik's handbook: Δp = ζ ρ v² / 2.</summary>
    [Theory]
    [InlineData("kind = LoopFitting.Kind.mitre", 1.13)]
    [InlineData("kind = LoopFitting.Kind.entry", 0.5)]
    [InlineData("kind = LoopFitting.Kind.own, own = 3", 3)]
    public void A_fitting_loses_its_velocity_heads(string settings, double zeta)
    {
        var density = Water.At(2e5, Water.Enthalpy(2e5, 293.15)).Density;
        var area = Math.PI / 4 * 0.03 * 0.03;
        Near(area * Math.Sqrt(2 * density * 1e5 / zeta), Ends($"LoopFitting x({settings}); {Between}", 1, "x.m")[0], 1e-6);
    }

    /// <summary>Borda and Carnot: into a wide pipe the step loses (1/n − 1)² of the wide velocity head, out of it 0.5 (1 − n)/n².</summary>
    [Fact]
    public void A_step_loses_otherwise_forth_and_back()
    {
        const string Step = "LoopFitting x(kind = LoopFitting.Kind.step, D = 0.04, d = 0.02);";
        var forth = Ends(Step + Between, 1, "x.m")[0];
        var back = Ends(Step + Between.Replace("p(p = 2e5)", "p(p = 1e5)").Replace("q(p = 1e5)", "q(p = 2e5)"), 1, "x.m")[0];
        const double n = 0.25;
        Near(Math.Sqrt(0.5 * (1 - n) / (n * n)) / (1 / n - 1), -back / forth, 1e-5);
    }

    [Fact]
    public void A_relief_valve_opens_above_what_it_is_set_to()
    {
        double Flow(double set) => Ends(FormattableString.Invariant($"LoopRelief x(set = {set}, rise = 2e4);") + Between, 1, "x.m")[0];
        Assert.True(Flow(1.2e5) < 1e-3);
        Near(0.5, Flow(0.9e5) / Flow(0.5e5), 1e-4);
    }

    /// <summary>Gas pressed to half of its volume: p Vⁿ stays.</summary>
    [Fact]
    public void Gas_above_a_fluid_is_pressed_together()
    {
        const string Fill =
            "GasVessel x(V = 0.1, area = 1, p0 = 1e5, n = 1.2); FlowBoundary f(m = 0.25, T = 293.15); equation connect(f.a, x.a);";
        var v = Ends(Fill, 100, "x.p", "x.gas", "x.M");
        // A quarter of the volume is filled: 25 kg into half a tenth of a cubic metre.
        Near(0.5 - 25 / 998.2 / 0.1, v[1], 2e-3);
        Near(1e5 * Math.Pow(0.5 / v[1], 1.2), v[0], 1e-9);
    }

    const string Expansion =
        "LoopFluid f(kind = LoopFluid.Kind.air); PressureBoundary s(p = {0}, T = 900); LoopTurbine x; PressureBoundary e(p = 2e5, T = 500);"
        + "ShaftSpeedSource d; equation d.u = {1}; connect(f.a, s.a); connect(s.a, x.a); connect(x.b, e.a); connect(x.shaft, d.b);";

    /// <summary>Through its working point, and by the law of the ellipse beside it; work is the isentropic one times the efficiency.</summary>
    [Fact]
    public void A_turbine_swallows_by_the_ellipse_and_works_isentropically()
    {
        var at = Ends(string.Format(null, Expansion, "1e6", "1500"), 1, "x.m", "x.work", "x.drop", "x.cp", "x.gas");
        Near(1, at[0], 1e-6);
        var drop = at[3] * 900 * (1 - Math.Pow(0.2, at[4] / at[3]));
        Near(drop, at[2], 1e-9);
        Near(0.7 * drop, at[1], 1e-6);
        var half = Ends(string.Format(null, Expansion, "6e5", "1500"), 1, "x.m")[0];
        Near(Math.Sqrt((36e10 - 4e10) / 6e5 * 6e5 / (96e10 / 1e6 * 1e6)), half, 1e-4);
        // At half of its best speed the parabola leaves three quarters.
        Near(0.75 * 0.7 * drop, Ends(string.Format(null, Expansion, "1e6", "750"), 1, "x.work")[0], 1e-4);
    }

    [Fact]
    public void A_compressor_gives_the_pressure_ratio_of_its_work()
    {
        const string Blow =
            "LoopFluid f(kind = LoopFluid.Kind.air); PressureBoundary s(p = 1e5, T = 293.15); LoopCompressor x(work = 40000, work0 = 50000);"
            + "FlowBoundary e(m = -0.594); equation connect(f.a, s.a); connect(s.a, x.a); connect(x.b, e.a);";
        var v = Ends(Blow, 1, "x.ratio", "x.given", "x.cp", "x.gas", "x.rate");
        Near(0.5, v[4], 5e-3);
        Near(Math.Pow(1 + v[1] / (v[2] * 293.15), v[2] / v[3]), v[0], 1e-9);
        Near(40000, v[1], 5e-3);
    }

    /// <summary>Choked: C A p sqrt(κ/(R T)) (2/(κ+1))^((κ+1)/(2(κ−1))), whatever the pressure behind (Saint-Venant and Wantzel).</summary>
    [Fact]
    public void A_nozzle_is_choked_at_the_speed_of_sound()
    {
        double[] Through(string behind) =>
            Ends(
                "LoopFluid f(kind = LoopFluid.Kind.air); PressureBoundary s(p = 6e5, T = 300); GasNozzle x(D = 0.02, cd = 1);"
                    + $"PressureBoundary e(p = {behind}, T = 300); equation connect(f.a, s.a); connect(s.a, x.a); connect(x.b, e.a);",
                1,
                "x.m",
                "x.kappa",
                "x.gas"
            );
        var v = Through("1e5");
        var k = v[1];
        var flow = Math.PI / 4 * 4e-4 * 6e5 * Math.Sqrt(k / (v[2] * 300)) * Math.Pow(2 / (k + 1), (k + 1) / (2 * (k - 1)));
        Near(flow, v[0], 1e-6);
        Near(v[0], Through("2.5e5")[0], 1e-6);
        Assert.True(Through("4.5e5")[0] < 0.95 * v[0]);
    }

    const string Burner =
        "LoopFluid ff(kind = LoopFluid.Kind.methane); LoopFluid fa(kind = LoopFluid.Kind.air);"
        + "LoopFluid fg(kind = LoopFluid.Kind.burnt, fuel = 0.02); FlowBoundary f(flowSignal = true, T = 298.15);"
        + "FlowBoundary a(m = 1, T = 298.15); BurnerChamber c(DOut = 0.1); PressureBoundary o(p = 1e5, T = 298.15);"
        + "equation connect(ff.a, f.a); connect(fa.a, a.a); connect(fg.a, o.a); connect(f.a, c.fuel); connect(a.a, c.air);"
        + "connect(c.b, o.a);";

    /// <summary>What a kilogram of gas gains is the heating value of the fuel in it.</summary>
    [Fact]
    public void A_burner_heats_by_its_fuel()
    {
        var v = Ends(Burner + "f.mIn = 0.02; c.ignite = time < 1;", 5, "c.T", "c.h", "c.burns", "c.ratio");
        Assert.Equal(1, v[2]);
        Near(50, v[3], 1e-6);
        var gas = Mediums.Of(10, 0.02);
        Near(gas.Enthalpy(1e5, 298.15) + 0.02 * 0.98 * 50.03e6 / 1.02, v[1], 1e-5);
        Assert.InRange(v[0], 1100, 1200);
    }

    [Theory]
    [InlineData("f.mIn = 0.02; c.ignite = false;", false)]
    [InlineData("f.mIn = 0.01; c.ignite = time < 1;", false)] // Too lean.
    [InlineData("f.mIn = if time < 2 then 0.02 else 0.01; c.ignite = time < 1;", false)] // It goes out.
    [InlineData("f.mIn = if time < 2 or time > 3 then 0.02 else 0.01; c.ignite = time < 1;", false)] // And stays out.
    [InlineData("f.mIn = if time < 2 then 0 else 0.02; c.ignite = time > 1 and time < 3;", true)]
    public void It_burns_where_it_was_lit_and_can(string course, bool burns) =>
        Assert.Equal(burns ? 1 : 0, Ends(Burner + course, 5, "c.burns")[0]);

    /// <summary>Of fuel with too little air only the part burns that finds some.</summary>
    [Fact]
    public void A_rich_mixture_burns_in_part()
    {
        var v = Ends(Burner + "f.mIn = 0.1; c.ignite = time < 1;", 5, "c.released");
        Near(0.98 * 50.03e6 / 17.19, v[0], 1e-6);
    }

    /// <summary>Far from its guesses a network of valves between volumes is solved all the same.</summary>
    [Theory]
    [InlineData("LoopRelief r(set = 5e4);")]
    [InlineData("LoopValve r(signal = false);")]
    public void A_network_at_rest_starts_to_flow(string branch)
    {
        var text =
            $"LoopFluid f(p0 = 2e5, T0 = 320); GasVessel g; LoopPump p; Pipe q(N = 3, L = 20); LoopFitting b; {branch} Vessel v;"
            + "LoopFitting o(kind = LoopFitting.Kind.orifice); equation connect(f.a, g.a); connect(g.a, p.a); connect(p.b, q.a);"
            + "connect(q.b, b.a); connect(b.b, o.a); connect(o.b, v.a); connect(v.b, p.a); connect(r.a, q.a); connect(r.b, v.a);";
        var v = Ends(text, 20, "p.m", "o.m", "r.m");
        Assert.True(v[0] > 0.1);
        Near(v[0], v[1] + v[2], 1e-4);
    }

    /// <summary>A vessel that boils dry and goes on as superheated steam: enthalpy out is enthalpy in and the heat.</summary>
    [Fact]
    public void A_boiling_vessel_runs_dry_and_on()
    {
        const string Boil =
            "LoopFluid f(p0 = 2e5, T0 = 390); FlowBoundary b(m = 0.01, T = 330); Vessel v(heatPort = true, V = 0.05); HeatSource h(Q = 30000);"
            + "LoopValve s(signal = false, Kv = 0.002); PressureBoundary o(p = 1e5, T = 380); equation connect(f.a, b.a);"
            + "connect(b.a, v.a); connect(h.b, v.heat); connect(v.b, s.a); connect(s.b, o.a);";
        var v = Ends(Boil, 1000, "v.h", "v.T");
        Near(Water.Enthalpy(1.07e5, 330) + 3e6, v[0], 1e-4);
        Assert.True(v[1] > 600);
    }

    /// <summary>At rest from the first instant: a closed loop with heat in and out, whose mass stays what it was.</summary>
    [Fact]
    public void A_closed_loop_starts_at_rest()
    {
        const string Loop =
            "LoopFluid f(p0 = 2e5, T0 = 323.15); Pipe warm(N = 4, L = 10, heated = true); GasVessel g;"
            + "Pipe cold(N = 4, L = 10, heatPort = true, given = true, alpha = 2000); FixedTemperature t(T = 290);"
            + "LoopPump p(kind = LoopPump.Given.given, m0 = 0.8); equation warm.u = 40000; connect(f.a, g.a); connect(g.a, p.a);"
            + "connect(p.b, warm.a); connect(warm.b, cold.a); connect(cold.b, p.a);"
            + "for i in 1:4 loop connect(cold.heat[i], t.b); end for;";
        var prepared = TextModel.Prepare(Loop);
        var result = TextModel.Run(prepared, new RunOptions { End = 100, SteadyStart = true });
        Assert.True(result.Failure is null, result.Failure?.ToString());
        using var trace = result.Trace;
        double At(string name, int row) => trace[row, prepared.Compiled!.Plan.Representative[prepared.Find(name)!.Index]];
        var last = trace.Rows - 1;
        Near(At("warm.T[4]", 0), At("warm.T[4]", last), 1e-6);
        Near(40000 / 0.8, At("warm.h[4]", 0) - At("cold.h[4]", 0), 1e-3);
    }
}
