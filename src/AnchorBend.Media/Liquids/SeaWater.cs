namespace AnchorBend.Media.Liquids;

/// <summary>
/// Sea water of a practical salinity up to 42: density at one atmosphere by the equation of state of 1980, heat capacity by Millero et al.
/// (Fofonoff and Millard, Unesco technical papers in marine science 44, 1983); viscosity and conductivity by Sharqawy, Lienhard and Zubair
/// (Desalination and Water Treatment 16, 2010, eqs. 22 and 13).
/// </summary>
sealed class SeaWater : LiquidMedium
{
    readonly double s,
        root;

    /// <summary>Factors of the powers of the temperature in the heat capacity.</summary>
    readonly double[] capacity;

    /// <param name="salinity">kg of salt in a kg of sea water.</param>
    public SeaWater(double salinity)
    {
        s = 1000 * Math.Clamp(salinity, 0, 0.12);
        root = s * Math.Sqrt(s);
        capacity =
        [
            4217.4 + s * -7.643575 + root * 0.1770383,
            -3.720283 + s * 0.1072763 - root * 4.07718e-3,
            0.1412855 - s * 1.38385e-3 + root * 5.148e-5,
            -2.654387e-3,
            2.093236e-5,
        ];
    }

    protected override double Modulus => 2.34e9;

    protected override (double, double) Range => (-2, 60);

    protected override double Density0(double t) =>
        999.842594
        + t * (6.793952e-2 + t * (-9.095290e-3 + t * (1.001685e-4 + t * (-1.120083e-6 + t * 6.536332e-9))))
        + s * (0.824493 + t * (-4.0899e-3 + t * (7.6438e-5 + t * (-8.2467e-7 + t * 5.3875e-9))))
        + root * (-5.72466e-3 + t * (1.0227e-4 - t * 1.6546e-6))
        + s * s * 4.8314e-4;

    protected override double HeatCapacity0(double t)
    {
        var a = capacity;
        return a[0] + t * (a[1] + t * (a[2] + t * (a[3] + t * a[4])));
    }

    protected override double Heat0(double t)
    {
        var a = capacity;
        return t * (a[0] + t * (a[1] / 2 + t * (a[2] / 3 + t * (a[3] / 4 + t * a[4] / 5))));
    }

    protected override double Viscosity0(double t)
    {
        var share = s / 1000;
        var pure = 4.2844e-5 + 1 / (0.157 * (t + 64.993) * (t + 64.993) - 91.296);
        var a = 1.541 + 1.998e-2 * t - 9.52e-5 * t * t;
        var b = 7.974 - 7.561e-2 * t + 4.724e-4 * t * t;
        return pure * (1 + a * share + b * share * share);
    }

    protected override double Conductivity0(double t)
    {
        var T = t + 273.15;
        return 1e-3
            * Math.Pow(
                10,
                Math.Log10(240 + 0.0002 * s)
                    + 0.434 * (2.3 - (343.5 + 0.037 * s) / T) * Math.Pow(Math.Max(0, 1 - T / (647 + 0.03 * s)), 0.333)
            );
    }
}
