using System.Numerics;
using AnchorBend.Design;

namespace AnchorBend.Workbench.Tuning;

/// <summary>What is said of a linear system with samples in it.</summary>
static class SampledAnswer
{
    const int Points = 160,
        Steps = 300;

    /// <summary>Decades below the highest frequency of samples that are shown.</summary>
    const double Below = 1e-4;

    /// <param name="isLoop">Whether it is an open loop, cut at what samples hold; of other systems there are no margins.</param>
    /// <exception cref="DesignException">The frequencies do not rise.</exception>
    public static LinearAnswer Of(SampledSystem sampled, OperatingPoint point, LinearRequest request, bool isLoop, CancellationToken wanted)
    {
        var period = sampled.Period;
        var system = sampled.Held().Reduced();
        var poles = PolesAndZeros.Poles(system).Where(p => p.Magnitude > 1e-12).Select(Slow).ToList();
        var slowest = poles.Select(p => p.Magnitude).Where(m => m > 1e-9 / period).DefaultIfEmpty(1 / period).Min();
        var highest = Math.PI / period;
        var (low, high) = (
            request.LowFrequency ?? Math.Max(Math.Min(slowest / 30, highest / 100), Below * highest),
            Math.Min(request.HighFrequency ?? highest, highest)
        );
        if (!(low > 0) || !(high > low) || high > low * 1e15)
            throw new DesignException(
                "range",
                FormattableString.Invariant(
                    $"Frequencies must rise from above zero and end below {highest:G4} rad/s, half of those of the samples."
                ),
                "Give a lower and a higher one, in rad/s."
            );
        var frequencies = FrequencyGrid.Between(low, high, Points, poles.Select(p => Math.Abs(p.Imaginary)));
        var response = new Complex[frequencies.Length];
        for (var i = 0; i < response.Length; i++)
        {
            wanted.ThrowIfCancellationRequested();
            response[i] = sampled.At(frequencies[i]);
        }

        var loop = isLoop ? SampledPlane.Of(system, period) : null;
        var margins = loop is null ? null : SampledPlane.Margins(loop, period, wanted);
        var peaks = loop is null ? null : new LoopPeaks(loop, null, period, wanted);
        var decays = poles.Where(p => p.Real < -1e-9 / period).Select(p => -1 / p.Real).DefaultIfEmpty(10 * period).Max();
        var end = Math.Clamp(6 * decays, 20 * period, 20_000 * period);
        var step = StepResponse.OfSampled(SampledPlane.Of(system, period), period, end, Steps, isHeld: true);
        Complex Slow(Complex z) => Complex.Log(z) / period;
        return new LinearAnswer(
            point.Name,
            period,
            system.Order,
            [.. poles.Select(ModelAnalysis.Root)],
            [.. PolesAndZeros.Zeros(system).Where(z => z.Magnitude > 1e-12).Select(z => ModelAnalysis.Root(Slow(z)))],
            frequencies,
            [.. response.Select(r => Math.Clamp(ModelAnalysis.Finite(20 * Math.Log10(r.Magnitude)), -400, 400))],
            DesignViews.Unwrapped(response),
            [.. response.Select(r => Math.Clamp(ModelAnalysis.Finite(r.Real), -1e12, 1e12))],
            [.. response.Select(r => Math.Clamp(ModelAnalysis.Finite(r.Imaginary), -1e12, 1e12))],
            [.. Told(margins?.GainCrossings)],
            [.. Told(margins?.PhaseCrossings)],
            margins is null ? null : ModelAnalysis.Known(margins.DelayMargin),
            peaks is null ? null : ModelAnalysis.Known(peaks.Sensitivity.Value),
            peaks is null ? null : ModelAnalysis.Known(peaks.Complementary.Value),
            step.Times,
            [.. step.Values.Select(v => Math.Clamp(ModelAnalysis.Finite(v), -1e12, 1e12))]
        );
    }

    static IEnumerable<CrossingView> Told(IReadOnlyList<Crossing>? crossings) =>
        (crossings ?? []).Where(c => double.IsFinite(c.Margin)).Select(c => new CrossingView(c.Frequency, c.Margin));
}
