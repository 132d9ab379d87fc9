namespace AnchorBend.Media.Tests;

/// <summary>A fluid from a table that somebody brings.</summary>
public class TableMediumTests
{
    static readonly double[] Pressures = [1e5, 3e5, 8e5, 2e6, 5e6];
    static readonly double[] Temperatures = [270, 280, 300, 320, 350, 390];

    /// <summary>Columns of a grid, the last point first, from functions of pressure and temperature.</summary>
    static double[][] Columns(params Func<double, double, double>[] of)
    {
        var points = Pressures.SelectMany(p => Temperatures.Select(T => (p, T))).Reverse().ToList();
        return
        [
            [.. points.Select(q => q.p)],
            [.. points.Select(q => q.T)],
            .. of.Select(f => points.Select(q => f(q.p, q.T)).ToArray()),
        ];
    }

    static TableMedium Made(double[][] c) => TableMedium.Of(c[0], c[1], c[2], c[3], c[4], c[5]);

    // Logarithms of density and viscosity and the enthalpy itself are parabolas: the interpolation is exact for these.
    static double Density(double p, double T) => Math.Exp(7 + 4e-10 * p - 5e-4 * (T - 300) - 1e-6 * (T - 300) * (T - 300));

    static double Heat(double p, double T) => 5e-4 * p + 4000 * (T - 273) + 0.8 * (T - 273) * (T - 273);

    static double Thickness(double p, double T) => Math.Exp(-6 - 0.02 * (T - 300));

    static double Conductance(double p, double T) => 0.5 + 1e-3 * (T - 300);

    static readonly TableMedium Brine = Made(Columns(Density, Heat, Thickness, Conductance));

    [Theory]
    [InlineData(1e5, 270)]
    [InlineData(1.7e5, 287)]
    [InlineData(4.4e6, 383)]
    public void What_is_a_parabola_is_met_between_the_points(double p, double T)
    {
        var h = Heat(p, T);
        var state = Brine.At(p, h);
        Assert.Equal(h, Brine.Enthalpy(p, T), 1e-7);
        Assert.Equal(T, state.Temperature, 1e-9);
        Assert.Equal(1, state.Density / Density(p, T), 1e-10);
        Assert.Equal(1, Brine.Viscosity(p, h) / Thickness(p, T), 1e-10);
        Assert.Equal(Conductance(p, T), Brine.Conductivity(p, h), 1e-10);
        Assert.Equal(Beyond.Nothing, Brine.Validity(p, h));
    }

    /// <summary>Central differences; both sides of a line of the grid are met.</summary>
    [Theory]
    [InlineData(3e5, 300)]
    [InlineData(1.1e6, 333)]
    [InlineData(9e6, 420)]
    public void Slopes_are_those_of_the_values(double p, double T)
    {
        var h = Brine.Enthalpy(p, T);
        var (dp, dh) = (1e-4 * p, 10.0);
        var state = Brine.At(p, h);
        Near((Brine.At(p + dp, h).Temperature - Brine.At(p - dp, h).Temperature) / (2 * dp), state.TemperatureAlongPressure);
        Near((Brine.At(p, h + dh).Temperature - Brine.At(p, h - dh).Temperature) / (2 * dh), state.TemperatureAlongEnthalpy);
        Near((Brine.At(p + dp, h).Volume - Brine.At(p - dp, h).Volume) / (2 * dp), state.VolumeAlongPressure);
        Near((Brine.At(p, h + dh).Volume - Brine.At(p, h - dh).Volume) / (2 * dh), state.VolumeAlongEnthalpy);

        static void Near(double expected, double actual) => Assert.Equal(1, actual / expected, 1e-4);
    }

    [Fact]
    public void A_pressure_is_found_from_density_and_energy()
    {
        var (p, T) = (7e5, 311.0);
        var state = Brine.At(p, Brine.Enthalpy(p, T));
        Assert.Equal(1, Brine.Pressure(state.Density, Brine.Enthalpy(p, T) - p / state.Density) / p, 1e-6);
    }

    [Theory]
    [InlineData(1e5, 260, Beyond.TooCold)]
    [InlineData(1e5, 400, Beyond.TooHot)]
    [InlineData(5e4, 300, Beyond.TooLow)]
    [InlineData(6e6, 300, Beyond.TooHigh)]
    public void Beyond_the_table_it_says_so(double p, double T, Beyond beyond) =>
        Assert.Equal(beyond, Brine.Validity(p, Brine.Enthalpy(p, T)));

    /// <summary>What water tells in a table of 9 pressures and 12 temperatures, it tells again between its points.</summary>
    [Fact]
    public void A_table_of_water_tells_what_water_does()
    {
        var water = Mediums.Of(1, 0);
        List<double>[] c =
        [
            [],
            [],
            [],
            [],
            [],
            [],
        ];
        for (var i = 0; i < 9; i++)
        for (var j = 0; j < 12; j++)
        {
            var (p, T) = (1e6 + 5e5 * i, 300 + 10.0 * j);
            var h = water.Enthalpy(p, T);
            foreach (var (k, x) in ((double[])[p, T, water.At(p, h).Density, h, water.Viscosity(p, h), water.Conductivity(p, h)]).Index())
                c[k].Add(x);
        }

        var table = Made([.. c.Select(x => x.ToArray())]);
        var at = water.Enthalpy(2.3e6, 344);
        Assert.Equal(344, table.At(2.3e6, at).Temperature, 0.01);
        Assert.Equal(1, table.At(2.3e6, at).Density / water.At(2.3e6, at).Density, 1e-5);
        Assert.Equal(1, table.Viscosity(2.3e6, at) / water.Viscosity(2.3e6, at), 1e-3);
    }

    [Theory]
    [InlineData(0, 0, "two rows at")]
    [InlineData(2, 0, "above 0")]
    [InlineData(2, double.NaN, "no number")]
    [InlineData(3, 1e9, "does not rise with temperature")]
    [InlineData(2, 1e5, "does not rise with pressure")]
    public void What_is_no_table_of_a_fluid_is_told(int column, double value, string said)
    {
        var c = Columns(Density, Heat, Thickness, Conductance);
        if (column == 0)
            (c[0][0], c[1][0]) = (c[0][1], c[1][1]);
        else
            c[column][c[0].Length - 2] = value;
        Assert.Contains(said, Assert.Throws<FormatException>(() => Made(c)).Message, StringComparison.Ordinal);
    }

    /// <summary>Density falls by a sixth over 100 K, yet 10 MPa bring 0.1 kg/m3: the heat of pressing would thin it more than pressing thickens.</summary>
    [Fact]
    public void What_would_thin_by_pressing_at_the_same_energy_is_told()
    {
        double[][] c =
        [
            [1e5, 1e5, 1e7, 1e7],
            [300, 400, 300, 400],
            [1200, 1000, 1200.1, 1000.1],
            [0, 3e5, 0, 3e5],
            [1e-3, 1e-3, 1e-3, 1e-3],
            [1, 1, 1, 1],
        ];
        Assert.Contains("at the same energy near", Assert.Throws<FormatException>(() => Made(c)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_missing_point_is_counted()
    {
        var c = Columns(Density, Heat, Thickness, Conductance).Select(x => x[1..]).ToArray();
        Assert.Contains("29 points; 5 pressures and 6 temperatures make 30", Assert.Throws<FormatException>(() => Made(c)).Message);
    }

    static (double Number, TableMedium Table) Bring(double[][] c) => Mediums.Bring(c[0], c[1], c[2], c[3], c[4], c[5]);

    [Fact]
    public void The_same_table_has_the_same_number_and_another_one_another()
    {
        var first = Bring(Columns(Density, Heat, Thickness, Conductance));
        Assert.Equal(first, Bring(Columns(Density, Heat, Thickness, Conductance)));
        Assert.NotEqual(first.Number, Bring(Columns(Density, (p, T) => Heat(p, T) + 1, Thickness, Conductance)).Number);
        Assert.Equal(344, Mediums.Of(first.Number, 0).At(1e6, Heat(1e6, 344)).Temperature, 1e-8);
    }

    /// <summary>However many others are brought, a table that is held stays; one that nobody brought is no fluid, and no fault.</summary>
    [Fact]
    public void A_table_is_found_for_as_long_as_it_is_held()
    {
        var held = Bring(Columns(Density, (p, T) => Heat(p, T) + 2, Thickness, Conductance));
        for (var i = 3; i < 400; i++)
            Bring(Columns(Density, (p, T) => Heat(p, T) + i, Thickness, Conductance));
        GC.Collect();
        Assert.Same(held.Table, Mediums.Of(held.Number, 0));
        Assert.Equal(double.NaN, Mediums.Of(5000.5, 0).At(1e5, 1e5).Density);
        Assert.Equal(double.NaN, Mediums.Of(5000.5, 0).Pressure(1000, 1e5));
    }
}
