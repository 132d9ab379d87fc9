namespace AnchorBend.Verification.Comparing;

/// <summary>When two values count as equal: |a − b| ≤ absolute + relative · max(|a|, |b|).</summary>
public sealed record Tolerance(double Absolute, double Relative)
{
    public bool Allows(double a, double b) =>
        a == b || double.IsNaN(a) && double.IsNaN(b) || Math.Abs(a - b) <= Absolute + Relative * Math.Max(Math.Abs(a), Math.Abs(b));
}

/// <summary>How two curves of one quantity differ.</summary>
/// <param name="Largest">The largest |a − b| where both have a value.</param>
/// <param name="At">When; s.</param>
/// <param name="Range">From the lowest to the highest value of both.</param>
/// <param name="Parts">When they first differ by more than the tolerance, or only one has a value; null where they never do.</param>
/// <param name="HasGaps">Whether somewhere only one of them has a value: there is nothing to subtract, but they differ.</param>
public sealed record CurveDifference(double Largest, double At, double Range, double? Parts, bool HasGaps)
{
    /// <summary>The largest difference as a share of the range; 0 where nothing differs.</summary>
    public double Share => Largest == 0 ? 0 : Largest / Range;

    /// <summary>Compares two curves at the union of their times within what both cover.</summary>
    public static CurveDifference Of(Curve a, Curve b, Tolerance tolerance)
    {
        var (largest, at, parts, gaps) = (0.0, double.NaN, (double?)null, false);
        var (low, high) = (double.PositiveInfinity, double.NegativeInfinity);
        foreach (var (time, left, right) in Union(a, b))
        {
            var isGap = !double.IsFinite(left - right) && !left.Equals(right);
            gaps |= isGap;
            var size = isGap || left.Equals(right) ? 0 : Math.Abs(left - right);
            if (size > largest || double.IsNaN(at))
                (largest, at) = (size, time);
            if (parts is null && !tolerance.Allows(left, right))
                parts = time;
            if (double.IsFinite(left + right))
                (low, high) = (Math.Min(low, Math.Min(left, right)), Math.Max(high, Math.Max(left, right)));
        }

        return new CurveDifference(largest, at, high - low, parts, gaps);
    }

    /// <summary>The curve a − b at the union of their times.</summary>
    public static Curve Between(Curve a, Curve b)
    {
        var times = new List<double>();
        var values = new List<double>();
        foreach (var (time, left, right) in Union(a, b))
        {
            times.Add(time);
            values.Add(left - right);
        }

        return new Curve(times, [.. values]);
    }

    /// <summary>
    /// Values of both at each time of either, in straight lines between rows. Where both have an event at one time their left sides meet
    /// and their right sides do; an event of one alone meets the other's only value. Instants nearer than rounding are one.
    /// </summary>
    static IEnumerable<(double Time, double A, double B)> Union(Curve a, Curve b)
    {
        if (a.Times.Count == 0 || b.Times.Count == 0)
            yield break;
        var (first, last) = (Math.Max(a.Times[0], b.Times[0]), Math.Min(a.Times[^1], b.Times[^1]));
        // Events of two runs are met to rounding only.
        var near = 1e-10 * Math.Max(last - first, 0) + 4e-16 * Math.Abs(last);
        int i = 0,
            j = 0;
        while (i < a.Times.Count && a.Times[i] < first - near)
            i++;
        while (j < b.Times.Count && b.Times[j] < first - near)
            j++;
        while (true)
        {
            var time = Math.Min(
                i < a.Times.Count ? a.Times[i] : double.PositiveInfinity,
                j < b.Times.Count ? b.Times[j] : double.PositiveInfinity
            );
            if (!(time <= last + near))
                yield break;
            int endA = i,
                endB = j;
            while (endA < a.Times.Count && a.Times[endA] <= time + near)
                endA++;
            while (endB < b.Times.Count && b.Times[endB] <= time + near)
                endB++;
            yield return (time, Left(a, i, endA, time), Left(b, j, endB, time));
            if (endA - i > 1 || endB - j > 1)
                yield return (time, Right(a, i, endA, time), Right(b, j, endB, time));
            (i, j) = (endA, endB);
        }
    }

    static double Left(Curve c, int from, int end, double time) => end > from ? c.Values[from] : Beside(c, from, time);

    static double Right(Curve c, int from, int end, double time) => end > from ? c.Values[end - 1] : Beside(c, from, time);

    /// <summary>The value between the rows before and at an index.</summary>
    static double Beside(Curve c, int next, double time)
    {
        if (next == 0)
            return c.Values[0];
        if (next >= c.Times.Count)
            return c.Values[^1];
        double before = c.Times[next - 1],
            after = c.Times[next];
        return after > before
            ? c.Values[next - 1] + (c.Values[next] - c.Values[next - 1]) * ((time - before) / (after - before))
            : c.Values[next];
    }
}
