using AnchorBend.Numerics;

namespace AnchorBend.Simulation.Events;

/// <summary>How events follow each other, and what step to try after one.</summary>
sealed class EventSpacing : ISaved
{
    /// <summary>Events this close to each other, as a part of the step, one after the other.</summary>
    const double Close = 1e-3;

    const int FewClose = 3;

    double lastEvent = double.NegativeInfinity;
    int closeEvents;

    public double LastEvent => lastEvent;

    /// <summary>
    /// The step to try after an event: the one before it, unless events follow each other within a small part of it. Then a mode much
    /// faster than the step decides about them, and the values within a step that leaps over it would mislead.
    /// </summary>
    /// <param name="step">The step the method would try.</param>
    public double StepAfter(double time, double step)
    {
        var gap = time - lastEvent;
        lastEvent = time;
        closeEvents = gap < Close * step ? closeEvents + 1 : 0;
        return closeEvents < FewClose
            ? step
            : Math.Min(step, Math.Max(100 * gap, 16 * (Math.BitIncrement(Math.Abs(time)) - Math.Abs(time))));
    }

    public void Transfer(StateArchive archive)
    {
        archive.Transfer(ref lastEvent);
        archive.Transfer(ref closeEvents);
    }
}
