using AnchorBend.Numerics;

namespace AnchorBend.Simulation;

/// <summary>
/// Kinks of zero functions, as absolute values have them. A function may touch zero at its kink between two samples that are far from it,
/// and no parabola tells; so kinks within a step are samples too.
/// </summary>
public sealed unsafe partial class Simulator
{
    /// <summary>Kinks looked at in one step.</summary>
    const int MostKinks = 16;

    readonly List<double> kinkTimes = [];
    double[] kinksBefore = [],
        kinksNow = [],
        kinksWithin = [];

    /// <summary>Adds the kinks of watched functions to the samples.</summary>
    /// <returns>The number of parts between samples now.</returns>
    int AddKinks(int parts)
    {
        if (watchedKinks.Length == 0)
            return parts;
        var size = ends.Length / 2;
        if (kinksNow.Length != size)
            (kinksBefore, kinksNow, kinksWithin) = (new double[size], new double[size], new double[size]);
        // What passes zero at a kink may have kinks of its own, and passes zero twice beside one of them.
        for (var before = 0; before < parts && parts < sampleTimes.Length - 1; )
        {
            before = parts;
            FindKinks(parts);
            foreach (var time in kinkTimes)
                parts = Insert(time, parts);
        }

        return parts;
    }

    void FindKinks(int parts)
    {
        kinkTimes.Clear();
        KinksAt(sampleTimes[0], kinksBefore);
        for (var i = 1; i <= parts; i++)
        {
            KinksAt(sampleTimes[i], kinksNow);
            foreach (var j in watchedKinks)
                if (kinksBefore[zeroes.Length + j] < 0 != kinksNow[zeroes.Length + j] < 0)
                    kinkTimes.Add(Kink(zeroes.Length + j, sampleTimes[i - 1], sampleTimes[i]));
            (kinksBefore, kinksNow) = (kinksNow, kinksBefore);
        }
    }

    double Kink(int place, double start, double end) =>
        RootLocation.After(
            t =>
            {
                KinksAt(t, kinksWithin);
                return kinksWithin[place];
            },
            start,
            kinksBefore[place],
            end,
            kinksNow[place],
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

    /// <summary>The kinks lie behind the zero functions; the slopes at the end mean nothing here.</summary>
    void KinksAt(double time, double[] result)
    {
        fixed (
            double* x = scratch,
                g = result
        )
        {
            StateAt(time, x);
            model.ZerosAndSlopes(time, x, x + model.StateCount, g);
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
