using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Documents;
using AnchorBend.Verification.Measures;

namespace AnchorBend.Workbench.Runs;

/// <summary>An alert that was raised in a run.</summary>
/// <param name="Since">When its condition came to hold, s.</param>
/// <param name="Until">When it ceased to; null while it holds.</param>
public sealed record RaisedAlert(string Alert, double Since, double? Until);

/// <summary>Which alerts a run raises: their conditions over what it has recorded, row by row as it grows.</summary>
public sealed class AlertWatch
{
    /// <summary>Alerts that are told; a condition that flutters has no more to say.</summary>
    const int MostTold = 1000;

    readonly RunJob job;
    readonly List<(string Id, Term Condition, Term? Inhibit)> watched = [];
    readonly List<RaisedAlert> raised = [];
    readonly Dictionary<string, int> open = [];
    int row;

    public AlertWatch(RunJob job)
    {
        this.job = job;
        foreach (var (id, alert) in job.Document.Alerts)
            if (Read(job.Prepared, job.Parameters.Values, alert.Condition).Term is { } condition)
                watched.Add((id, condition, alert.Inhibit is { Length: > 0 } i ? Read(job.Prepared, job.Parameters.Values, i).Term : null));
    }

    /// <summary>A condition, or what is wrong with it.</summary>
    public static (Term? Term, string? Problem) Read(PreparedModel prepared, double[] parameters, string text)
    {
        try
        {
            return (RunCondition.Parse(prepared, parameters, text), null);
        }
        catch (LanguageException e)
        {
            return (null, e.Error.Message + (e.Error.Suggestion is { } advice ? $" {advice}" : ""));
        }
    }

    /// <summary>All that were raised so far, in their order.</summary>
    /// <param name="checkpoint">Called at each row; may give the work up.</param>
    public IReadOnlyList<RaisedAlert> Now(Action? checkpoint = null)
    {
        if (job.Trace is not { } trace || watched.Count == 0)
            return raised;
        var values = new RunValues(job, trace);
        var evaluator = new TermEvaluator(i => values.InRow(i, row));
        for (; row < trace.Rows; row++)
        {
            checkpoint?.Invoke();
            foreach (var (id, condition, inhibit) in watched)
            {
                var holds = evaluator.Evaluate(condition) == 1 && (inhibit is null || evaluator.Evaluate(inhibit) != 1);
                if (holds && !open.ContainsKey(id) && raised.Count < MostTold)
                {
                    open[id] = raised.Count;
                    raised.Add(new RaisedAlert(id, trace.Times[row], null));
                }
                else if (!holds && open.Remove(id, out var at))
                {
                    raised[at] = raised[at] with { Until = trace.Times[row] };
                }
            }
        }

        return [.. raised];
    }
}
