using System.Numerics;

namespace AnchorBend.Design;

/// <summary>One crossing of an open loop: frequency in rad/s and the margin there.</summary>
public sealed record Crossing(double Frequency, double Margin);

/// <summary>Margins of an open loop with negative feedback.</summary>
/// <param name="GainCrossings">Where the gain is one; margins are phase margins in degrees.</param>
/// <param name="PhaseCrossings">Where the phase is −180°; margins are gain margins as factors.</param>
public sealed record StabilityMargins(IReadOnlyList<Crossing> GainCrossings, IReadOnlyList<Crossing> PhaseCrossings)
{
    /// <summary>The smallest phase margin, in degrees, and its frequency.</summary>
    public Crossing? Phase => GainCrossings.MinBy(c => Math.Abs(c.Margin));

    /// <summary>The gain margin nearest to one, and its frequency.</summary>
    public Crossing? Gain => PhaseCrossings.MinBy(c => Math.Abs(Math.Log(c.Margin)));

    /// <summary>Searches a grid and refines each crossing by bisection.</summary>
    public static StabilityMargins Of(LinearSystem loop)
    {
        var grid = FrequencyGrid.For(loop, 2000);
        var response = grid.Select(w => loop.At(new Complex(0, w))).ToArray();
        var gains = new List<Crossing>();
        var phases = new List<Crossing>();
        for (var i = 1; i < grid.Length; i++)
        {
            Complex a = response[i - 1], b = response[i];
            if (!Complex.IsFinite(a) || !Complex.IsFinite(b)) continue;
            if (a.Magnitude > 1 != b.Magnitude > 1)
            {
                var w = Refine(grid[i - 1], grid[i], x => loop.At(new Complex(0, x)).Magnitude - 1);
                var phase = loop.At(new Complex(0, w)).Phase * 180 / Math.PI + 180;
                gains.Add(new Crossing(w, phase > 180 ? phase - 360 : phase));
            }

            if (a.Imaginary > 0 != b.Imaginary > 0 && a.Real < 0 && b.Real < 0)
            {
                var w = Refine(grid[i - 1], grid[i], x => loop.At(new Complex(0, x)).Imaginary);
                phases.Add(new Crossing(w, 1 / loop.At(new Complex(0, w)).Magnitude));
            }
        }

        return new StabilityMargins(gains, phases);
    }

    internal static double Refine(double low, double high, Func<double, double> function)
    {
        var negative = function(low) < 0;
        for (var i = 0; i < 80 && high - low > 1e-15 * high; i++)
        {
            var middle = Math.Sqrt(low * high);
            if (function(middle) < 0 == negative) low = middle;
            else high = middle;
        }

        return Math.Sqrt(low * high);
    }
}

/// <summary>Frequencies that show what a system does.</summary>
public static class FrequencyGrid
{
    /// <summary>Logarithmic grid from a fiftieth of the slowest to fifty times the fastest pole, zero or delay, denser at resonances.</summary>
    public static double[] For(LinearSystem system, int count)
    {
        var marks = PolesAndZeros.Poles(system).Concat(PolesAndZeros.Zeros(system)).Select(p => p.Magnitude).Concat(system.Delays.Select(d => 1 / d))
            .Where(m => m > 1e-8 && m < 1e9).DefaultIfEmpty(1).ToArray();
        return Between(marks.Min() / 50, marks.Max() * 50, count, PolesAndZeros.Poles(system).Select(p => Math.Abs(p.Imaginary)));
    }

    /// <summary>Logarithmic grid with extra points at given frequencies.</summary>
    public static double[] Between(double low, double high, int count, IEnumerable<double>? extra = null)
    {
        var grid = Enumerable.Range(0, count).Select(i => low * Math.Pow(high / low, i / (count - 1.0)));
        return [.. grid.Concat((extra ?? []).Where(w => w > low && w < high).SelectMany(w => (double[])[0.99 * w, w, 1.01 * w])).Distinct().Order()];
    }
}
