using AnchorBend.Numerics;
using AnchorBend.Numerics.Integration;
using AnchorBend.Simulation.Events;

namespace AnchorBend.Simulation.Stepping;

/// <summary>
/// The event indicators at points of the last step: its ends, some within, those shortly after an event, and the non-smooth points that
/// absolute values have. A function may touch zero at such a point between two samples that are far from it, and no parabola tells.
/// </summary>
sealed class StepSamples(Motion motion, EventIndicators indicators, CrossingExclusion exclusion, EventSpacing spacing)
{
    /// <summary>Parts of a step whose ends are looked at when everything is smooth, for order 5 and for longer steps.</summary>
    const int FewParts = 2,
        ManyParts = 4;

    /// <summary>Parts of a step that no error estimate kept short.</summary>
    const int MostParts = 8;

    /// <summary>Samples added at the beginning of a step from an event, each at a sixteenth of the distance of the one behind it.</summary>
    const int EarlyPoints = 9;

    /// <summary>A event indicator nearer to zero at the start of such a step than this part of its range leaves it there.</summary>
    const double LeavesZero = 1e-4;

    /// <summary>By what part its rises over the first two parts of a step may differ for a signal to leave zero steadily.</summary>
    const double Steady = 0.25;

    /// <summary>Kinks looked at in one step.</summary>
    const int MostNonSmoothPoints = 16;

    readonly Integrator integrator = motion.Integrator;

    readonly double[] sampleTimes = new double[MostParts + MostNonSmoothPoints + EarlyPoints + 1];
    readonly double[][] samples =
    [
        .. Enumerable.Range(0, MostParts + MostNonSmoothPoints + EarlyPoints + 1).Select(_ => new double[indicators.Count]),
    ];
    readonly List<double> nonSmoothTimes = [];
    double[] nonSmoothBefore = new double[exclusion.Size],
        nonSmoothNow = new double[exclusion.Size];
    readonly double[] nonSmoothWithin = new double[exclusion.Size];

    /// <summary>Times of the samples, in their order.</summary>
    public ReadOnlySpan<double> Times => sampleTimes;

    /// <summary>The indicators at one of the times.</summary>
    public double[] this[int sample] => samples[sample];

    /// <summary>How far a event indicator moved within the step, as seen at its samples.</summary>
    public double Range(int k, int parts)
    {
        var (least, most) = (samples[0][k], samples[0][k]);
        for (var i = 1; i <= parts; i++)
            (least, most) = (Math.Min(least, samples[i][k]), Math.Max(most, samples[i][k]));
        return most - least;
    }

    /// <summary>Evaluates the event indicators at points of the last step.</summary>
    /// <returns>The number of parts between them.</returns>
    public int Sample()
    {
        double start = integrator.StepStart,
            end = integrator.Time;
        var parts =
            end - start > CrossingExclusion.LongPart * motion.MaximumStep ? MostParts
            : integrator.IsLongStepping ? ManyParts
            : FewParts;
        for (var i = parts; i >= 0; i--)
        {
            var time = i == parts ? end : start + i * (end - start) / parts;
            if (i == parts)
                exclusion.EndValues.CopyTo(samples[parts]);
            else if (i == 0 && exclusion.StartIsKnown)
                exclusion.StartValues.CopyTo(samples[0]);
            else
                indicators.At(time, samples[i]);
            sampleTimes[i] = time;
        }

        if (start == spacing.LastEvent)
            parts = AddEarlyPoints(parts);
        return AddNonSmoothPoints(parts);
    }

    /// <summary>
    /// What was at zero at an event may leave it and be back long before a long step's first sample, as a ball that bounces less and less
    /// while the exact parabola lets steps grow. What leaves it as steadily all along as at first does not come back.
    /// </summary>
    int AddEarlyPoints(int parts)
    {
        var isNear = false;
        foreach (var k in indicators.Watched)
            isNear |= Math.Abs(samples[0][k]) < LeavesZero * Range(k, parts) && !LeavesSteadily(k);
        if (!isNear)
            return parts;
        var distance = sampleTimes[1] - sampleTimes[0];
        for (var i = 0; i < EarlyPoints; i++)
        {
            distance /= 16;
            parts = Insert(sampleTimes[0] + distance, parts);
        }

        return parts;
    }

    bool LeavesSteadily(int k)
    {
        double first = samples[1][k] - samples[0][k],
            second = samples[2][k] - samples[1][k];
        return Math.Abs(second - first) < Steady * Math.Abs(first);
    }

    /// <summary>Adds the non-smooth points of watched functions to the samples.</summary>
    /// <returns>The number of parts between samples now.</returns>
    int AddNonSmoothPoints(int parts)
    {
        if (indicators.WatchedNonSmooth.Length == 0)
            return parts;
        // What passes zero at a non-smooth point may have non-smooth points of its own, and passes zero twice beside one of them.
        for (var before = 0; before < parts && parts < sampleTimes.Length - 1; )
        {
            before = parts;
            FindNonSmoothPoints(parts);
            foreach (var time in nonSmoothTimes)
                parts = Insert(time, parts);
        }

        return parts;
    }

    void FindNonSmoothPoints(int parts)
    {
        nonSmoothTimes.Clear();
        indicators.NonSmoothPointsAt(sampleTimes[0], nonSmoothBefore);
        for (var i = 1; i <= parts; i++)
        {
            indicators.NonSmoothPointsAt(sampleTimes[i], nonSmoothNow);
            foreach (var j in indicators.WatchedNonSmooth)
                if (nonSmoothBefore[indicators.Count + j] < 0 != nonSmoothNow[indicators.Count + j] < 0)
                    nonSmoothTimes.Add(NonSmoothPoint(indicators.Count + j, sampleTimes[i - 1], sampleTimes[i]));
            (nonSmoothBefore, nonSmoothNow) = (nonSmoothNow, nonSmoothBefore);
        }
    }

    double NonSmoothPoint(int place, double start, double end) =>
        RootLocation.After(
            t =>
            {
                indicators.NonSmoothPointsAt(t, nonSmoothWithin);
                return nonSmoothWithin[place];
            },
            start,
            nonSmoothBefore[place],
            end,
            nonSmoothNow[place],
            2 * (Math.BitIncrement(Math.Abs(end)) - Math.Abs(end))
        );

    int Insert(double time, int parts)
    {
        var place = Array.BinarySearch(sampleTimes, 0, parts + 1, time);
        if (place >= 0 || parts == sampleTimes.Length - 1)
            return parts;
        place = ~place;
        var row = samples[parts + 1];
        for (var i = parts; i >= place; i--)
            (sampleTimes[i + 1], samples[i + 1]) = (sampleTimes[i], samples[i]);
        (sampleTimes[place], samples[place]) = (time, row);
        indicators.At(time, row);
        return parts + 1;
    }
}
