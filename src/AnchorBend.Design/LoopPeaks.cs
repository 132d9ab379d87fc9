using System.Numerics;

namespace AnchorBend.Design;

/// <summary>Peaks of the closed loop's functions, each searched for around the largest values on a grid.</summary>
public sealed class LoopPeaks
{
    /// <summary>Points spent on turns by delays.</summary>
    const int DelayPoints = 2000;

    /// <summary>Values on the grid this near to the largest may have the peak beside them.</summary>
    const double Near = 0.9;

    const double Far = 1e8;

    readonly LinearSystem loop;
    readonly LoopController? gains;
    readonly double[] grid;
    readonly Complex[] values;

    /// <param name="gains">The controller in the loop; null where only the loop is known.</param>
    /// <param name="period">Of the samples, where the loop is on their plane; else 0.</param>
    public LoopPeaks(LinearSystem loop, LoopController? gains, double period, CancellationToken cancellation)
    {
        (this.loop, this.gains) = (loop, gains);
        grid = FrequencyGrid.ForCrossings(loop, DelayPoints).Grid;
        // So far out it is as good as the highest frequency of samples.
        if (period > 0)
            grid = [.. grid, Math.Max(Far / period, 2 * grid[^1])];
        values = new Complex[grid.Length];
        for (var i = 0; i < grid.Length; i++)
        {
            cancellation.ThrowIfCancellationRequested();
            values[i] = loop.At(new Complex(0, grid[i]));
        }
    }

    /// <summary>Of |1/(1 + L)|.</summary>
    public Peak Sensitivity => Of((_, l) => 1 / (1 + l).Magnitude);

    /// <summary>Of |L/(1 + L)|.</summary>
    public Peak Complementary => Of((_, l) => (l / (1 + l)).Magnitude);

    /// <summary>Only with the controller known.</summary>
    public Peak NoiseGain => Of((w, l) => (gains!.Feedback(new Complex(0, w)) / (1 + l)).Magnitude);

    Peak Of(Func<double, Complex, double> size)
    {
        var at = grid.Select((w, i) => Complex.IsFinite(values[i]) ? size(w, values[i]) : 0).ToArray();
        var best = new Peak(at.Max(), grid[Array.IndexOf(at, at.Max())]);
        for (var i = 1; i + 1 < grid.Length; i++)
        {
            if (at[i] < Near * best.Value || at[i] < at[i - 1] || at[i] < at[i + 1])
                continue;
            var w = CrossingSearch.GoldenSection(
                x => loop.At(new Complex(0, x)) is var l && Complex.IsFinite(l) ? -size(x, l) : 0,
                grid[i - 1],
                grid[i + 1]
            );
            if (loop.At(new Complex(0, w)) is var value && Complex.IsFinite(value) && size(w, value) > best.Value)
                best = new Peak(size(w, value), w);
        }

        return best;
    }
}
