using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.People;

namespace AnchorBend.Workbench.Runs;

public enum RunStage
{
    /// <summary>Others go first.</summary>
    Waiting,
    Running,

    /// <summary>It stands at an instant and can go on.</summary>
    Paused,
    Finished,
}

/// <summary>One run: waiting, under way or finished, with its traces and verdicts.</summary>
public sealed class RunJob(string modelId, long revision, PreparedModel prepared, ModelDocument document, RunOptions options) : IDisposable
{
    /// <summary>Between two judgements of a run that goes on, ms.</summary>
    const long LeastBetween = 250;

    readonly CancellationTokenSource cancellation = new();
    readonly TaskCompletionSource finished = new(TaskCreationOptions.RunContinuationsAsynchronously);
    readonly Lock own = new();
    RunSession? session;
    Trace? kept;
    long judgesNext = Environment.TickCount64 + LeastBetween;
    bool isDisposed;

    public string Id { get; init; } = Guid.NewGuid().ToString("N")[..12];

    /// <summary>The set that the run belongs to; null for a run of its own.</summary>
    public string? Set { get; init; }

    /// <summary>The window that asked for it; null where nobody said.</summary>
    public string? Client { get; init; }

    /// <summary>The account it is made for; null where nobody signs in.</summary>
    public string? Account { get; } = Visitor.Current?.Account;

    /// <summary>When it was asked for, in UTC.</summary>
    public DateTime Made { get; init; } = DateTime.UtcNow;

    /// <summary>How it is called in lists: its place among the runs of the model.</summary>
    public int Number { get; init; }

    /// <summary>What people call it and say of it.</summary>
    public RunLabel Label { get; set; } = new("", "", false);

    /// <summary>The file that it was read from; null for a run of the model.</summary>
    public string? Source { get; init; }

    /// <summary>Code that has a part's place in it; null for runs of the model alone.</summary>
    public TargetRun? Target { get; init; }

    /// <summary>The run that it branched off; null for others.</summary>
    public string? BranchOf { get; init; }

    public string ModelId => modelId;

    public long Revision => revision;

    public PreparedModel Prepared => prepared;

    public RunOptions Options => options;

    /// <summary>The model as it was when the run was asked for.</summary>
    public ModelDocument Document => document;

    /// <summary>Values of the parameters at the start.</summary>
    public ParameterSet Parameters { get; init; } = new(prepared.Model);

    /// <summary>Values of the parameters at a time of the run, by index: those that were set by hand count from then on.</summary>
    public double[] ParametersAt(double time) => Trace is { Constants: { } set } trace ? set.At(time, trace) : Parameters.Values;

    public RunResult? Result { get; private set; }

    public IReadOnlyList<Verdict> Verdicts { get; private set; } = [];

    public RunStage State { get; internal set; }

    /// <summary>Simulated time reached so far.</summary>
    public double Reached { get; internal set; }

    public Task Finished => finished.Task;

    internal CancellationToken Canceled => cancellation.Token;

    /// <summary>What has been recorded so far; null before the run has begun.</summary>
    public Trace? Trace => Result?.Trace ?? kept ?? session?.Trace;

    /// <summary>The traces of single quantities that were recovered after the run, by variable.</summary>
    internal Dictionary<int, Trace> Recovered { get; } = [];

    /// <summary>Size of the traces, in memory or not.</summary>
    public long Bytes => Trace?.Bytes ?? 0;

    public void Cancel()
    {
        lock (own)
            if (!isDisposed)
                cancellation.Cancel();
    }

    /// <summary>Begins to compute, on whichever thread goes on with it.</summary>
    internal RunSession Begin()
    {
        session = new RunSession(prepared, Parameters, options);
        State = RunStage.Running;
        return session;
    }

    /// <summary>Goes on from what another run has done so far.</summary>
    internal void Adopt(RunSession branch)
    {
        session = branch;
        (State, Reached) = (RunStage.Paused, branch.Time);
    }

    /// <summary>A run that was made before.</summary>
    internal void Restore(RunResult result, IReadOnlyList<Verdict> verdicts)
    {
        (Result, Verdicts, kept) = (result, verdicts, result.Trace);
        (State, Reached) = (RunStage.Finished, result.Failure?.Time ?? options.End);
        finished.TrySetResult();
    }

    /// <summary>Makes the run on the thread at hand. However it ends, there is a result then.</summary>
    /// <returns>What went wrong in the program itself; null for everything that a model can do.</returns>
    public Exception? Execute(ComputeGate gate, Action<RunJob> progressed)
    {
        WorkFigures.RunFigure? figure = null;
        var unforeseen = Guarded(() =>
        {
            using var lane = gate.Enter(cancellation.Token, Set is null ? Urgency.Interactive : Urgency.Batch);
            figure = WorkFigures.Run(ModelId, Set is not null);
            using var budget = WorkBudget.Begin(cancellation.Token, lane.Checkpoint);
            var reported = Environment.TickCount64;
            using var running = Begin();
            running.Advance(new PauseAt(), cancellation.Token, time =>
            {
                lane.Checkpoint();
                Reached = time;
                Judge(running, mustBe: false);
                if (Environment.TickCount64 - reported < 100)
                    return;
                reported = Environment.TickCount64;
                progressed(this);
            });
            End(running);
        });
        figure?.Ended(Result?.Failure?.Code ?? "finished");
        return unforeseen;
    }

    /// <summary>Judges what there is so far, for a small part of the time that the run itself takes.</summary>
    /// <param name="mustBe">Whether it is judged in any case, as the run stands.</param>
    internal void Judge(RunSession running, bool mustBe)
    {
        if (document.Requirements.Count == 0 || Set is not null || !running.HasStarted)
            return;
        var begins = Environment.TickCount64;
        if (!mustBe && begins < judgesNext)
            return;
        try
        {
            using var count = WorkBudget.BeginCount();
            Verdicts = VerifiedRun.SoFar(running, document);
        }
        catch (Exception e) when (e is OperationCanceledException or BudgetException)
        {
            // The run itself says that it was stopped; what is too much is said at its end.
        }

        judgesNext = Environment.TickCount64 + Math.Max(LeastBetween, 20 * (Environment.TickCount64 - begins));
    }

    /// <summary>The run is over: what it left is judged.</summary>
    internal void End(RunSession running)
    {
        var run = VerifiedRun.Of(running, document);
        Verdicts = run.Verdicts;
        Reached = run.Result.Failure?.Time ?? running.Time;
        Result = run.Result;
        State = RunStage.Finished;
    }

    /// <summary>Does something that may end the run; there is a result if it does.</summary>
    internal Exception? Guarded(Action work)
    {
        Exception? unforeseen = null;
        try
        {
            work();
        }
        catch (SimulationException e)
        {
            Result = Failed(e.Failure);
        }
        catch (OperationCanceledException)
        {
            Result = Failed(
                new SimulationFailure("canceled", "The run was stopped before it began.", "", null, options.Start, "Run the model again.")
            );
        }
        catch (Exception e)
        {
            unforeseen = e;
            Result = Failed(
                new SimulationFailure(
                    "internal",
                    $"The run ended by an error in the program ({e.GetType().Name}) at {Reached:G6} s. It stands in the server's log.",
                    "",
                    null,
                    Reached,
                    "Change the model a little and try again; the model itself is safe."
                )
            );
        }

        if (Result is not null)
        {
            State = RunStage.Finished;
            finished.TrySetResult();
            Target?.Dispose();
        }

        return unforeseen;
    }

    RunResult Failed(SimulationFailure failure) => new(session?.Trace ?? new Trace([]), new RunStatistics(), [], failure);

    /// <summary>Gives back what the traces hold. Who still reads them is told that they are gone.</summary>
    public void Dispose()
    {
        Cancel();
        lock (own)
        {
            if (isDisposed)
                return;
            isDisposed = true;
        }

        // A run that still goes on ends soon; its traces go then.
        _ = finished.Task.ContinueWith(
            _ =>
            {
                Trace?.Dispose();
                foreach (var trace in Recovered.Values)
                    trace.Dispose();
                cancellation.Dispose();
            },
            TaskScheduler.Default
        );
    }
}
