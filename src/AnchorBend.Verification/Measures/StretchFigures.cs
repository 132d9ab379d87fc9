namespace AnchorBend.Verification.Measures;

/// <summary>What a signal does between two instants.</summary>
/// <param name="First">Its value at the first instant, behind an event there; likewise the last.</param>
/// <param name="Slope">Difference of both over the time between, per second.</param>
/// <param name="Mean">Over time, exact for straight lines between the recorded points, as is <paramref name="RootMeanSquare"/>.</param>
/// <param name="LowestAt">Where it is lowest, s; likewise highest.</param>
public sealed record StretchFigures(
    double First,
    double Last,
    double Slope,
    double Mean,
    double RootMeanSquare,
    double Lowest,
    double LowestAt,
    double Highest,
    double HighestAt
)
{
    /// <param name="scale">A value v is read as scale · v + shift, and so are the figures.</param>
    /// <returns>Null where the signal has no value, or a gap, between the instants.</returns>
    public static StretchFigures? Of(Curve curve, double from, double to, double scale = 1, double shift = 0)
    {
        if (!(to > from) || curve.At(from) is not { } first || curve.At(to) is not { } last)
            return null;
        var window = curve.Window(from, to);
        if (!double.IsFinite(first) || !Array.TrueForAll(window.Values, double.IsFinite))
            return null;
        for (var i = 0; i < window.Values.Length; i++)
            window.Values[i] = scale * window.Values[i] + shift;
        (first, last) = (scale * first + shift, scale * last + shift);
        var pieces = WindowedCurve.Of(window, [new Interval(from, to)]);
        var (lowest, highest) = (pieces.Minimum(), pieces.Maximum());
        var (slope, mean, square) = ((last - first) / (to - from), pieces.Mean(), pieces.RootMeanSquare());
        return double.IsFinite(first + last + slope + mean + square)
            ? new StretchFigures(first, last, slope, mean, square, lowest.Value, lowest.Time, highest.Value, highest.Time)
            : null;
    }
}
