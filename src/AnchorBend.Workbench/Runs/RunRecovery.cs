using AnchorBend.Delivery.Targets;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Runs;

/// <summary>
/// Quantities that a run did not record: the identical run is made again for them alone. As the same model and settings give the same bits,
/// their values belong to the rows that are there.
/// </summary>
public sealed class RunRecovery(RunPool runs, ComputeGate gate, INotifications notifications)
{
    /// <summary>Signals of a run that have to be recovered before they can be shown.</summary>
    public static IReadOnlyList<string> Missing(RunJob job, IReadOnlyList<string> signals)
    {
        if (job.Trace is not { } trace || job.Source is not null)
            return [];
        lock (job.Recovered)
            return [.. signals.Where(s => Place(job, s) is >= 0 and var place && !trace.Has(place) && !job.Recovered.ContainsKey(place))];
    }

    static int Place(RunJob job, string signal) =>
        job.Prepared.Find(signal) is { Role: not VariableRole.Parameter } variable
            ? job.Prepared.Compiled!.Plan.Representative[variable.Index]
            : -1;

    /// <summary>Recovers signals, telling the windows how far it is.</summary>
    /// <returns>How many quantities there are now that were not before.</returns>
    /// <exception cref="NotFoundException">There is no such run.</exception>
    /// <exception cref="DocumentException">It cannot be made again alike.</exception>
    public int Recover(string id, IReadOnlyList<string> signals, CancellationToken wanted)
    {
        var job = runs.Find(id, wanted) ?? throw NotFoundException.Run(id);
        var places = Missing(job, signals).Select(s => Place(job, s)).Distinct().ToList();
        if (places.Count == 0)
            return 0;
        if (job.Result is not { } result)
            throw new DocumentException("The run is not over yet; what it does not record can be recovered when it is.");
        if (TargetDocument.IsJoined(job.Document))
            throw new DocumentException(
                "A part of this run was code on a target, which is gone: what was not recorded cannot be recovered."
            );
        // A run kept by an earlier version may have been given values of which nothing but the events tells.
        var isUnknown = result.Script is null && result.Events.Any(e => e.IsChange);
        if (isUnknown || result.Script is { IsExact: false } || job.BranchOf is not null)
            throw new DocumentException(
                "Values were set between two steps of this run, so it cannot be made again alike for what it did not record."
            );
        var reported = Environment.TickCount64;
        using var lane = gate.Enter(wanted);
        using var session = new RunSession(job.Prepared, job.Parameters, job.Options with { Keep = places, Script = result.Script });
        session.Advance(new PauseAt { Time = result.Failure?.Time ?? double.PositiveInfinity }, wanted, time =>
        {
            lane.Checkpoint();
            if (Environment.TickCount64 - reported < 100)
                return;
            reported = Environment.TickCount64;
            notifications.Progress(job.ModelId, job.Id, (time - job.Options.Start) / (job.Options.End - job.Options.Start));
        });
        wanted.ThrowIfCancellationRequested();
        var trace = session.Trace;
        if (trace.Rows < result.Trace.Rows || !SameTimes(trace, result.Trace))
            throw new DocumentException("The run made again is not the same, so its values do not belong here. Run the model anew.");
        lock (job.Recovered)
            foreach (var place in places)
                job.Recovered[place] = trace;
        return places.Count;
    }

    static bool SameTimes(Simulation.Recording.Trace a, Simulation.Recording.Trace b)
    {
        // The ends and a few rows between tell runs apart; a full comparison would read both from disk.
        const int looks = 1000;
        for (var i = 0; i <= looks; i++)
        {
            var row = (int)((long)(b.Rows - 1) * i / looks);
            if (b.Rows > 0 && a.Times[row] != b.Times[row])
                return false;
        }

        return true;
    }
}
