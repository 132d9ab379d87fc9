namespace AnchorBend.Design;

/// <summary>
/// The weight b of the set-point in the proportional part: it moves a zero between set-point and measured value and nothing that is fed
/// back, so peaks, margins and the answer to loads stay what they are (Åström and Hägglund, "Advanced PID Control", section 5.3).
/// </summary>
public static class SetPointWeight
{
    public const double Most = 2;

    const int Grid = 12;

    const double Close = 1e-4;

    /// <summary>The gains with the weight that gives the least ∫|r − y| dt after a step of the set-point, between 0 and 2.</summary>
    /// <param name="pace">A time over which the loop changes, s.</param>
    public static PidGains Best(PidGains gains, LinearSystem plant, double pace, CancellationToken cancellation = default)
    {
        double Error(double b)
        {
            cancellation.ThrowIfCancellationRequested();
            var error = ErrorIntegral.SetPoint(gains with { B = b }, plant, pace);
            return double.IsFinite(error) ? error : double.MaxValue;
        }

        // The integral of an absolute value that is linear in b at every instant is convex in it: one lowest place.
        var looked = Enumerable.Range(0, Grid + 1).Select(i => Most * i / Grid).Select(b => (B: b, Error: Error(b))).ToList();
        var lowest = looked.MinBy(x => x.Error).B;
        var found = CrossingSearch.GoldenSection(Error, Math.Max(0, lowest - Most / Grid), Math.Min(Most, lowest + Most / Grid), Close);
        return gains with { B = Math.Round(found, 3) };
    }
}
