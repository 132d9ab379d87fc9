namespace AnchorBend.Design;

/// <summary>The largest value of something over all frequencies, and where, rad/s.</summary>
public sealed record Peak(double Value, double Frequency);

/// <summary>All that is said of a loop with given gains.</summary>
/// <param name="Sensitivity">Peak of |1/(1 + L)|.</param>
/// <param name="Complementary">Peak of |L/(1 + L)|.</param>
/// <param name="NoiseGain">Peak of |C/(1 + L)|: from measurement noise to the controller's output.</param>
/// <param name="DelayMargin">The shortest dead time that would make it unstable, s; infinite where the gain never passes one.</param>
/// <param name="LoadIae">∫|y| dt after a unit load step at the plant's input; null where it is not stable or does not
/// settle.</param>
/// <param name="SetPointIae">∫|r − y| dt after a unit step of the set-point; null likewise.</param>
public sealed record LoopFigures(
    LoopController Gains,
    bool? IsStable,
    StabilityMargins Margins,
    Peak Sensitivity,
    Peak Complementary,
    Peak NoiseGain,
    double DelayMargin,
    double? LoadIae,
    double? SetPointIae
)
{
    /// <summary>The gains of a PID controller.</summary>
    /// <exception cref="InvalidCastException">It is another one.</exception>
    public PidGains Pid() => (PidGains)Gains;

    /// <param name="plant">For a controller that works at samples on the plane of <see cref="SampledPlane"/>.</param>
    public static LoopFigures Of(LoopController gains, LinearSystem plant, CancellationToken cancellation = default)
    {
        var loop = gains.OpenLoop(plant);
        var margins = SampledPlane.Margins(loop, gains.Period, cancellation);
        var unstable = RightHalfPlane.Count(gains.ClosedLoop(plant), cancellation);
        var peaks = new LoopPeaks(loop, gains, gains.Period, cancellation);
        var sensitivity = peaks.Sensitivity;
        var pace = 1 / Math.Max(margins.GainCrossings.Select(c => c.Frequency).DefaultIfEmpty(sensitivity.Frequency).Min(), 1e-12);
        double? Integral(Func<double> of) => unstable == 0 && gains.HasIntegral && of() is var v && double.IsFinite(v) ? v : null;
        return new LoopFigures(
            gains,
            unstable is null ? null : unstable == 0,
            margins,
            SampledPlane.Told(sensitivity, gains.Period),
            SampledPlane.Told(peaks.Complementary, gains.Period),
            SampledPlane.Told(peaks.NoiseGain, gains.Period),
            margins.DelayMargin,
            Integral(() => ErrorIntegral.Load(gains, plant, pace)),
            Integral(() => ErrorIntegral.SetPoint(gains, plant, pace))
        );
    }
}
