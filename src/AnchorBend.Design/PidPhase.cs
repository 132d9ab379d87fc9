using System.Numerics;

namespace AnchorBend.Design;

/// <summary>The phase, in degrees, that a PID or PD controller adds.</summary>
static class PidPhase
{
    /// <summary>The most that a filtered derivative gives: the lead of (1 + (1 + 1/N) Td s)/(1 + Td s/N).</summary>
    public static double Lead(double filter) => Math.Atan((Math.Sqrt(filter + 1) - 1 / Math.Sqrt(filter + 1)) / 2) * 180 / Math.PI;

    /// <summary>At x = ω·Ti with Td = Ti/ratio.</summary>
    static double Of(double x, double ratio, double filter) =>
        new PidGains(PidForm.PID, 1, x, x / ratio, filter, 1, 0).Feedback(Complex.ImaginaryOne).Phase * 180 / Math.PI;

    public static double Highest(double ratio, double filter) => Of(Peak(ratio, filter), ratio, filter);

    /// <summary>ω·Ti at which the phase is largest.</summary>
    static double Peak(double ratio, double filter)
    {
        var (best, peak) = (double.NegativeInfinity, 1.0);
        // The lead is largest near ω·Td = N/√(N + 1).
        for (var x = 0.01; x < 10 * ratio * Math.Sqrt(filter + 1); x *= 1.02)
            if (Of(x, ratio, filter) is var phase && phase > best)
                (best, peak) = (phase, x);
        return peak;
    }

    /// <summary>The integral time with which a PID of the given ratio Ti/Td adds a phase at frequency w; null where it cannot.</summary>
    public static double? IntegralTime(double w, double phase, double ratio, double filter)
    {
        var peak = Peak(ratio, filter);
        return Of(peak, ratio, filter) < phase ? null : Rising(x => Of(x, ratio, filter) - phase, 1e-4, peak) / w;
    }

    public static double DerivativeTime(double w, double phase, double filter) =>
        Rising(
            x => new PidGains(PidForm.PD, 1, 1, x, filter, 1, 0).Feedback(Complex.ImaginaryOne).Phase - phase * Math.PI / 180,
            1e-4,
            Math.Sqrt(filter * filter / (filter + 1))
        ) / w;

    /// <summary>The root of a rising function.</summary>
    static double Rising(Func<double, double> function, double low, double high)
    {
        for (var i = 0; i < 100; i++)
        {
            var middle = Math.Sqrt(low * high);
            if (function(middle) < 0)
                low = middle;
            else
                high = middle;
        }

        return Math.Sqrt(low * high);
    }
}
