using MathNet.Numerics.Distributions;

namespace AnchorBend.Exploration.Trends;

/// <summary>
/// A smooth course through points without a law: at each place a straight line through the nearest points, weighed by tricubes of their
/// distance (Cleveland, J. Amer. Stat. Assoc. 74, 1979), with the band of its standard error for errors of one size (Cleveland and Devlin,
/// same journal 83, 1988).
/// </summary>
public static class LocalTrend
{
    /// <param name="nearest">The share of all points that a place looks at.</param>
    /// <param name="count">Points of the course, evenly from the least to the largest x.</param>
    /// <exception cref="ExplorationException">There are too few points.</exception>
    public static IReadOnlyList<TrendPoint> Of(
        IReadOnlyList<double> x,
        IReadOnlyList<double> y,
        double nearest = 0.5,
        double confidence = 0.95,
        int count = 60
    )
    {
        var points = x.Zip(y).Where(p => double.IsFinite(p.First) && double.IsFinite(p.Second)).OrderBy(p => p.First).ToArray();
        double[] xs = [.. points.Select(p => p.First)],
            ys = [.. points.Select(p => p.Second)];
        if (points.Length < 6 || xs[0] == xs[^1])
            throw new ExplorationException(
                "trend",
                $"{points.Length} runs with {xs.Distinct().Count()} different values are too few for a smooth course.",
                "Take 6 runs or more, or a straight line."
            );
        var taken = Math.Clamp((int)Math.Ceiling(nearest * xs.Length), 5, xs.Length);
        // The scatter about the course, with the degrees of freedom that the smoothing leaves.
        double left = 0,
            freedom = 0;
        var stride = Math.Max(1, xs.Length / 500);
        for (var i = 0; i < xs.Length; i += stride)
        {
            var weights = Weights(xs, xs[i], taken);
            var error = ys[i] - Value(ys, weights);
            left += error * error;
            freedom += 1 - weights.Of.Sum(w => w.At == i ? w.Weight : 0);
        }

        var deviation = Math.Sqrt(left / Math.Max(freedom, 1));
        var sure = Normal.InvCDF(0, 1, 0.5 + confidence / 2);
        return
        [
            .. Enumerable
                .Range(0, count)
                .Select(i =>
                {
                    var place = i == count - 1 ? xs[^1] : xs[0] + (xs[^1] - xs[0]) * i / (count - 1);
                    var weights = Weights(xs, place, taken);
                    var value = Value(ys, weights);
                    var half = sure * deviation * Math.Sqrt(weights.Of.Sum(w => w.Weight * w.Weight));
                    return new TrendPoint(place, value, value - half, value + half);
                }),
        ];
    }

    static double Value(double[] ys, (int First, List<(int At, double Weight)> Of) weights) => weights.Of.Sum(w => w.Weight * ys[w.At]);

    /// <summary>What each point's value counts in the course at a place: they add up to 1 and give straight lines back.</summary>
    static (int First, List<(int At, double Weight)> Of) Weights(double[] xs, double place, int taken)
    {
        var first = Array.BinarySearch(xs, place);
        first = Math.Clamp((first < 0 ? ~first : first) - taken / 2, 0, xs.Length - taken);
        while (first > 0 && place - xs[first - 1] < xs[first + taken - 1] - place)
            first--;
        while (first + taken < xs.Length && xs[first + taken] - place < place - xs[first])
            first++;
        // Points of equal distance count alike, so many runs at one value do not push the others out.
        var reach = 1.0001 * Math.Max(place - xs[first], xs[first + taken - 1] - place);
        var (low, high) = (first, first + taken - 1);
        if (reach == 0)
            reach = 1e-9 * Math.Max(Math.Abs(place), 1e-300);
        while (low > 0 && place - xs[low - 1] <= reach)
            low--;
        while (high < xs.Length - 1 && xs[high + 1] - place <= reach)
            high++;
        var near = new List<(int At, double Tricube, double Off)>(high - low + 1);
        double s0 = 0,
            s1 = 0,
            s2 = 0;
        for (var i = low; i <= high; i++)
        {
            var off = xs[i] - place;
            var share = Math.Min(Math.Abs(off) / reach, 1);
            var tricube = Math.Pow(1 - share * share * share, 3);
            near.Add((i, tricube, off));
            (s0, s1, s2) = (s0 + tricube, s1 + tricube * off, s2 + tricube * off * off);
        }

        var determinant = s0 * s2 - s1 * s1;
        var isFlat = determinant <= 1e-12 * s0 * s2;
        return (low, [.. near.Select(n => (n.At, isFlat ? n.Tricube / s0 : n.Tricube * (s2 - s1 * n.Off) / determinant))]);
    }
}
