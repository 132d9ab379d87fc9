using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;

namespace AnchorBend.Workbench.Runs;

/// <summary>What one window has been told of a run so far, and what is new.</summary>
sealed class FrameSource(RunJob job, RunWatchRequest request)
{
    /// <summary>Columns of pixels that the points of one frame fill.</summary>
    const int Columns = 60;

    readonly PartPath level = PartPath.TryParse(request.Level, out var path) ? path : PartPath.Root;
    double after = request.After;

    IReadOnlyList<Verdict> told = [];

    IReadOnlyList<Verdict>? Changed()
    {
        var now = job.Verdicts;
        if (ReferenceEquals(now, told))
            return null;
        return told = now;
    }

    /// <summary>Whether nothing has been told yet.</summary>
    public bool IsNew { get; private set; } = true;

    public RunFrame Next(string state, double time, double? pace, double truePace, string? reason, IReadOnlyList<RaisedAlert> alerts)
    {
        IsNew = false;
        var results = job.Trace is { Rows: > 0 } ? new RunResults(job) : null;
        var curves = new List<FrameCurve>();
        if (results is not null && time > after)
        {
            foreach (var (signal, curve) in results.Curves(request.Signals, after, time, Columns))
            {
                // The point before is there already.
                var first = Array.FindIndex(curve.Times, t => t > after);
                if (first >= 0)
                    curves.Add(new FrameCurve(signal, curve.Times[first..], curve.Values[first..]));
            }

            after = time;
        }

        return new RunFrame(
            job.Id,
            state,
            time,
            pace,
            truePace,
            reason,
            curves,
            results?.Values(time, level) ?? [],
            results?.Readings(request.Readings ?? [], time) ?? [],
            alerts
        )
        {
            Verdicts = Changed(),
        };
    }
}
