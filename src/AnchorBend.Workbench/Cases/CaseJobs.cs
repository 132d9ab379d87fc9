using AnchorBend.Language;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Verification;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Coverage;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.Reports;
using AnchorBend.Workbench.Studies;
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
public sealed class CaseJobs(
    ICaseStore store,
    OwnPackage package,
    ComputeGate gate,
    BatchWorkers workers,
    INotifications notifications,
    ILogger<CaseJobs> logger
) : IDisposable
{
    /// <summary>Runs of cases that are kept for one model; older ones go.</summary>
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
        foreach (var (earlier, _) in Of(session.Id))
            Stop(earlier.Stored.Id);
        store.Put(stored);
        foreach (var old in store.List(session.Id).Skip(MostOfModel))
            Remove(old.Id);
        // What the cases were prepared from is the document that is kept: they run as they would after a break.
        var job = gate.Run(MostPreparing, wanted, _ => new CaseJob(stored, RunOf(document, revision), []));
        Engage(job);
        logger.LogInformation("{Cases} cases of model {Model}, revision {Revision}, begin.", chosen.Count, session.Id, revision);
        return job.View();
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

    /// <summary>Whether a result says nothing of the model as it is now.</summary>
    public static bool IsStale(ModelDocument document, CaseNode node, CaseResult result) =>
        result.RunKey != CaseKey.OfRun(document, node)
        || result.CheckKey != CaseKey.OfChecks(document, node)
        || result.Requirements.Any(r => IsStale(document, r));

    /// <summary>Whether a requirement asks for something else than it did, or is gone.</summary>
    static bool IsStale(ModelDocument document, CaseVerdict verdict) =>
        !document.Requirements.TryGetValue(verdict.Verdict.Id, out var now) || CaseKey.OfRequirement(document, now) != verdict.Key;

    public CasesView View(ModelSession session)
    {
        var (present, revision) = session.Present();
        var document = package.Portable(present);
        var known = Newest(session.Id);
        var suite = Of(session.Id).Select(j => j.Job.View()).OrderByDescending(v => v.Made).FirstOrDefault();
        return new CasesView(
            revision,
            [.. CaseOrder.Of(document).Select(c => Row(document, c.Id, c.Node, known.GetValueOrDefault(c.Id)))],
            suite,
            Labels(document)
        );
    }

    static Dictionary<string, string> Labels(ModelDocument document) =>
        document
            .Cases.Values.SelectMany(c => c.Values.Values.Select(v => v.Target).Concat(c.Expected.Values.Select(e => e.Signal)))
            .Concat(document.CaseGroups.Values.SelectMany(g => g.Values.Values.Select(v => v.Target)))
            .Distinct()
            .ToDictionary(t => t, t => SignalName(document, t) ?? StudyPlan.LabelOf(document, document.NameOf(t) ?? t));

    /// <summary>What a signal is called on its level; null where nobody gave it a name.</summary>
    static string? SignalName(ModelDocument document, string identity) =>
        SignalReference.TryParse(identity, out var signal)
        && document.Level(signal.Part.Above)?.Diagram.Signals.GetValueOrDefault($"{signal.Part.Id}.{signal.Port}")?.Name
            is { Length: > 0 } name
            ? name
            : null;

    static CaseRow Row(ModelDocument document, string id, CaseNode node, CaseResult? result)
    {
        if (result is null)
            return new CaseRow(id, null, true, null, null, null, null, [], [], []);
        var hasChanged = result.RunKey != CaseKey.OfRun(document, node);
        return new CaseRow(
            id,
            result.Outcome,
            IsStale(document, node, result),
            result.Problem,
            result.Seconds,
            result.Provenance.Revision,
            result.Provenance.Made,
            [
                .. result
                    .Requirements.Where(r => r.Applies)
                    .Select(r => new CaseCell(
                        r.Verdict.Id,
                        r.Verdict.Kind,
                        r.Verdict.Margin,
                        r.Verdict.Unit,
                        r.IsNarrow,
                        hasChanged || IsStale(document, r)
                    )),
            ],
            [.. result.Courses.Select(c => new MeasureVerdict(c.Id, c.Label, c.Kind, null, c.Margin, c.Unit, c.Explanation))],
            result.Measures
        );
    }

    /// <summary>The newest result of a case, whole.</summary>
    /// <exception cref="NotFoundException">There is no such case.</exception>
    public CaseDetail Detail(ModelSession session, string id)
    {
        var (present, _) = session.Present();
        var document = package.Portable(present);
        if (!document.Cases.TryGetValue(id, out var node))
            throw new NotFoundException("There is no such case any more.");
        var result = store.Newest(session.Id, id);
        var passed = result is null ? null : store.Newest(session.Id, id, true);
        return new CaseDetail(
            result is null ? null : result with { Counts = null, Items = null, Chosen = null },
            result is null || IsStale(document, node, result),
            passed?.Provenance.Revision,
            passed?.Provenance.Made
        );
    }

    /// <summary>A report of the newest results of all cases.</summary>
    public CaseReport Report(ModelSession session, CancellationToken wanted)
    {
        var coverage = Coverage(session, wanted);
        var (present, revision) = session.Present();
        var document = package.Portable(present);
        var newest = store.Newest(session.Id).ToDictionary(r => r.Case);
        return new CaseReport(
            document,
            revision,
            [
                .. CaseOrder
                    .Of(document)
                    .Select(c => (c.Id, c.Node, Result: newest.GetValueOrDefault(c.Id)))
                    .Select(c => (c.Id, c.Node, c.Result, c.Result is null || IsStale(document, c.Node, c.Result))),
            ],
            coverage,
            CaseReport.Program,
            DateTime.UtcNow
        );
    }

    /// <summary>What the cases came by, in runs of the model as it is now.</summary>
    public CoverageView Coverage(ModelSession session, CancellationToken wanted)
    {
        var (prepared, document, revision) = session.Prepare(wanted);
        var portable = package.Portable(document);
        List<CaseResult> fresh =
        [
            .. store
                .Newest(session.Id)
                .Where(r => portable.Cases.TryGetValue(r.Case, out var node) && r.RunKey == CaseKey.OfRun(portable, node)),
        ];
        return CoverageOf.View(
            document,
            session.CatalogOf(document),
            fresh,
            prepared.CanRun ? ModelChoices.Of(prepared, document) : [],
            document.Cases.Count - fresh.Count,
            revision
        );
    }

    Dictionary<string, CaseResult> Newest(string model)
    {
        lock (own)
        {
            if (!newest.TryGetValue(model, out var found))
                newest[model] = found = store.Newest(model).ToDictionary(r => r.Case, Bare);
            return new Dictionary<string, CaseResult>(found);
        }
    }

    static CaseResult Bare(CaseResult result) =>
        result with
        {
            Counts = null,
            Items = null,
            Chosen = null,
            Requirements = [.. result.Requirements.Select(r => r with { Courses = [] })],
            Courses =
            [
                .. result.Courses.Select(c => c with { Actual = Line.None, Lower = Line.None, Upper = Line.None, Expected = Line.None }),
            ],
        };

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

    void Remove(string id)
    {
        (CaseJob Job, Batch Batch) found;
        lock (own)
            jobs.Remove(id, out found);
        if (found.Job is { } job)
        {
            job.Stop();
            workers.Remove(found.Batch, TimeSpan.Zero);
        }

        store.Remove(id);
    }

    /// <summary>Drops what is kept of a model that was deleted.</summary>
    public void Forget(string model)
    {
        foreach (var suite in store.List(model))
            Remove(suite.Id);
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
