using System.Diagnostics;
using System.Diagnostics.Metrics;

namespace AnchorBend.Workbench.Compute;

/// <summary>Figures and traces of what is done for users, for whoever collects them. They cost nothing while nobody listens.</summary>
public static class WorkFigures
{
    /// <summary>The name under which meter and traces are found.</summary>
    public const string Name = "AnchorBend";

    static readonly Meter Meter = new(Name);
    static readonly ActivitySource Traces = new(Name);

    static readonly Counter<long> Edits = Meter.CreateCounter<long>("anchorbend.edits", "{edit}", "Edits that were stored, by kind");

    static readonly Histogram<double> Runs = Meter.CreateHistogram<double>(
        "anchorbend.run.duration",
        "s",
        "Whole runs from their turn to their verdicts, by how they ended"
    );

    /// <param name="kind">edit, undo or redo.</param>
    internal static void Edited(string kind) => Edits.Add(1, new KeyValuePair<string, object?>("kind", kind));

    /// <summary>Begins a run; what comes back is told how it ended.</summary>
    internal static RunFigure Run(string model, bool isBatch) => new(Traces.StartActivity("run"), Stopwatch.GetTimestamp(), model, isBatch);

    internal readonly struct RunFigure
    {
        readonly Activity? activity;
        readonly long began;
        readonly bool isBatch;

        internal RunFigure(Activity? activity, long began, string model, bool isBatch)
        {
            (this.activity, this.began, this.isBatch) = (activity, began, isBatch);
            activity?.SetTag("model", model);
        }

        /// <param name="end">"finished", or the code of the failure.</param>
        internal void Ended(string end)
        {
            Runs.Record(
                Stopwatch.GetElapsedTime(began).TotalSeconds,
                new KeyValuePair<string, object?>("end", end),
                new KeyValuePair<string, object?>("batch", isBatch)
            );
            activity?.SetTag("end", end);
            activity?.Dispose();
        }
    }
}
