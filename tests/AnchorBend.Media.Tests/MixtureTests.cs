using AnchorBend.Media.Gases;

namespace AnchorBend.Media.Tests;

/// <summary>Gases and liquids against published values, and the relations that hold for any fluid.</summary>
public class MixtureTests
{
    const int Water = 1,
        Sea = 2,
        Air = 3,
        Humid = 4,
        Burnt = 10,
        Glycol = 11,
        Oil46 = 13;

    /// <summary>Molar heat capacities at 298.15 K and a high temperature, J/(mol·K): NIST-JANAF tables, 4th ed. (1998), which the
    /// polynomials fit to half a part in a hundred; methane by Gurvich et al. (1989), whom they follow.</summary>
    [Theory]
    [InlineData("nitrogen", 29.124, 1500, 34.852)]
    [InlineData("oxygen", 29.376, 1500, 36.544)]
    [InlineData("hydrogen", 28.836, 1500, 32.298)]
    [InlineData("methane", 35.639, 1000, 73.60)]
    [InlineData("carbon dioxide", 37.129, 1500, 58.379)]
    [InlineData("water vapour", 33.590, 1500, 47.090)]
    public void Heat_capacities_are_those_of_the_tables(string name, double cold, double T, double hot)
    {
        var gas = new[] { Gas.Nitrogen, Gas.Oxygen, Gas.Hydrogen, Gas.Methane, Gas.CarbonDioxide, Gas.Steam }.Single(g => g.Name == name);
        Assert.Equal(cold, gas.HeatCapacity(298.15), 2e-3 * cold);
        Assert.Equal(hot, gas.HeatCapacity(T), 5e-3 * hot);
        // Both polynomials meet.
        Assert.Equal(gas.HeatCapacity(999.9999), gas.HeatCapacity(1000), 1e-3 * cold);
        Assert.Equal(gas.Enthalpy(999.9999), gas.Enthalpy(1000), 30.0);
    }

    /// <summary>Enthalpies of formation at 298.15 K, kJ/mol (NIST-JANAF).</summary>
    [Fact]
    public void Enthalpies_hold_what_their_formation_took()
    {
        foreach (
            var (gas, formed) in new[]
            {
                (Gas.Methane, -74.6),
                (Gas.CarbonDioxide, -393.51),
                (Gas.Steam, -241.826),
                (Gas.Oxygen, 0.0),
                (Gas.Nitrogen, 0.0),
            }
        )
            Assert.Equal(formed, gas.Enthalpy(298.15) / 1000, 0.3);
    }

    /// <summary>Dry air at 300 K and 1 atm: Incropera, Fundamentals of Heat and Mass Transfer, 7th ed., table A.4.</summary>
    [Fact]
    public void Air_is_that_of_the_tables()
    {
        var air = Mediums.Of(Air, 0);
        var h = air.Enthalpy(101325, 300);
        var state = air.At(101325, h);
        Assert.Equal(300, state.Temperature, 1e-9);
        Assert.Equal(1.1766, state.Density, 1e-3);
        Assert.Equal(1007, 1 / state.TemperatureAlongEnthalpy, 5.0);
        Assert.Equal(184.6e-7, air.Viscosity(101325, h), 3e-7);
        // Eucken's rule is good to some five per cent.
        Assert.Equal(26.3e-3, air.Conductivity(101325, h), 1.5e-3);
    }

    [Fact]
    public void Humid_air_is_lighter_and_burning_keeps_the_mass()
    {
        double Density(int kind, double share)
        {
            var medium = Mediums.Of(kind, share);
            return medium.At(1e5, medium.Enthalpy(1e5, 300)).Density;
        }

        // Moles add: (1/29 + w/18)/(1 + w) of a kg.
        var w = 0.02;
        var moles = (1 / 28.9647e-3 + w / 18.01528e-3) / (1 + w);
        Assert.Equal(1e5 / (8.314462618 * 300 * moles), Density(Humid, w), 1e-4);
        Assert.Equal(Density(Air, 0), Density(Burnt, 0), 1e-12);
        // One mole of methane and two of oxygen make three moles again: the mixture has as many moles as before it burnt.
        var fuel = 0.03;
        var before = (1 / 28.9647e-3 + fuel / 16.04246e-3) / (1 + fuel);
        Assert.Equal(1e5 / (8.314462618 * 300 * before), Density(Burnt, fuel), 1e-4);
    }

    /// <summary>Check values of the equation of state of 1980 (Fofonoff and Millard 1983, table of chapter 3).</summary>
    [Theory]
    [InlineData(0, 5, 999.96675)]
    [InlineData(0, 25, 997.04796)]
    [InlineData(0.035, 5, 1027.67547)]
    [InlineData(0.035, 25, 1023.34306)]
    public void Sea_water_has_the_density_of_its_check_values(double salinity, double celsius, double density)
    {
        var sea = Mediums.Of(Sea, salinity);
        Assert.Equal(density, sea.At(1e5, sea.Enthalpy(1e5, celsius + 273.15)).Density, 2e-5);
    }

    [Fact]
    public void Sea_water_has_the_heat_capacity_and_viscosity_of_the_tables()
    {
        var sea = Mediums.Of(Sea, 0.040);
        // Fofonoff and Millard: 3981.050 − at 40 °C and S = 40 without pressure 3980.05 J/(kg·K).
        Assert.Equal(3980.05, 1 / sea.At(1e5, sea.Enthalpy(1e5, 313.15)).TemperatureAlongEnthalpy, 0.5);
        // Sharqawy et al.: 0.00106 Pa·s at 20 °C and 35 g/kg.
        var normal = Mediums.Of(Sea, 0.035);
        Assert.Equal(1.077e-3, normal.Viscosity(1e5, normal.Enthalpy(1e5, 293.15)), 0.015e-3);
        Assert.Equal(0.596, normal.Conductivity(1e5, normal.Enthalpy(1e5, 293.15)), 0.01);
    }

    /// <summary>40 % of glycol at 20 °C: VDI Heat Atlas, 2nd ed., D4.2.</summary>
    [Fact]
    public void Glycol_is_that_of_the_atlas()
    {
        var glycol = Mediums.Of(Glycol, 0.4);
        var h = glycol.Enthalpy(1e5, 293.15);
        var state = glycol.At(1e5, h);
        Assert.Equal(1060, state.Density, 6.0);
        Assert.Equal(3480, 1 / state.TemperatureAlongEnthalpy, 40.0);
        Assert.Equal(3.0e-3, glycol.Viscosity(1e5, h), 0.25e-3);
        Assert.Equal(0.43, glycol.Conductivity(1e5, h), 0.02);
    }

    [Fact]
    public void Oil_has_the_viscosity_of_its_grade()
    {
        var oil = Mediums.Of(Oil46, 0);
        foreach (var (T, kinematic) in new[] { (313.15, 46e-6), (373.15, 6.8e-6) })
        {
            var h = oil.Enthalpy(1e5, T);
            Assert.Equal(kinematic, oil.Viscosity(1e5, h) / oil.At(1e5, h).Density, 1e-9);
        }
    }

    public static TheoryData<int, double> Kinds()
    {
        var all = new TheoryData<int, double>();
        for (var kind = 1; kind <= Mediums.Count; kind++)
            all.Add(kind, 0.03);
        return all;
    }

    /// <summary>Property: slopes are those of the values, temperatures and pressures are found back, and ∂h/∂p = v − T ∂v/∂T.</summary>
    [Theory]
    [MemberData(nameof(Kinds))]
    public void Every_fluid_keeps_the_relations_of_thermodynamics(int kind, double share)
    {
        var medium = Mediums.Of(kind, share);
        var random = new Random(kind);
        for (var i = 0; i < 200; i++)
        {
            var p = 1e5 * Math.Exp(random.NextDouble() * 4);
            var T = 280 + 50 * random.NextDouble();
            var h = medium.Enthalpy(p, T);
            var s = medium.At(p, h);
            Assert.Equal(T, s.Temperature, 2e-3);
            var (dp, dh) = (1e-4 * p, 20.0);
            FluidState Near(double sp, double sh) => medium.At(p + sp * dp, h + sh * dh);
            double Along(Func<FluidState, double> of, bool pressure) =>
                pressure ? (of(Near(1, 0)) - of(Near(-1, 0))) / (2 * dp) : (of(Near(0, 1)) - of(Near(0, -1))) / (2 * dh);
            Assert.Equal(Along(f => f.Volume, true), s.VolumeAlongPressure, 1e-4 * Math.Abs(s.VolumeAlongPressure));
            Assert.Equal(Along(f => f.Volume, false), s.VolumeAlongEnthalpy, 1e-4 * Math.Abs(s.VolumeAlongEnthalpy) + 1e-16);
            Assert.Equal(Along(f => f.Temperature, false), s.TemperatureAlongEnthalpy, 1e-5 * s.TemperatureAlongEnthalpy);
            Assert.Equal(Along(f => f.Temperature, true), s.TemperatureAlongPressure, 1e-4 * Math.Abs(s.TemperatureAlongPressure) + 1e-12);
            // At constant temperature: hp = −Tp/Th, vT = vh/Th.
            var (hp, vT) = (-s.TemperatureAlongPressure / s.TemperatureAlongEnthalpy, s.VolumeAlongEnthalpy / s.TemperatureAlongEnthalpy);
            Assert.Equal(s.Volume - T * vT, hp, 2e-3 * s.Volume);
            Assert.Equal(p, medium.Pressure(s.Density, h - p * s.Volume), 1e-8 * p + 1e-3);
            Assert.Equal(Beyond.Nothing, medium.Validity(p, h));
        }
    }

    /// <summary>Undissolved gas of 5 % at 1 bar and 20 °C: the volumes add, that of the gas after Boyle and Charles; the modulus at 10 bar
    /// is V / (V_oil/K + V_gas/p).</summary>
    [Fact]
    public void Gas_in_oil_takes_room_by_pressure()
    {
        var (oil, mixed) = (Mediums.Of(Oil46, 0), Mediums.Of(Oil46, 0.05));
        FluidState At(Medium m, double p, double T) => m.At(p, m.Enthalpy(p, T));
        Assert.Equal(1 / 0.95, At(mixed, 1e5, 293.15).Volume / At(oil, 1e5, 293.15).Volume, 1e-6);
        var (whole, alone) = (At(mixed, 1e6, 330), At(oil, 1e6, 330));
        var gas = 0.05 / 0.95 / At(oil, 1e5, 293.15).Density * 0.1 * 330 / 293.15;
        Assert.Equal(alone.Volume + gas, whole.Volume, 1e-6 * gas);
        double Along(Medium m, double p) => (At(m, p * 1.0001, 330).Volume - At(m, p * 0.9999, 330).Volume) / (2e-4 * p);
        Assert.Equal(alone.Volume / 1.4e9 + gas / 1e6, -Along(mixed, 1e6), 2e-3 * gas / 1e6);
        // The relation of any fluid, T ds = dh − v dp: ∂h/∂p = v − T ∂v/∂T, so the gas leaves enthalpies as they are.
        Assert.Equal(oil.Enthalpy(1e6, 330), mixed.Enthalpy(1e6, 330));
        Assert.Equal(1, mixed.Pressure(whole.Density, mixed.Enthalpy(1e6, 330) - 1e6 * whole.Volume) / 1e6, 1e-6);
    }
}
