namespace AnchorBend.Design;

public enum LoopElementKind
{
    /// <summary>Takes a frequency out of the loop.</summary>
    Notch,

    /// <summary>Adds phase around a frequency, with the gain kept there.</summary>
    Lead,

    /// <summary>Raises the gain below a frequency, with that above kept.</summary>
    Lag,
}

/// <summary>
/// An element that stands between a controller and its plant (Franklin, Powell and Emami-Naeini, "Feedback Control of Dynamic Systems",
/// section 6.7): a notch (s² + 2 D1 ω s + ω²)/(s² + 2 D2 ω s + ω²), or k (T1 s + 1)/(T2 s + 1). Its sampled parts follow the trapezoidal
/// rule, so on the plane of <see cref="SampledPlane"/> they are the same functions at the frequency's place.
/// </summary>
/// <param name="Frequency">ω, rad/s.</param>
/// <param name="Amount">Notch: damping D2 of its poles, which is its width. Lead: degrees that are added at the frequency. Lag: the factor
/// by which the gain far below it grows.</param>
/// <param name="Damping">Notch: D1, what is left of the frequency is D1/D2.</param>
/// <param name="Period">Of its samples, s; 0 for a continuous one.</param>
public sealed record LoopElement(LoopElementKind Kind, double Frequency, double Amount, double Damping, double Period)
{
    /// <exception cref="DesignException">A figure is out of its range.</exception>
    public void Check()
    {
        if (!(Frequency > 0) || !double.IsFinite(Frequency))
            throw new DesignException("frequency", "The frequency must be above zero.", "Give it in rad/s.");
        if (Period > 0 && Frequency >= SampledPlane.Highest * Math.PI / Period)
            throw new DesignException(
                "frequency",
                FormattableString.Invariant($"Samples have no frequencies above {Math.PI / Period:G3} rad/s."),
                "Take a lower one, or a shorter sample time."
            );
        var (low, high, what) = Kind switch
        {
            LoopElementKind.Notch => (1e-3, 10.0, "The width of a notch, the damping of its poles,"),
            LoopElementKind.Lead => (1, 75, "The lead in degrees"),
            _ => (1.01, 1000, "The factor of a lag"),
        };
        if (!(Amount >= low && Amount <= high))
            throw new DesignException(
                "amount",
                FormattableString.Invariant($"{what} lies between {low:G3} and {high:G4}."),
                "Take another."
            );
        if (Kind == LoopElementKind.Notch && !(Damping >= 0 && Damping < Amount))
            throw new DesignException("damping", "The zeros of a notch must be damped less than its poles.", "Make the notch wider.");
    }

    double Place => SampledPlane.Place(Frequency, Period);

    /// <summary>Gain and time constants of a lead or a lag.</summary>
    public (double K, double T1, double T2) Times
    {
        get
        {
            var w = Place;
            if (Kind == LoopElementKind.Lag)
                return (Amount, 1 / w, Amount / w);
            var sine = Math.Sin(Amount * Math.PI / 180);
            var root = Math.Sqrt((1 - sine) / (1 + sine));
            return (root, 1 / (w * root), root / w);
        }
    }

    /// <summary>On the plane of samples where it has a period.</summary>
    public LinearSystem System()
    {
        var w = Place;
        if (Kind == LoopElementKind.Notch)
            return LinearSystem.Of(
                new[,]
                {
                    { 0, 1 },
                    { -w * w, -2 * Amount * w },
                },
                [0, w * w],
                [0, 2 * (Damping - Amount) / w],
                1
            );
        var (k, t1, t2) = Times;
        return LinearSystem.Of(
            new[,]
            {
                { -1 / t2 },
            },
            [1 / t2],
            [k * (1 - t1 / t2)],
            k * t1 / t2
        );
    }

    /// <summary>A plant behind it.</summary>
    public LinearSystem Before(LinearSystem plant) => LoopConnection.Series(System(), plant);
}

/// <summary>A pair of poles that swings.</summary>
/// <param name="Frequency">rad/s.</param>
public sealed record Resonance(double Frequency, double Damping)
{
    const double Swings = 0.3,
        Cancelled = 0.02;

    /// <summary>Those of a plant that are not taken away by zeros, the largest of the loop first.</summary>
    /// <param name="loop">The open loop, by which they are ordered.</param>
    public static IReadOnlyList<Resonance> Of(LinearSystem plant, LinearSystem loop, double period)
    {
        var zeros = PolesAndZeros.Zeros(plant);
        return
        [
            .. PolesAndZeros
                .Poles(plant)
                .Where(p => p.Imaginary > 0 && Math.Abs(p.Real) < Swings * p.Magnitude)
                .Where(p => !zeros.Any(z => (z - p).Magnitude < Cancelled * p.Magnitude))
                // Poles that stand for dead times lie on the right, or are many and fast.
                .Where(p => p.Real <= 0)
                .OrderByDescending(p => loop.At(new global::System.Numerics.Complex(0, p.Magnitude)).Magnitude)
                .Select(p => new Resonance(SampledPlane.Frequency(p.Magnitude, period), Math.Max(0, -p.Real / p.Magnitude))),
        ];
    }
}
