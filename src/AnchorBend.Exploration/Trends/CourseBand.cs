namespace AnchorBend.Exploration.Trends;

/// <summary>Where the courses of many runs lie, instant by instant: quantiles as in <see cref="Distribution"/>.</summary>
/// <param name="Times">s.</param>
/// <param name="Count">Courses that reach each instant.</param>
public sealed record CourseBand(
    IReadOnlyList<double> Times,
    IReadOnlyList<double> Least,
    IReadOnlyList<double> Low,
    IReadOnlyList<double> Median,
    IReadOnlyList<double> High,
    IReadOnlyList<double> Largest,
    IReadOnlyList<int> Count
)
{
    /// <param name="courses">Values at the times; NaN where a run holds none.</param>
    public static CourseBand Of(IReadOnlyList<double> times, IReadOnlyList<double[]> courses)
    {
        var band = new CourseBand(times, New(), New(), New(), New(), New(), new int[times.Count]);
        double[] New() => new double[times.Count];
        for (var i = 0; i < times.Count; i++)
        {
            var known = Distribution.Quantiles(courses.Where(c => i < c.Length).Select(c => c[i]), [0, 0.05, 0.5, 0.95, 1]);
            var lines = new[] { band.Least, band.Low, band.Median, band.High, band.Largest };
            for (var k = 0; k < lines.Length; k++)
                ((double[])lines[k])[i] = known.Values[k];
            ((int[])band.Count)[i] = known.Count;
        }

        return band;
    }
}
