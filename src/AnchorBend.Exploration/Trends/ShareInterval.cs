using MathNet.Numerics.Distributions;

namespace AnchorBend.Exploration.Trends;

/// <summary>
/// The share of all that meets something, from a sample: the exact interval of Clopper and Pearson (Biometrika 26, 1934), which holds the
/// true share with at least the confidence whatever that is.
/// </summary>
public sealed record ShareInterval(double Share, double Low, double High)
{
    /// <param name="met">How many of the sample.</param>
    /// <param name="confidence">Above 0, below 1.</param>
    public static ShareInterval Of(int met, int count, double confidence)
    {
        if (count < 1 || met < 0 || met > count || !(confidence > 0 && confidence < 1))
            throw new ArgumentOutOfRangeException(nameof(met), $"{met} of {count} at {confidence} is no share.");
        var outside = (1 - confidence) / 2;
        return new ShareInterval(
            (double)met / count,
            met == 0 ? 0 : Beta.InvCDF(met, count - met + 1, outside),
            met == count ? 1 : Beta.InvCDF(met + 1, count - met, 1 - outside)
        );
    }
}
