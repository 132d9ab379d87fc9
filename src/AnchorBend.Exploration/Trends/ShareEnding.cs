namespace AnchorBend.Exploration.Trends;

/// <summary>
/// When enough of a sample is known of a share. The interval is looked at again and again, so that the chance to end by luck is larger than
/// that of one look; every <see cref="Round"/> runs keeps the looks few.
/// </summary>
/// <param name="Wanted">Ends when the true share surely lies above or below it; null where nobody asks.</param>
/// <param name="Within">Ends when the interval is no wider than this to either side; null where nobody asks.</param>
public sealed record ShareEnding(double? Wanted, double? Within)
{
    /// <summary>Runs between two looks.</summary>
    public const int Round = 50;

    /// <returns>Why it ends; null where more is to be known.</returns>
    public string? Enough(ShareInterval? known) =>
        known is not { } share ? null
        : Wanted is { } w && (share.Low >= w || share.High < w) ? "It is decided whether the wanted share meets all."
        : Within is { } width && Math.Max(share.Share - share.Low, share.High - share.Share) <= width
            ? "The share is known as well as wanted."
        : null;
}
