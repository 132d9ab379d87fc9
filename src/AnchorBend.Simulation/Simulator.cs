using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Terms;
using AnchorBend.Numerics;
using AnchorBend.Numerics.Integration;
using AnchorBend.Simulation.Events;
using AnchorBend.Simulation.Recording;
using Stopwatch = System.Diagnostics.Stopwatch;

namespace AnchorBend.Simulation;

/// <summary>
/// Runs a compiled plan: consistent start, steps, events located on the interpolant, sample ticks, recording. One simulator makes one run;
/// the same inputs give the same bits.
/// </summary>
public sealed unsafe partial class Simulator : IDisposable
{
    /// <summary>Up to this many output times an implicit method steps to each of them.</summary>
    const int FewOutputs = 200;

    readonly RunOptions options;
    readonly Trace trace;
    TickSchedule ticks;
    readonly List<RunEvent> events = [];
    readonly double[] delayPoints,
        delaySources;
    readonly Stopwatch clock = new();
    readonly RunProfile profile = new();
    SmallStates smallStates = null!;

    // What depends on the choice of states, which may change during a run.
    CompiledPlan compiled;
    ExecutionPlan plan;
    ModelInstance model;
    Integrator integrator;
    double[] zeroes = [],
        scratch;
    (int Source, int Index)[] recordPlaces;
    bool recordsStatesOnly,
        delaysStatesOnly;
    IntegrationCounts countsBefore;
    IReadOnlyList<StartEntry> start = [];
    long stateEvents,
        timeEvents;
    int chatterCount;
    double crowdStart;

    public Simulator(CompiledPlan compiled, ParameterSet parameters, RunOptions options)
    {
        if (options.Problem() is { } problem)
            throw new ArgumentException(problem, nameof(options));
        this.options = options;
        trace = new Trace(options.Keep ?? [.. Recordable(compiled.Plan)]);
        SwitchPlan(compiled, new ModelInstance(compiled, parameters));
        var evaluator = new TermEvaluator(i => parameters.Values[i]);
        ticks = new TickSchedule([.. plan.Model.Clocks.Select(c => Clock(c, evaluator))], options.Start);
        (delayPoints, delaySources) = (new double[5 * model.Delays.Length], new double[model.Delays.Length]);
    }

    /// <summary>Goes on with a plan and its instance.</summary>
    [System.Diagnostics.CodeAnalysis.MemberNotNull(
        nameof(compiled),
        nameof(plan),
        nameof(model),
        nameof(integrator),
        nameof(scratch),
        nameof(recordPlaces)
    )]
    void SwitchPlan(CompiledPlan next, ModelInstance instance)
    {
        (compiled, plan, model) = (next, next.Plan, instance);
        var matters = next.StateRelations.Length > 0 ? RelevantRelations.Find(plan, model.Parameters.Values) : [];
        IndexZeros(matters);
        scratch = new double[Math.Max(1, model.StateCount) * 2];
        IndexEvents();
        recordPlaces = RecordPlaces();
        recordsStatesOnly = recordPlaces.All(p => p.Source == 0);
        delaysStatesOnly = plan.Model.Delays.All(d => plan.StateSlot[plan.Representative[d.Source]] >= 0);
        var followsWaves = watchedZeros.Length > 0 || options.IsAdaptive && compiled.Discontinuities.FollowWaves;
        shortestWave = followsWaves
            ? HighestForcingFrequency.Period(plan, model.Parameters.Values, options.Start, options.End)
            : double.PositiveInfinity;
        maximumStep = MaximumStep();
        integrator = IntegratorChoice.Make(model, options, maximumStep, watchedZeros.Length > 0);
        IndexDiscontinuities();
        smallStates = new SmallStates(model, options);
        // Few output times are better met by steps; everything else looks at values within.
        integrator.ChecksDenseOutput =
            options.OutputTimes is not { Count: <= FewOutputs } || watchedZeros.Length > 0 || model.Delays.Length > 0;
    }

    static (double, double) Clock(Modeling.Flat.SampleClock clock, TermEvaluator evaluator)
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

    /// <summary>Steps in one period of the fastest wave that is watched.</summary>
    const double StepsAWave = 6;

    double shortestWave = double.PositiveInfinity,
        maximumStep;

    /// <summary>Without states or with watched signals, steps stay short enough not to leap over what happens.</summary>
    double MaximumStep()
    {
        var span = options.End - options.Start;
        var longest = Math.Min(
            Math.Min(watchedZeros.Length > 0 ? span / 50 : span, shortestWave / StepsAWave),
            options.LargestStep ?? double.PositiveInfinity
        );
        for (var d = 0; d < model.Delays.Length; d++)
            if (plan.Model.Delays[d].Varying < 0)
                longest = Math.Min(longest, model.Delays[d].Duration);
        return longest;
    }

    static IEnumerable<int> Recordable(ExecutionPlan plan) =>
        plan
            .Model.Variables.Where(v =>
                plan.Representative[v.Index] == v.Index
                && v.Role is Modeling.Flat.VariableRole.Continuous or Modeling.Flat.VariableRole.Discrete
            )
            .Select(v => v.Index);

    /// <summary>Runs to the end, a failure or a cancellation; what was recorded up to then is in the result.</summary>
    /// <param name="progress">Told the simulated time now and then.</param>
    public RunResult Run(CancellationToken cancellation = default, Action<double>? progress = null)
    {
        // Derivatives are made and compiled when a method first asks for them.
        using var work = WorkBudget.Begin(cancellation);
        (runCancellation, runProgress) = (cancellation, progress);
        clock.Start();
        var failure = Failing(() =>
        {
            EnsureStarted();
            while (integrator.Time < options.End)
                Advance(cancellation, progress);
            RecordOutputs(options.End, true);
            trace.Finish();
        });
        clock.Stop();
        return new RunResult(trace, Statistics(), events, failure) { Start = start };
    }

    SimulationFailure? Failing(Action work)
    {
        try
        {
            work();
            return null;
        }
        catch (SimulationException e)
        {
            return e.Failure;
        }
        catch (StepCollapseException e)
        {
            return Collapse(e);
        }
        catch (OperationCanceledException)
        {
            return Canceled(integrator.Time);
        }
        catch (BudgetException e)
        {
            return new SimulationFailure(e.Error.Code, e.Error.Message, "", null, integrator.Time, e.Error.Suggestion ?? "");
        }
        catch (IOException e)
        {
            return new SimulationFailure(
                "trace-file",
                $"The traces cannot be written at {integrator.Time:G6} s: {e.Message}",
                "",
                null,
                integrator.Time,
                "Make room in the folder for temporary files, or record fewer points."
            );
        }
    }

    void EnsureStarted()
    {
        if (started)
            return;
        Start();
        started = true;
    }

    Func<IReadOnlyList<PartShare>> WorkSource()
    {
        var made = compiled;
        double[] iterations = [.. Enumerable.Range(0, made.Loops.Length).Select(model.IterationsOf)];
        return () => RunProfile.Work(made, l => iterations[l]);
    }

    IntegrationCounts Counts => integrator.Counts.Plus(countsBefore);

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
            ImplicitSteps = integrator is AutomaticIntegrator automatic ? automatic.ImplicitSteps : 0,
            Switches = (integrator as AutomaticIntegrator)?.Switches ?? [],
            Events = stateEvents + timeEvents,
            StateEvents = stateEvents,
            TimeEvents = timeEvents,
            SmallStates = [.. smallStates.Remaining.Select(s => plan.Model.NameOf(plan.States[s]))],
            EventsByPart = profile.Events(),
            Limits = profile.Limits(plan),
            WorkSource = WorkSource(),
            States = model.StateCount,
            Equations = plan.Blocks.Count,
            RunSeconds = clock.Elapsed.TotalSeconds,
        };

    void Start()
    {
        model.FromLeft = false;
        ChooseStatesAtStart();
        integrator.Restart(options.Start, model.States);
        model.Memory[Modeling.Flat.FlatModel.InitialFlagIndex] = 1;
        InitialiseDiscretes();
        SolveStart();
        model.Memory[Modeling.Flat.FlatModel.InitialFlagIndex] = 1;
        IterateEvent(options.Start, true);
        ThrowIfNotFinite(options.Start);
        CheckAssertions(options.Start);
        ReconsiderStates();
        if (options.Start >= ticks.Next)
            TakeTicks(options.Start);
        integrator.Restart(options.Start, model.States);
        PlanTimeEvents(options.Start);
        Record(options.Start);
        FirstOutputAfter(options.Start);
    }

    /// <summary>Everything at the present states, as at rest: delayed signals begin with their source's first value, which may itself be a
    /// delayed one.</summary>
    void InitialiseDiscretes()
    {
        for (var pass = 0; pass < 1 + model.Delays.Length; pass++)
        {
            model.Evaluate(options.Start, model.States, model.StateDerivatives, EvaluationMode.Event);
            model.InitialiseDelays(options.Start);
        }
    }

    void SolveStart()
    {
        var solver = new StartSolver(model, options, () =>
        {
            for (var pass = 0; pass < 3; pass++)
            {
                InitialiseDiscretes();
                for (var i = 0; i < plan.Discretes.Length; i++)
                    model.Memory[compiled.Layout.PreviousBase + i] = model.Memory[plan.Discretes[i]];
            }
        });
        if (solver.IsNeeded)
        {
            model.Memory[Modeling.Flat.FlatModel.InitialFlagIndex] = 0;
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
        return [.. plan.Model.Variables.Select(v => model.Value(v.Index))];
    }

    void Advance(CancellationToken cancellation, Action<double>? progress, double pause = double.PositiveInfinity)
    {
        if (
            cancellation.IsCancellationRequested
            || (advances++ & WatchMask) == 0 && (advances == 1 || Environment.TickCount64 - lastWatch >= WatchEvery)
        )
            Watch(cancellation, progress);
        var stop = Math.Min(Math.Min(options.End, pause), Math.Min(nextTimeEvent, cornerStop));
        if (integrator.BetterAtEnds && !integrator.ChecksDenseOutput && options.OutputTimes is not null && nextOutputTime > integrator.Time)
            stop = Math.Min(stop, nextOutputTime);
        foreach (var varying in varyingDelays)
            stop = Math.Min(stop, integrator.Time + Math.Max(model.Value(varying), 1e-4 * maximumStep));
        model.FromLeft = true;
        model.StepStart = integrator.Time;
        model.KeepLoopSolutions();
        BeforeDiscontinuities();
        integrator.Step(stop);
        if (WentOverDiscontinuity())
            return;
        profile.Step(integrator, plan);
        if (smallStates.Count > 0)
            smallStates.Look(integrator.State);
        var time = integrator.Time;
        var crossing = watchedZeros.Length > 0 ? FirstCrossing() : double.NaN;
        if (mustRepeat)
        {
            mustRepeat = false;
            return;
        }

        model.FromLeft = true;
        if (!double.IsNaN(crossing))
            time = crossing;
        RecordOutputs(time, false);
        AppendDelays(time);
        var isTimeEvent = time >= nextTimeEvent;
        if (!double.IsNaN(crossing))
        {
            stateEvents++;
            integrator.Interpolate(crossing, model.States);
        }
        else
        {
            double* from = integrator.State,
                to = model.States;
            // A call to copy a few numbers would cost more than copying them.
            var n = model.StateCount;
            if (n > 16)
                new ReadOnlySpan<double>(from, n).CopyTo(new Span<double>(to, n));
            else
                for (var i = 0; i < n; i++)
                    to[i] = from[i];
            if (suspect >= 0)
                CheckAccumulation(time);
            if (!isTimeEvent)
            {
                if (plan.Reduced is not null)
                    ReconsiderStates();
                return;
            }
        }

        if (isTimeEvent)
            timeEvents++;
        HandleEvent(time, !double.IsNaN(crossing));
    }

    /// <summary>Milliseconds between two looks at budgets, where steps take long.</summary>
    const long WatchEvery = 20;

    /// <summary>The clock is read after every eighth step.</summary>
    const long WatchMask = 7;

    long lastWatch,
        advances;

    static SimulationFailure Canceled(double time) =>
        new("canceled", $"The run was stopped at {time:G6} s.", "", null, time, "The traces up to then are kept.");

    CancellationToken runCancellation;
    Action<double>? runProgress;

    void Watch(CancellationToken cancellation, Action<double>? progress)
    {
        lastWatch = Environment.TickCount64;
        progress?.Invoke(integrator.Time);
        var time = integrator.Time;
        if (cancellation.IsCancellationRequested)
            throw new SimulationException(Canceled(time));
        if (clock.Elapsed > options.TimeBudget)
            throw new SimulationException(
                new SimulationFailure(
                    "time-budget",
                    $"The run took longer than {options.TimeBudget.TotalSeconds:G4} s; it reached {time:G6} s.",
                    "",
                    null,
                    time,
                    "Raise the limit, shorten the run, or look for a part that forces tiny steps."
                )
            );
        if (trace.Bytes > options.TraceBudget)
            throw new SimulationException(
                new SimulationFailure(
                    "trace-budget",
                    $"The traces take more than {options.TraceBudget >> 20} MiB; the run reached {time:G6} s.",
                    "",
                    null,
                    time,
                    "Record fewer signals or fewer points."
                )
            );
    }

    SimulationFailure Collapse(StepCollapseException e)
    {
        new ReadOnlySpan<double>(integrator.State, model.StateCount).CopyTo(new Span<double>(model.States, model.StateCount));
        if (model.TrialFailure is { } loop)
            return loop;
        if (e.NotFinite)
        {
            // The culprit shows at the state or a trifle further along the derivative.
            for (var ahead = 0.0; ahead < 1; ahead = ahead == 0 ? 1e-14 : ahead * 10)
            {
                fixed (double* x = scratch)
                {
                    for (var i = 0; i < model.StateCount; i++)
                        x[i] = model.States[i] + ahead * Math.Max(1, Math.Abs(e.Time)) * model.StateDerivatives[i];
                    if (Diagnosis.FirstNotFinite(model, e.Time + ahead * Math.Max(1, Math.Abs(e.Time)), x) is { } found)
                        return found;
                    if (ahead == 0)
                        model.Evaluate(e.Time, model.States, model.StateDerivatives, EvaluationMode.Derivatives);
                }
            }
        }

        if (chatterCount >= 20 && events.Count > 0)
            return new SimulationFailure(
                "chattering",
                $"Events come ever closer at {e.Time:G8} s: {events[^1].What} switches again and again.",
                events[^1].Part,
                null,
                e.Time,
                "Let the motion come to rest below a small speed, or give the switch hysteresis."
            );
        var fastest = 0;
        for (var i = 1; i < model.StateCount; i++)
            if (
                Math.Abs(model.StateDerivatives[i]) / (1e-9 + Math.Abs(model.States[i]))
                > Math.Abs(model.StateDerivatives[fastest]) / (1e-9 + Math.Abs(model.States[fastest]))
            )
                fastest = i;
        var variable = model.StateCount == 0 ? null : plan.Model.Variables[plan.States[fastest]];
        return new SimulationFailure(
            "step-collapse",
            $"The step became too small to go on at {e.Time:G8} s; '{variable?.Name}' changes fastest there.",
            variable?.Owner ?? "",
            variable?.Name,
            e.Time,
            "Look for a value that grows without limit or a jump without an event, or loosen the tolerance."
        );
    }

    void ThrowIfNotFinite(double time)
    {
        // Zero times a number is zero, times anything else it is no number.
        var sum = 0.0;
        foreach (var variable in computed)
            sum += 0 * model.Memory[variable];
        for (var i = 0; i < 2 * model.StateCount; i++)
            sum += 0 * model.States[i];
        if (sum != 0 && Diagnosis.FirstNotFinite(model, time, model.States) is { } failure)
            throw new SimulationException(failure);
    }

    public void Dispose()
    {
        integrator.Dispose();
        model.Dispose();
    }
}
