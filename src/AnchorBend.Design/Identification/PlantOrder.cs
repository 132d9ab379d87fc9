namespace AnchorBend.Design.Identification;

/// <summary>
/// A plant as a disturbance-rejecting controller takes it: an integrator or a double one with an input gain, to which all else is
/// disturbance. Both are read from the slope of a measured response around where the loop shall work: there |G| falls nearly as
/// b0/ω^n.
/// </summary>
/// <param name="Order">1 or 2.</param>
/// <param name="InputGain">|b0|: the response at the frequency, on the line through its neighbours, times ω^n.</param>
/// <param name="Slope">What the logarithm of the gain does with that of the frequency; −1 and −2 are those of the orders.</param>
/// <param name="Frequency">rad/s.</param>
public sealed record PlantOrder(int Order, double InputGain, double Slope, double Frequency)
{
    /// <summary>How far around the frequency points are taken, and how many there must be.</summary>
    const double Around = 2.2;

    const int Least = 3;

    /// <summary>Slopes that are this far from an order say little.</summary>
    const double Doubtful = 0.35;

    /// <summary>Whether the plant is clearly of the order around the frequency.</summary>
    public bool IsClear => Math.Abs(-Slope - Order) < Doubtful;

    /// <param name="points">Measured; those with a problem are left out.</param>
    /// <param name="frequency">Where the loop shall work, rad/s; moved to what was measured where that does not reach there.</param>
    /// <exception cref="DesignException">Too little was measured around it.</exception>
    public static PlantOrder Of(IReadOnlyList<SweepPoint> points, double frequency)
    {
        var good = points.Where(p => p.Problem is null && p.Value.Magnitude > 0).OrderBy(p => p.Frequency).ToList();
        if (good.Count >= Least)
            frequency = Math.Clamp(frequency, good[0].Frequency, good[^1].Frequency);
        var near = good.Where(p => p.Frequency <= frequency * Around && p.Frequency >= frequency / Around).ToList();
        if (near.Count < Least)
            near = [.. good.OrderBy(p => Math.Abs(Math.Log(p.Frequency / frequency))).Take(Least)];
        if (near.Count < Least)
            throw new DesignException(
                "unmeasured",
                "The step showed too little of the plant to read an order from.",
                "Take a longer or a larger step."
            );
        var (x, y) = (
            near.Select(p => Math.Log(p.Frequency / frequency)).ToArray(),
            near.Select(p => Math.Log(p.Value.Magnitude)).ToArray()
        );
        var (mean, level) = (x.Average(), y.Average());
        var slope = x.Zip(y, (a, b) => (a - mean) * (b - level)).Sum() / x.Sum(a => (a - mean) * (a - mean));
        var order = slope > -1.5 ? 1 : 2;
        return new PlantOrder(order, Math.Exp(level - slope * mean) * Math.Pow(frequency, order), slope, frequency);
    }
}
