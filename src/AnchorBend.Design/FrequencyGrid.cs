using System.Numerics;

namespace AnchorBend.Design;

/// <summary>Frequencies in rad/s that show what a system does.</summary>
public static class FrequencyGrid
{
    const double PerDecade = 100;

    /// <summary>How far asymptotes are followed, rad/s.</summary>
    const double Lowest = 1e-18,
        Highest = 1e18;

    /// <summary>Steps of the phase by delays that the grid resolves, rad.</summary>
    const double DelayStep = 0.3;

    /// <summary>Logarithmic grid from a fiftieth of the slowest to fifty times the fastest pole, zero or delay, denser at
    /// resonances.</summary>
    public static double[] For(LinearSystem system, int count)
    {
        var poles = PolesAndZeros.Poles(system);
        var marks = Marks(system, poles.Concat(PolesAndZeros.Zeros(system)));
        return Between(marks.Min() / 50, marks.Max() * 50, count, poles.Select(p => Math.Abs(p.Imaginary)));
    }

    /// <summary>Logarithmic grid with extra points at given frequencies.</summary>
    public static double[] Between(double low, double high, int count, IEnumerable<double>? extra = null)
    {
        var grid = Enumerable.Range(0, count).Select(i => low * Math.Pow(high / low, i / (count - 1.0)));
        return
        [
            .. grid.Concat((extra ?? []).Where(w => w > low && w < high).SelectMany(w => (double[])[0.99 * w, w, 1.01 * w]))
                .Distinct()
                .Order(),
        ];
    }

    /// <summary>
    /// A grid on which no crossing of one is missed. Beyond the poles and zeros the gain follows its asymptote
    /// <c>|L| ≈ c·ω^p</c>, which says how far to look at both ends. Around every pole and zero near the imaginary axis the points come ever
    /// closer, as the gain passes one on both sides of an undamped resonance. Where delays turn the phase, points are as dense as that
    /// asks for.
    /// </summary>
    /// <param name="steps">Points spent on the turning of the phase by delays.</param>
    /// <returns>The grid, rising, and the frequency up to which turns by delays are resolved (infinite without any).</returns>
    internal static (double[] Grid, double Resolved) ForCrossings(LinearSystem loop, int steps)
    {
        Complex[] roots = [.. PolesAndZeros.Poles(loop), .. PolesAndZeros.Zeros(loop)];
        var marks = Marks(loop, roots);
        double low = Extended(loop, marks.Min() / 50, downwards: true),
            high = Extended(loop, marks.Max() * 50, downwards: false);
        var points = new List<double>();
        var count = (int)Math.Ceiling(PerDecade * Math.Log10(high / low));
        for (var i = 0; i <= count; i++)
            points.Add(low * Math.Pow(high / low, (double)i / count));
        foreach (var root in roots)
            points.AddRange(Around(root).Where(w => w > low && w < high));
        var turn = loop.Delays.Sum();
        var resolved = double.PositiveInfinity;
        if (turn > 0)
        {
            // Where the logarithmic grid becomes too coarse for the delays, to where the points end.
            var onset = DelayStep / turn * PerDecade / Math.Log(10);
            resolved = onset + steps * DelayStep / turn;
            for (var w = onset; w < Math.Min(resolved, high); w += DelayStep / turn)
                points.Add(w);
            if (resolved >= high)
                resolved = double.PositiveInfinity;
        }

        return ([.. points.Distinct().Order()], resolved);
    }

    internal static double[] Marks(LinearSystem system, IEnumerable<Complex> roots)
    {
        var all = roots
            .Select(p => p.Magnitude)
            .Concat(system.Delays.Where(d => d > 0).Select(d => 1 / d))
            .Where(double.IsFinite)
            .ToArray();
        // What rounding makes of a root at zero says nothing.
        var least = 1e-12 * all.DefaultIfEmpty(0).Max();
        return [.. all.Where(m => m > least && m is > 1e-15 and < 1e15).DefaultIfEmpty(1)];
    }

    /// <summary>Points that come closer to a lightly damped root from both sides, by a quarter of a decade each.</summary>
    internal static IEnumerable<double> Around(Complex root)
    {
        var w = Math.Abs(root.Imaginary);
        var damping = Math.Abs(root.Real) / Math.Max(root.Magnitude, 1e-300);
        if (w == 0 || damping > 0.1)
            yield break;
        for (var distance = 0.1; distance > Math.Max(1e-13, 0.1 * damping); distance /= 1.778)
        {
            yield return w * (1 - distance);
            yield return w * (1 + distance);
        }
    }

    /// <summary>An end of the grid, moved outwards past the point where the asymptote there reaches one.</summary>
    static double Extended(LinearSystem loop, double end, bool downwards)
    {
        for (var round = 0; round < 4; round++)
        {
            double here = Gain(loop, end),
                further = Gain(loop, downwards ? end / 10 : end * 10);
            if (!(here > 0) || !(further > 0) || !double.IsFinite(here) || !double.IsFinite(further))
                return end;
            var slope = Math.Round(Math.Log10(further / here)) * (downwards ? -1 : 1);
            if (slope == 0)
                return end;
            var crossing = end * Math.Pow(here, -1 / slope);
            if (downwards ? crossing > 3 * end : crossing < end / 3)
                return end;
            var next = Math.Clamp(downwards ? crossing / 10 : crossing * 10, Lowest, Highest);
            if (next == end || Math.Abs(Math.Log(next / end)) < 0.1)
                return end;
            end = downwards ? Math.Min(end, next) : Math.Max(end, next);
        }

        return end;
    }

    static double Gain(LinearSystem loop, double w) => loop.At(new Complex(0, w)).Magnitude;
}
