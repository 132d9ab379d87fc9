namespace AnchorBend.Media.Liquids;

/// <summary>
/// Hydraulic oil on a mineral base: a density of 870 kg/m3 at 15 °C, linear in temperature, a heat capacity after Cragoe (Bureau of
/// Standards
/// Miscellaneous Publication 97, 1929), viscosity after Walther between the two of its grade (ISO 3448 at 40 °C).
/// </summary>
/// <param name="at40">mm²/s at 40 °C.</param>
/// <param name="at100">mm²/s at 100 °C.</param>
/// <param name="gas">Volume of undissolved gas in that of both, at 1 bar and 20 °C.</param>
sealed class MineralOil(double at40, double at100, double gas) : LiquidMedium
{
    /// <summary>From a volume of g/(1 − g) by that of the oil.</summary>
    protected override double Gas { get; } = gas / (1 - gas) * 1e5 / (Density15 * (1 - Expansion * 5) * 293.15);

    const double Density15 = 870,
        Expansion = 7e-4;

    /// <summary>Of the density at 15 °C to that of water.</summary>
    static readonly double Root = Math.Sqrt(Density15 / 999.1);

    protected override double Modulus => 1.4e9;

    protected override (double, double) Range => (-30, 150);

    protected override double Density0(double t) => Density15 * (1 - Expansion * (t - 15));

    protected override double HeatCapacity0(double t) => (1685 + 3.39 * t) / Root;

    protected override double Heat0(double t) => t * (1685 + 3.39 / 2 * t) / Root;

    static double Twice(double viscosity) => Math.Log10(Math.Log10(viscosity + 0.7));

    protected override double Viscosity0(double t)
    {
        var slope = (Twice(at40) - Twice(at100)) / (Math.Log10(373.15) - Math.Log10(313.15));
        var kinematic = Math.Pow(10, Math.Pow(10, Twice(at40) - slope * (Math.Log10(t + 273.15) - Math.Log10(313.15)))) - 0.7;
        return 1e-6 * kinematic * Density0(t);
    }

    /// <summary>Cragoe.</summary>
    protected override double Conductivity0(double t) => 0.1172 * (1 - 0.00054 * t) / (Density15 / 999.1);
}
