namespace AnchorBend.Simulation;

/// <summary>What rounding does to conditions: an event waits until it is clear of it, and what rounding alone decides is none.</summary>
public sealed unsafe partial class Simulator
{
    double[] roundings = [],
        atCrossing = [];

    /// <summary>Event indicators that are told apart from zero by rounding alone within the step.</summary>
    bool[] isNoise = [];

    /// <summary>How deep a dip beyond zero may be made by rounding of values within a step, as a part of their range.</summary>
    const double RoundingOfRange = 1e-14;

    /// <summary>How many times its rounding a event indicator is beyond zero where its relation has clearly changed.</summary>
    const double Clearly = 32;

    const int RoundingPatterns = 4;

    /// <summary>The most that an event waits for that, as a part of the time passed and of the step.</summary>
    const double WaitInTime = 2e-9,
        WaitInStep = 1e-6;

    /// <summary>
    /// A little after a crossing, where the relation has clearly changed, and others that change with it too: on the crossing itself, what
    /// the other branch of a model makes of the same numbers may be rounded back across, and the event would not settle.
    /// </summary>
    double BeyondRounding(int k, int parts, double crossing)
    {
        ZerosAt(crossing, zeroes);
        zeroes.CopyTo(atCrossing, 0);
        Array.Clear(roundings);
        var tick = Math.BitIncrement(Math.Abs(crossing)) - Math.Abs(crossing);
        for (var pattern = 1; pattern <= RoundingPatterns; pattern++)
        {
            // Beside the instant, what is a function of time is rounded otherwise, too.
            ZerosAt(crossing + (2 * pattern - RoundingPatterns - 1) * tick, zeroes, rounded: pattern);
            foreach (var j in watchedZeros)
                roundings[j] = Math.Max(roundings[j], Clearly * Math.Abs(zeroes[j] - atCrossing[j]));
        }

        atCrossing.CopyTo(zeroes, 0);
        var last = Math.Min(
            sampleTimes[parts],
            crossing + Math.Min(WaitInTime * Math.Abs(crossing), WaitInStep * (sampleTimes[parts] - sampleTimes[0]))
        );
        var (time, own) = (crossing, double.NaN);
        for (var wait = 2 * tick; ; wait *= 4)
        {
            var isClear = Math.Abs(zeroes[k]) >= roundings[k] && Differs(k, zeroes[k]);
            if (isClear && double.IsNaN(own))
                own = time;
            foreach (var j in watchedZeros)
                isClear &= Math.Abs(zeroes[j]) >= roundings[j];
            if (isClear)
                return time;
            if (time >= last)
                return double.IsNaN(own) ? crossing : own;
            time = Math.Min(last, crossing + wait);
            ZerosAt(time, zeroes);
        }
    }

    /// <summary>
    /// Whether a event indicator is at rest at zero all through the step, but for rounding: what is left of a mean that was subtracted. Its
    /// signs tell nothing, and as events they would come back from every delay.
    /// </summary>
    bool IsWithinRounding(int k, int parts)
    {
        for (var i = 0; i <= parts; i++)
            if (Math.Abs(samples[i][k]) > roundings[k])
                return false;
        return roundings[k] > 0;
    }

    /// <summary>Mixed signs by the golden ratio's bits (Knuth, "The Art of Computer Programming" 3, section 6.4), each pattern followed by
    /// its opposite.</summary>
    static bool IsRoundedUp(int state, int pattern) => ((uint)(state + 7 * (pattern >> 1)) * 2654435769u >> 31 ^ (uint)pattern & 1) == 0;
}
