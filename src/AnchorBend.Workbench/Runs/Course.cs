namespace AnchorBend.Workbench.Runs;

/// <summary>Points of a course over time, s.</summary>
/// <param name="Unit">What the values are in; null where nobody said.</param>
public sealed record Course(double[] Times, double[] Values, string? Unit = null)
{
    /// <summary>How far a point may lie off its line, as a share of the whole range.</summary>
    const double Near = 1e-6;

    /// <summary>
    /// The course without the points that lie on the line between those that stay: from each point that stays on, the slopes that come
    /// near enough to every point since then narrow to none (J. Sklansky, V. Gonzalez, "Fast polygonal approximation of digitized
    /// curves", Pattern Recognition 12, 1980).
    /// </summary>
    public Course Straightened()
    {
        var near = Near * (Values.Length == 0 ? 0 : Values.Max() - Values.Min());
        // Both sides of an event that this signal takes no notice of are one point.
        var points = Enumerable.Range(0, Times.Length).Where(i => i == 0 || Times[i] != Times[i - 1] || Values[i] != Values[i - 1]);
        var (times, values) = (points.Select(i => Times[i]).ToArray(), points.Select(i => Values[i]).ToArray());
        var kept = new List<int>();
        var (lowest, highest) = (double.NegativeInfinity, double.PositiveInfinity);
        for (var i = 0; i < times.Length; i++)
        {
            var isEnd = i == 0 || i == times.Length - 1 || times[i] == times[i - 1] || times[i + 1] == times[i];
            if (!isEnd)
            {
                var (time, value) = (times[i] - times[kept[^1]], values[i] - values[kept[^1]]);
                lowest = Math.Max(lowest, (value - near) / time);
                highest = Math.Min(highest, (value + near) / time);
                var slope = (values[i + 1] - values[kept[^1]]) / (times[i + 1] - times[kept[^1]]);
                isEnd = slope < lowest || slope > highest;
            }

            if (!isEnd)
                continue;
            kept.Add(i);
            (lowest, highest) = (double.NegativeInfinity, double.PositiveInfinity);
        }

        return this with
        {
            Times = [.. kept.Select(i => times[i])],
            Values = [.. kept.Select(i => values[i])],
        };
    }
}
