namespace AnchorBend.Design;

/// <summary>One crossing of an open loop: frequency in rad/s and the margin there.</summary>
public sealed record Crossing(double Frequency, double Margin);

/// <summary>Phase crossings that are not listed one by one: with a dead time there are endlessly many.</summary>
/// <param name="From">They lie above this frequency, rad/s.</param>
/// <param name="Least">None of their gain margins is smaller than this factor,</param>
/// <param name="Most">and none larger than this one; infinite where the gain falls to zero.</param>
public sealed record FurtherCrossings(double From, double Least, double Most)
{
    /// <summary>The factor nearest to one that they may have.</summary>
    public double Nearest =>
        Least > 1 ? Least
        : Most < 1 ? Most
        : 1;
}

/// <summary>Margins of an open loop with negative feedback.</summary>
/// <param name="GainCrossings">Where the gain is one; margins are phase margins in degrees.</param>
/// <param name="PhaseCrossings">Where the phase is −180°; margins are gain margins as factors. The first ones where there are many.</param>
/// <param name="Further">What is known of the phase crossings that are not listed; null where all are.</param>
/// <param name="Worst">The gain margin nearest to one of all that were looked at, listed or not.</param>
public sealed record StabilityMargins(
    IReadOnlyList<Crossing> GainCrossings,
    IReadOnlyList<Crossing> PhaseCrossings,
    FurtherCrossings? Further,
    Crossing? Worst
)
{
    /// <summary>The smallest phase margin, in degrees, and its frequency.</summary>
    public Crossing? Phase => GainCrossings.MinBy(c => Math.Abs(c.Margin));

    /// <summary>The gain margin nearest to one, and its frequency.</summary>
    public Crossing? Gain => Worst;

    /// <summary>The shortest dead time that would take the loop to its border, s; infinite where the gain never passes one.</summary>
    public double DelayMargin =>
        GainCrossings
            .Select(c => (c.Margin > 0 ? c.Margin : c.Margin + 360) * Math.PI / 180 / c.Frequency)
            .DefaultIfEmpty(double.PositiveInfinity)
            .Min();

    /// <summary>All crossings of an open loop.</summary>
    public static StabilityMargins Of(LinearSystem loop, CancellationToken cancellation = default) =>
        new CrossingSearch(loop, cancellation).Run();
}
