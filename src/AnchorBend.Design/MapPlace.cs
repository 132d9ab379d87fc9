namespace AnchorBend.Design;

/// <summary>Gains with a bandwidth and a peak of the sensitivity.</summary>
/// <param name="Gains">With the sign that the plant asks for.</param>
/// <param name="Bandwidth">The highest frequency at which the loop's gain is one, rad/s.</param>
/// <param name="Sensitivity">Peak of |1/(1 + L)|.</param>
/// <param name="NoiseGain">Peak of |C/(1 + L)|.</param>
/// <param name="PhaseMargin">At the bandwidth, degrees.</param>
/// <param name="LoadError">∫|y| dt after a unit load step, in units of the output times s; without an integral part the deviation that
/// stays.</param>
public sealed record MapPlace(
    LoopController Gains,
    double Bandwidth,
    double PhaseMargin,
    double Sensitivity,
    double NoiseGain,
    double LoadError
)
{
    /// <inheritdoc cref="LoopFigures.Pid"/>
    public PidGains Pid() => (PidGains)Gains;
}

/// <summary>All controllers of one form that give a loop one bandwidth.</summary>
public interface IMapColumn
{
    /// <summary>The gains with each of some peaks of the sensitivity that have the least load error; null where there are none.</summary>
    MapPlace?[] Places(double[] peaks, CancellationToken cancellation);

    /// <summary>Whether any of some peaks can be had.</summary>
    bool Reaches(double[] peaks, CancellationToken cancellation);

    /// <summary>The best gains with a peak, or with the nearest peak that this bandwidth allows.</summary>
    MapPlace? Nearest(double peak, CancellationToken cancellation);
}
