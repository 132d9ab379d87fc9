using System.Numerics;

namespace AnchorBend.Design;

/// <summary>
/// The ratio Ti/Td of a PID controller where bandwidth and phase margin leave it free: the one with the largest integral gain k/Ti (for
/// load disturbances the integrated error is Ti/k; Åström and Hägglund, "Advanced PID Control", section 4.4), as long as the loop stays
/// stable, passes one once only, and its sensitivity stays below <see cref="HighestSensitivity"/>.
/// </summary>
static class PidRatio
{
    /// <summary>A double zero; what is taken where nothing better stays within bounds (same book, section 6.2).</summary>
    const double Usual = 4;

    const double Smallest = 0.5;

    public const double Largest = 400;

    /// <summary>The upper end of what is usual for the largest value of |1/(1 + L)| (same book, section 4.6).</summary>
    const double HighestSensitivity = 2;

    /// <param name="gains">Gains that meet the bandwidth with given Ti and Td.</param>
    public static PidGains Choose(
        LinearSystem plant,
        double bandwidth,
        double phase,
        PidGains shape,
        Func<double, double, PidGains> gains,
        CancellationToken cancellation
    )
    {
        // Near the double zero closely, as most plants want a ratio between one and ten.
        var phases = new PidPhase(shape, bandwidth);
        double[] ratios = [.. Enumerable.Range(0, 41).Select(i => Smallest * Math.Pow(20, i / 40.0)), 12, 16, 25, 50, 100, Largest];
        var possible = ratios
            .Append(Usual)
            .Select(r => (Ratio: r, Time: phases.IntegralTime(phase, r)))
            .Where(c => c.Time is not null)
            .Where(c => c.Time >= shape.ShortestTi(c.Time!.Value / c.Ratio))
            .Select(c => (c.Ratio, Gains: gains(c.Time!.Value, c.Time.Value / c.Ratio)))
            .ToList();
        var usual = possible
            .FirstOrDefault(
                c => c.Ratio == Usual,
                possible.Count > 0 ? possible[^1] : (Ratio: Largest, Gains: gains(1 / bandwidth, 1 / bandwidth / Largest))
            )
            .Gains;
        var grid = FrequencyGrid.Between(
            bandwidth / 300,
            bandwidth * 300,
            500,
            PolesAndZeros.Poles(plant).Select(p => Math.Abs(p.Imaginary))
        );
        var response = grid.Select(w => plant.At(new Complex(0, w))).ToArray();
        var limit = Math.Max(HighestSensitivity, Sensitivity(usual, grid, response));
        foreach (var candidate in possible.Select(c => c.Gains).OrderByDescending(g => Math.Abs(g.K) / g.Ti))
        {
            cancellation.ThrowIfCancellationRequested();
            if (candidate == usual)
                break;
            if (Sensitivity(candidate, grid, response) > limit)
                continue;
            var judged = PidTuning.Judge("", candidate, plant, true, null, cancellation);
            if (judged.IsStable && PidTuning.Compared(judged, SampledPlane.Frequency(bandwidth, shape.Period)).IsExact)
                return candidate;
        }

        return usual;
    }

    static double Sensitivity(PidGains gains, double[] grid, Complex[] plant)
    {
        var least = double.PositiveInfinity;
        for (var i = 0; i < grid.Length; i++)
            if (Complex.IsFinite(plant[i]))
                least = Math.Min(least, (1 + gains.Feedback(new Complex(0, grid[i])) * plant[i]).Magnitude);
        return 1 / least;
    }
}
