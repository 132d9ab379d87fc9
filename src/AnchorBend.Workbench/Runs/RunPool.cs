using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using Microsoft.Extensions.Logging;

namespace AnchorBend.Workbench.Runs;

/// <summary>
/// Runs of all models. Each begins at once; long ones take turns (<see cref="ComputeGate"/>). The last few of every model stay for looking
/// at, as long as all traces together stay within one budget.
/// </summary>
public sealed class RunPool(INotifications notifier, ComputeGate gate, ILogger<RunPool> logger)
{
    const int KeptPerModel = 6;

    /// <summary>Runs that go on at the same time; more wait.</summary>
    const int MostAtOnce = 24;

    /// <summary>Traces of one run, and of all that are kept, in bytes.</summary>
    const long MostOfOne = 512L << 20,
        MostOfAll = 2L << 30;

    readonly Lock own = new();
    readonly Dictionary<string, RunJob> jobs = [];

    /// <summary>Runs in the order in which they began.</summary>
    readonly List<RunJob> order = [];

    readonly SemaphoreSlim places = new(MostAtOnce);

    public RunJob? Find(string id)
    {
        lock (own)
            return jobs.GetValueOrDefault(id);
    }

    /// <summary>Starts a run of a model's present state. Earlier runs of it that still go on are canceled.</summary>
    /// <exception cref="DocumentException">The model has errors or its settings are wrong.</exception>
    public RunJob Start(ModelSession session, CancellationToken wanted)
    {
        var (prepared, document, revision) = session.Prepare(wanted);
        if (!prepared.CanRun)
            throw new DocumentException("The model has errors; see its findings.");
        var job = new RunJob(Guid.NewGuid().ToString("N")[..12], session.Id, revision, prepared, document, OptionsOf(document));
        lock (own)
        {
            foreach (var earlier in order.Where(j => j.ModelId == session.Id && j.Set is null && j.Result is null))
                earlier.Cancel();
            jobs[job.Id] = job;
            order.Add(job);
            foreach (var old in order.Where(j => j.ModelId == session.Id && j.Set is null).SkipLast(KeptPerModel).ToList())
                Drop(old);
        }

        // A model may have been deleted since it was prepared.
        if (session.IsGone)
            Forget(session.Id);
        logger.LogInformation("Run {Run} of model {Model}, revision {Revision}, begins.", job.Id, job.ModelId, job.Revision);
        _ = Task.Factory.StartNew(() => Execute(job), CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
        return job;
    }

    /// <exception cref="DocumentException">The settings are wrong.</exception>
    public static RunOptions OptionsOf(ModelDocument document) => DocumentRun.OptionsOf(document) with { TraceBudget = MostOfOne };

    /// <summary>Makes a run that belongs to a set on the thread at hand. It stays until the set goes.</summary>
    public void Make(RunJob job)
    {
        lock (own)
        {
            jobs[job.Id] = job;
            order.Add(job);
        }

        Execute(job);
    }

    /// <summary>Drops the runs of a set.</summary>
    public void ForgetSet(string set)
    {
        lock (own)
            foreach (var job in order.Where(j => j.Set == set).ToList())
                Drop(job);
    }

    void Progressed(RunJob job)
    {
        if (job.Set is null)
            notifier.Progress(job.ModelId, job.Id, job.Reached / job.Options.End);
    }

    void Execute(RunJob job)
    {
        places.Wait();
        try
        {
            if (job.Execute(gate, Progressed) is { } unforeseen)
                logger.LogError(
                    unforeseen,
                    "The run {Run} of model {Model}, revision {Revision}, ended by an error of the program.",
                    job.Id,
                    job.ModelId,
                    job.Revision
                );
            KeepBudget();
        }
        finally
        {
            places.Release();
        }
    }

    /// <summary>Drops the oldest finished runs while all traces take too much, those that are not the last of their model first.</summary>
    void KeepBudget()
    {
        lock (own)
        {
            var total = order.Sum(j => j.Bytes);
            var last = order.GroupBy(j => (j.ModelId, j.Set is null)).Select(g => g.Last()).ToHashSet();
            foreach (var job in order.Where(j => j.Result is not null).OrderBy(last.Contains).ToList())
            {
                if (total <= MostOfAll)
                    return;
                total -= job.Bytes;
                Drop(job);
            }
        }
    }

    void Drop(RunJob job)
    {
        jobs.Remove(job.Id);
        order.Remove(job);
        job.Dispose();
    }

    /// <summary>How many runs there are, and what their traces take in bytes.</summary>
    public (int Count, long Bytes) Kept()
    {
        lock (own)
            return (order.Count, order.Sum(j => j.Bytes));
    }

    /// <summary>Ends and drops all runs of a model.</summary>
    public void Forget(string modelId)
    {
        lock (own)
            foreach (var job in order.Where(j => j.ModelId == modelId).ToList())
                Drop(job);
    }
}
