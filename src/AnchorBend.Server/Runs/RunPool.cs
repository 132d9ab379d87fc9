using System.Collections.Concurrent;
using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Models;
using AnchorBend.Simulation;
using AnchorBend.Verification;

namespace AnchorBend.Server.Runs;

/// <summary>One run: waiting, running or finished, with its traces and verdicts.</summary>
public sealed class RunJob(string id, string modelId, long revision, PreparedModel prepared, ModelDocument document, RunOptions options)
{
    readonly CancellationTokenSource cancellation = new();
    readonly TaskCompletionSource finished = new(TaskCreationOptions.RunContinuationsAsynchronously);

    public string Id => id;

    public string ModelId => modelId;

    public long Revision => revision;

    public PreparedModel Prepared => prepared;

    public RunOptions Options => options;

    public ParameterSet Parameters { get; } = new(prepared.Model);

    public RunResult? Result { get; private set; }

    public IReadOnlyList<Verdict> Verdicts { get; private set; } = [];

    /// <summary>Simulated time reached so far.</summary>
    public double Reached { get; private set; }

    public Task Finished => finished.Task;

    public void Cancel() => cancellation.Cancel();

    internal void Execute(Action<RunJob> progressed)
    {
        try
        {
            using var simulator = new Simulator(prepared.Compiled!, Parameters, options);
            var told = Environment.TickCount64;
            var result = simulator.Run(cancellation.Token, time =>
            {
                Reached = time;
                if (Environment.TickCount64 - told < 100) return;
                told = Environment.TickCount64;
                progressed(this);
            });
            var check = new RequirementCheck(prepared, Parameters, result.Trace, options.Start, options.End);
            Verdicts = [.. document.Requirements.Select(r => check.Check(r.Key, r.Value))];
            Reached = options.End;
            Result = result;
        }
        catch (SimulationException e)
        {
            Result = new RunResult(new Simulation.Recording.Trace([]), new RunStatistics(), [], e.Failure);
        }
        finally
        {
            finished.TrySetResult();
        }
    }
}

/// <summary>Runs on a bounded number of threads; the last few of every model stay for looking at.</summary>
public sealed class RunPool(IHubNotifier notifier)
{
    const int KeptPerModel = 6;

    readonly SemaphoreSlim slots = new(Math.Max(1, Environment.ProcessorCount));
    readonly ConcurrentDictionary<string, RunJob> jobs = new();
    readonly ConcurrentDictionary<string, ConcurrentQueue<string>> order = new();

    public RunJob? Find(string id) => jobs.GetValueOrDefault(id);

    /// <summary>Starts a run of a model's present state. Earlier runs of it that still go on are canceled.</summary>
    /// <exception cref="DocumentException">The model has errors or its settings are wrong.</exception>
    public RunJob Start(ModelSession session)
    {
        var (prepared, document, revision) = session.Prepare();
        if (!prepared.CanRun) throw new DocumentException("The model has errors; see its findings.");
        var job = new RunJob(Guid.NewGuid().ToString("N")[..12], session.Id, revision, prepared, document, DocumentRun.OptionsOf(document) with { TraceBudget = 512 << 20 });
        var queue = order.GetOrAdd(session.Id, _ => new ConcurrentQueue<string>());
        foreach (var earlier in queue)
            if (jobs.TryGetValue(earlier, out var running) && running.Result is null) running.Cancel();
        jobs[job.Id] = job;
        queue.Enqueue(job.Id);
        while (queue.Count > KeptPerModel && queue.TryDequeue(out var old)) jobs.TryRemove(old, out _);
        _ = Task.Run(async () =>
        {
            await slots.WaitAsync();
            try
            {
                job.Execute(j => notifier.Progress(j.ModelId, j.Id, j.Reached / j.Options.End));
            }
            finally
            {
                slots.Release();
            }
        });
        return job;
    }
}

/// <summary>Tells browsers what happened.</summary>
public interface IHubNotifier
{
    void Changed(string modelId, long revision, string? client);

    void Progress(string modelId, string runId, double part);

    /// <summary>A part of the user's package that the model uses has changed.</summary>
    void PartsChanged(string modelId, string part);
}
