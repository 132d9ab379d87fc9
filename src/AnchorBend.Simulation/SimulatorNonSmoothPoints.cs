using AnchorBend.Numerics;

namespace AnchorBend.Simulation;

/// <summary>
/// Kinks of event indicators, as absolute values have them. A function may touch zero at its non-smooth point between two samples that are
/// far from it, and no parabola tells; so non-smooth points within a step are samples too.
/// </summary>
public sealed unsafe partial class Simulator
{
    /// <summary>Kinks looked at in one step.</summary>
    const int MostNonSmoothPoints = 16;

    readonly List<double> nonSmoothTimes = [];
    double[] nonSmoothBefore = [],
        nonSmoothNow = [],
        nonSmoothWithin = [];

    /// <summary>Adds the non-smooth points of watched functions to the samples.</summary>
    /// <returns>The number of parts between samples now.</returns>
    int AddNonSmoothPoints(int parts)
    {
        if (watchedNonSmooth.Length == 0)
            return parts;
        var size = ends.Length / 2;
        if (nonSmoothNow.Length != size)
            (nonSmoothBefore, nonSmoothNow, nonSmoothWithin) = (new double[size], new double[size], new double[size]);
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
        NonSmoothPointsAt(sampleTimes[0], nonSmoothBefore);
        for (var i = 1; i <= parts; i++)
        {
            NonSmoothPointsAt(sampleTimes[i], nonSmoothNow);
            foreach (var j in watchedNonSmooth)
                if (nonSmoothBefore[zeroes.Length + j] < 0 != nonSmoothNow[zeroes.Length + j] < 0)
                    nonSmoothTimes.Add(NonSmoothPoint(zeroes.Length + j, sampleTimes[i - 1], sampleTimes[i]));
            (nonSmoothBefore, nonSmoothNow) = (nonSmoothNow, nonSmoothBefore);
        }
    }

    double NonSmoothPoint(int place, double start, double end) =>
        RootLocation.After(
            t =>
            {
                NonSmoothPointsAt(t, nonSmoothWithin);
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
        ZerosAt(time, row);
        return parts + 1;
    }

    /// <summary>The non-smooth points lie behind the event indicators; the slopes at the end mean nothing here.</summary>
    void NonSmoothPointsAt(double time, double[] result)
    {
        fixed (
            double* x = scratch,
                g = result
        )
        {
            StateAt(time, x);
            model.IndicatorsAndSlopes(time, x, x + model.StateCount, g);
        }
    }

    /// <summary>The state within the last step or at its end.</summary>
    void StateAt(double time, double* x)
    {
        if (time >= integrator.Time)
            new ReadOnlySpan<double>(integrator.State, model.StateCount).CopyTo(new Span<double>(x, model.StateCount));
        else
            integrator.Interpolate(time, x);
    }
}
