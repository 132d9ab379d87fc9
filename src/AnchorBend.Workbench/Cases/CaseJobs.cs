using AnchorBend.Language;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using Microsoft.Extensions.Logging;

namespace AnchorBend.Workbench.Cases;

/// <summary>Which cases are run.</summary>
public enum CaseChoice
{
    All,

    /// <summary>Those that did not pass the last time, or were never run.</summary>
    Failed,

    /// <summary>Those whose result is out of date, or that were never run.</summary>
    Stale,
}

/// <summary>
/// Runs of cases of all models, each a batch of cases (<see cref="BatchWorkers"/>). Results are kept as they come, so that after a break a
/// run of cases goes on where it was.
/// </summary>
public sealed partial class CaseJobs(
    ICaseStore store,
    OwnPackage package,
    ComputeGate gate,
    BatchWorkers workers,
    INotifications notifications,
    ILogger<CaseJobs> logger
) : IDisposable
{
    /// <summary>Runs of cases that are kept for one model; of older ones those that hold the newest result of a case.</summary>
    const int MostOfModel = 60;

    static readonly TimeSpan MostPreparing = TimeSpan.FromSeconds(30);

    readonly Lock own = new();
    readonly Dictionary<string, (CaseJob Job, Batch Batch)> jobs = [];

    /// <summary>The newest result of each case, by model, without lines and counts.</summary>
    readonly Dictionary<string, Dictionary<string, CaseResult>> newest = [];
    readonly CancellationTokenSource ending = new();
    bool isDisposed;

    sealed class Batch(CaseJobs all, CaseJob job) : IBatch
    {
        public bool HasWork => !all.ending.IsCancellationRequested && job.HasWork;

        public double Priority => 1;

        public double WorkOn(ComputeGate.Lane lane) => all.RunNext(job, lane);
    }

    /// <summary>Goes on with what was running.</summary>
    public void Begin()
    {
        foreach (var stored in store.List(null).Where(s => s.State == SuiteState.Running))
            try
            {
                var document = ModelDocument.FromJson(stored.Document);
                Engage(new CaseJob(stored, RunOf(document, stored.Revision), store.Results(stored.Id)));
            }
            catch (DocumentException e)
            {
                logger.LogWarning(e, "The run {Run} of cases cannot be taken up.", stored.Id);
                store.Put(stored with { State = SuiteState.Stopped });
            }
    }

    CaseRun RunOf(ModelDocument document, long revision) => new(document, d => PartCatalog.Of(d, package.Catalog), revision);

    void Engage(CaseJob job)
    {
        var batch = new Batch(this, job);
        lock (own)
            jobs[job.Stored.Id] = (job, batch);
        workers.Add(batch);
        // Its last case may have been kept, but not that it was the last.
        if (job.State == SuiteState.Running && !job.HasWork)
            Close(job);
    }

    /// <summary>Begins to run cases of a model as it is now; an earlier run of cases of the model that goes on ends.</summary>
    /// <param name="cases">Ids; null for those of the choice.</param>
    /// <exception cref="DocumentException">There are none.</exception>
    public SuiteView Start(ModelSession session, IReadOnlyList<string>? cases, CaseChoice choice, CancellationToken wanted)
    {
        var (present, revision) = session.Present();
        var document = package.Portable(present);
        IEnumerable<string> ids = CaseOrder.Of(document).Select(c => c.Id);
        if (cases is not null)
            ids = cases.FirstOrDefault(c => !document.Cases.ContainsKey(c)) is { } gone
                ? throw new RefusedException(
                    $"There is no case '{DocumentLimits.Short(gone)}' any more.",
                    "Read the cases of the model anew."
                )
                : ids.Where(cases.Contains);
        else if (choice != CaseChoice.All)
        {
            var known = Newest(session.Id);
            ids = ids.Where(i =>
                !known.TryGetValue(i, out var last)
                || (choice == CaseChoice.Failed ? last.Outcome != CaseOutcome.Passed : IsStale(document, document.Cases[i], last))
            );
        }

        List<string> chosen = [.. ids];
        if (chosen.Count == 0)
            throw new DocumentException(
                document.Cases.Count == 0 ? "The model has no cases yet. Add one, or make one of a run."
                : choice == CaseChoice.Failed ? "No case has failed."
                : "Every result is up to date."
            );
        var stored = new StoredSuite(
            Guid.NewGuid().ToString("N")[..12],
            session.Id,
            revision,
            document.ToJson(),
            chosen,
            SuiteState.Running,
            DateTime.UtcNow
        );
        foreach (var earlier in Of(session.Id))
            Leave(earlier);
        store.Put(stored);
        foreach (var old in store.Superseded(session.Id, MostOfModel))
            store.Remove(old);
        // What the cases were prepared from is the document that is kept: they run as they would after a break.
        var job = gate.Run(MostPreparing, wanted, _ => new CaseJob(stored, RunOf(document, revision), []));
        Engage(job);
        logger.LogInformation("{Cases} cases of model {Model}, revision {Revision}, begin.", chosen.Count, session.Id, revision);
        return job.View();
    }

    /// <summary>The model whose cases a run is of; null where it goes on no more.</summary>
    public string? ModelOf(string id)
    {
        lock (own)
            return jobs.TryGetValue(id, out var found) ? found.Job.Stored.ModelId : null;
    }

    /// <exception cref="NotFoundException">There is no such run of cases that goes on.</exception>
    public SuiteView Stop(string id)
    {
        CaseJob job;
        lock (own)
            job = jobs.TryGetValue(id, out var found)
                ? found.Job
                : throw new NotFoundException("There is no such run of cases that goes on any more.");
        job.Stop();
        Close(job);
        return job.View();
    }

    IReadOnlyList<(CaseJob Job, Batch Batch)> Of(string model)
    {
        lock (own)
            return [.. jobs.Values.Where(j => j.Job.Stored.ModelId == model)];
    }

    /// <returns>Seconds that the case took.</returns>
    double RunNext(CaseJob job, ComputeGate.Lane lane)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(ending.Token);
        if (job.Next(stop) is not { } id)
            return 0;
        CaseResult? result = null;
        try
        {
            lane.Checkpoint();
            using var budget = WorkBudget.Begin(stop.Token, lane.Checkpoint);
            result = job.Run.Of(id, stop.Token, _ => lane.Checkpoint());
        }
        catch (OperationCanceledException) { }
        catch (Exception e)
        {
            logger.LogError(e, "The case {Case} of model {Model} ended by an error of the program.", id, job.Stored.ModelId);
            var why = $"The case ended by an error in the program ({e.GetType().Name}). It stands in the server's log.";
            var made = new CaseProvenance(job.Stored.Revision, "", "", 0, "", DateTime.UtcNow);
            var name = job.Run.Document.Cases[id].Name;
            result = new CaseResult(id, name, CaseOutcome.Broken, why, [], [], [], 0, "", "", made);
        }

        try
        {
            if (result is not null)
                Keep(job, result);
        }
        catch (Exception e)
        {
            logger.LogError(e, "A result of the case {Case} cannot be kept.", id);
        }

        if (job.Ended(id, result))
            Close(job);
        else if (result is not null)
            notifications.CasesChanged(job.Stored.ModelId, job.View());
        return result?.Seconds ?? 0;
    }

    void Keep(CaseJob job, CaseResult result)
    {
        lock (own)
            if (!jobs.ContainsKey(job.Stored.Id))
                return;
        store.Add(job.Stored.Id, result);
        var model = job.Stored.ModelId;
        lock (own)
            if (newest.TryGetValue(model, out var found))
                found[result.Case] = Bare(result);
    }

    /// <summary>A run of cases is over.</summary>
    void Close(CaseJob job)
    {
        lock (own)
            if (!jobs.ContainsKey(job.Stored.Id))
                return;
        store.Put(job.Stored with { State = job.State == SuiteState.Running ? SuiteState.Finished : job.State });
        notifications.CasesChanged(job.Stored.ModelId, job.View());
    }

    /// <summary>Ends a run of cases and forgets what it was prepared from; its results stay.</summary>
    void Leave((CaseJob Job, Batch Batch) left)
    {
        if (left.Job.State == SuiteState.Running)
        {
            left.Job.Stop();
            Close(left.Job);
        }

        lock (own)
            jobs.Remove(left.Job.Stored.Id);
        workers.Remove(left.Batch, TimeSpan.Zero);
    }

    /// <summary>Drops what is kept of a model that was deleted.</summary>
    public void Forget(string model)
    {
        foreach (var left in Of(model))
            Leave(left);
        foreach (var suite in store.List(model))
            store.Remove(suite.Id);
        lock (own)
            newest.Remove(model);
    }

    public void Dispose()
    {
        if (isDisposed)
            return;
        isDisposed = true;
        ending.Cancel();
        List<Batch> left;
        lock (own)
            left = [.. jobs.Values.Select(j => j.Batch)];
        foreach (var batch in left)
            workers.Remove(batch, TimeSpan.FromSeconds(5));
        ending.Dispose();
    }
}
