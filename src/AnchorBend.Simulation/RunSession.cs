using System.Globalization;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Terms;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Simulation;

/// <summary>Where a session was: its state, and how much it had recorded.</summary>
public sealed record SavedRun(RunState State, int Rows, int Events, int Changes, RunScript Script)
{
    public double Time => State.Time;
}

/// <summary>
/// A run under way, the one way to run a model: started, advanced to its end or step by step, given other values, saved, gone back to and
/// branched. One thread at a time uses it; what it has recorded may be read meanwhile. What is done to it from outside is kept as a
/// <see cref="RunScript"/>, by which it can be made again.
/// </summary>
public sealed class RunSession : IDisposable
{
    readonly RunRecord record;
    readonly RunOptions options;
    readonly List<RunEvent> changes = [];

    Simulator simulator;

    readonly List<StepStops> stops = [];
    readonly List<SetValue> values = [];
    bool isExact = true;
    PauseReason reason;

    /// <summary>Values of the script that have not had their turn.</summary>
    readonly Queue<SetValue> scripted = [];

    /// <param name="parameters">Values of the model's parameters, or others of the same structure.</param>
    /// <exception cref="ArgumentException">The options contradict each other.</exception>
    public RunSession(PreparedModel prepared, ParameterSet parameters, RunOptions options)
    {
        options = this.options = options with { Outside = new OutsideUnits(options.Given) };
        (Prepared, Parameters) = (prepared, parameters);
        record = Simulator.RecordOf(prepared.Compiled!, options);
        simulator = Simulator.Recording(prepared.Compiled!, parameters, options, record);
        Follow(options.Script);
    }

    RunSession(PreparedModel prepared, ParameterSet parameters, RunOptions options, RunRecord record, RunState state)
    {
        options = this.options = options with { Outside = new OutsideUnits(options.Given) };
        (Prepared, Parameters, this.record) = (prepared, parameters, record);
        simulator = Simulator.Restore(prepared.Compiled!, parameters, options, state, record);
        simulator.Publish();
    }

    /// <summary>A run that goes on from a saved state of the same model.</summary>
    /// <param name="parameters">May differ from those of the run that was saved: the change acts like an event.</param>
    /// <exception cref="InvalidDataException">The state belongs to another model.</exception>
    public static RunSession From(PreparedModel prepared, ParameterSet parameters, RunOptions options, RunState state)
    {
        var session = new RunSession(prepared, parameters, options, Simulator.RecordOf(prepared.Compiled!, options), state)
        {
            HasStarted = true,
        };
        session.Follow(options.Script);
        return session;
    }

    /// <summary>Does what a script says from here on.</summary>
    void Follow(RunScript? script)
    {
        if (script is null)
            return;
        stops.AddRange(script.Stops);
        isExact = script.IsExact;
        foreach (var value in script.Values)
            scripted.Enqueue(value);
    }

    /// <summary>The model with its values as they are now.</summary>
    public PreparedModel Prepared { get; private set; }

    public ParameterSet Parameters { get; private set; }

    public RunOptions Options => options;

    /// <summary>The time that the run has reached, s.</summary>
    public double Time => simulator.Time;

    public Trace Trace => record.Trace;

    /// <summary>What the code has counted so far, where it counts.</summary>
    public Tally Tally() => simulator.Tally();

    /// <summary>Why the run cannot go on; null while it can.</summary>
    public SimulationFailure? Failure { get; private set; }

    /// <summary>Whether it is at its end or cannot go on.</summary>
    public bool IsOver => Failure is not null || Time >= options.End;

    /// <summary>Runs on to the first of the wanted places, its end or a failure.</summary>
    /// <param name="cancellation">Ends the run for good.</param>
    /// <param name="progress">Told the simulated time now and then.</param>
    /// <param name="asked">Looked at after every step; true pauses between two steps.</param>
    public PauseReason Advance(
        PauseAt at,
        CancellationToken cancellation = default,
        Action<double>? progress = null,
        Func<bool>? asked = null
    )
    {
        if (Failure is not null)
            return PauseReason.Failure;
        if (HasStarted && IsOver)
            return PauseReason.End;
        if (double.IsFinite(at.Time) && at.Time > Time && at.Time < NextStop)
            StopAt(null, at.Time);
        double stop;
        do
        {
            if (NotToBeSet(cancellation) is { } unset)
            {
                Failure = unset;
                return PauseReason.Failure;
            }

            HasStarted = true;
            stop = scripted.TryPeek(out var next) ? Math.Min(NextStop, next.Time ?? Time) : NextStop;
            reason = simulator.Play(at with { Time = Math.Min(at.Time, stop) }, out var failure, cancellation, progress, asked);
            Failure = failure;
            if (Time == stop && options.OutputTimes is null)
                RecordNow();
        } while (reason == PauseReason.Time && Time < Math.Min(at.Time, options.End));

        isExact &= reason != PauseReason.Condition;
        return reason;
    }

    /// <summary>Where a step of the run ends next in any case, s.</summary>
    public double NextStop
    {
        get
        {
            var time = Time;
            var stretch = stops.FindLast(s => s.From <= time);
            return stretch?.Next(time) ?? double.PositiveInfinity;
        }
    }

    /// <summary>From now on steps end at other instants.</summary>
    /// <param name="every">Distance of the instants, s; null for none.</param>
    /// <param name="until">One more instant, s; null for none.</param>
    public void StopAt(double? every, double? until)
    {
        var time = Time;
        stops.RemoveAll(s => s.From >= time);
        stops.Add(new StepStops(time, every, until is { } end && double.IsFinite(end) ? end : null));
    }

    /// <summary>What was done to the run so far, and what is yet to be done to it.</summary>
    public RunScript Script => new([.. stops], [.. values, .. scripted]) { IsExact = isExact };

    /// <summary>Sets what the script wants now.</summary>
    /// <returns>Why a value cannot be set; null where all could.</returns>
    SimulationFailure? NotToBeSet(CancellationToken cancellation)
    {
        while (scripted.TryPeek(out var next) && (next.Time is not { } due || HasStarted && due <= Time))
        {
            if (cancellation.IsCancellationRequested)
                return RunWatch.Canceled(Time);
            scripted.Dequeue();
            var parameter = Prepared.Find(next.Parameter);
            var value = parameter is null ? null : next.In(parameter.Unit);
            // What it is as the run begins may be what the model says.
            if (!HasStarted && parameter is not null && Parameters.Values[parameter.Index] == value)
                continue;
            var told = $"{next.Value:G6}{(next.Unit is null ? "" : " " + next.Unit)}";
            if (value is null || !Set(parameter!.Name, value.Value))
                return new SimulationFailure(
                    "script",
                    $"{parameter?.Name ?? next.Parameter} cannot be set to {told} in a run.",
                    parameter?.Owner ?? "",
                    null,
                    Time,
                    "Take its track out of the stimulus, or drive the run by the model's own sources."
                );
        }

        return null;
    }

    /// <summary>What the stop said that it paused at last; null where it was none.</summary>
    public string? StoppedBy => simulator.StoppedBy;

    /// <summary>Whether a start was looked for.</summary>
    public bool HasStarted { get; private set; }

    /// <summary>Records what all variables are now, if the run has not done so by itself: it pauses here.</summary>
    public void RecordNow() => simulator.RecordNow();

    /// <summary>
    /// Another value of a parameter from this instant on: the change acts like an event, and the trace has both sides of it.
    /// </summary>
    /// <param name="parameter">Its name in the flat model.</param>
    /// <param name="value">In its own unit.</param>
    /// <param name="told">The value as it was typed.</param>
    /// <returns>False where the model would have other equations or break a limit with it; nothing has changed then.</returns>
    public bool Set(string parameter, double value, string? told = null)
    {
        if (ValueChange.Apply(Prepared, [(parameter, value)]) is not { } changed)
            return false;
        var parameters = new ParameterSet(changed.Model);
        var time = Time;
        var constants = record.Trace.Constants ?? new RunConstants([(0, Parameters.Values)]);
        if (HasStarted)
        {
            // A step that ended by itself ends elsewhere once the next instant is known before.
            isExact &= time <= options.Start || reason is PauseReason.Time or PauseReason.Tick;
            if (options.OutputTimes is null)
                RecordNow();
            var state = simulator.Save();
            record.Trace.Constants = constants.With(record.Trace.Rows, parameters.Values);
            var next = Simulator.Restore(changed.Compiled!, parameters, options, state, record);
            next.Publish();
            simulator.Dispose();
            simulator = next;
        }
        else
        {
            simulator.Dispose();
            record.Trace.Constants = constants.With(0, parameters.Values);
            simulator = Simulator.Recording(changed.Compiled!, parameters, options, record);
        }

        (Prepared, Parameters) = (changed, parameters);
        values.Add(new SetValue(HasStarted ? time : null, parameter, value));
        var part = Prepared.Map.Around(parameter) is { } place ? Prepared.Map.NameOf(place.Path) ?? "" : "";
        changes.Add(
            new RunEvent(time, part, $"{parameter} = {told ?? value.ToString("G6", CultureInfo.InvariantCulture)}") { IsChange = true }
        );
        return true;
    }

    /// <summary>Saves where the run is.</summary>
    public SavedRun Save()
    {
        RecordNow();
        return new SavedRun(simulator.Save(), record.Trace.Rows, record.Log.Events.Count, changes.Count, Script);
    }

    /// <summary>Another run that has been the same up to a state and goes on from it by itself.</summary>
    /// <param name="saved">A state of this run.</param>
    /// <exception cref="InvalidDataException">It is a state of another model.</exception>
    public RunSession Branch(SavedRun saved)
    {
        var state = saved.State;
        var before = Simulator.RecordOf(Prepared.Compiled!, options);
        for (var row = 0; row < saved.Rows; row++)
            before.Trace.Copy(record.Trace, row);
        before.Trace.Constants = record.Trace.Constants?.Before(saved.Rows);
        before.Start = record.Start;
        var parameters = state.Parameters.AsSpan().SequenceEqual(Parameters.Values)
            ? Parameters
            : ParameterSet.Of(Prepared.Model, state.Parameters);
        var branch = new RunSession(Prepared, parameters, options, before, state) { HasStarted = true };
        branch.stops.AddRange(saved.Script.Stops);
        branch.values.AddRange(saved.Script.Values.Where(v => !(v.Time > saved.Time)));
        branch.isExact = saved.Script.IsExact;
        foreach (var later in saved.Script.Values.Where(v => v.Time > saved.Time))
            branch.scripted.Enqueue(later);
        branch.changes.AddRange(changes.Take(saved.Changes));
        branch.earlier.AddRange(earlier.Concat(record.Log.Events.Take(saved.Events)));
        return branch;
    }

    readonly List<RunEvent> earlier = [];

    /// <summary>Events so far in their order, values that were set among them.</summary>
    public IReadOnlyList<RunEvent> Events => [.. earlier.Concat(record.Log.Events).Concat(changes).OrderBy(e => e.Time)];

    /// <summary>What the run has left so far.</summary>
    public RunResult Result() =>
        simulator.Result(Failure) with
        {
            Events = Events,
            Script = Script is { Stops.Count: 0, Values.Count: 0 } ? null : Script,
        };

    /// <summary>Gives back what the run computes with; the trace stays.</summary>
    public void Dispose()
    {
        simulator.Dispose();
        options.Outside?.Dispose();
    }
}
