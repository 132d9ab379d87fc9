using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Numerics.Integration;
using AnchorBend.Simulation.Events;
using AnchorBend.Simulation.Stepping;

namespace AnchorBend.Simulation.Recording;

/// <summary>Keeps the past of delayed signals as polynomials.</summary>
sealed unsafe class DelayRecorder(Motion motion)
{
    /// <summary>Stretches of a long step that the past keeps apart, as its polynomials are of order 5.</summary>
    const int LongStretches = 4;

    /// <summary>How often a stretch of the past is halved, and what part of the tolerance it may err.</summary>
    const int MostHalvings = 16;

    const double PastShare = 0.1;

    /// <summary>
    /// Where a polynomial through five equidistant points errs most, on either side; not at any even part of the stretch, where a wave
    /// could look like a constant.
    /// </summary>
    static readonly double[] PastChecks = [0.3557, 3.6011];

    readonly ExecutionPlan plan = motion.Plan;
    readonly ModelInstance model = motion.Model;
    readonly Integrator integrator = motion.Integrator;
    readonly RunOptions options = motion.Options;
    readonly double[] scratch = motion.Scratch;

    readonly double[] delayPoints = new double[5 * motion.Model.Delays.Length],
        delaySources = new double[motion.Model.Delays.Length];

    /// <summary>Whether all that is delayed are states, which the integrator's error estimate has seen.</summary>
    readonly bool delaysStatesOnly = motion.Plan.Model.Delays.All(d => motion.Plan.StateSlot[motion.Plan.Representative[d.Source]] >= 0);

    /// <summary>Keeps the last step up to a time within it.</summary>
    public void Append(double upTo)
    {
        if (model.Delays.Length == 0)
            return;
        var parts = integrator.IsLongStepping ? LongStretches : 1;
        double begin = integrator.StepStart,
            length = upTo - begin;
        for (var part = 0; part < parts; part++)
            Append(begin + part * length / parts, part == parts - 1 ? upTo : begin + (part + 1) * length / parts, 0);
    }

    /// <summary>Keeps a stretch of the past, in halves where one polynomial would not follow a signal that no error estimate has
    /// seen.</summary>
    void Append(double start, double end, int halvings)
    {
        for (var p = 0; p < 5; p++)
        {
            SourcesAt(p == 4 ? end : start + p * (end - start) / 4, p == 4);
            for (var d = 0; d < model.Delays.Length; d++)
                delayPoints[5 * d + p] = delaySources[d];
        }

        if (!delaysStatesOnly && halvings < MostHalvings && !IsFollowed(start, end))
        {
            var middle = start + (end - start) / 2;
            Append(start, middle, halvings + 1);
            Append(middle, end, halvings + 1);
            return;
        }

        for (var d = 0; d < model.Delays.Length; d++)
            model.Delays[d].Append(start, end, delayPoints.AsSpan(5 * d, 5));
    }

    bool IsFollowed(double start, double end)
    {
        foreach (var s in PastChecks)
        {
            SourcesAt(start + s * (end - start) / 4, false);
            for (var d = 0; d < model.Delays.Length; d++)
            {
                var value = delaySources[d];
                var allowed = PastShare * (options.AbsoluteTolerance + options.RelativeTolerance * Math.Abs(value));
                if (Math.Abs(DelayHistory.Kept(delayPoints.AsSpan(5 * d, 5), s) - value) > allowed)
                    return false;
            }
        }

        return true;
    }

    /// <summary>The sources of all delays at a time within the last step or at its end.</summary>
    void SourcesAt(double time, bool mayBeEnd)
    {
        fixed (double* x = scratch)
        {
            if (mayBeEnd && time >= integrator.Time)
                new ReadOnlySpan<double>(integrator.State, model.StateCount).CopyTo(scratch);
            else
                integrator.Interpolate(time, x);
            model.FromLeft = time > integrator.StepStart;
            if (!delaysStatesOnly)
                model.Evaluate(time, x, x + model.StateCount, EvaluationMode.Outputs);
            for (var d = 0; d < delaySources.Length; d++)
                delaySources[d] = model.Value(plan.Model.Delays[d].Source, x, x + model.StateCount);
        }
    }
}
