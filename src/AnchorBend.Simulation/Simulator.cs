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
public sealed unsafe class Simulator : IDisposable
{
    readonly RunOptions options;
    readonly Trace trace;
    readonly RunWatch watch;
    readonly RunProfile profile = new();
    readonly EventLog log;
    readonly OutputRecorder output;
    readonly ChatteringGuard chattering;
    readonly EventSpacing spacing = new();
    readonly EventHandling events;

    Stretch stretch;
    TickSchedule ticks;
    IReadOnlyList<StartEntry> start = [];
    IntegrationCounts countsBefore;
    long stateEvents,
        timeEvents,
        stateChanges;
    bool started;

    public Simulator(CompiledPlan compiled, ParameterSet parameters, RunOptions options)
    {
        if (options.Problem() is { } problem)
            throw new ArgumentException(problem, nameof(options));
        this.options = options;
        trace = new Trace(options.Keep ?? [.. Recordable(compiled.Plan)]);
        watch = new RunWatch(options, trace, () => Time);
        (log, chattering) = (new EventLog(profile), new ChatteringGuard(options));
        output = new OutputRecorder(options, trace, watch);
        events = new EventHandling(log, output, chattering, spacing);
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
        log.Follow(stretch.Motion);
        output.Follow(stretch.Motion);
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
        // Derivatives are made and compiled when a method first asks for them.
        using var work = WorkBudget.Begin(cancellation);
        var failure = Failing(cancellation, progress, () =>
        {
            while (Time < options.End)
                Advance(options.End);
            output.RecordUpTo(options.End, true, stretch.Times.Next);
            trace.Finish();
        });
        return new RunResult(trace, Statistics(), log.Events, failure) { Start = start };
    }

    /// <summary>Runs on until a time, exactly, and pauses there; <see cref="Run"/> or another pause goes on from it.</summary>
    /// <returns>Why the run ended before; null when it paused or reached its end.</returns>
    public SimulationFailure? RunUntil(double time, CancellationToken cancellation = default) => Failing(cancellation, null, () =>
        {
            while (Time < Math.Min(time, options.End))
                Advance(Math.Min(time, options.End));
            // All values at the pause, as a run that goes on from it finds them.
            Motion.TakeState();
            Motion.Evaluate(Time, EvaluationMode.Outputs);
        });

    SimulationFailure? Failing(CancellationToken cancellation, Action<double>? progress, Action work)
    {
        watch.Begin(cancellation, progress);
        try
        {
            if (!started)
                Start();
            started = true;
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
            return StepCollapse.Of(e, Motion, chattering, log.Last);
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
            EventsByPart = profile.Events(),
            Limits = profile.Limits(Motion.Plan),
            WorkSource = WorkSource(),
            States = Model.StateCount,
            Equations = Motion.Plan.Blocks.Count,
            RunSeconds = watch.Seconds,
        };

    void Start()
    {
        Model.FromLeft = false;
        if (StateSelection.AtStart(Motion) is { } other)
        {
            var parameters = Model.Parameters;
            stretch.Dispose();
            Begin(other, new ModelInstance(other, parameters));
        }

        Integrator.Restart(options.Start, Model.States);
        Model.Memory[FlatModel.InitialFlagIndex] = 1;
        InitialiseDiscretes();
        SolveStart();
        Model.Memory[FlatModel.InitialFlagIndex] = 1;
        stretch.Iteration.Iterate(options.Start, true);
        Motion.ThrowIfNotFinite(options.Start);
        log.CheckAssertions(options.Start);
        ReconsiderStates();
        if (options.Start >= ticks.Next)
            events.TakeTicks(options.Start, stretch, ticks);
        Integrator.Restart(options.Start, Model.States);
        EventHandling.Plan(options.Start, stretch, ticks);
        output.Record(options.Start);
        output.PlanAfter(options.Start);
    }

    /// <summary>Everything at the present states, as at rest: delayed signals begin with their source's first value, which may itself be a
    /// delayed one.</summary>
    void InitialiseDiscretes()
    {
        for (var pass = 0; pass < 1 + Model.Delays.Length; pass++)
        {
            Motion.Evaluate(options.Start, EvaluationMode.Event);
            Model.InitialiseDelays(options.Start);
        }
    }

    void SolveStart()
    {
        var (plan, layout) = (Motion.Plan, Motion.Compiled.Layout);
        var solver = new StartSolver(Model, options, () =>
        {
            for (var pass = 0; pass < 3; pass++)
            {
                InitialiseDiscretes();
                for (var i = 0; i < plan.Discretes.Length; i++)
                    Model.Memory[layout.PreviousBase + i] = Model.Memory[plan.Discretes[i]];
            }
        });
        if (solver.IsNeeded)
        {
            Model.Memory[FlatModel.InitialFlagIndex] = 0;
            solver.Solve();
        }

        start = solver.Report();
    }

    /// <summary>Makes the start only.</summary>
    /// <returns>The values of all variables of the model then, by index.</returns>
    /// <exception cref="SimulationException">There is no consistent start.</exception>
    public double[] ValuesAtStart()
    {
        Start();
        return [.. Motion.Plan.Model.Variables.Select(v => Model.Value(v.Index))];
    }

    /// <summary>One step, and the event that ends it, if one does.</summary>
    void Advance(double end)
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
            return;
        profile.Step(integrator, motion.Plan);
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
                return;
            }

            isStateEvent = who >= 0;
            if (isStateEvent)
            {
                time = crossing;
                log.Note(crossing, motion.Compiled.StateRelations[who]);
                here.Accumulation.Note(who, crossing);
            }
        }

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
            return;
        }

        stateEvents += isStateEvent ? 1 : 0;
        timeEvents += isTimeEvent ? 1 : 0;
        events.Handle(time, isStateEvent, here, ticks);
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

    /// <summary>Saves the state of a run that has started. Going on from it, here or restored, gives the same bits.</summary>
    public RunState Save()
    {
        using var stream = new MemoryStream();
        using (var writer = new BinaryWriter(stream))
            Transfer(new StateArchive(writer));
        return new RunState(Time, Motion.Plan.Reduced?.Dummies ?? [], [.. Model.Parameters.Values], stream.ToArray());
    }

    /// <summary>A run that goes on from a saved state of the same model.</summary>
    /// <param name="parameters">May differ from those of the run that was saved: the change acts like an event at the pause.</param>
    /// <exception cref="InvalidDataException">The state belongs to another model.</exception>
    public static Simulator Restore(CompiledPlan compiled, ParameterSet parameters, RunOptions options, RunState state)
    {
        if (state.Parameters.Length != parameters.Values.Length)
            throw new InvalidDataException("The saved run belongs to another model.");
        var chosen =
            state.Choice.Length == 0
                ? compiled
                : compiled.ForChoice(state.Choice) ?? throw new InvalidDataException("The saved run belongs to another model.");
        var simulator = new Simulator(chosen, parameters, options);
        try
        {
            using var reader = new BinaryReader(new MemoryStream(state.Content));
            simulator.Transfer(new StateArchive(reader));
            if (reader.BaseStream.Position != reader.BaseStream.Length)
                throw new InvalidDataException("The saved run belongs to another model.");
        }
        catch (Exception e) when (e is EndOfStreamException or InvalidDataException or IndexOutOfRangeException or OverflowException)
        {
            simulator.Dispose();
            throw new InvalidDataException("The saved run belongs to another model or to other settings.");
        }

        simulator.started = true;
        if (!state.Parameters.AsSpan().SequenceEqual(parameters.Values))
            simulator.ParametersChanged();
        simulator.output.PlanAfter(simulator.Time);
        simulator.output.Fill(simulator.Time);
        return simulator;
    }

    void Transfer(StateArchive archive)
    {
        // The sizes first: a state of another model must not be read into this one.
        var flat = Motion.Plan.Model;
        var shape =
            $"{flat.Variables.Count} {Motion.Compiled.Layout.HoistBase} {Model.StateCount} {Model.Delays.Length} "
            + $"{flat.Clocks.Count} {options.Method}";
        var found = shape;
        archive.Transfer(ref found);
        if (found != shape)
            throw new InvalidDataException("The saved run belongs to another model or method.");
        Model.Transfer(archive);
        Integrator.Transfer(archive);
        ticks.Transfer(archive);
        archive.Transfer(ref stateEvents);
        archive.Transfer(ref timeEvents);
        archive.Transfer(ref stateChanges);
        stretch.Times.Transfer(archive);
        chattering.Transfer(archive);
        spacing.Transfer(archive);
        stretch.Discontinuities.Transfer(archive);
        stretch.Accumulation.Transfer(archive);
        // What the step before showed is learnt anew on both sides.
        stretch.ForgetStep();
    }

    /// <summary>Other parameters from here on.</summary>
    void ParametersChanged()
    {
        var time = Time;
        Motion.TakeState();
        ticks = Ticks(Model.Parameters, Math.BitIncrement(time));
        stretch.Times.ForgetTables();
        Model.FromLeft = false;
        stretch.Iteration.Iterate(time, false);
        Motion.ThrowIfNotFinite(time);
        Integrator.Restart(time, Model.States);
        EventHandling.Plan(time, stretch, ticks);
    }

    public void Dispose() => stretch.Dispose();
}
