using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;
using AnchorBend.Workbench.Compute;

namespace AnchorBend.Workbench.Runs;

/// <summary>One run: waiting, running or finished, with its traces and verdicts.</summary>
public sealed class RunJob(string id, string modelId, long revision, PreparedModel prepared, ModelDocument document, RunOptions options)
    : IDisposable
{
    readonly CancellationTokenSource cancellation = new();
    readonly TaskCompletionSource finished = new(TaskCreationOptions.RunContinuationsAsynchronously);
    bool isDisposed;

    public string Id => id;

    /// <summary>The set that the run belongs to; null for a run of its own.</summary>
    public string? Set { get; init; }

    public string ModelId => modelId;

    public long Revision => revision;

    public PreparedModel Prepared => prepared;

    public RunOptions Options => options;

    /// <summary>The model as it was when the run was asked for.</summary>
    public ModelDocument Document => document;

    public ParameterSet Parameters { get; } = new(prepared.Model);

    public RunResult? Result { get; private set; }

    public IReadOnlyList<Verdict> Verdicts { get; private set; } = [];

    /// <summary>Simulated time reached so far.</summary>
    public double Reached { get; private set; }

    public Task Finished => finished.Task;

    /// <summary>Size of the traces, in memory or not.</summary>
    public long Bytes => Result?.Trace.Bytes ?? 0;

    public void Cancel()
    {
        lock (cancellation)
            if (!isDisposed)
                cancellation.Cancel();
    }

    /// <summary>Makes the run on the thread at hand. However it ends, there is a result then.</summary>
    /// <returns>What went wrong in the program itself; null for everything that a model can do.</returns>
    public Exception? Execute(ComputeGate gate, Action<RunJob> progressed)
    {
        Exception? unforeseen = null;
        try
        {
            using var lane = gate.Enter(cancellation.Token);
            using var budget = WorkBudget.Begin(cancellation.Token, lane.Checkpoint);
            var reported = Environment.TickCount64;
            var run = VerifiedRun.Of(prepared, Parameters, options, document, cancellation.Token, time =>
            {
                lane.Checkpoint();
                Reached = time;
                if (Environment.TickCount64 - reported < 100)
                    return;
                reported = Environment.TickCount64;
                progressed(this);
            });
            Verdicts = run.Verdicts;
            Reached = run.Result.Failure?.Time ?? options.End;
            Result = run.Result;
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
        finally
        {
            finished.TrySetResult();
        }

        return unforeseen;
    }

    static RunResult Failed(SimulationFailure failure) => new(new Trace([]), new RunStatistics(), [], failure);

    /// <summary>Gives back what the traces hold. Who still reads them is told that they are gone.</summary>
    public void Dispose()
    {
        Cancel();
        lock (cancellation)
        {
            if (isDisposed)
                return;
            isDisposed = true;
        }

        // A run that still goes on ends soon; its traces go then.
        _ = finished.Task.ContinueWith(
            _ =>
            {
                Result?.Trace.Dispose();
                cancellation.Dispose();
            },
            TaskScheduler.Default
        );
    }
}
