using AnchorBend.Numerics;

namespace AnchorBend.Simulation.Stepping;

/// <summary>What rounding does to conditions: an event waits until it is clear of it, and what rounding alone decides is none.</summary>
sealed class CrossingRounding(EventIndicators indicators, StepSamples samples)
{
    readonly double[] roundings = new double[indicators.Count],
        atCrossing = new double[indicators.Count];

    /// <summary>How deep a dip beyond zero may be made by rounding of values within a step, as a part of their range.</summary>
    public const double OfRange = 1e-14;

    /// <summary>How many times its rounding an event indicator is beyond zero where its relation has clearly changed.</summary>
    const double Clearly = 32;

    const int RoundingPatterns = 4;

    /// <summary>The most that an event waits for that, as a part of the time passed and of the step.</summary>
    const double WaitInTime = 2e-9,
        WaitInStep = 1e-6;

    /// <summary>
    /// A little after a crossing, where the relation has clearly changed, and others that change with it too: on the crossing itself, what
    /// the other branch of a model makes of the same numbers may be rounded back across, and the event would not settle.
    /// </summary>
    public double Beyond(int k, int parts, double crossing)
    {
        indicators.At(crossing);
        indicators.Values.CopyTo(atCrossing, 0);
        Array.Clear(roundings);
        var tick = Math.BitIncrement(Math.Abs(crossing)) - Math.Abs(crossing);
        for (var pattern = 1; pattern <= RoundingPatterns; pattern++)
        {
            // Beside the instant, what is a function of time is rounded otherwise, too.
            indicators.At(crossing + (2 * pattern - RoundingPatterns - 1) * tick, indicators.Values, rounded: pattern);
            foreach (var j in indicators.Watched)
                roundings[j] = Math.Max(roundings[j], Clearly * Math.Abs(indicators.Values[j] - atCrossing[j]));
        }

        atCrossing.CopyTo(indicators.Values, 0);
        var last = Math.Min(
            samples.Times[parts],
            crossing + Math.Min(WaitInTime * Math.Abs(crossing), WaitInStep * (samples.Times[parts] - samples.Times[0]))
        );
        var (time, own) = (crossing, double.NaN);
        for (var wait = 2 * tick; ; wait *= 4)
        {
            var isClear = Math.Abs(indicators.Values[k]) >= roundings[k] && indicators.Differs(k, indicators.Values[k]);
            if (isClear && double.IsNaN(own))
                own = time;
            foreach (var j in indicators.Watched)
                isClear &= Math.Abs(indicators.Values[j]) >= roundings[j];
            if (isClear)
                return time;
            if (time >= last)
                return double.IsNaN(own) ? crossing : own;
            time = Math.Min(last, crossing + wait);
            indicators.At(time);
        }
    }

    /// <summary>
    /// Whether an event indicator is at rest at zero all through the step, but for rounding: what is left of a mean that was subtracted.
    /// Its signs tell nothing, and as events they would come back from every delay.
    /// </summary>
    public bool Hides(int k, int parts)
    {
        for (var i = 0; i <= parts; i++)
            if (Math.Abs(samples[i][k]) > roundings[k])
                return false;
        return roundings[k] > 0;
    }
}
