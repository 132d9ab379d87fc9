using MathNet.Numerics.Statistics;

namespace AnchorBend.Exploration.Trends;

/// <summary>How values are spread.</summary>
/// <param name="Deviation">Standard deviation with n − 1; null for a single value.</param>
/// <param name="Low">5 % lie below; quantiles are those of Hyndman and Fan's type 8 (Amer. Stat. 50, 1996).</param>
/// <param name="High">95 % lie below.</param>
/// <param name="Edges">Of classes of one width, one more than there are classes.</param>
/// <param name="Counts">Values in each class.</param>
public sealed record Distribution(
    int Count,
    double Mean,
    double? Deviation,
    double Least,
    double Low,
    double Quarter,
    double Median,
    double ThreeQuarters,
    double High,
    double Largest,
    IReadOnlyList<double> Edges,
    IReadOnlyList<int> Counts
)
{
    const int MostClasses = 40;

    /// <returns>Null where there is no value.</returns>
    public static Distribution? Of(IEnumerable<double> values)
    {
        double[] sorted = [.. values.Where(double.IsFinite).Order()];
        if (sorted.Length == 0)
            return null;
        double At(double share) => SortedArrayStatistics.QuantileCustom(sorted, share, QuantileDefinition.R8);
        var (edges, counts) = Classes(sorted, At(0.75) - At(0.25));
        return new Distribution(
            sorted.Length,
            sorted.Mean(),
            sorted.Length > 1 ? sorted.StandardDeviation() : null,
            sorted[0],
            At(0.05),
            At(0.25),
            At(0.5),
            At(0.75),
            At(0.95),
            sorted[^1],
            edges,
            counts
        );
    }

    /// <summary>Quantiles alone, of the same kind; NaN for all of them where there is no value.</summary>
    public static (IReadOnlyList<double> Values, int Count) Quantiles(IEnumerable<double> values, IReadOnlyList<double> shares)
    {
        double[] sorted = [.. values.Where(double.IsFinite).Order()];
        return (
            [
                .. shares.Select(s =>
                    sorted.Length == 0 ? double.NaN : SortedArrayStatistics.QuantileCustom(sorted, s, QuantileDefinition.R8)
                ),
            ],
            sorted.Length
        );
    }

    /// <summary>Classes twice as wide as the middle half over the cube root of the count (Freedman and Diaconis, Z. Wahrsch. 57,
    /// 1981).</summary>
    static (double[] Edges, int[] Counts) Classes(double[] sorted, double middle)
    {
        var (least, largest) = (sorted[0], sorted[^1]);
        if (least == largest)
            return ([least, largest], [sorted.Length]);
        var width = 2 * middle / Math.Cbrt(sorted.Length);
        var count = width > 0 ? (int)Math.Clamp(Math.Ceiling((largest - least) / width), 5, MostClasses) : MostClasses;
        double[] edges = [.. Enumerable.Range(0, count + 1).Select(i => i == count ? largest : least + (largest - least) * i / count)];
        var counts = new int[count];
        foreach (var value in sorted)
            counts[Math.Min((int)((value - least) / (largest - least) * count), count - 1)]++;
        return (edges, counts);
    }
}
