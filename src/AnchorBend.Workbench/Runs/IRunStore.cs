using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Verification;

namespace AnchorBend.Workbench.Runs;

/// <summary>What a run left besides its traces.</summary>
public sealed record RunReport(
    RunProvenance Provenance,
    RunStatistics Statistics,
    IReadOnlyList<RunEvent> Events,
    SimulationFailure? Failure,
    IReadOnlyList<StartEntry> Start,
    IReadOnlyList<Verdict> Verdicts
)
{
    /// <summary>Values of parameters at the start, by name, where they may differ from those of the document: of a branch.</summary>
    public IReadOnlyDictionary<string, double>? Values { get; init; }
}

/// <summary>A run that is kept for good.</summary>
/// <param name="Document">The model as it was.</param>
public sealed record StoredRun(string ModelId, RunSummary Summary, RunReport Report, ModelDocument Document);

/// <summary>Keeps runs; their traces lie in files beside it.</summary>
public interface IRunStore
{
    /// <summary>The kept runs of a model, the oldest first.</summary>
    IReadOnlyList<RunSummary> List(string model);

    StoredRun? Find(string id);

    /// <summary>Keeps a run whose file is whole, or what is said of it anew.</summary>
    void Put(StoredRun run);

    /// <summary>Other words for a run that is kept.</summary>
    void Put(string id, RunSummary summary);

    /// <summary>Forgets a run and removes its file.</summary>
    void Remove(string id);

    /// <summary>Forgets all runs of a model and removes their files.</summary>
    void RemoveAll(string model);

    /// <summary>Where the file of a run's traces lies.</summary>
    string FileOf(string id);

    /// <summary>The highest number that a run of the model has had.</summary>
    int LastNumber(string model);
}
