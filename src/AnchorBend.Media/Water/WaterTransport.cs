using static AnchorBend.Media.Water.WaterCoefficients;

namespace AnchorBend.Media.Water;

/// <summary>Viscosity and conductivity of water and steam by density and temperature, without their peaks at the critical point.</summary>
static class WaterTransport
{
    const double CriticalTemperature = 647.096,
        CriticalDensity = 322;

    /// <summary>IAPWS R12-08, equations 10 to 12, Pa·s.</summary>
    public static double Viscosity(double density, double T)
    {
        var t = T / CriticalTemperature;
        var sum = 0.0;
        for (var i = ViscosityH.Length - 1; i >= 0; i--)
            sum = sum / t + ViscosityH[i];
        return 1e-6 * 100 * Math.Sqrt(t) / sum * Dense(density, t, ViscosityI, ViscosityJ, ViscosityHij);
    }

    /// <summary>IAPWS R15-11, equations 15 to 17, W/(m·K).</summary>
    public static double Conductivity(double density, double T)
    {
        var t = T / CriticalTemperature;
        var sum = 0.0;
        for (var i = ConductivityN.Length - 1; i >= 0; i--)
            sum = sum / t + ConductivityN[i];
        return 1e-3 * Math.Sqrt(t) / sum * Dense(density, t, ConductivityI, ConductivityJ, ConductivityNij);
    }

    const int Powers = 7;

    static double Dense(double density, double t, int[] ti, int[] dj, double[] factor)
    {
        var d = density / CriticalDensity;
        Span<double> a = stackalloc double[Powers];
        Span<double> b = stackalloc double[Powers];
        (a[0], b[0]) = (1, 1);
        for (var i = 1; i < Powers; i++)
            (a[i], b[i]) = (a[i - 1] * (1 / t - 1), b[i - 1] * (d - 1));
        var sum = 0.0;
        for (var k = 0; k < factor.Length; k++)
            sum += factor[k] * a[ti[k]] * b[dj[k]];
        return Math.Exp(d * sum);
    }
}
