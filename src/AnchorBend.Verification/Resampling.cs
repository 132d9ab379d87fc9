namespace AnchorBend.Verification;

/// <summary>Curves at equal steps, for what needs them.</summary>
public static class Resampling
{
    /// <summary>Most samples that are taken of a curve; a power of two.</summary>
    public const int Most = 1 << 18;

    const int Least = 64;

    /// <summary>
    /// A curve at equal steps of time, in straight lines between its rows: as many samples as rows that are usually apart, at most
    /// <see cref="Most"/>.
    /// </summary>
    /// <returns>Samples, and how many lie in a second.</returns>
    public static (double[] Samples, double Rate) Evenly(Curve curve, double from, double to)
    {
        var step = UsualStep(curve, from, to);
        var count = (int)Math.Clamp(step > 0 ? Math.Round((to - from) / step) : Least, Least, Most);
        var samples = new double[count];
        var row = 0;
        for (var i = 0; i < count; i++)
        {
            var time = from + (to - from) * i / count;
            while (row + 1 < curve.Times.Count && curve.Times[row + 1] <= time)
                row++;
            samples[i] = Value(curve, row, time);
        }

        return (samples, count / (to - from));
    }

    static double Value(Curve curve, int row, double time)
    {
        if (row + 1 >= curve.Times.Count || curve.Times[row] >= time)
            return curve.Values[row];
        double a = curve.Times[row],
            b = curve.Times[row + 1];
        return curve.Values[row] + (curve.Values[row + 1] - curve.Values[row]) * ((time - a) / (b - a));
    }

    /// <summary>The median distance of rows: rows of events and gaps do not count.</summary>
    static double UsualStep(Curve curve, double from, double to)
    {
        var steps = new List<double>();
        for (var i = 1; i < curve.Times.Count; i++)
            if (curve.Times[i - 1] >= from && curve.Times[i] <= to && curve.Times[i] > curve.Times[i - 1])
                steps.Add(curve.Times[i] - curve.Times[i - 1]);
        steps.Sort();
        return steps.Count > 0 ? steps[steps.Count / 2] : 0;
    }

    /// <summary>
    /// How long a signal stays in each of equal classes between its lowest and highest value, as a share of the time; it goes through
    /// classes in straight lines between rows.
    /// </summary>
    /// <returns>Edges of the classes, one more than shares.</returns>
    public static (double[] Edges, double[] Shares) Histogram(Curve curve, double from, double to, int classes)
    {
        var window = curve.Window(from, to);
        if (window.Values.Length == 0)
            return ([], []);
        var (low, high) = (window.Values.Min(), window.Values.Max());
        if (high <= low)
            (low, high) = (low - 0.5, low + 0.5);
        var width = (high - low) / classes;
        var shares = new double[classes];
        var total = 0.0;
        for (var i = 1; i < window.Values.Length; i++)
        {
            var time = window.Times[i] - window.Times[i - 1];
            var (a, b) = (Math.Min(window.Values[i - 1], window.Values[i]), Math.Max(window.Values[i - 1], window.Values[i]));
            total += time;
            int first = Class(a),
                last = Class(b);
            for (var c = first; c <= last; c++)
                shares[c] +=
                    b > a ? time * (Math.Min(b, low + (c + 1) * width) - Math.Max(a, low + c * width)) / (b - a)
                    : c == first ? time
                    : 0;
        }

        for (var c = 0; c < classes && total > 0; c++)
            shares[c] /= total;
        return ([.. Enumerable.Range(0, classes + 1).Select(c => low + c * width)], shares);

        int Class(double value) => Math.Clamp((int)((value - low) / width), 0, classes - 1);
    }
}
