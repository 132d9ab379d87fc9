using AnchorBend.Compiler.Emission;
using AnchorBend.Simulation.Recording;
using AnchorBend.Simulation.Stepping;

namespace AnchorBend.Simulation.Events;

/// <summary>What happens at an event: discrete values are decided, jumps go into delays, the method starts anew.</summary>
sealed class EventHandling(EventLog log, OutputRecorder output, ChatteringGuard chattering, EventSpacing spacing)
{
    /// <summary>Handles the event that ended the last step.</summary>
    public void Handle(double time, bool isStateEvent, Stretch stretch, TickSchedule ticks)
    {
        var (motion, options) = (stretch.Motion, stretch.Motion.Options);
        if (options.RecordEvents && options.OutputTimes is null)
            output.Record(time);
        var isBreakOnly = !isStateEvent && time < stretch.Times.NextOther;
        var lowest = stretch.Breaks.Pass(time);
        if (isBreakOnly && lowest > 0)
        {
            HandleBend(time, stretch, ticks);
            return;
        }

        if (stretch.Times.RelationAt(time) is var relation and >= 0)
            log.Count(relation);
        motion.Model.FromLeft = false;
        if (time >= ticks.Next)
            TakeTicks(time, stretch, ticks);
        else
            stretch.Iteration.Iterate(time, false);
        stretch.Breaks.Propagate(time, isBreakOnly && !stretch.Iteration.HasChanged);
        motion.ThrowIfNotFinite(time);
        log.CheckAssertions(time);
        chattering.AfterEvent(time, log.Last);
        stretch.ForgetStep();
        Restart(time, motion);
        Plan(time, stretch, ticks);
        if (options.OutputTimes is null)
            output.RecordAfterEvent(time);
    }

    /// <summary>
    /// Goes on from an instant at which only derivatives of delayed signals jump. No value does, so nothing is decided anew here: a
    /// condition that has its crossing at this very instant is found as one, and not by what rounding makes of its past on both sides.
    /// </summary>
    void HandleBend(double time, Stretch stretch, TickSchedule ticks)
    {
        var motion = stretch.Motion;
        motion.Model.FromLeft = false;
        stretch.Breaks.Propagate(time, true);
        stretch.ForgetStep();
        Restart(time, motion);
        // Time events are planned from values of now.
        motion.Evaluate(time, EvaluationMode.Derivatives);
        stretch.Times.Plan(time, ticks);
        if (motion.Options.OutputTimes is null)
            output.RecordAfterEvent(time);
    }

    unsafe void Restart(double time, Motion motion) =>
        motion.Integrator.Restart(time, motion.Model.States, spacing.StepAfter(time, motion.Integrator.NextStep));

    /// <summary>Clocks that tick at an instant, and what they change.</summary>
    public void TakeTicks(double time, Stretch stretch, TickSchedule ticks)
    {
        ticks.Take(time, k =>
        {
            stretch.Iteration.Tick(k);
            log.CountTick(k);
        });
        stretch.Iteration.Iterate(time, false);
    }

    /// <summary>Looks for the next time events, from values and relations of now.</summary>
    public static void Plan(double time, Stretch stretch, TickSchedule ticks)
    {
        stretch.Iteration.InitialiseRelations(time);
        stretch.Times.Plan(time, ticks);
    }
}
