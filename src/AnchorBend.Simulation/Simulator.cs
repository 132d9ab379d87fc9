using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using AnchorBend.Numerics;
using AnchorBend.Numerics.Integration;
using AnchorBend.Simulation.Events;
using AnchorBend.Simulation.Recording;
using AnchorBend.Simulation.Stepping;

namespace AnchorBend.Simulation;

/// <summary>
/// Runs a compiled plan: consistent start, steps, events located on the interpolant, sample ticks, recording. One simulator makes one run;
/// the same inputs give the same bits.
/// </summary>
public sealed unsafe partial class Simulator : IDisposable
{
    readonly RunOptions options;
    readonly RunRecord record;
    readonly RunWatch watch;
    readonly OutputRecorder output;
    readonly ChatteringGuard chattering;
    readonly EventSpacing spacing = new();
    readonly EventHandling events;
    readonly OutsideUnits outside;

    Stretch stretch;
    TickSchedule ticks;
    PauseCondition? pausing;
    IntegrationCounts countsBefore;
    long stateEvents,
        timeEvents,
        stateChanges;
    bool started;

    public Simulator(CompiledPlan compiled, ParameterSet parameters, RunOptions options)
        : this(compiled, parameters, options, null) { }

    /// <param name="earlier">What the run has left so far, where it goes on.</param>
    Simulator(CompiledPlan compiled, ParameterSet parameters, RunOptions options, RunRecord? earlier)
    {
        if (options.Problem() is { } problem)
            throw new ArgumentException(problem, nameof(options));
        this.options = options;
        record = earlier ?? RecordOf(compiled, options);
        outside = options.Outside ?? new OutsideUnits(options.Given);
        watch = new RunWatch(options, record, () => Time);
        chattering = new ChatteringGuard(options);
        output = new OutputRecorder(options, record.Trace, watch);
        events = new EventHandling(record.Log, output, chattering, spacing);
        if (options.From is { } from)
            parameters = parameters.StartingAt(compiled.Plan.Model, from.Values);
        Begin(compiled, new ModelInstance(compiled, parameters));
        ticks = Ticks(parameters, options.Start);
    }

    Motion Motion => stretch.Motion;

    Integrator Integrator => stretch.Motion.Integrator;

    ModelInstance Model => stretch.Motion.Model;

    /// <summary>The time the run has reached.</summary>
    public double Time => Integrator.Time;

    /// <summary>Goes on with a plan and its instance.</summary>
    [System.Diagnostics.CodeAnalysis.MemberNotNull(nameof(stretch))]
    void Begin(CompiledPlan compiled, ModelInstance model)
    {
        stretch = new Stretch(new Motion(compiled, model, options), chattering, spacing, stretch?.Discontinuities.Patience);
        model.Outside = outside;
        record.Log.Follow(stretch.Motion);
        output.Follow(stretch.Motion);
        pausing = null;
    }

    TickSchedule Ticks(ParameterSet parameters, double from)
    {
        var evaluator = new TermEvaluator(i => parameters.Values[i]);
        return new TickSchedule([.. Motion.Plan.Model.Clocks.Select(c => Clock(c, evaluator))], from);
    }

    static (double, double) Clock(SampleClock clock, TermEvaluator evaluator)
    {
        var interval = evaluator.Evaluate(clock.Interval);
        if (interval > 0 && double.IsFinite(interval))
            return (evaluator.Evaluate(clock.Start), interval);
        throw new SimulationException(
            new SimulationFailure(
                "clock",
                $"The sample time is {interval:R} s, but must be positive.",
                clock.Owner,
                null,
                0,
                "Set a positive sample time."
            )
        );
    }

    static IEnumerable<int> Recordable(ExecutionPlan plan) =>
        plan
            .Model.Variables.Where(v =>
                plan.Representative[v.Index] == v.Index && v.Role is VariableRole.Continuous or VariableRole.Discrete
            )
            .Select(v => v.Index);

    /// <summary>Runs to the end, a failure or a cancellation; what was recorded up to then is in the result.</summary>
    /// <param name="progress">Told the simulated time now and then.</param>
    public RunResult Run(CancellationToken cancellation = default, Action<double>? progress = null)
    {
        Play(new PauseAt(), out var failure, cancellation, progress);
        return Result(failure);
    }

    /// <summary>What the run has left so far.</summary>
    internal RunResult Result(SimulationFailure? failure) =>
        new(record.Trace, Statistics(), record.Log.Events, failure) { Start = record.Start };

    /// <summary>Runs on until a time, exactly, and pauses there; <see cref="Run"/> or another pause goes on from it.</summary>
    /// <returns>Why the run ended before; null when it paused or reached its end.</returns>
    public SimulationFailure? RunUntil(double time, CancellationToken cancellation = default)
    {
        Play(new PauseAt { Time = time }, out var failure, cancellation);
        return failure;
    }

    /// <summary>Runs on to the first of the wanted places. Rows recorded up to there can be read from then on.</summary>
    /// <param name="progress">Told the simulated time now and then.</param>
    /// <param name="asked">Looked at after every step; true pauses between two steps.</param>
    internal PauseReason Play(
        PauseAt at,
        out SimulationFailure? failure,
        CancellationToken cancellation = default,
        Action<double>? progress = null,
        Func<bool>? asked = null
    )
    {
        var reason = PauseReason.End;
        // Derivatives are made and compiled when a method first asks for them.
        using var work = WorkBudget.Begin(cancellation);
        failure = Failing(cancellation, progress, () =>
        {
            reason = PlayOn(at, asked);
            if (Time >= options.End)
            {
                output.RecordUpTo(options.End, true, stretch.Times.Next);
                record.Trace.Finish();
                reason = PauseReason.End;
                return;
            }

            // All values at the pause, as a run that goes on from it finds them.
            Motion.TakeState();
            Motion.Evaluate(Time, EvaluationMode.Outputs);
        });
        pausing = null;
        record.Trace.Publish();
        return failure is null ? reason : PauseReason.Failure;
    }

    PauseReason PlayOn(PauseAt at, Func<bool>? asked)
    {
        var tick = at.Clock is not { } clock ? double.PositiveInfinity : ticks.NextOf(clock);
        var end = Math.Min(Math.Min(at.Time, tick), options.End);
        var before = stateEvents + timeEvents;
        if (at.Stops.Count > 0)
            Watch(at.Stops);
        while (Time < end)
        {
            if (at.Stops.Count > 0 && pausing is null)
                Watch(at.Stops);
            if (Advance(end))
            {
                StoppedBy = pausing?.Met?.What;
                return PauseReason.Condition;
            }

            if (at.Event && stateEvents + timeEvents > before)
                return PauseReason.Event;
            if (asked is not null && asked())
                return PauseReason.Asked;
        }

        return Time >= tick ? PauseReason.Tick : PauseReason.Time;
    }

    /// <summary>What the stop said that the run paused at last.</summary>
    public string? StoppedBy { get; private set; }

    void Watch(IReadOnlyList<Stop> stops)
    {
        pausing = new PauseCondition(stops, Motion);
        pausing.Begin();
    }

    SimulationFailure? Failing(CancellationToken cancellation, Action<double>? progress, Action work)
    {
        watch.Begin(cancellation, progress);
        try
        {
            Begin();
            work();
            return null;
        }
        catch (SimulationException e)
        {
            return e.Failure;
        }
        catch (StepCollapseException e)
        {
            Motion.TakeState();
            return StepCollapse.Of(e, Motion, chattering, record.Log.Last);
        }
        catch (OperationCanceledException)
        {
            return RunWatch.Canceled(Time);
        }
        catch (BudgetException e)
        {
            return new SimulationFailure(e.Error.Code, e.Error.Message, "", null, Time, e.Error.Suggestion ?? "");
        }
        catch (IOException e)
        {
            return new SimulationFailure(
                "trace-file",
                $"The traces cannot be written at {Time:G6} s: {e.Message}",
                "",
                null,
                Time,
                "Make room in the folder for temporary files, or record fewer points."
            );
        }
        finally
        {
            watch.Pause();
        }
    }

    Func<IReadOnlyList<PartShare>> WorkSource()
    {
        var (made, model) = (Motion.Compiled, Model);
        double[] iterations = [.. Enumerable.Range(0, made.Loops.Length).Select(model.IterationsOf)];
        return () => RunProfile.Work(made, l => iterations[l]);
    }

    IntegrationCounts Counts => Integrator.Counts.Plus(countsBefore);

    RunStatistics Statistics() =>
        new()
        {
            Method = MethodDescription.Of(options.Method).Name,
            Steps = Counts.Steps,
            Rejected = Counts.Rejected,
            Evaluations = Counts.Evaluations,
            Jacobians = Counts.Jacobians,
            Factorizations = Counts.Factorizations,
            NewtonFailures = Counts.NewtonFailures,
            StateChanges = stateChanges,
            ImplicitSteps = Integrator is AutomaticIntegrator automatic ? automatic.ImplicitSteps : 0,
            Switches = (Integrator as AutomaticIntegrator)?.Switches ?? [],
            Events = stateEvents + timeEvents,
            StateEvents = stateEvents,
            TimeEvents = timeEvents,
            SmallStates = [.. stretch.SmallStates.Remaining.Select(s => Motion.Plan.Model.NameOf(Motion.Plan.States[s]))],
            EventsByPart = record.Profile.Events(),
            Limits = record.Profile.Limits(Motion.Plan),
            WorkSource = WorkSource(),
            States = Model.StateCount,
            Equations = Motion.Plan.Blocks.Count,
            RunSeconds = watch.Seconds,
        };

    /// <summary>One step, and the event that ends it, if one does.</summary>
    /// <returns>Whether the condition that is waited for has come to hold; the run stands at that instant then.</returns>
    bool Advance(double end)
    {
        watch.BeforeStep();
        // One stretch is looked up once: this is the innermost loop of a run.
        var here = stretch;
        var (motion, integrator) = (here.Motion, here.Motion.Integrator);
        var stop = StopOf(here, end);
        motion.Model.FromLeft = true;
        motion.Model.StepStart = integrator.Time;
        motion.Model.KeepLoopSolutions();
        here.Discontinuities.BeforeStep();
        integrator.Step(stop);
        if (here.Discontinuities.WentOver())
            return false;
        record.Profile.Step(integrator, motion.Plan);
        if (here.SmallStates.Count > 0)
            here.SmallStates.Look(integrator.State);
        var time = integrator.Time;
        var isStateEvent = false;
        if (here.Indicators.Watched.Length > 0)
        {
            var (crossing, who) = here.Crossings.First(out var mustRepeat);
            if (mustRepeat)
            {
                MakeAgain(here);
                return false;
            }

            isStateEvent = who >= 0;
            if (isStateEvent)
            {
                time = crossing;
                record.Log.Note(crossing, motion.Compiled.StateRelations[who]);
                here.Accumulation.Note(who, crossing);
            }
        }

        if (pausing?.Within(time) is { } instant && instant < time)
        {
            StandAt(instant, here);
            return true;
        }

        var isReached = pausing?.Holds == true;

        motion.Model.FromLeft = true;
        output.RecordUpTo(time, false, here.Times.Next);
        here.Delays.Append(time);
        var isTimeEvent = time >= here.Times.Next;
        if (isStateEvent)
            integrator.Interpolate(time, motion.Model.States);
        else
            motion.TakeState();
        if (!isStateEvent && here.Accumulation.IsSuspicious)
            here.Accumulation.Check(time);
        if (!isStateEvent && !isTimeEvent)
        {
            ReconsiderStates();
            return isReached;
        }

        stateEvents += isStateEvent ? 1 : 0;
        timeEvents += isTimeEvent ? 1 : 0;
        events.Handle(time, isStateEvent, here, ticks);
        return isReached || pausing?.AfterEvent() == true;
    }

    /// <summary>Gives up what lies behind an instant within the last step.</summary>
    void StandAt(double time, Stretch here)
    {
        var (motion, integrator) = (here.Motion, here.Motion.Integrator);
        motion.Model.FromLeft = true;
        output.RecordUpTo(time, false, here.Times.Next);
        here.Delays.Append(time);
        integrator.Interpolate(time, motion.Model.States);
        integrator.Restart(time, motion.Model.States, integrator.NextStep);
        here.ForgetStep();
    }

    /// <summary>Where the next step has to end at the latest.</summary>
    double StopOf(Stretch here, double end)
    {
        var stop = Math.Min(end, Math.Min(here.Times.Next, here.Discontinuities.Stop));
        var integrator = here.Motion.Integrator;
        var meetsOutputs = integrator.BetterAtEnds && !integrator.ChecksDenseOutput && options.OutputTimes is not null;
        if (meetsOutputs && output.Next > integrator.Time)
            stop = Math.Min(stop, output.Next);
        return Math.Min(stop, here.StopForDelays());
    }

    /// <summary>Goes back to where the last step began, to make it in shorter ones.</summary>
    static void MakeAgain(Stretch here)
    {
        var integrator = here.Motion.Integrator;
        integrator.Restart(integrator.StepStart, integrator.StartState, (integrator.Time - integrator.StepStart) / 4);
        here.ForgetStep();
    }

    /// <summary>Goes on with other states from the same point where those would be much better: every variable keeps its value.</summary>
    void ReconsiderStates()
    {
        if (Motion.Plan.Reduced is null || stretch.Review.Better() is not { } other)
            return;
        var (time, step) = (Time, Integrator.NextStep);
        Motion.Evaluate(time, EvaluationMode.Outputs);
        var next = new ModelInstance(other, Model.Parameters);
        next.Continue(Model);
        countsBefore = Counts;
        stretch.Dispose();
        Begin(other, next);
        stateChanges++;
        Model.FromLeft = false;
        Motion.Evaluate(time, EvaluationMode.Outputs);
        Integrator.Restart(time, Model.States, step);
        EventHandling.Plan(time, stretch, ticks);
    }

    /// <summary>What the code has counted so far, in all evaluations; nothing where it does not count. Another choice of states begins
    /// anew.</summary>
    public Tally Tally() => Simulation.Tally.Of(Motion.Compiled, new ReadOnlySpan<double>(Model.Memory, Motion.Compiled.Layout.Size));

    public void Dispose()
    {
        stretch.Dispose();
        // Those of a run go on with the run.
        if (options.Outside is null)
            outside.Dispose();
    }
}
