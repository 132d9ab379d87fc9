using AnchorBend.Modeling.Documents;
using AnchorBend.Verification.Measures;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Runs;

/// <summary>Measures of a model on one run.</summary>
/// <param name="Values">By the id of the measure.</param>
public sealed record MeasuredRun(string Run, IReadOnlyDictionary<string, MeasureResult> Values);

/// <summary>Evaluates measures on runs: those of the document, or one that is being typed.</summary>
public sealed class RunMeasures(RunPool runs, ComputeGate gate)
{
    static readonly TimeSpan MostMeasuring = TimeSpan.FromSeconds(20);

    /// <exception cref="NotFoundException">A run is not kept any more.</exception>
    public IReadOnlyList<MeasuredRun> Of(ModelDocument document, IReadOnlyList<string> ids, CancellationToken wanted) =>
        [.. ids.Select(id => new MeasuredRun(id, Of(id, document.Measures.ToDictionary(m => m.Key, m => m.Value.Expression), wanted)))];

    /// <exception cref="NotFoundException">The run is not kept any more.</exception>
    public MeasureResult Try(string id, string expression, CancellationToken wanted) =>
        Of(id, new Dictionary<string, string> { [""] = expression }, wanted)[""];

    Dictionary<string, MeasureResult> Of(string id, IReadOnlyDictionary<string, string> expressions, CancellationToken wanted)
    {
        var job = runs.Find(id, wanted) ?? throw NotFoundException.Run(id);
        if (job.Trace is not { } trace)
            return expressions.ToDictionary(e => e.Key, e => new MeasureResult(e.Value, null, "", null, "The run has not begun yet."));
        return gate.Run(MostMeasuring, wanted, _ =>
        {
            var evaluation = new MeasureEvaluation(job.Prepared, job.Parameters.Values, trace, job.Options.Start, job.Options.End);
            return expressions.ToDictionary(e => e.Key, e => AsNamed(evaluation, job.Document, e.Key, e.Value));
        });
    }

    /// <summary>A measure on a run whose model may still have had other names: where those of now say nothing, those of then
    /// count.</summary>
    static MeasureResult AsNamed(MeasureEvaluation evaluation, ModelDocument then, string id, string expression)
    {
        var result = evaluation.Evaluate(expression);
        if (!result.IsWrong || then.Measures.GetValueOrDefault(id)?.Expression is not { } before || before == expression)
            return result;
        var earlier = evaluation.Evaluate(before);
        return earlier.IsWrong ? result : earlier;
    }
}
