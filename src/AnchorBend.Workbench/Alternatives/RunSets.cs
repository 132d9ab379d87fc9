using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using Microsoft.Extensions.Logging;

namespace AnchorBend.Workbench.Alternatives;

/// <summary>Sets of runs of all models: one is kept for each model, until the next of that model begins.</summary>
public sealed class RunSets(RunPool runs, ComputeGate gate, ILogger<RunSets> logger)
{
    static readonly TimeSpan MostPreparation = TimeSpan.FromSeconds(30);

    readonly Lock own = new();
    readonly Dictionary<string, RunSet> ofModels = [];

    public RunSet? Find(string id)
    {
        lock (own)
            return ofModels.Values.FirstOrDefault(s => s.Id == id);
    }

    /// <summary>Begins to run every combination of the wanted values on the model as it is now.</summary>
    /// <exception cref="DocumentException">Something wanted is not there, or the settings of runs are wrong.</exception>
    public RunSet Start(ModelSession session, IReadOnlyList<WantedChoice> wanted, CancellationToken asked)
    {
        var (prepared, document, revision) = session.Prepare(asked);
        var choices = ModelChoices.Of(prepared, document);
        var combinations = Combination.All(choices, wanted);
        RunPool.OptionsOf(document);
        var set = new RunSet(
            Guid.NewGuid().ToString("N")[..12],
            session.Id,
            revision,
            [.. choices.Where(c => wanted.Any(w => w.Path == c.Path))],
            combinations
        );
        lock (own)
        {
            if (ofModels.Remove(session.Id, out var earlier))
                Drop(earlier);
            ofModels[session.Id] = set;
        }

        var catalog = session.CatalogOf(document);
        logger.LogInformation(
            "{Count} combinations of model {Model}, revision {Revision}, begin.",
            combinations.Count,
            session.Id,
            revision
        );
        _ = Task.Factory.StartNew(
            () => Make(set, prepared, document, catalog),
            CancellationToken.None,
            TaskCreationOptions.LongRunning,
            TaskScheduler.Default
        );
        return set;
    }

    /// <summary>Drops what is kept of a model.</summary>
    public void Forget(string modelId)
    {
        lock (own)
            if (ofModels.Remove(modelId, out var set))
                Drop(set);
    }

    void Drop(RunSet set)
    {
        set.Cancel();
        runs.ForgetSet(set.Id);
    }

    void Make(RunSet set, PreparedModel present, ModelDocument document, PartCatalog catalog)
    {
        var plotted = Plotted(present, document);
        try
        {
            for (var i = 0; i < set.Combinations.Count && !set.Canceled.IsCancellationRequested; i++)
                Make(set, i, document, catalog, plotted);
            // Runs that ended while the set was dropped would stay.
            if (set.Canceled.IsCancellationRequested && Find(set.Id) is null)
                runs.ForgetSet(set.Id);
        }
        catch (Exception e)
        {
            logger.LogError(e, "The set {Set} of model {Model} ended by an error of the program.", set.Id, set.ModelId);
        }
        finally
        {
            for (var i = 0; i < set.Combinations.Count; i++)
                set.Change(i, m => m.State is "waiting" or "running" ? m with { State = "failed", Problem = "It was stopped." } : m);
            set.End();
        }
    }

    void Make(RunSet set, int index, ModelDocument document, PartCatalog catalog, IReadOnlyList<string> plotted)
    {
        set.Change(index, m => m with { State = "running" });
        PreparedModel prepared;
        try
        {
            prepared = gate.Run(MostPreparation, set.Canceled, _ =>
                DocumentPreparation.Prepare(document, catalog, overrides: set.Combinations[index].Set)
            );
        }
        catch (Exception e) when (e is TooLongException or BudgetException)
        {
            set.Change(index, m => m with { State = "failed", Problem = e.Message });
            return;
        }
        catch (OperationCanceledException)
        {
            return;
        }

        if (!prepared.CanRun)
        {
            var first = prepared.Findings.FirstOrDefault(f => f.Severity == Severity.Error);
            set.Change(index, m => m with { State = "failed", Problem = first is null ? "It cannot run." : Told(first) });
            return;
        }

        var job = new RunJob(set.ModelId, set.Revision, prepared, document, RunPool.OptionsOf(document)) { Set = set.Id };
        using var stop = set.Canceled.Register(job.Cancel);
        runs.Make(job);
        set.Change(index, m => RunSet.Ended(m, job, plotted));
    }

    static string Told(Finding finding) => finding.Part.Length > 0 ? $"{finding.Part}: {finding.Message}" : finding.Message;

    /// <summary>The plotted signals of all levels, by identity.</summary>
    static List<string> Plotted(PreparedModel present, ModelDocument document)
    {
        var plotted = new List<string>();
        foreach (var (path, _, _) in present.Map.Levels)
        foreach (var (key, node) in document.Level(path)?.Diagram.Signals ?? [])
            if (node.Probe is not null && SignalReference.TryParse(key, out var port))
                plotted.Add(new SignalReference(path.Then(port.Part.ToString()), port.Port).ToString());
        return plotted;
    }
}
