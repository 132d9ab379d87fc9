using AnchorBend.Simulation.Recording;

namespace AnchorBend.Verification;

/// <summary>One quantity against another, in the order of time.</summary>
public static class PhaseCurve
{
    /// <summary>
    /// Points of two curves with the same rows within a stretch of time, at most so many: points are left out that lie nearer to the last
    /// one that stays than a thousandth of the picture, or than a wider distance where that is not enough; and those without a value.
    /// </summary>
    public static ReducedCurve Of(Curve across, Curve up, double from, double to, int most)
    {
        var (x, y) = (new List<double>(), new List<double>());
        for (var i = 0; i < Math.Min(across.Values.Length, up.Values.Length); i++)
            if (across.Times[i] >= from && across.Times[i] <= to && double.IsFinite(across.Values[i] + up.Values[i]))
            {
                x.Add(across.Values[i]);
                y.Add(up.Values[i]);
            }

        var tolerance = 1e-3;
        while (x.Count > most)
        {
            (x, y) = Thinned(x, y, tolerance * Range(x), tolerance * Range(y));
            tolerance *= 2;
        }

        return new ReducedCurve([.. x], [.. y]);
    }

    static double Range(List<double> values) => Math.Max(values.Max() - values.Min(), double.Epsilon);

    /// <summary>Leaves out points that lie near the last one that stays.</summary>
    static (List<double>, List<double>) Thinned(List<double> x, List<double> y, double nearX, double nearY)
    {
        var (keptX, keptY) = (new List<double>(), new List<double>());
        for (var i = 0; i < x.Count; i++)
            if (i == 0 || i == x.Count - 1 || Math.Abs(x[i] - keptX[^1]) > nearX || Math.Abs(y[i] - keptY[^1]) > nearY)
            {
                keptX.Add(x[i]);
                keptY.Add(y[i]);
            }

        return (keptX, keptY);
    }
}
