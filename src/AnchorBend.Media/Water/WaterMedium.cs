namespace AnchorBend.Media.Water;

/// <summary>
/// Water and steam, 273.15 to 1073.15 K and to 100 MPa (vapour to 16.53 MPa), by tables of IAPWS R7-97(2012), regions 1, 2 and 4. Nearer
/// to the critical point (region 3: above 623.15 K and 16.53 MPa) it is not described, which <see cref="Validity"/> tells; there the
/// nearest region goes on.
/// </summary>
public sealed class WaterMedium : Medium
{
    static readonly WaterTables Tables = WaterTables.Instance;

    const double Least = GibbsEnergy.LowestSaturation;

    /// <summary>By the exponent of a pressure the enthalpy below which its liquid surely does not boil: that of the power of two below
    /// it.</summary>
    static readonly double[] Cold = [.. Enumerable.Range(0, 32).Select(e => BoilingBegins(Math.ScaleB(1, e)))];

    /// <summary>No saturated vapour has more than this, J/kg.</summary>
    const double Dry = 2.8045e6;

    static double BoilingBegins(double p) =>
        Tables.Saturation(Math.Clamp(p, Least, GibbsEnergy.HighestSaturation)).Liquid.Value - (p < Least ? 1e9 : 1);

    /// <summary>Above it nothing is described, and what is searched for must not find what formulas come to there.</summary>
    const double Most = 100e6;

    public override FluidState At(double p, double h)
    {
        if (p > Most)
        {
            // Ever less is pressed together by the same ratio of pressures.
            var edge = At(Most, h);
            return edge with
            {
                Volume = edge.Volume + edge.VolumeAlongPressure * Most * Math.Log(p / Most),
                VolumeAlongPressure = edge.VolumeAlongPressure * Most / p,
                TemperatureAlongPressure = 0,
            };
        }

        // Most states are far from the saturation line, which takes a logarithm to be found.
        if (p >= 1 && p < 1e9)
        {
            if (h < Cold[Math.ILogB(p)])
                return Tables.Liquid(p, h);
            if (h > Dry && p < GibbsEnergy.HighestSaturation)
                return Tables.Vapour(p, h);
        }

        var within = Math.Clamp(p, Least, GibbsEnergy.HighestSaturation);
        var ((h1, h1x), (h2, h2x)) = Tables.Saturation(within);
        if (h <= h1)
            return Tables.Liquid(p, h);
        // Where there is no saturation line any more, liquid changes to vapour half way.
        if (p > GibbsEnergy.HighestSaturation)
            return h < (h1 + h2) / 2 ? Tables.Liquid(p, h) : Tables.Vapour(p, h);
        if (h >= h2)
            return Tables.Vapour(p, h);
        var (a, b) = (Tables.Liquid(p, h1), Tables.Vapour(p, h2));
        var x = (h - h1) / (h2 - h1);
        // Along the line both ends move; p d/dp is d/d(ln p).
        var (ap, bp) = (a.VolumeAlongPressure + a.VolumeAlongEnthalpy * h1x / p, b.VolumeAlongPressure + b.VolumeAlongEnthalpy * h2x / p);
        var xp = -(h1x + x * (h2x - h1x)) / (h2 - h1) / p;
        var tp = b.TemperatureAlongPressure + b.TemperatureAlongEnthalpy * h2x / p;
        return new FluidState(
            b.Temperature,
            tp,
            0,
            a.Volume + x * (b.Volume - a.Volume),
            ap + x * (bp - ap) + xp * (b.Volume - a.Volume),
            (b.Volume - a.Volume) / (h2 - h1),
            x
        );
    }

    public override double Enthalpy(double p, double T) =>
        p > Most ? Enthalpy(Most, T)
        : p <= GibbsEnergy.HighestSaturation && T > SaturationTemperature(p) || T > 623.15 ? GibbsEnergy.Vapour(p, T).Enthalpy
        : GibbsEnergy.Liquid(p, T).Enthalpy;

    public override double SaturationTemperature(double p) =>
        GibbsEnergy.SaturationTemperature(Math.Clamp(p, Least, GibbsEnergy.HighestSaturation));

    public override double HeatCapacity(double p, double h) =>
        Wet(p, h) is { } wet ? Mixed(wet, s => 1 / s.TemperatureAlongEnthalpy) : base.HeatCapacity(p, h);

    /// <summary>
    /// Of wet steam 1/μ = x/μ″ + (1 − x)/μ′ (McAdams, Woods and Heroman, "Vaporization inside horizontal tubes", Transactions ASME 64,
    /// 1942).
    /// </summary>
    public override double Viscosity(double p, double h)
    {
        static double Of(FluidState state) => WaterTransport.Viscosity(state.Density, state.Temperature);
        return Wet(p, h) is { } wet ? 1 / Mixed(wet, s => 1 / Of(s)) : Of(At(p, h));
    }

    public override double Conductivity(double p, double h)
    {
        static double Of(FluidState state) => WaterTransport.Conductivity(state.Density, state.Temperature);
        return Wet(p, h) is { } wet ? Mixed(wet, Of) : Of(At(p, h));
    }

    static double Mixed((FluidState Liquid, FluidState Vapour, double Share) wet, Func<FluidState, double> of) =>
        (1 - wet.Share) * of(wet.Liquid) + wet.Share * of(wet.Vapour);

    /// <summary>Both phases of wet steam, and its share of vapour; null for one phase.</summary>
    static (FluidState Liquid, FluidState Vapour, double Share)? Wet(double p, double h)
    {
        if (!(p >= Least && p <= GibbsEnergy.HighestSaturation) || h < Cold[Math.ILogB(p)] || h > Dry)
            return null;
        var ((h1, _), (h2, _)) = Tables.Saturation(p);
        return h > h1 && h < h2 ? (Tables.Liquid(p, h1), Tables.Vapour(p, h2), (h - h1) / (h2 - h1)) : null;
    }

    public override Beyond Validity(double p, double h)
    {
        var T = At(p, h).Temperature;
        return p < Least - 1 ? Beyond.TooLow
            : p > Most || p > GibbsEnergy.HighestSaturation && T > 623.15 ? Beyond.TooHigh
            : T < 273.1 ? Beyond.TooCold
            : T > 1073.2 ? Beyond.TooHot
            : Beyond.Nothing;
    }

    protected override double LeastPressure => Least;

    protected override double Guess(double density, double energy) =>
        density > 500 ? 1e6 : Math.Clamp(density * GibbsEnergy.R * 420, 2 * Least, 15e6);
}
