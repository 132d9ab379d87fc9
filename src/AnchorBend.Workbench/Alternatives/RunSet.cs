using AnchorBend.Modeling;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Workbench.Alternatives;

/// <summary>Lowest and highest value of a signal in a run, and that at its end, in the signal's own unit.</summary>
public sealed record SignalRange(double Lowest, double Highest, double Last);

/// <summary>One run of a set.</summary>
/// <param name="State">waiting, running, finished or failed.</param>
/// <param name="Run">Id of the run, for its traces; null until there is one.</param>
/// <param name="Problem">Why it could not be made or did not reach its end; null where it did.</param>
/// <param name="Signals">Of the plotted signals, by identity, those that the run has.</param>
/// <param name="Missed">Names of the requirements that the run misses.</param>
public sealed record RunSetMember(
    string Label,
    IReadOnlyDictionary<string, string> Chosen,
    string State,
    string? Run,
    string? Problem,
    int Equations,
    int States,
    double? Seconds,
    IReadOnlyDictionary<string, SignalRange> Signals,
    int Met,
    IReadOnlyList<string> Missed
);

/// <summary>A set of runs as it is now.</summary>
/// <param name="State">running or finished.</param>
/// <param name="Choices">What was varied or set.</param>
public sealed record RunSetView(
    string Id,
    long Revision,
    string State,
    IReadOnlyList<ModelChoice> Choices,
    IReadOnlyList<RunSetMember> Members
);

/// <summary>Runs of every combination of what was chosen, made one after the other.</summary>
public sealed class RunSet
{
    readonly CancellationTokenSource cancellation = new();
    readonly Lock own = new();
    readonly RunSetMember[] members;
    readonly TaskCompletionSource finished = new(TaskCreationOptions.RunContinuationsAsynchronously);

    public RunSet(string id, string modelId, long revision, IReadOnlyList<ModelChoice> choices, IReadOnlyList<Combination> combinations)
    {
        (Id, ModelId, Revision, Choices, Combinations) = (id, modelId, revision, choices, combinations);
        members =
        [
            .. combinations.Select(c => new RunSetMember(
                c.Label,
                c.Chosen,
                "waiting",
                null,
                null,
                0,
                0,
                null,
                new Dictionary<string, SignalRange>(),
                0,
                []
            )),
        ];
    }

    public string Id { get; }

    public string ModelId { get; }

    public long Revision { get; }

    public IReadOnlyList<ModelChoice> Choices { get; }

    public IReadOnlyList<Combination> Combinations { get; }

    public CancellationToken Canceled => cancellation.Token;

    public Task Finished => finished.Task;

    public void Cancel() => cancellation.Cancel();

    internal void End() => finished.TrySetResult();

    internal void Change(int index, Func<RunSetMember, RunSetMember> change)
    {
        lock (own)
            members[index] = change(members[index]);
    }

    public RunSetView View()
    {
        lock (own)
            return new RunSetView(Id, Revision, finished.Task.IsCompleted ? "finished" : "running", Choices, [.. members]);
    }

    /// <summary>What is told of a run that has ended.</summary>
    internal static RunSetMember Ended(RunSetMember member, RunJob job, IReadOnlyList<string> plotted)
    {
        var result = job.Result!;
        var signals = new Dictionary<string, SignalRange>();
        var results = new RunResults(job);
        foreach (var signal in plotted)
            if (results.Range(signal) is { } range)
                signals[signal] = range;
        var verdicts = job.Verdicts;
        return member with
        {
            State = result.Failure is null ? "finished" : "failed",
            Run = job.Id,
            Problem = result.Failure?.Message,
            Equations = job.Prepared.Model.Equations.Count,
            States = result.Statistics?.States ?? 0,
            Seconds = result.Statistics?.RunSeconds,
            Signals = signals,
            Met = verdicts.Count(v => v.Kind == Verification.VerdictKind.Met),
            Missed = [.. verdicts.Where(v => v.Kind == Verification.VerdictKind.Missed).Select(v => v.Name)],
        };
    }
}
