using AnchorBend.Simulation;
using AnchorBend.Verification;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Runs;

/// <summary>A run in a list.</summary>
/// <param name="Number">Its place among the runs of the model, from 1 on.</param>
/// <param name="State">waiting, running, paused or finished.</param>
/// <param name="Made">When it was asked for, in UTC (ISO 8601).</param>
/// <param name="Source">The file that it was read from; null for a run of the model.</param>
/// <param name="BranchOf">The run that it branched off.</param>
/// <param name="Verdicts">In the order of the requirements: met, missed or open.</param>
/// <param name="Stimulus">The name of the stimulus that drove it; empty for none.</param>
public sealed record RunSummary(
    string Id,
    int Number,
    string Name,
    string Note,
    bool IsPinned,
    long Revision,
    string State,
    string Made,
    string? Source,
    string? BranchOf,
    double End,
    double Reached,
    string Method,
    string Stimulus,
    string? Problem,
    IReadOnlyList<VerdictKind> Verdicts
)
{
    public static RunSummary Of(RunJob job) =>
        new(
            job.Id,
            job.Number,
            job.Label.Name,
            job.Label.Note,
            job.Label.IsPinned,
            job.Revision,
            RunView.Word(job.State),
            job.Made.ToString("O", System.Globalization.CultureInfo.InvariantCulture),
            job.Source,
            job.BranchOf,
            job.Options.End,
            job.Reached,
            MethodDescription.Of(job.Options.Method).Name,
            job.Document.Stimuli.GetValueOrDefault(job.Document.Settings.Stimulus)?.Name ?? "",
            job.Result?.Failure?.Message,
            [.. job.Verdicts.Select(v => v.Kind)]
        );
}

/// <summary>State of a run.</summary>
/// <param name="State">waiting, running, paused or finished.</param>
/// <param name="Part">How much of the run is done, 0 to 1.</param>
public sealed record RunView(
    string Id,
    long Revision,
    string State,
    double Part,
    double End,
    double Reached,
    SimulationFailure? Failure,
    RunStatistics? Statistics,
    IReadOnlyList<RunEvent> Events,
    IReadOnlyList<Verdict> Verdicts,
    IReadOnlyList<StartEntry> Start,
    IReadOnlyList<RunNote> Notes,
    RunProvenance Provenance
)
{
    const int MostEvents = 400;

    internal static string Word(RunStage state) => state.ToString().ToLowerInvariant();

    /// <summary>Whether it is played: started, paused and given values by hand.</summary>
    public bool IsPlayed { get; init; }

    /// <summary>States of a played run that can be gone back to.</summary>
    public IReadOnlyList<SavedState> Saved { get; init; } = [];

    /// <summary>What the target does that has a part's place in it; null for runs of the model alone.</summary>
    public TargetView? Target { get; init; }

    public static RunView Of(RunJob job, RunPlayer? player = null, CancellationToken wanted = default)
    {
        var result = job.Result ?? player?.Present(wanted);
        return new RunView(
            job.Id,
            job.Revision,
            Word(job.State),
            job.State == RunStage.Finished ? 1 : (job.Reached - job.Options.Start) / (job.Options.End - job.Options.Start),
            job.Options.End,
            result?.Failure?.Time ?? job.Reached,
            result?.Failure is { } failure ? failure with { Message = ShownText.Of(failure.Message) } : null,
            result?.Statistics is { } s ? s with { CompileSeconds = job.Prepared.CompileSeconds } : null,
            result is null ? [] : [.. result.Events.Take(MostEvents)],
            job.Verdicts,
            result?.Start ?? [],
            result is null ? [] : RunNote.Of(result.Statistics, result.Failure),
            RunProvenance.Of(job.Prepared, job.Parameters, job.Options, job.Revision)
        )
        {
            IsPlayed = player is not null,
            Saved = player?.Saved ?? [],
            Target = job.Target?.View(),
        };
    }
}
