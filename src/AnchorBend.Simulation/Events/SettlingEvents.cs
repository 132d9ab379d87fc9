using AnchorBend.Simulation.Stepping;

namespace AnchorBend.Simulation.Events;

/// <summary>
/// Events at crossings that may not settle on the crossing itself: where a diode's current begins, both of its branches see a current of
/// which rounding makes one sign or the other. A moment later within the same step it is clearly one of them.
/// </summary>
sealed class SettlingEvents
{
    /// <summary>The longest wait, as a part of the time passed and of the step.</summary>
    const double WaitInTime = 2e-9,
        WaitInStep = 1e-5;

    const int MostTries = 8;

    double[] held = [];

    /// <summary>Handles the crossing that ended the last step, at its time or shortly after.</summary>
    public unsafe void Handle(double time, Stretch stretch, TickSchedule ticks, EventHandling events)
    {
        var (motion, integrator) = (stretch.Motion, stretch.Motion.Integrator);
        var values = Held(motion);
        Keep(values);
        var (end, step) = (Math.Min(integrator.Time, stretch.Times.Next), integrator.Time - integrator.StepStart);
        var last = Math.Min(end, time + Math.Min(WaitInTime * Math.Abs(time), WaitInStep * step));
        var wait = 4 * (Math.BitIncrement(Math.Abs(time)) - Math.Abs(time));
        for (var attempt = 0; ; attempt++)
        {
            try
            {
                events.Handle(time, true, stretch, ticks);
                return;
            }
            catch (SimulationException e) when (e.Failure.Code == "event-iteration" && time < last && attempt < MostTries)
            {
                held.AsSpan(0, values.Length).CopyTo(values);
                time = attempt == MostTries - 1 ? last : Math.Min(last, time + wait);
                wait *= 16;
                motion.Model.FromLeft = true;
                integrator.Interpolate(time, motion.Model.States);
            }
        }
    }

    void Keep(Span<double> values)
    {
        if (held.Length < values.Length)
            held = new double[values.Length];
        values.CopyTo(held);
    }

    /// <summary>What events decide: discrete values from before and truths of relations.</summary>
    static unsafe Span<double> Held(Motion motion)
    {
        var layout = motion.Compiled.Layout;
        return new Span<double>(motion.Model.Memory + layout.PreviousBase, layout.HoistBase - layout.PreviousBase);
    }
}
