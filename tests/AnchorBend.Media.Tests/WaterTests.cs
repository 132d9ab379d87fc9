using AnchorBend.Media.Water;

namespace AnchorBend.Media.Tests;

/// <summary>Water against the verification tables of the IAPWS releases, and the tables made of it against its equations.</summary>
public class WaterTests
{
    static readonly WaterMedium Water = new();

    /// <summary>The release gives nine digits.</summary>
    static void Same(double expected, double actual) => Assert.Equal(expected, actual, 6e-9 * Math.Abs(expected));

    /// <summary>R7-97(2012), table 5.</summary>
    [Theory]
    [InlineData(300, 3e6, 0.100215168e-2, 0.115331273e6, 0.417301218e4)]
    [InlineData(300, 80e6, 0.971180894e-3, 0.184142828e6, 0.401008987e4)]
    [InlineData(500, 3e6, 0.120241800e-2, 0.975542239e6, 0.465580682e4)]
    public void Liquid_is_that_of_the_release(double T, double p, double v, double h, double cp)
    {
        var point = GibbsEnergy.Liquid(p, T);
        Same(v, point.Volume);
        Same(h, point.Enthalpy);
        Same(cp, point.HeatCapacity);
    }

    /// <summary>R7-97(2012), table 15.</summary>
    [Theory]
    [InlineData(300, 3.5e3, 0.394913866e2, 0.254991145e7, 0.191300162e4)]
    [InlineData(700, 3.5e3, 0.923015898e2, 0.333568375e7, 0.208141274e4)]
    [InlineData(700, 30e6, 0.542946619e-2, 0.263149474e7, 0.103505092e5)]
    public void Vapour_is_that_of_the_release(double T, double p, double v, double h, double cp)
    {
        var point = GibbsEnergy.Vapour(p, T);
        Same(v, point.Volume);
        Same(h, point.Enthalpy);
        Same(cp, point.HeatCapacity);
    }

    /// <summary>R7-97(2012), tables 35 and 36.</summary>
    [Fact]
    public void The_saturation_line_is_that_of_the_release()
    {
        foreach (var (T, p) in new[] { (300.0, 0.353658941e4), (500, 0.263889776e7), (600, 0.123443146e8) })
            Same(p, GibbsEnergy.SaturationPressure(T));
        foreach (var (p, T) in new[] { (0.1e6, 0.372755919e3), (1e6, 0.453035632e3), (10e6, 0.584149488e3) })
            Same(T, GibbsEnergy.SaturationTemperature(p));
    }

    /// <summary>R12-08, table 4, in µPa·s.</summary>
    [Theory]
    [InlineData(298.15, 998, 889.735100)]
    [InlineData(298.15, 1200, 1437.649467)]
    [InlineData(373.15, 1000, 307.883622)]
    [InlineData(433.15, 1, 14.538324)]
    [InlineData(873.15, 600, 77.430195)]
    public void Viscosity_is_that_of_the_release(double T, double density, double expected) =>
        Assert.Equal(expected, 1e6 * WaterTransport.Viscosity(density, T), 1e-6);

    /// <summary>R15-11, table 4, without the enhancement at the critical point, in mW/(m·K).</summary>
    [Theory]
    [InlineData(298.15, 0, 18.4341883)]
    [InlineData(298.15, 998, 607.712868)]
    [InlineData(298.15, 1200, 799.038144)]
    [InlineData(873.15, 0, 79.1034659)]
    public void Conductivity_is_that_of_the_release(double T, double density, double expected) =>
        Assert.Equal(expected, 1e3 * WaterTransport.Conductivity(density, T), 1e-6);

    /// <summary>Pressures and temperatures all over both regions, not on the nodes of the tables.</summary>
    public static IEnumerable<(double P, double T)> Places()
    {
        var random = new Random(7);
        for (var i = 0; i < 3000; i++)
        {
            var p = Math.Exp(6.5 + random.NextDouble() * (Math.Log(95e6) - 6.5));
            var highest = p < GibbsEnergy.HighestSaturation ? 1070 : 623;
            var T = 274 + random.NextDouble() * (highest - 274);
            yield return (p, T);
        }
    }

    [Fact]
    public void Tables_say_what_the_equations_say()
    {
        double worstT = 0,
            worstV = 0;
        foreach (var (p, T) in Places())
        {
            var isLiquid = p >= GibbsEnergy.HighestSaturation || T < GibbsEnergy.SaturationTemperature(p);
            var exact = isLiquid ? GibbsEnergy.Liquid(p, T) : GibbsEnergy.Vapour(p, T);
            var state = Water.At(p, exact.Enthalpy);
            worstT = Math.Max(worstT, Math.Abs(state.Temperature - T));
            worstV = Math.Max(worstV, Math.Abs(state.Volume / exact.Volume - 1));
        }

        // What docs/performance.md says.
        Assert.True(worstT < 2e-3, $"{worstT} K");
        Assert.True(worstV < 2e-5, $"{worstV}");
    }

    [Fact]
    public void Slopes_are_those_of_the_values()
    {
        foreach (var (p, T) in Places().Take(500))
        {
            var h = Water.Enthalpy(p, T);
            var (dp, dh) = (1e-5 * p, 5.0);
            var state = Water.At(p, h);
            var (low, high) = (Water.At(p - dp, h), Water.At(p + dp, h));
            if (low.Vapour != high.Vapour || Water.At(p, h - dh).Vapour != Water.At(p, h + dh).Vapour)
                continue;
            var slope = (high.Volume - low.Volume) / (2 * dp);
            // Differences of numbers known to 1e-16 over a step of 1e-5 of the pressure.
            Assert.Equal(slope, state.VolumeAlongPressure, 1e-4 * Math.Abs(slope) + 1e-10 * state.Volume / p);
            Assert.Equal(
                (Water.At(p, h + dh).Volume - Water.At(p, h - dh).Volume) / (2 * dh),
                state.VolumeAlongEnthalpy,
                1e-4 * Math.Abs(state.VolumeAlongEnthalpy)
            );
            Assert.Equal(
                (Water.At(p, h + dh).Temperature - Water.At(p, h - dh).Temperature) / (2 * dh),
                state.TemperatureAlongEnthalpy,
                1e-5 * state.TemperatureAlongEnthalpy
            );
        }
    }

    [Fact]
    public void The_pressure_of_a_density_and_an_energy_is_found()
    {
        foreach (var (p, T) in Places())
        {
            var h = Water.Enthalpy(p, T);
            var d = Water.At(p, h).Density;
            // A liquid's pressure follows from the last digits of its density: 2e9 Pa · 1e-15.
            Assert.Equal(p, Water.Pressure(d, h - p / d), 1e-9 * p + 1e-4);
        }

        // Wet steam: half of each at 10 bar.
        var ((liquid, _), (vapour, _)) = WaterTables.Instance.Saturation(1e6);
        var wet = Water.At(1e6, (liquid + vapour) / 2);
        Assert.Equal(0.5, wet.Vapour, 1e-9);
        Assert.Equal(453.035632, wet.Temperature, 1e-3);
        Assert.Equal(1e6, Water.Pressure(wet.Density, (liquid + vapour) / 2 - 1e6 / wet.Density), 1e-3);
    }

    /// <summary>Saturated water at 10 bar by the steam tables: 4.405 and 2.715 kJ/(kg·K), 150.2 and 15.02 µPa·s, told
    /// within some thousandths; a quarter is vapour.</summary>
    [Fact]
    public void Wet_steam_has_the_properties_of_both_phases()
    {
        var ((liquid, _), (vapour, _)) = WaterTables.Instance.Saturation(1e6);
        var h = liquid + 0.25 * (vapour - liquid);
        Assert.Equal(0.75 * 4405 + 0.25 * 2715, Water.HeatCapacity(1e6, h), 5.0);
        Assert.Equal(1 / (0.75 / 150.2e-6 + 0.25 / 15.02e-6), Water.Viscosity(1e6, h), 1e-7);
        foreach (var edge in new[] { liquid, vapour })
        foreach (var of in new[] { Water.HeatCapacity, Water.Viscosity, (Func<double, double, double>)Water.Conductivity })
            Assert.Equal(1, of(1e6, edge - 1e-3) / of(1e6, edge + 1e-3), 1e-5);
    }

    [Fact]
    public void What_is_not_described_is_told()
    {
        Assert.Equal(Beyond.Nothing, Water.Validity(1e5, 84e3));
        Assert.Equal(Beyond.TooCold, Water.Validity(1e5, -30e3));
        Assert.Equal(Beyond.TooHot, Water.Validity(1e5, 4.3e6));
        Assert.Equal(Beyond.TooHigh, Water.Validity(25e6, 2.2e6));
        Assert.Equal(Beyond.TooLow, Water.Validity(300, 84e3));
    }
}
