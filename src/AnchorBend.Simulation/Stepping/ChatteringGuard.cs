using AnchorBend.Numerics;
using AnchorBend.Simulation.Events;

namespace AnchorBend.Simulation.Stepping;

/// <summary>Counts switchings that come without progress worth mentioning, and stops a run that makes too many.</summary>
sealed class ChatteringGuard(RunOptions options) : ISaved
{
    /// <summary>Switchings from which on a step that cannot become smaller is blamed on them.</summary>
    const int Many = 20;

    double crowdStart;

    public int Count => count;

    int count;

    public bool AreMany => count >= Many;

    /// <summary>The time since the first of those counted, in s.</summary>
    public double Since(double time) => time - crowdStart;

    /// <summary>Counts one more switching; whether too many came without progress worth mentioning.</summary>
    public bool Notes(double time)
    {
        if (count > 0 && time - crowdStart <= 1e-7 * (options.End - options.Start))
            return ++count >= options.ChatteringLimit;
        (count, crowdStart) = (1, time);
        return false;
    }

    /// <exception cref="SimulationException">Too many events came at this time.</exception>
    public void AfterEvent(double time, RunEvent? recent)
    {
        if (!Notes(time))
            return;
        throw new SimulationException(
            new SimulationFailure(
                "chattering",
                $"{count} events within {Since(time):G3} s at {time:G8} s: {recent?.What ?? "a condition"} switches to and fro.",
                recent?.Part ?? "",
                null,
                time,
                "Give the switch hysteresis, or put a lag behind it."
            )
        );
    }

    public void Transfer(StateArchive archive)
    {
        archive.Transfer(ref count);
        archive.Transfer(ref crowdStart);
    }
}
