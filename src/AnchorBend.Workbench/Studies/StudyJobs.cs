using AnchorBend.Exploration;
using AnchorBend.Language;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;
using AnchorBend.Workbench.Studies.Engines;
using Microsoft.Extensions.Logging;

namespace AnchorBend.Workbench.Studies;

/// <summary>
/// Runs of studies of all models, each a batch of rows (<see cref="BatchWorkers"/>). Results are kept as they come, so that after a break
/// a study goes on where it was.
/// </summary>
public sealed class StudyJobs : IDisposable
{
    /// <summary>Results are kept together this often, so that a study of short runs does not wait for the disk.</summary>
    static readonly TimeSpan Keeping = TimeSpan.FromMilliseconds(250);

    /// <summary>Runs of studies that are kept for one model; older ones go.</summary>
    const int MostOfModel = 60;

    readonly IStudyStore store;
    readonly OwnPackage package;
    readonly ComputeGate gate;
    readonly INotifications notifications;
    readonly ILogger<StudyJobs> logger;
    readonly Lock own = new();
    readonly Dictionary<string, StudyJob> jobs = [];
    readonly Dictionary<string, Batch> batches = [];
    readonly CancellationTokenSource ending = new();
    readonly Lock keeping = new();

    /// <summary>Held while results are written: a timer that comes meanwhile goes home.</summary>
    readonly object keepingNow = new();

    /// <summary>What was written last, by id.</summary>
    readonly Dictionary<string, StoredStudy> written = [];
    readonly BatchWorkers workers;
    Timer? keeper;
    bool isDisposed;

    readonly StudyCluster? cluster;

    /// <param name="cluster">Where studies can be run beside this machine; null for nowhere.</param>
    public StudyJobs(
        IStudyStore store,
        OwnPackage package,
        ComputeGate gate,
        BatchWorkers workers,
        INotifications notifications,
        ILogger<StudyJobs> logger,
        StudyCluster? cluster = null
    ) =>
        (this.store, this.package, this.gate, this.workers, this.notifications, this.logger, this.cluster) = (
            store,
            package,
            gate,
            workers,
            notifications,
            logger,
            cluster
        );

    /// <summary>Whether studies can be run on a cluster.</summary>
    public bool HasCluster => cluster is not null;

    /// <summary>Takes up what was kept, and goes on with what was running.</summary>
    public void Begin()
    {
        foreach (var stored in store.List(null))
            try
            {
                var document = ModelDocument.FromJson(stored.Document);
                if (!document.Studies.TryGetValue(stored.Study, out var study))
                    continue;
                var job = Made(stored, document, study, PartCatalog.Of(document, package.Catalog));
                job.Restore(store.Results(stored.Id));
                lock (own)
                    jobs[job.Id] = job;
                // Its last row may have been kept, but not that it was the last.
                if (job.State == StudyState.Running && !job.HasWork)
                    job.Put(StudyState.Finished);
                Engage(job);
            }
            catch (Exception e) when (e is DocumentException or ExplorationException)
            {
                logger.LogWarning(e, "The run {Run} of a study cannot be taken up.", stored.Id);
            }

        Wake();
    }

    /// <summary>Begins to run a study of a model as it is now.</summary>
    /// <exception cref="NotFoundException">There is no such study.</exception>
    /// <exception cref="ExplorationException">It has no rows.</exception>
    /// <exception cref="DocumentException">The model cannot run.</exception>
    public StudyJobView Start(ModelSession session, string study, CancellationToken wanted, bool onCluster = false)
    {
        if (onCluster && cluster is null)
            throw new DocumentException("This server knows of no cluster: start it with --cluster and a folder that all nodes see.");
        var (prepared, document, revision) = session.Prepare(wanted);
        if (!document.Studies.TryGetValue(study, out var node))
            throw new NotFoundException("There is no such study any more.");
        if (onCluster && node.Search is not null)
            throw new DocumentException("A search runs on this machine: each of its rounds waits for the one before.");
        if (!prepared.CanRun)
            throw new DocumentException("The model has errors; see its findings.");
        DocumentRun.OptionsOf(document);
        var stored = new StoredStudy(
            Guid.NewGuid().ToString("N")[..12],
            session.Id,
            study,
            revision,
            package.Portable(document).ToJson(),
            StudyState.Running,
            0,
            DateTime.UtcNow,
            [],
            0,
            onCluster
        );
        var job = gate.Run(TimeSpan.FromSeconds(30), wanted, _ => Made(stored, document, node, session.CatalogOf(document)));
        store.Put(stored);
        List<StudyJob> old;
        lock (own)
        {
            jobs[job.Id] = job;
            // One study of a model has one run that goes on.
            foreach (var earlier in jobs.Values.Where(j => j.ModelId == session.Id && j.Stored.Study == study && j != job))
                earlier.Put(StudyState.Stopped);
            old = [.. jobs.Values.Where(j => j.ModelId == session.Id).OrderByDescending(j => j.Stored.Made).Skip(MostOfModel)];
        }

        foreach (var gone in old)
            Remove(gone.Id);
        logger.LogInformation(
            "A study of model {Model}, revision {Revision}, begins with {Rows} runs.",
            session.Id,
            revision,
            job.View().Rows
        );
        Engage(job);
        Wake();
        return job.View();
    }

    static StudyJob Made(StoredStudy stored, ModelDocument document, StudyNode study, PartCatalog catalog)
    {
        (document, study) = SoughtRun.Of(document, study);
        var setup = StudySetup.Of(ModelSource.Of(document, catalog), study);
        // Nodes of a cluster hand figures on, and no courses.
        if (stored.IsOnCluster)
            setup = setup with { Run = setup.Run.Without() };
        return new StudyJob(stored, study, setup, document);
    }

    public StudyJob Find(string id)
    {
        lock (own)
            return jobs.GetValueOrDefault(id) is { } job && Visitor.MaySee(job.ModelId)
                ? job
                : throw new NotFoundException($"There is no run '{id}' of a study any more. Run the study again.");
    }

    /// <summary>Runs of a model's studies, the newest first.</summary>
    public IReadOnlyList<StudyJobView> OfModel(string model)
    {
        lock (own)
            return [.. jobs.Values.Where(j => j.ModelId == model).OrderByDescending(j => j.Stored.Made).Select(j => j.View())];
    }

    /// <param name="here">Whether it goes on on this machine where a cluster ran it.</param>
    public StudyJobView Put(string id, StudyState state, bool here = false)
    {
        var job = Find(id);
        if (here)
            (job.IsOnCluster, job.Said) = (false, null);
        job.Put(state);
        Engage(job);
        Wake();
        return job.View();
    }

    public StudyJobView Put(string id, int priority)
    {
        var job = Find(id);
        job.Put(Math.Clamp(priority, -5, 5));
        Wake();
        return job.View();
    }

    /// <summary>Runs those rows again that failed.</summary>
    public StudyJobView Again(string id)
    {
        var job = Find(id);
        // What a search asked for later followed from what came out: with another outcome its rows would be others.
        if (job.Search is not null)
            throw new DocumentException("Failed runs of a search are not run again: what it tried later followed from them. Run it anew.");
        // What nodes have written would come back as it is.
        job.IsOnCluster = false;
        store.Clear(id, job.Again());
        job.Put(StudyState.Running);
        Wake();
        return job.View();
    }

    public void Remove(string id)
    {
        StudyJob? job;
        Batch? batch;
        lock (own)
        {
            if (!jobs.Remove(id, out job))
                return;
            batches.Remove(id, out batch);
        }

        job.Put(StudyState.Stopped);
        if (batch is not null)
            workers.Remove(batch, TimeSpan.Zero);
        lock (keeping)
            store.Remove(id);
    }

    /// <summary>Drops what is kept of a model that was deleted.</summary>
    public void Forget(string model)
    {
        List<StudyJob> gone;
        lock (own)
            gone = [.. jobs.Values.Where(j => j.ModelId == model)];
        foreach (var job in gone)
            Remove(job.Id);
    }

    /// <summary>Lets the cluster run what a job has left, where it is to.</summary>
    void Engage(StudyJob job)
    {
        if (!job.IsOnCluster || job.State != StudyState.Running)
            return;
        if (cluster is null)
        {
            job.Put(StudyState.Paused);
            job.Said = "This server knows of no cluster any more. The study can go on on this machine.";
            return;
        }

        if (ending.IsCancellationRequested || job.Engage(ending.Token) is not { } stop)
            return;
        var thread = new Thread(() => RunOnCluster(job, cluster, stop)) { IsBackground = true, Name = $"Cluster {job.Id}" };
        thread.Start();
    }

    void RunOnCluster(StudyJob job, StudyCluster on, CancellationTokenSource stop)
    {
        try
        {
            on.Run(job, stop.Token);
            job.Disengage(stop, null);
        }
        catch (OperationCanceledException)
        {
            job.Disengage(stop, null);
            // It may have been told to go on before this was over.
            Engage(job);
        }
        catch (Exception e)
        {
            if (e is not EngineException)
                logger.LogError(e, "The cluster does not run the study {Study}.", job.Id);
            job.Put(StudyState.Paused);
            job.Disengage(stop, e is EngineException ? e.Message : "The cluster failed by an error of the program; it stands in the log.");
        }

        notifications.StudyChanged(job.ModelId, job.View());
    }

    /// <summary>A study as work that is done row by row.</summary>
    sealed class Batch(StudyJobs jobs, StudyJob job) : IBatch
    {
        public bool HasWork => !jobs.ending.IsCancellationRequested && job.HasWork;

        public double Priority => job.Priority;

        public double WorkOn(ComputeGate.Lane lane) => jobs.RunRow(job, lane);
    }

    void Wake()
    {
        lock (own)
        {
            if (ending.IsCancellationRequested)
                return;
            keeper ??= new Timer(_ => Keep(), null, Keeping, Keeping);
            foreach (var job in jobs.Values.Where(j => !batches.ContainsKey(j.Id)))
                workers.Add(batches[job.Id] = new Batch(this, job));
        }

        workers.Wake();
    }

    /// <returns>Seconds that the row took.</returns>
    double RunRow(StudyJob job, ComputeGate.Lane lane)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(ending.Token);
        if (job.Next(stop) is not { } row)
            return 0;
        StudyResult? result = null;
        try
        {
            lane.Checkpoint();
            using var budget = WorkBudget.Begin(stop.Token, lane.Checkpoint);
            var reported = Environment.TickCount64;
            result = job.Run.Of(row, job.Row(row), stop.Token, time =>
            {
                lane.Checkpoint();
                if (Environment.TickCount64 - reported < 100)
                    return;
                reported = Environment.TickCount64;
                job.Progressed(row, time);
            });
        }
        catch (OperationCanceledException) { }
        catch (Exception e)
        {
            logger.LogError(e, "Row {Row} of the study {Study} ended by an error of the program.", row, job.Id);
            result = new StudyResult(
                row,
                [.. job.Measures.Select(_ => (double?)null)],
                [],
                $"The run ended by an error in the program ({e.GetType().Name}). It stands in the server's log.",
                true
            );
        }

        job.Ended(row, result);
        return result?.Seconds ?? 0;
    }

    /// <summary>Keeps what has come since the last time, and tells windows.</summary>
    void Keep()
    {
        if (!Monitor.TryEnter(keepingNow))
            return;
        try
        {
            List<StudyJob> all;
            lock (own)
                all = [.. jobs.Values];
            lock (keeping)
                foreach (var job in all)
                {
                    var fresh = job.TakeUnkept();
                    var stored = job.ToStore();
                    var known = written.GetValueOrDefault(job.Id);
                    if (
                        fresh.Count == 0
                        && known is not null
                        && (known.State, known.Priority, known.IsOnCluster) == (stored.State, stored.Priority, stored.IsOnCluster)
                    )
                        continue;
                    lock (own)
                        if (!jobs.ContainsKey(job.Id))
                            continue;
                    try
                    {
                        store.Put(stored);
                        if (fresh.Count > 0)
                            store.Add(job.Id, fresh);
                    }
                    catch
                    {
                        job.PutBack(fresh);
                        throw;
                    }

                    written[job.Id] = stored;
                    notifications.StudyChanged(job.ModelId, job.View());
                }
        }
        catch (Exception e)
        {
            logger.LogError(e, "Results of studies cannot be kept.");
        }
        finally
        {
            Monitor.Exit(keepingNow);
        }
    }

    public void Dispose()
    {
        if (isDisposed)
            return;
        isDisposed = true;
        ending.Cancel();
        keeper?.Dispose();
        List<Batch> left;
        lock (own)
            left = [.. batches.Values];
        foreach (var batch in left)
            workers.Remove(batch, TimeSpan.FromSeconds(5));
        Keep();
        ending.Dispose();
    }
}
