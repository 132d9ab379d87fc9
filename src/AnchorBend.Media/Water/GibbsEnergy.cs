using static AnchorBend.Media.Water.WaterCoefficients;

namespace AnchorBend.Media.Water;

/// <summary>Properties of one phase of water at a pressure and a temperature, with slopes along both.</summary>
/// <param name="Volume">m3/kg.</param>
/// <param name="Enthalpy">J/kg.</param>
/// <param name="VolumeAlongPressure">m3/(kg·Pa).</param>
/// <param name="VolumeAlongTemperature">m3/(kg·K).</param>
/// <param name="HeatCapacity">At constant pressure, J/(kg·K).</param>
readonly record struct PhasePoint(
    double Volume,
    double Enthalpy,
    double VolumeAlongPressure,
    double VolumeAlongTemperature,
    double HeatCapacity
)
{
    /// <summary>J/(kg·Pa): v − T ∂v/∂T, as for any substance.</summary>
    public double EnthalpyAlongPressure(double temperature) => Volume - temperature * VolumeAlongTemperature;
}

/// <summary>
/// Specific Gibbs energy of water (IAPWS R7-97(2012), Industrial Formulation 1997): region 1 (liquid, to 623.15 K and 100 MPa), region 2
/// (vapour, to 1073.15 K), and the saturation line of region 4. Pressures in Pa, temperatures in K.
/// </summary>
static class GibbsEnergy
{
    /// <summary>Specific gas constant of the release, J/(kg·K).</summary>
    public const double R = 461.526;

    /// <summary>Pressure at the end of the saturation line that regions 1 and 2 share, Pa: that of 623.15 K.</summary>
    public const double HighestSaturation = 16.5291642526e6;

    /// <summary>Saturation pressure at 273.15 K, Pa.</summary>
    public const double LowestSaturation = 611.212677;

    /// <summary>Region 1, equation 7.</summary>
    public static PhasePoint Liquid(double p, double T)
    {
        const double pStar = 16.53e6,
            tStar = 1386;
        var (pi, tau) = (p / pStar, tStar / T);
        var (a, b) = (7.1 - pi, tau - 1.222);
        double g1 = 0,
            g11 = 0,
            gt = 0,
            gtt = 0,
            g1t = 0;
        for (var k = 0; k < LiquidN.Length; k++)
        {
            var (i, j) = (LiquidI[k], LiquidJ[k]);
            // Lowered exponents first: a and b may be nought, where only their own powers vanish.
            var term = LiquidN[k] * Math.Pow(a, i) * Math.Pow(b, j);
            gt += term * j / b;
            gtt += term * j * (j - 1) / (b * b);
            if (i == 0)
                continue;
            g1 -= term * i / a;
            g11 += term * i * (i - 1) / (a * a);
            g1t -= term * i * j / (a * b);
        }

        return Point(p, T, pi, tau, g1, g11, gt, gtt, g1t);
    }

    /// <summary>Region 2, equations 15 to 17.</summary>
    public static PhasePoint Vapour(double p, double T)
    {
        const double pStar = 1e6,
            tStar = 540;
        var (pi, tau) = (p / pStar, tStar / T);
        double g1 = 1 / pi,
            g11 = -1 / (pi * pi),
            gt = 0,
            gtt = 0,
            g1t = 0;
        for (var k = 0; k < IdealN.Length; k++)
        {
            var j = IdealJ[k];
            gt += IdealN[k] * j * Math.Pow(tau, j - 1);
            gtt += IdealN[k] * j * (j - 1) * Math.Pow(tau, j - 2);
        }

        var b = tau - 0.5;
        for (var k = 0; k < VapourN.Length; k++)
        {
            var (i, j) = (VapourI[k], VapourJ[k]);
            var (n, x, y) = (VapourN[k], Math.Pow(pi, i), Math.Pow(b, j));
            g1 += n * i * x / pi * y;
            g11 += n * i * (i - 1) * x / (pi * pi) * y;
            if (j == 0)
                continue;
            gt += n * x * j * y / b;
            gtt += n * x * j * (j - 1) * y / (b * b);
            g1t += n * i * x / pi * j * y / b;
        }

        return Point(p, T, pi, tau, g1, g11, gt, gtt, g1t);
    }

    /// <summary>Table 3 of the release: properties from slopes of the Gibbs energy.</summary>
    static PhasePoint Point(double p, double T, double pi, double tau, double g1, double g11, double gt, double gtt, double g1t) =>
        new(
            R * T / p * pi * g1,
            R * T * tau * gt,
            R * T / (p * p) * pi * pi * g11,
            R / p * (pi * g1 - tau * pi * g1t),
            -R * tau * tau * gtt
        );

    /// <summary>Equation 30: pressure on the saturation line, 273.15 to 647.096 K.</summary>
    public static double SaturationPressure(double T)
    {
        var n = SaturationN;
        var theta = T + n[9] / (T - n[10]);
        var a = theta * theta + n[1] * theta + n[2];
        var b = n[3] * theta * theta + n[4] * theta + n[5];
        var c = n[6] * theta * theta + n[7] * theta + n[8];
        return 1e6 * Math.Pow(2 * c / (-b + Math.Sqrt(b * b - 4 * a * c)), 4);
    }

    /// <summary>Equation 31: temperature on the saturation line, 611.213 Pa to 22.064 MPa.</summary>
    public static double SaturationTemperature(double p)
    {
        var n = SaturationN;
        var beta = Math.Pow(p / 1e6, 0.25);
        var e = beta * beta + n[3] * beta + n[6];
        var f = n[1] * beta * beta + n[4] * beta + n[7];
        var g = n[2] * beta * beta + n[5] * beta + n[8];
        var d = 2 * g / (-f - Math.Sqrt(f * f - 4 * e * g));
        return (n[10] + d - Math.Sqrt((n[10] + d) * (n[10] + d) - 4 * (n[9] + n[10] * d))) / 2;
    }
}
