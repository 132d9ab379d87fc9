using System.Numerics;

namespace AnchorBend.Design;

/// <summary>The phase, in degrees, that a PID or PD controller adds, by its filter and its sample time.</summary>
/// <param name="shape">Filter and sample time.</param>
/// <param name="w">The frequency at which it is looked at, rad/s.</param>
readonly struct PidPhase(PidGains shape, double w)
{
    readonly PidGains unit = shape with { K = 1, Period = shape.Period * w };

    /// <summary>The most that a filtered derivative gives; without samples the lead of (1 + (1 + 1/N) Td s)/(1 + Td s/N).</summary>
    public double Lead => Derivative(LeadPeak);

    /// <summary>Of a PD at ω·Td.</summary>
    double Derivative(double x) => Phase(unit with { Form = PidForm.PD, Td = x });

    double LeadPeak
    {
        get
        {
            var (best, peak) = (double.NegativeInfinity, 1.0);
            for (var x = 1e-3; x < 10 * unit.N; x *= 1.01)
                if (Derivative(x) is var phase && phase > best)
                    (best, peak) = (phase, x);
            return peak;
        }
    }

    static double Phase(PidGains gains) => gains.Feedback(Complex.ImaginaryOne).Phase * 180 / Math.PI;

    /// <summary>Of the integral part alone.</summary>
    public double Lowest => unit.Integral(1).Phase * 180 / Math.PI;

    /// <summary>At x = ω·Ti with Td = Ti/ratio.</summary>
    double Of(double x, double ratio) => Phase(unit with { Form = PidForm.PID, Ti = x, Td = x / ratio });

    public double Highest(double ratio) => Of(Peak(ratio), ratio);

    /// <summary>ω·Ti at which the phase is largest.</summary>
    double Peak(double ratio)
    {
        var (best, peak) = (double.NegativeInfinity, 1.0);
        // The lead is largest near ω·Td = N/√(N + 1).
        for (var x = 0.01; x < 10 * ratio * Math.Sqrt(unit.N + 1); x *= 1.02)
            if (Of(x, ratio) is var phase && phase > best)
                (best, peak) = (phase, x);
        return peak;
    }

    /// <summary>The integral time with which a PI adds a phase: Im((1 + x I) e^(−jθ)) = 0.</summary>
    public double IntegralTime(double phase)
    {
        var turned = Complex.FromPolarCoordinates(1, -phase * Math.PI / 180);
        return -(unit.Integral(1) * turned).Imaginary / turned.Imaginary / w;
    }

    /// <summary>The integral time with which a PID of the given ratio Ti/Td adds a phase; null where it cannot.</summary>
    public double? IntegralTime(double phase, double ratio)
    {
        var (peak, self) = (Peak(ratio), this);
        return Of(peak, ratio) < phase ? null : Rising(x => self.Of(x, ratio) - phase, 1e-4, peak) / w;
    }

    public double DerivativeTime(double phase)
    {
        var self = this;
        return Rising(x => self.Derivative(x) - phase, 1e-4, LeadPeak) / w;
    }

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
