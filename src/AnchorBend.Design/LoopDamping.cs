using System.Numerics;

namespace AnchorBend.Design;

/// <summary>The damping of a closed loop's poles as a limit of its gains.</summary>
public static class LoopDamping
{
    /// <summary>Poles so many times beyond the bandwidth swing unseen; of dead times there is no end of them.</summary>
    const double Seen = 10;

    const int Rounds = 8;

    const double LeastPeak = 1.02;

    /// <summary>The least damping ratio of the closed loop's poles up to ten times its bandwidth; dead times are approximated.</summary>
    public static double Least(LoopFigures figures, LinearSystem plant)
    {
        var period = figures.Gains.Period;
        var fast = Seen * figures.Margins.GainCrossings.Select(c => c.Frequency).DefaultIfEmpty(double.PositiveInfinity).Max();
        var poles = PolesAndZeros.Poles(figures.Gains.ClosedLoop(plant));
        // From the plane of the samples back to how the loop moves in time.
        if (period > 0)
            poles = [.. poles.Select(w => Complex.Log((1 + w * period / 2) / (1 - w * period / 2)) / period)];
        return poles.Where(p => p.Magnitude > 0 && p.Magnitude <= fast).Select(p => -p.Real / p.Magnitude).DefaultIfEmpty(1).Min();
    }

    /// <summary>The best gains whose poles are all damped so: with the highest peak of the sensitivity at which the best are, by halving,
    /// as damping grows where the peak falls.</summary>
    /// <param name="best">The best gains for a peak of the sensitivity; null where there are none.</param>
    /// <param name="most">The highest peak that is allowed.</param>
    /// <returns>Null where none are.</returns>
    public static IReadOnlyList<LoopFigures>? Best(
        double damping,
        double most,
        IReadOnlyList<LinearSystem> plants,
        Func<double, IReadOnlyList<LoopFigures>?> best
    )
    {
        if (!(damping > 0) || !(damping < 1))
            throw new DesignException("damping", "A damping ratio lies between 0 and 1.", "0.5 swings a little, 0.7 hardly.");
        bool IsDamped(IReadOnlyList<LoopFigures> f) => f.Zip(plants).All(p => Least(p.First, p.Second) >= damping);
        if (best(most) is { } all && IsDamped(all))
            return all;
        var (low, high) = (LeastPeak, most);
        IReadOnlyList<LoopFigures>? found = null;
        for (var round = 0; round < Rounds; round++)
        {
            var middle = Math.Sqrt((low - 1) * (high - 1)) + 1;
            if (best(middle) is { } there && IsDamped(there))
                (low, found) = (middle, there);
            else
                high = middle;
        }

        return found;
    }
}
