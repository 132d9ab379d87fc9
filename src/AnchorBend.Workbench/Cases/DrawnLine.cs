using System.Globalization;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Workbench.Cases;

/// <summary>Lines of results as they are kept for drawing: without points that lie on them, and not finer than a picture shows.</summary>
static class DrawnLine
{
    /// <summary>Stretches of which the first, the lowest, the highest and the last point stay.</summary>
    const int Stretches = 200;

    public static Line Of(IReadOnlyList<double> times, IReadOnlyList<double> values, bool isHeld = false)
    {
        if (isHeld)
            (times, values) = Stairs(times, values);
        var course = new Course([.. times], [.. values]).Straightened();
        if (course.Times.Length <= 4 * Stretches)
            return Rounded(course.Times, course.Values);
        var kept = new SortedSet<int> { 0, course.Times.Length - 1 };
        var (from, step) = (course.Times[0], (course.Times[^1] - course.Times[0]) / Stretches);
        for (int begin = 0, end; begin < course.Times.Length; begin = end)
        {
            var limit = from + step * (Math.Floor((course.Times[begin] - from) / step) + 1);
            end = begin + 1;
            int low = begin,
                high = begin;
            for (; end < course.Times.Length && course.Times[end] < limit; end++)
            {
                low = course.Values[end] < course.Values[low] ? end : low;
                high = course.Values[end] > course.Values[high] ? end : high;
            }

            kept.UnionWith([begin, low, high, end - 1]);
        }

        return Rounded(kept.Select(i => course.Times[i]), kept.Select(i => course.Values[i]));
    }

    /// <summary>A picture shows no more digits, and results are kept as texts.</summary>
    static Line Rounded(IEnumerable<double> times, IEnumerable<double> values)
    {
        static double Short(double value) => double.Parse(value.ToString("G8", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
        return new Line([.. times.Select(Short)], [.. values.Select(Short)]);
    }

    static (IReadOnlyList<double> Times, IReadOnlyList<double> Values) Stairs(IReadOnlyList<double> times, IReadOnlyList<double> values)
    {
        var (t, v) = (new List<double>(), new List<double>());
        for (var i = 0; i < times.Count; i++)
        {
            if (i > 0)
            {
                t.Add(times[i]);
                v.Add(values[i - 1]);
            }

            t.Add(times[i]);
            v.Add(values[i]);
        }

        return (t, v);
    }
}
