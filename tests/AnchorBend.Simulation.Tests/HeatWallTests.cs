using static AnchorBend.Simulation.Tests.PhysicalRun;

namespace AnchorBend.Simulation.Tests;

/// <summary>Walls against exact solutions of conduction, and kinetics against the inhour equation.</summary>
public class HeatWallTests
{
    const string Own = "material = HeatWall.Material.own, rho = 2000, c = 1000, k = 2";

    static string Between(string wall) =>
        $"HeatWall w({wall}, N = 1); FixedTemperature h(T = 400); FixedTemperature k(T = 300); equation connect(h.b, w.a[1]); connect(k.b, w.b[1]);";

    [Theory]
    [InlineData(1)]
    [InlineData(5)]
    public void A_plane_wall_conducts_by_its_thickness(int cells) =>
        Near(2 * 3 * 0.5 / 0.1 * 100, Value(Between($"{Own}, L = 3, W = 0.5, thick = 0.1, K = {cells}"), "w.across[1,1]", 50000), 1e-6);

    [Theory]
    [InlineData(1)]
    [InlineData(5)]
    public void A_cylinder_conducts_by_the_logarithm_of_its_radii(int cells) =>
        Near(
            2 * Math.PI * 2 * 3 * 100 / Math.Log(0.15 / 0.05),
            Value(Between($"{Own}, form = HeatWall.Form.cylinder, L = 3, D = 0.1, thick = 0.1, K = {cells}"), "w.across[1,1]", 80000),
            1e-6
        );

    /// <summary>With k = k0 (1 + b (T − T0)) the flow is that of the mean conductivity (Carslaw and Jaeger, § 1.6).</summary>
    [Fact]
    public void Conductivity_grows_with_temperature() =>
        Near(
            2 * (1 + 0.002 * (350 - 293.15)) * 3 * 0.5 / 0.1 * 100,
            Value(Between($"{Own}, rising = 0.002, L = 3, W = 0.5, thick = 0.1, K = 20"), "w.across[1,1]", 60000),
            1e-3
        );

    /// <summary>
    /// A plate at 400 K whose sides are held at 300 K from then on (Carslaw and Jaeger, § 3.4): the middle follows
    /// (4/π) Σ (−1)ⁿ/(2n+1) exp(−(2n+1)² π² a t/l²). Forty cells err by (π/40)²/12 of the slowest mode's rate.
    /// </summary>
    [Fact]
    public void A_plate_cools_by_the_series()
    {
        const string Plate =
            $"HeatWall w({Own}, N = 1, K = 41, L = 1, W = 1, thick = 0.1, T0 = 400); FixedTemperature h(T = 300); FixedTemperature k(T = 300); equation connect(h.b, w.a[1]); connect(k.b, w.b[1]);";
        var fourier = 2.0 / (2000 * 1000) * 1500 / 0.01;
        var sum = 0.0;
        for (var n = 0; n < 20; n++)
            sum += Math.Pow(-1, n) / (2 * n + 1) * Math.Exp(-Math.Pow((2 * n + 1) * Math.PI, 2) * fourier);
        Near(4 / Math.PI * sum, (Value(Plate, "w.T[1,21]", 1500) - 300) / 100, 2e-3);
    }

    /// <summary>Along the wall too: an insulated bar with one hot end has, in rest, the mean temperature where nothing leaves it.</summary>
    [Fact]
    public void Heat_goes_along_where_wanted()
    {
        const string Bar =
            $"HeatWall w({Own}, N = 5, K = 1, along = true, L = 0.1, W = 0.01, thick = 0.01, T0 = 300); HeatSource h(Q = 1); FixedTemperature k(T = 300); equation connect(h.b, w.a[1]); connect(k.b, w.a[5]);";
        // The heat passes half a cell in, four whole ones along, half a cell out.
        var (section, cell) = (1e-4, 0.02);
        var rise = 4 * cell / (2 * section) + 2 * (0.005 / (2 * cell * 0.01));
        Near(300 + rise, Value(Bar, "w.a[1].T", 200000), 1e-6);
    }

    [Fact]
    public void Heat_made_within_leaves_by_both_sides()
    {
        const string Heated =
            $"HeatWall w({Own}, N = 1, K = 4, L = 1, W = 1, thick = 0.1, heated = true, T0 = 300); Constant q(k = 600); FixedTemperature h(T = 300); FixedTemperature k(T = 300); equation connect(q.y, w.u); connect(h.b, w.a[1]); connect(k.b, w.b[1]);";
        Near(-300, Value(Heated, "w.across[1,1]", 60000), 1e-6);
    }

    /// <summary>The inhour equation ρ = Λ s + Σ β s/(s + λ): after a step the power grows with its largest root.</summary>
    [Fact]
    public void The_period_is_that_of_the_inhour_equation()
    {
        const double Step = 0.001;
        double[] beta = [0.000215, 0.001424, 0.001274, 0.002568, 0.000748, 0.000273];
        double[] lambda = [0.0124, 0.0305, 0.111, 0.301, 1.14, 3.01];
        double Reactivity(double s) => 1e-4 * s + beta.Zip(lambda, (b, l) => b * s / (s + l)).Sum();
        var (low, high) = (0.0, 1.0);
        for (var i = 0; i < 100; i++)
            (low, high) = Reactivity((low + high) / 2) < Step ? ((low + high) / 2, high) : (low, (low + high) / 2);

        var values = Values(FormattableString.Invariant($"KineticSource s; equation s.u = {Step};"), "s.P", 900, 910);
        Near(low, Math.Log(values[1] / values[0]) / 10, 1e-5);
    }

    [Fact]
    public void Kinetics_begin_in_equilibrium_and_hot_sources_slow_down()
    {
        Near(50000, Value("KineticSource s; equation s.u = 0;", "s.P", 100), 1e-9);
        // The temperature at which feedback takes what was put in: 0.001 / 1e-4 = 10 K above the reference.
        const string Held =
            "KineticSource s(feedback = true, n = 1, alpha = {-1e-4}, reference = {300}); HeatCapacity c(C = 1e5, T0 = 300); Conduction g(G = 5000); FixedTemperature a(T = 290); SignalHeat h; equation s.u = 0.001; s.T[1] = c.T; connect(s.P, h.u); connect(h.b, c.a); connect(c.a, g.a); connect(g.b, a.b);";
        Near(310, Value(Held, "c.T", 3000), 1e-5);
        Near(5000 * 20, Value(Held, "s.P", 3000), 1e-5);
    }
}
