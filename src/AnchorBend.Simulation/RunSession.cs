using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Simulation;

/// <summary>Where a session was: its state, and how much it had recorded.</summary>
public sealed record SavedRun(RunState State, int Rows, int Events, int Changes)
{
    public double Time => State.Time;
}

/// <summary>
/// A run under way, the one way to run a model: started, advanced to its end or step by step, given other values, saved, gone back to and
/// branched. One thread at a time uses it; what it has recorded may be read meanwhile.
/// </summary>
public sealed class RunSession : IDisposable
{
    readonly RunRecord record;
    readonly RunOptions options;
    readonly List<RunEvent> changes = [];

    /// <summary>Values of the parameters at the start.</summary>
    double[] first;
    Simulator simulator;

    /// <param name="parameters">Values of the model's parameters, or others of the same structure.</param>
    /// <exception cref="ArgumentException">The options contradict each other.</exception>
    public RunSession(PreparedModel prepared, ParameterSet parameters, RunOptions options)
    {
        (Prepared, Parameters, this.options, first) = (prepared, parameters, options, parameters.Values);
        record = Simulator.RecordOf(prepared.Compiled!, options);
        simulator = Simulator.Recording(prepared.Compiled!, parameters, options, record);
    }

    RunSession(PreparedModel prepared, ParameterSet parameters, RunOptions options, RunRecord record, RunState state)
    {
        (Prepared, Parameters, this.options, this.record, first) = (prepared, parameters, options, record, parameters.Values);
        simulator = Simulator.Restore(prepared.Compiled!, parameters, options, state, record);
        simulator.Publish();
    }

    /// <summary>The model with its values as they are now.</summary>
    public PreparedModel Prepared { get; private set; }

    public ParameterSet Parameters { get; private set; }

    public RunOptions Options => options;

    /// <summary>The time that the run has reached, s.</summary>
    public double Time => simulator.Time;

    public Trace Trace => record.Trace;

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
        HasStarted = true;
        var reason = simulator.Play(at, out var failure, cancellation, progress, asked);
        Failure = failure;
        return reason;
    }

    /// <summary>What the stop said that it paused at last; null where it was none.</summary>
    public string? StoppedBy => simulator.StoppedBy;

    /// <summary>Whether a start was looked for.</summary>
    public bool HasStarted { get; private set; }

    /// <summary>Records what all variables are now, if the run has not done so by itself: it pauses here.</summary>
    public void RecordNow() => simulator.RecordNow();

    /// <summary>
    /// Other values from this instant on: the change acts like an event, and the trace has both sides of it.
    /// </summary>
    /// <param name="changed">The same model with other values.</param>
    /// <param name="part">Whose value changes, and what is told of it in the list of events.</param>
    /// <exception cref="ArgumentException">The values ask for another plan.</exception>
    public void Set(PreparedModel changed, string part, string what)
    {
        if (changed.Compiled != Prepared.Compiled)
            throw new ArgumentException("The model would have other equations with these values; run it anew.", nameof(changed));
        var parameters = new ParameterSet(changed.Model);
        var time = Time;
        if (HasStarted)
        {
            RecordNow();
            var state = simulator.Save();
            var next = Simulator.Restore(changed.Compiled!, parameters, options, state, record);
            next.Publish();
            simulator.Dispose();
            simulator = next;
        }
        else
        {
            simulator.Dispose();
            simulator = Simulator.Recording(changed.Compiled!, parameters, options, record);
        }

        (Prepared, Parameters) = (changed, parameters);
        set = [.. set, (time, parameters.Values)];
        changes.Add(new RunEvent(time, part, what) { IsChange = true });
    }

    /// <summary>Saves where the run is.</summary>
    public SavedRun Save()
    {
        RecordNow();
        return new SavedRun(simulator.Save(), record.Trace.Rows, record.Log.Events.Count, changes.Count);
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
        before.Start = record.Start;
        var parameters = state.Parameters.AsSpan().SequenceEqual(Parameters.Values)
            ? Parameters
            : ParameterSet.Of(Prepared.Model, state.Parameters);
        var branch = new RunSession(Prepared, parameters, options, before, state) { HasStarted = true };
        branch.changes.AddRange(changes.Take(saved.Changes));
        (branch.first, branch.set) = (first, [.. set.Take(saved.Changes)]);
        branch.earlier.AddRange(earlier.Concat(record.Log.Events.Take(saved.Events)));
        return branch;
    }

    readonly List<RunEvent> earlier = [];

    /// <summary>Values that were set on the way, by the time from which they count; exchanged as a whole, as others read it
    /// meanwhile.</summary>
    volatile (double From, double[] Values)[] set = [];

    /// <summary>Values of the parameters at a time, by index.</summary>
    public double[] ParametersAt(double time)
    {
        var known = set;
        var last = Array.FindLastIndex(known, s => s.From <= time);
        return last >= 0 ? known[last].Values : first;
    }

    /// <summary>Events so far in their order, values that were set among them.</summary>
    public IReadOnlyList<RunEvent> Events => [.. earlier.Concat(record.Log.Events).Concat(changes).OrderBy(e => e.Time)];

    /// <summary>What the run has left so far.</summary>
    public RunResult Result() => simulator.Result(Failure) with { Events = Events };

    /// <summary>Gives back what the run computes with; the trace stays.</summary>
    public void Dispose() => simulator.Dispose();
}
