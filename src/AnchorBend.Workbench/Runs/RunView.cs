using AnchorBend.Simulation;
using AnchorBend.Verification;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Runs;

/// <summary>State of a run.</summary>
/// <param name="State">running or finished.</param>
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

    public static RunView Of(RunJob job)
    {
        var result = job.Result;
        return new RunView(
            job.Id,
            job.Revision,
            result is null ? "running" : "finished",
            result is null ? job.Reached / job.Options.End : 1,
            job.Options.End,
            result?.Failure?.Time ?? job.Reached,
            result?.Failure is { } failure ? failure with { Message = ShownText.Of(failure.Message) } : null,
            result?.Statistics is { } s ? s with { CompileSeconds = job.Prepared.CompileSeconds } : null,
            result is null ? [] : [.. result.Events.Take(MostEvents)],
            job.Verdicts,
            result?.Start ?? [],
            result is null ? [] : RunNote.Of(result.Statistics, result.Failure),
            RunProvenance.Of(job.Prepared, job.Parameters, job.Options, job.Revision)
        );
    }
}
