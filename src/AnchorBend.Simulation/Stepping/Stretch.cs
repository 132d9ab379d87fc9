using AnchorBend.Compiler.Analysis;
using AnchorBend.Numerics;
using AnchorBend.Numerics.Integration;
using AnchorBend.Simulation.Events;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Simulation.Stepping;

/// <summary>
/// All that steps with one choice of states: the motion and what watches it. Another choice begins another stretch of the run, with the
/// same variables and what the run itself remembers.
/// </summary>
sealed class Stretch : IDisposable
{
    /// <summary>Up to this many output times an implicit method steps to each of them.</summary>
    const int FewOutputs = 200;

    /// <summary>Steps in one period of the fastest wave that is watched.</summary>
    const double StepsAWave = 6;

    /// <summary>Variables whose delay changes.</summary>
    readonly int[] varyingDelays;

    /// <param name="patience">See <see cref="DiscontinuityLocator"/>.</param>
    public Stretch(Motion motion, ChatteringGuard chattering, EventSpacing spacing, int? patience)
    {
        Motion = motion;
        var (plan, compiled, options, model) = (motion.Plan, motion.Compiled, motion.Options, motion.Model);
        var matters = compiled.StateRelations.Length > 0 ? RelevantRelations.Find(plan, model.Parameters.Values) : [];
        Indicators = new EventIndicators(motion, matters);
        var isWatching = Indicators.Watched.Length > 0;
        var followsWaves = isWatching || options.IsAdaptive && compiled.Discontinuities.FollowWaves;
        var shortestWave = followsWaves
            ? HighestForcingFrequency.Period(plan, model.Parameters.Values, options.Start, options.End)
            : double.PositiveInfinity;
        motion.MaximumStep = MaximumStep(motion, isWatching, shortestWave);
        motion.Integrator = IntegratorChoice.Make(model, options, motion.MaximumStep, isWatching);
        // Few output times are better met by steps; everything else looks at values within.
        motion.Integrator.ChecksDenseOutput = options.OutputTimes is not { Count: <= FewOutputs } || isWatching || model.Delays.Length > 0;
        varyingDelays = [.. plan.Model.Delays.Where(d => d.Varying >= 0).Select(d => d.Varying)];
        Exclusion = new CrossingExclusion(motion, Indicators);
        Crossings = new CrossingSearch(motion, Indicators, Exclusion, new StepSamples(motion, Indicators, Exclusion, spacing));
        Accumulation = new AccumulationGuard(motion, Indicators);
        Discontinuities = new DiscontinuityLocator(motion, chattering, patience);
        Times = new TimeEvents(motion);
        Iteration = new EventIteration(motion, Indicators, Times);
        Breaks = new DelayBreaks(motion);
        Delays = new DelayRecorder(motion);
        SmallStates = new SmallStates(model, options);
        Review = new StateChoiceReview(motion);
    }

    public Motion Motion { get; }

    public EventIndicators Indicators { get; }

    public CrossingExclusion Exclusion { get; }

    public CrossingSearch Crossings { get; }

    public AccumulationGuard Accumulation { get; }

    public DiscontinuityLocator Discontinuities { get; }

    public TimeEvents Times { get; }

    public EventIteration Iteration { get; }

    public DelayBreaks Breaks { get; }

    public DelayRecorder Delays { get; }

    public SmallStates SmallStates { get; }

    public StateChoiceReview Review { get; }

    /// <summary>What is saved at a pause.</summary>
    public IEnumerable<ISaved> Parts => [Motion.Integrator, Times, Discontinuities, Accumulation];

    /// <summary>The motion goes on from another state: what was known of the step before holds no more.</summary>
    public void ForgetStep()
    {
        Exclusion.Forget();
        Discontinuities.Forget();
    }

    /// <summary>The latest end of the next step for the sake of delays that change.</summary>
    public double StopForDelays()
    {
        var stop = double.PositiveInfinity;
        foreach (var varying in varyingDelays)
            stop = Math.Min(stop, Motion.Integrator.Time + Math.Max(Motion.Model.Value(varying), 1e-4 * Motion.MaximumStep));
        return stop;
    }

    /// <summary>Without states or with watched signals, steps stay short enough not to leap over what happens.</summary>
    static double MaximumStep(Motion motion, bool isWatching, double shortestWave)
    {
        var options = motion.Options;
        var delays = motion.Model.Delays;
        var span = options.End - options.Start;
        var longest = Math.Min(
            Math.Min(isWatching ? span / 50 : span, shortestWave / StepsAWave),
            options.LargestStep ?? double.PositiveInfinity
        );
        for (var d = 0; d < delays.Length; d++)
            if (motion.Plan.Model.Delays[d].Varying < 0)
                longest = Math.Min(longest, delays[d].Duration);
        return longest;
    }

    public void Dispose() => Motion.Dispose();
}
