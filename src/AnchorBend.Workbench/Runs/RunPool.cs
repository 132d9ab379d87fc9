using AnchorBend.Delivery;
using AnchorBend.Delivery.Targets;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;
using Microsoft.Extensions.Logging;

namespace AnchorBend.Workbench.Runs;

/// <summary>
/// Runs of all models. Each begins at once; long ones take turns (<see cref="ComputeGate"/>). The last ones of every model stay for looking
/// at, as long as all traces together stay within one budget; pinned ones are kept for good by <see cref="KeptRuns"/>.
/// </summary>
public sealed class RunPool(INotifications notifier, ComputeGate gate, KeptRuns kept, ILogger<RunPool> logger)
{
    const int KeptPerModel = 12;

    /// <summary>Runs that go on at the same time; more wait.</summary>
    const int MostAtOnce = 24;

    /// <summary>Runs of all models that are played at the same time.</summary>
    const int MostPlayed = 32;

    /// <summary>Runs of their own, played or not, that one account may have under way; sets and studies go by turns.</summary>
    const int MostOfAccount = 8;

    /// <summary>Traces of one run, and of all that are kept in memory or temporary files, in bytes.</summary>
    const long MostOfOne = 512L << 20,
        MostOfAll = 2L << 30;

    readonly Lock own = new();
    readonly Dictionary<string, RunJob> jobs = [];
    readonly Dictionary<string, RunPlayer> players = [];
    readonly Dictionary<string, int> numbers = [];

    /// <summary>Runs in the order in which they began.</summary>
    readonly List<RunJob> order = [];

    readonly SemaphoreSlim places = new(MostAtOnce);

    /// <summary>A run, also a kept one; null where there is none that the visitor may see.</summary>
    public RunJob? Find(string id, CancellationToken wanted = default) =>
        Known(id, wanted) is { } job && Visitor.MaySee(job.ModelId) ? job : null;

    RunJob? Known(string id, CancellationToken wanted)
    {
        lock (own)
            if (jobs.TryGetValue(id, out var job))
                return job;
        if (kept.Load(id, wanted) is not { } loaded)
            return null;
        lock (own)
        {
            // Somebody may have loaded it meanwhile.
            if (jobs.TryGetValue(id, out var other))
            {
                loaded.Dispose();
                return other;
            }

            jobs[id] = loaded;
            order.Insert(0, loaded);
        }

        return loaded;
    }

    public RunPlayer? Player(string id)
    {
        lock (own)
            return jobs.TryGetValue(id, out var job) && Visitor.MaySee(job.ModelId) ? players.GetValueOrDefault(id) : null;
    }

    /// <summary>Starts a run of a model's present state. Earlier runs of it that the same window asked for and that still go on are
    /// canceled.</summary>
    /// <param name="client">The window that asks; null where nobody says.</param>
    /// <exception cref="DocumentException">The model has errors or its settings are wrong.</exception>
    public RunJob Start(ModelSession session, CancellationToken wanted, string? client = null)
    {
        var job = Made(session, client, wanted);
        lock (own)
        {
            foreach (
                var earlier in order.Where(j =>
                    j.ModelId == session.Id && j.Set is null && j.Result is null && j.Client == client && !players.ContainsKey(j.Id)
                )
            )
                earlier.Cancel();
            if (OfAccount(job) is { } why)
                throw new DocumentException(why);
        }

        Add(job, session);
        _ = Task.Factory.StartNew(() => Execute(job), CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
        return job;
    }

    /// <summary>Makes a run that is played by hand; it stands at its start.</summary>
    /// <exception cref="DocumentException">The model has errors, its settings are wrong, or too many are played already.</exception>
    public RunJob Play(ModelSession session, string? client, CancellationToken wanted)
    {
        var job = Made(session, client, wanted);
        var begun = job.Begin();
        Add(job, session);
        Attend(job, begun);
        return job;
    }

    /// <summary>The same with the code of deliveries in the place of the part that they were made of.</summary>
    /// <param name="deliveries">By ids; the first one has the plant at the start.</param>
    /// <exception cref="DeliveryException">They cannot be run there; says why.</exception>
    public RunJob PlayOnTarget(
        ModelSession session,
        IReadOnlyList<string> deliveries,
        TargetKind kind,
        string? client,
        CancellationToken wanted
    )
    {
        var (target, revision) = gate.Run(MostStarting, wanted, w =>
        {
            var (whole, model, at) = session.Prepare(w);
            return (TargetRun.Start(whole, model, session.Catalog(), deliveries, kind, w), at);
        });
        try
        {
            var (document, prepared, _) = target.Joined;
            var options = OptionsOf(document);
            var job = new RunJob(
                session.Id,
                revision,
                prepared,
                document,
                options with
                {
                    Keep = KeptVariables.Of(prepared, document, options),
                    Given = target.Given,
                }
            )
            {
                Client = client,
                Number = NextNumber(session.Id),
                Target = target,
            };
            var begun = job.Begin();
            Add(job, session);
            Attend(job, begun);
            return job;
        }
        catch
        {
            target.Dispose();
            throw;
        }
    }

    static readonly TimeSpan MostStarting = TimeSpan.FromSeconds(60);

    /// <summary>A run that goes on from a saved state of another one.</summary>
    /// <exception cref="NotFoundException">There is no such run or state.</exception>
    public RunJob Branch(string id, string state, string? client, CancellationToken wanted)
    {
        var from = Find(id, wanted) ?? throw NotFoundException.Run(id);
        var player = Player(id) ?? throw new DocumentException("Only a run that is played can be branched.");
        if (from.Target is not null)
            throw new DocumentException("A run on a target cannot be branched: there is one target. Run it anew.");
        var begun = player.Branch(state, wanted);
        var job = new RunJob(from.ModelId, from.Revision, begun.Prepared, from.Document, from.Options)
        {
            Client = client,
            BranchOf = id,
            Number = NextNumber(from.ModelId),
            Parameters = begun.Parameters,
        };
        job.Adopt(begun);
        Add(job, null);
        Attend(job, begun);
        return job;
    }

    /// <summary>A run that was made elsewhere: its traces are those of a file.</summary>
    internal void Adopt(RunJob job) => Add(job, null);

    internal int NextNumber(string model)
    {
        lock (own)
            return numbers[model] = (numbers.TryGetValue(model, out var last) ? last : kept.LastNumber(model)) + 1;
    }

    RunJob Made(ModelSession session, string? client, CancellationToken wanted)
    {
        var (prepared, document, revision) = session.Prepare(wanted);
        if (!prepared.CanRun)
            throw new DocumentException("The model has errors; see its findings.");
        var options = OptionsOf(document);
        return new RunJob(session.Id, revision, prepared, document, options with { Keep = KeptVariables.Of(prepared, document, options) })
        {
            Client = client,
            Number = NextNumber(session.Id),
        };
    }

    void Add(RunJob job, ModelSession? session)
    {
        lock (own)
        {
            jobs[job.Id] = job;
            order.Add(job);
            foreach (
                var old in order
                    .Where(j => j.ModelId == job.ModelId && j.Set is null && !j.Label.IsPinned && j.Result is not null)
                    .SkipLast(KeptPerModel)
                    .ToList()
            )
                Drop(old);
        }

        // A model may have been deleted since it was prepared.
        if (session?.IsGone == true)
            Forget(session.Id);
        logger.LogInformation("Run {Run} of model {Model}, revision {Revision}, begins.", job.Id, job.ModelId, job.Revision);
    }

    void Attend(RunJob job, RunSession session)
    {
        lock (own)
        {
            var why = OfAccount(job)
                ?? (
                    players.Count(p => jobs.GetValueOrDefault(p.Key)?.Result is null) >= MostPlayed
                        ? $"{MostPlayed} runs are played already. Stop one of them first."
                        : null
                );
            if (why is not null)
            {
                session.Dispose();
                Drop(job);
                throw new DocumentException(why);
            }

            players[job.Id] = new RunPlayer(job, session, gate, notifier, e => Tell(job, e));
        }

        notifier.RunChanged(job.ModelId, RunSummary.Of(job));
    }

    /// <summary>Why the account of a run may have no more under way; null where it may.</summary>
    string? OfAccount(RunJob job) =>
        job.Account is { } account
        && order.Count(j => j != job && j.Account == account && j.Set is null && j.Result is null && !j.Canceled.IsCancellationRequested)
            >= MostOfAccount
            ? $"You have {MostOfAccount} runs under way, as many as one may have. Stop one of them first."
            : null;

    /// <exception cref="DocumentException">The settings are wrong.</exception>
    public static RunOptions OptionsOf(ModelDocument document) => DocumentRun.OptionsOf(document) with { TraceBudget = MostOfOne };

    /// <summary>Makes a run that belongs to a set on the thread at hand. It stays until the set goes.</summary>
    public void Make(RunJob job)
    {
        Enter(job);
        Execute(job);
    }

    /// <summary>The same on a thread of its own: the run is found from now on, and goes on by itself.</summary>
    public void Begin(RunJob job)
    {
        Enter(job);
        _ = Task.Factory.StartNew(() => Execute(job), CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
    }

    void Enter(RunJob job)
    {
        lock (own)
        {
            jobs[job.Id] = job;
            order.Add(job);
        }
    }

    /// <summary>Drops the runs of a set.</summary>
    public void ForgetSet(string set)
    {
        lock (own)
            foreach (var job in order.Where(j => j.Set == set).ToList())
                Drop(job);
    }

    /// <summary>Runs of a model, the newest first: those at hand and those that are kept.</summary>
    public IReadOnlyList<RunSummary> List(string model)
    {
        List<RunSummary> here;
        lock (own)
            here = [.. order.Where(j => j.ModelId == model && (j.Set is null || j.Label.Name.Length > 0)).Select(RunSummary.Of)];
        var known = here.Select(r => r.Id).ToHashSet();
        return [.. here.Concat(kept.List(model).Where(r => !known.Contains(r.Id))).OrderByDescending(r => r.Number)];
    }

    /// <summary>Names a run, says something of it, keeps it for good or not any more.</summary>
    /// <exception cref="NotFoundException">There is no such run.</exception>
    /// <exception cref="DocumentException">The words are too long, or the run is not over.</exception>
    public RunSummary Put(string id, RunLabel label, CancellationToken wanted)
    {
        if (label.Name.Length > RunLabel.LongestName || label.Note.Length > RunLabel.LongestNote)
            throw new DocumentException(
                $"A run has a name of at most {RunLabel.LongestName} characters and a note of at most {RunLabel.LongestNote}."
            );
        var job = Find(id, wanted) ?? throw NotFoundException.Run(id);
        if (label.IsPinned && job.Result is null)
            throw new DocumentException("The run is not over yet. Stop it, then keep it.");
        var was = job.Label;
        job.Label = label;
        try
        {
            kept.Put(job, was.IsPinned);
        }
        catch
        {
            job.Label = was;
            throw;
        }

        var summary = RunSummary.Of(job);
        notifier.RunChanged(job.ModelId, summary);
        return summary;
    }

    /// <summary>Removes a run, kept or not; one under way ends.</summary>
    public void Remove(string id)
    {
        kept.Remove(id);
        lock (own)
            if (jobs.TryGetValue(id, out var job))
                Drop(job);
    }

    void Progressed(RunJob job)
    {
        if (job.Set is null)
            notifier.Progress(job.ModelId, job.Id, (job.Reached - job.Options.Start) / (job.Options.End - job.Options.Start));
    }

    void Execute(RunJob job)
    {
        places.Wait();
        try
        {
            if (job.Execute(gate, Progressed) is { } unforeseen)
                Tell(job, unforeseen);
            KeepBudget();
        }
        finally
        {
            places.Release();
        }

        if (job.Set is null)
            notifier.RunChanged(job.ModelId, RunSummary.Of(job));
    }

    void Tell(RunJob job, Exception unforeseen) =>
        logger.LogError(
            unforeseen,
            "The run {Run} of model {Model}, revision {Revision}, ended by an error of the program.",
            job.Id,
            job.ModelId,
            job.Revision
        );

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
        if (players.Remove(job.Id, out var player))
            player.Dispose();
        job.Dispose();
    }

    /// <summary>How many runs there are, and what their traces take in bytes.</summary>
    public (int Count, long Bytes) Kept()
    {
        lock (own)
            return (order.Count, order.Sum(j => j.Bytes));
    }

    /// <summary>Ends and drops all runs of a model, kept ones too.</summary>
    public void Forget(string modelId)
    {
        kept.Forget(modelId);
        lock (own)
            foreach (var job in order.Where(j => j.ModelId == modelId).ToList())
                Drop(job);
    }
}
