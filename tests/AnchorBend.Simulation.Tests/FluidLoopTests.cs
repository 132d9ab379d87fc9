using AnchorBend.Media;
using AnchorBend.Tests;
using static AnchorBend.Simulation.Tests.PhysicalRun;

namespace AnchorBend.Simulation.Tests;

/// <summary>Parts of fluid loops against exact solutions, and what no loop may lose.</summary>
public class FluidLoopTests
{
    static RunOptions Close { get; } = new() { End = 1, RelativeTolerance = 1e-7 };

    static readonly Medium Water = Mediums.Of(1, 0);

    const double G = 9.80665;

    static double Density(double p, double T) => Water.At(p, Water.Enthalpy(p, T)).Density;

    /// <summary>Values at the end of a run, by names.</summary>
    static double[] Ends(string text, double end, params string[] names)
    {
        var prepared = TextModel.Prepare(text);
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => $"{f.Part} {f.Item} {f.Message}")));
        var result = TextModel.Run(prepared, Close with { End = end });
        Assert.True(result.Failure is null, result.Failure?.ToString());
        using var trace = result.Trace;
        return [.. names.Select(n => trace[trace.Rows - 1, prepared.Find(n)!.Index])];
    }

    /// <summary>The kinds that the part offers have the numbers of the fluids, in their order.</summary>
    [Fact]
    public void Every_kind_of_fluid_has_its_number()
    {
        var kinds = Modeling.Catalog.PartCatalog.Standard.Describe("LoopFluid").Parameters.Single(p => p.Name == "kind").Choices!;
        Assert.Equal("own", kinds[^1].Name);
        Assert.Equal(Mediums.Count, kinds.Count - 1);
        foreach (var (at, kind) in kinds.SkipLast(1).Index())
        {
            var text =
                $"LoopFluid f(kind = LoopFluid.{kind.Value}); PressureBoundary a; Real n; equation connect(f.a, a.a); n = a.a.medium;";
            Near(at + 1, Ends(text, 1, "n")[0], 1e-12);
        }
    }

    /// <summary>
    /// Pressures of the start fit neither the heights nor the tank: the differences of pressure that flows go with are ten orders below the
    /// pressures they come from. Both starts come to the same end.
    /// </summary>
    [Fact]
    public void A_loop_with_risers_starts_from_values_that_do_not_fit()
    {
        const string Loop = """
            LoopFluid f(p0 = 1.2e5, T0 = 310); OpenTank tank(area = 0.6, height = 3, level0 = 1.2, T0 = 310); FixedTemperature basin(T = 283.15);
            LoopPump pump(q = 2.2e-3, H = 6, H0 = 9, qMax = 4e-3); Pipe cold(N = 4, L = 50, D = 0.04, rise = -1, heatPort = true);
            Pipe warm(N = 4, L = 50, D = 0.04, rise = 1, heated = true); Constant q(k = 40000);
            equation connect(f.a, tank.b); connect(tank.b, pump.a); connect(pump.b, cold.a); connect(cold.b, warm.a); connect(warm.b, tank.a);
              connect(q.y, warm.u); connect(cold.heat, basin.b);
            """;
        double[] At(double time, bool isRest)
        {
            var prepared = TextModel.Prepare(Loop);
            var result = TextModel.Run(prepared, Close with { End = time, OutputTimes = [time], SteadyStart = isRest });
            Assert.True(result.Failure is null, result.Failure?.ToString());
            using var trace = result.Trace;
            return
            [
                .. ((string[])["pump.m", "tank.T", "cold.m[1]", "warm.m[5]"]).Select(n => trace[trace.Rows - 1, prepared.Find(n)!.Index]),
            ];
        }

        var (ends, rests) = (At(20000, false), At(1, true));
        Near(ends[0], ends[2], 1e-6);
        Near(ends[0], ends[3], 1e-5);
        Near(rests[0], ends[0], 1e-4);
        Near(rests[1], ends[1], 1e-3);
    }

    /// <summary>A fluid of 1000 and 1200 kg/m3 by temperature, whose enthalpy is 3 kJ/(kg·K): Torricelli's flow and a mixture.</summary>
    [Fact]
    public void A_loop_holds_a_fluid_from_a_table()
    {
        const string Text = """
            LoopFluid f(kind = LoopFluid.Kind.own, tableP = {1e5, 1e5, 1e7, 1e7}, tableT = {300, 400, 300, 400}, tableD = {1200, 1100, 1205, 1105},
              tableH = {0, 3e5, 0, 3e5}, tableMu = {1e-3, 1e-3, 1e-3, 1e-3}, tableK = {0.5, 0.5, 0.5, 0.5});
            FlowBoundary a(m = 1, T = 310), b(m = 3, T = 350); PressureBoundary c(p = 2e5, T = 300); Vessel v(V = 0.01, p0 = 2e5, T0 = 300);
            equation connect(f.a, v.a); connect(a.a, v.a); connect(b.a, v.a); connect(v.b, c.a);
            """;
        var ends = Ends(Text, 200, "v.T", "v.d", "v.p");
        // Enthalpies mix: (1 · 10 + 3 · 50) / 4 = 40 K above 300 K; the logarithm of the density is linear in temperature.
        Near(340, ends[0], 1e-5);
        Near(1200 * Math.Pow(1100.0 / 1200, 0.4), ends[1], 1e-4);
        // A loss factor of 1 on a diameter of 30 mm.
        Near(2e5 + Math.Pow(4 / (Math.PI / 4 * 9e-4), 2) / (2 * ends[1]), ends[2], 1e-3);
    }

    /// <summary>A number of a fluid that nobody brought ends the run with words, as any value that is no number does.</summary>
    [Fact]
    public void A_number_that_stands_for_no_fluid_ends_the_run()
    {
        const string Asked =
            "Real T; Real p; equation T = fluidTemperature(123456, 0, 1e5, 1e5 + time); p = fluidPressure(123456, 0, 1000, T);";
        Assert.NotNull(TextModel.Run(TextModel.Prepare(Asked), Close with { End = 1 }).Failure);
    }

    [Fact]
    public void A_table_that_is_none_is_told_at_its_fluid()
    {
        var prepared = TextModel.Prepare("LoopFluid f(kind = LoopFluid.Kind.own, tableD = {1, 2}); Vessel v; equation connect(f.a, v.a);");
        var finding = Assert.Single(prepared.Findings, f => f.Code == "fluid-table");
        Assert.Equal("f", finding.Part);
        Assert.Contains("not equally long", finding.Message, StringComparison.Ordinal);
    }

    /// <summary>Water that nobody chose is told; a fluid that was is not.</summary>
    [Theory]
    [InlineData("", 1)]
    [InlineData("LoopFluid f(kind = LoopFluid.Kind.air);", 0)]
    public void A_network_without_a_fluid_is_told(string fluid, int told)
    {
        var said = fluid.Length > 0 ? "connect(f.a, a.a);" : "";
        var prepared = TextModel.Prepare($"{fluid} PressureBoundary a; Vessel v; equation connect(a.a, v.a); {said}");
        Assert.Equal(told, prepared.Findings.Count(f => f.Code == "assumed-fluid"));
    }

    /// <summary>Two vessels and two pipes of a closed ring, hot and cold, under different pressures: nothing of the sums may
    /// change.</summary>
    [Fact]
    public void A_closed_loop_keeps_its_mass_its_energy_and_its_traces()
    {
        const string Ring = """
            LoopFluid f(traces = 1); Vessel v(V = 0.02, p0 = 3e5, T0 = 350, c0 = {0.01}); Vessel w(V = 0.03, p0 = 1e5, T0 = 290);
            Pipe p(N = 3, rise = 1); Pipe q(N = 2, rise = -1); Real mass; Real energy; Real traced;
            equation
              connect(v.b, p.a); connect(p.b, w.a); connect(w.b, q.a); connect(q.b, v.a); connect(f.a, v.a);
              mass = v.x + w.x + sum(p.x) + sum(q.x);
              energy = v.U + w.U + sum(p.U) + sum(q.U);
              traced = sum(v.Z) + sum(w.Z) + sum(p.Z) + sum(q.Z);
            """;
        var names = new[] { "mass", "energy", "traced", "v.p", "w.p", "v.T", "w.T" };
        var begin = Ends(Ring, 1e-6, names);
        var end = Ends(Ring, 200, names);
        var held = 0.05 * 1000;
        Assert.Equal(begin[0], end[0], 1e-10 * held);
        Assert.Equal(begin[1], end[1], 1e-10 * Math.Abs(begin[1]));
        Assert.Equal(begin[2], end[2], 1e-10 * begin[2]);
        // The pressures have met but for the weight of the water; the hot and the cold have not mixed by themselves.
        Assert.True(begin[3] - begin[4] > 1.5e5 && Math.Abs(end[3] - end[4]) < 2e4, $"{end[3]} {end[4]}");
    }

    /// <summary>Torricelli: the root of the level falls evenly, d√z/dt = −(a/A) √(g/2).</summary>
    [Fact]
    public void A_tank_drains_as_torricelli_says()
    {
        const string Tank = """
            OpenTank t(area = 0.5, level0 = 1, D = 0.02, zeta = 1, ambient = 1e5); PressureBoundary e(p = 1e5); LoopValve v(Kv = 1, signal = false);
            equation connect(t.a, v.a); connect(v.b, e.a);
            """;
        // The valve is as wide open as a loss of 1e-9 of the tank's would be.
        var wide = Tank.Replace("Kv = 1,", "Kv = 100,", StringComparison.Ordinal);
        var level = Ends(wide, 300, "t.y")[0];
        var fall = Math.PI / 4 * 4e-4 / 0.5 * Math.Sqrt(G / 2) * 300;
        Near(Math.Pow(1 - fall, 2), level, 2e-4);
    }

    [Fact]
    public void Flows_that_meet_mix_by_enthalpy()
    {
        const string Meeting = """
            FlowBoundary a(m = 1, T = 350); FlowBoundary b(m = 3, T = 290); PressureBoundary e(p = 2e5); LoopSensor s;
            equation connect(a.a, s.a); connect(b.a, s.a); connect(s.b, e.a);
            """;
        var h = (Water.Enthalpy(2e5, 350) + 3 * Water.Enthalpy(2e5, 290)) / 4;
        Near(Water.At(2e5, h).Temperature, Ends(Meeting, 1, "s.y")[0], 1e-7);
    }

    /// <summary>Throttling keeps the enthalpy: an ideal gas its temperature, water under pressure warms by what it loses.</summary>
    [Theory]
    [InlineData("air")]
    [InlineData("water")]
    public void Throttling_keeps_the_enthalpy(string kind)
    {
        var text =
            $"LoopFluid f(kind = LoopFluid.Kind.{kind}); PressureBoundary a(p = 50e5, T = 320); PressureBoundary e(p = 1e5); LoopValve v(Kv = 1e-4, signal = false); LoopSensor s; equation connect(f.a, a.a); connect(a.a, v.a); connect(v.b, s.a); connect(s.b, e.a);";
        var medium = Mediums.Of(kind == "air" ? 3 : 1, 0);
        Near(medium.At(1e5, medium.Enthalpy(50e5, 320)).Temperature, Ends(text, 1, "s.y")[0], 1e-8);
    }

    [Fact]
    public void A_gas_is_choked_beyond_its_share_of_the_inlet_pressure()
    {
        double Flow(double below) =>
            Ends(
                FormattableString.Invariant(
                    $"LoopFluid f(kind = LoopFluid.Kind.air); PressureBoundary a(p = 10e5, T = 300); PressureBoundary e(p = {below}); LoopValve v(Kv = 1e-3, signal = false, choked = true); equation connect(f.a, a.a); connect(a.a, v.a); connect(v.b, e.a);"
                ),
                1,
                "v.m"
            )[0];
        Near(Flow(1e5), Flow(2.5e5), 1e-9);
        // IEC 60534-2-1: with Y = 2/3 and a drop of x_T p at the choked flow.
        var air = Mediums.Of(3, 0);
        var density = air.At(10e5, air.Enthalpy(10e5, 300)).Density;
        Near(1e-3 * Math.Sqrt(1000 / 1e5) * 2.0 / 3 * Math.Sqrt(0.7 * 10e5 * density), Flow(1e5), 1e-3);
        Assert.True(Flow(6e5) < 0.95 * Flow(1e5));
    }

    /// <summary>Hagen and Poiseuille for oil; Colebrook's equation, solved here by itself, for water.</summary>
    [Fact]
    public void Friction_is_laminar_or_turbulent()
    {
        const string Oil =
            "LoopFluid f(kind = LoopFluid.Kind.oil46); PressureBoundary a(p = 1.02e5, T = 313.15); PressureBoundary e(p = 1e5, T = 313.15); Pipe p(N = 1, L = 10, D = 0.02, T0 = 313.15); equation connect(f.a, a.a); connect(a.a, p.a); connect(p.b, e.a);";
        var oil = Mediums.Of(13, 0);
        var h = oil.Enthalpy(1.01e5, 313.15);
        Near(
            oil.At(1.01e5, h).Density * Math.PI * Math.Pow(0.02, 4) * 2e3 / (128 * oil.Viscosity(1.01e5, h) * 10),
            Ends(Oil, 100, "p.m[1]")[0],
            1e-4
        );

        const string Turbulent =
            "PressureBoundary a(p = 1.5e5); PressureBoundary e(p = 1e5); Pipe p(N = 1, L = 20, D = 0.05, rough = 1e-4, p0 = 1.25e5); equation connect(a.a, p.a); connect(p.b, e.a);";
        var m = Ends(Turbulent, 200, "p.m[1]")[0];
        var (d, mu) = (Density(1.25e5, 293.15), Water.Viscosity(1.25e5, Water.Enthalpy(1.25e5, 293.15)));
        var speed = m / (d * Math.PI / 4 * 0.05 * 0.05);
        var (re, f) = (d * speed * 0.05 / mu, 0.02);
        for (var i = 0; i < 50; i++)
            f = Math.Pow(-2 * Math.Log10(1e-4 / 0.05 / 3.7 + 2.51 / (re * Math.Sqrt(f))), -2);
        Assert.True(re > 1e4);
        Near(0.5e5, f * 20 / 0.05 * d * speed * speed / 2, 1e-3);
    }

    /// <summary>Joukowsky: a flow that is stopped at once raises the pressure by ρ a v, with a² = (∂p/∂ρ) at constant entropy.</summary>
    [Fact]
    public void A_stopped_flow_raises_the_pressure_by_its_momentum()
    {
        const string Hammer = """
            PressureBoundary a(p = 5e5); Pipe p(N = 40, L = 100, D = 0.1, rough = 0, inertia = true, m0 = 0.8, p0 = 5e5); FlowBoundary e(m = 0);
            equation connect(a.a, p.a); connect(p.b, e.a);
            """;
        var state = Water.At(5e5, Water.Enthalpy(5e5, 293.15));
        // 1/a² = dρ/dp at constant entropy, where dh = v dp.
        var slope = -(state.VolumeAlongPressure + state.VolumeAlongEnthalpy * state.Volume) / (state.Volume * state.Volume);
        var sound = 1 / Math.Sqrt(slope);
        Assert.InRange(sound, 1470, 1500);
        var rise = sound * 0.8 / (Math.PI / 4 * 0.01);
        // Half way through the first return of the wave, in the middle of the compressed stretch.
        var p = Ends(Hammer, 60 / sound, "p.p[32]")[0];
        Near(5e5 + rise, p, 0.02);
    }

    [Fact]
    public void Heat_warms_what_flows_by_its_heat_capacity()
    {
        const string Heated = """
            FlowBoundary a(m = 0.5, T = 300); PressureBoundary e(p = 2e5); Pipe p(N = 5, p0 = 2e5, T0 = 300, heated = true); Constant w(k = 20000);
            equation connect(a.a, p.a); connect(p.b, e.a); connect(w.y, p.u);
            """;
        var ends = Ends(Heated, 300, "p.h[5]", "p.a.p");
        Near(Water.Enthalpy(ends[1], 300) + 20000 / 0.5, ends[0], 1e-6);
    }

    /// <summary>Along a wall of one temperature the difference falls by 1/(1 + α A/(N m c)) in each of N mixed cells.</summary>
    [Fact]
    public void A_wall_warms_what_flows_past_it()
    {
        const string Walled = """
            FlowBoundary a(m = 0.1, T = 300); PressureBoundary e(p = 2e5); Pipe p(N = 20, L = 3, D = 0.02, p0 = 2e5, T0 = 300, heatPort = true, given = true, alpha = 800);
            FixedTemperature w[20](each T = 310);
            equation connect(a.a, p.a); connect(p.b, e.a); for i in 1:20 loop connect(w[i].b, p.heat[i]); end for;
            """;
        var T = Ends(Walled, 500, "p.T[20]")[0];
        var h = Water.Enthalpy(2e5, 305);
        var units = 800 * Math.PI * 0.02 * 3 / (0.1 / Water.At(2e5, h).TemperatureAlongEnthalpy);
        Near(310 - 10 * Math.Pow(1 + units / 20, -20), T, 1e-4);
    }

    [Theory]
    [InlineData(1, 1.5e-3)]
    [InlineData(0.5, 0.75e-3)]
    [InlineData(1.2, 1.8e-3)]
    public void A_pump_follows_the_affinity_laws(double speed, double flow)
    {
        var density = Density(1e5, 293.15);
        var text = FormattableString.Invariant(
            $"PressureBoundary a(p = 1e5); LoopPump p(speed = {speed}); FlowBoundary e(m = {-flow * density}); equation connect(a.a, p.a); connect(p.b, e.a);"
        );
        // At the working point of the curve times the speed the head is that of the curve times its square.
        Near(8 * speed * speed, Ends(text, 1, "p.head")[0], 2e-4);
    }

    [Fact]
    public void A_fluid_that_is_not_described_is_told_with_its_part()
    {
        const string Cold = "Vessel v(T0 = 265); PressureBoundary e(p = 1e5, T = 265); equation connect(v.b, e.a);";
        var prepared = TextModel.Prepare(Cold);
        var result = TextModel.Run(prepared, Close with { End = 1 });
        Assert.Contains(result.Events, e => e.What.Contains("not described", StringComparison.Ordinal) && e.Part == "v");
    }
}
