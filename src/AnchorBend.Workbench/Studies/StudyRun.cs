using System.Collections.Concurrent;
using System.Diagnostics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Verification;
using AnchorBend.Verification.Measures;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Studies;

/// <summary>
/// Runs the rows of a table on a model. Rows that differ in values alone share one prepared model; others are prepared by themselves, with
/// what was compiled for a row of the same structure. Rows know nothing of one another, so their results are the same whichever runs first,
/// and how many at once.
/// </summary>
/// <param name="set">Values of parameters in all rows, by path, as typed.</param>
/// <param name="options">Of runs, for a document with the settings of a row.</param>
/// <param name="isShown">Whether measures are wanted as people read them, in the units shown; else in those that the model computes
/// in.</param>
public sealed class StudyRun(
    ModelSource model,
    IReadOnlyDictionary<string, string> set,
    StudyTable table,
    IReadOnlyList<StudyMeasure> measures,
    Func<ModelSource, RunOptions> options,
    bool isShown = false
)
{
    readonly ConcurrentDictionary<string, Lazy<PreparedModel>> prepared = new();
    readonly string?[] units = new string?[measures.Count];

    public StudyTable Table => table;

    /// <summary>What each run keeps beside its figures; null for nothing.</summary>
    public StudyCourses? Courses { get; init; }

    /// <summary>Of the measures, as far as runs have shown them; null where none has yet.</summary>
    public IReadOnlyList<string?> Units => units;

    /// <summary>The same runs, which keep no courses.</summary>
    public StudyRun Without() => new(model, set, table, measures, options, isShown);

    /// <summary>Takes over the units of a result that another machine has made.</summary>
    public void Learn(StudyResult result)
    {
        for (var i = 0; i < units.Length; i++)
            units[i] ??= result.Units?.ElementAtOrDefault(i);
    }

    /// <summary>Runs rows, several at once.</summary>
    /// <param name="rows">Their indices.</param>
    /// <param name="jobs">How many at once.</param>
    /// <param name="done">Told each result as it comes, one at a time.</param>
    public void Run(IEnumerable<int> rows, int jobs, Action<StudyResult> done, CancellationToken cancellation)
    {
        var gate = new Lock();
        Parallel.ForEach(
            Partitioner.Create(rows, EnumerablePartitionerOptions.NoBuffering),
            new ParallelOptions { MaxDegreeOfParallelism = jobs, CancellationToken = cancellation },
            row =>
            {
                var result = Of(row, table.Rows[row], cancellation);
                lock (gate)
                    done(result);
            }
        );
    }

    /// <summary>One run; what goes wrong in it is its problem and no other's.</summary>
    /// <param name="progress">Told the simulated time now and then.</param>
    public StudyResult Of(int index, StudyCell[] cells, CancellationToken cancellation, Action<double>? progress = null)
    {
        var watch = Stopwatch.StartNew();
        StudyResult Failed(string why) => new(index, [.. measures.Select(_ => (double?)null)], [], why, true, watch.Elapsed.TotalSeconds);
        try
        {
            var (source, ready) = Prepared(cells);
            if (!ready.CanRun)
                return Failed(Told(ready.Findings.First(f => f.Severity == Severity.Error)));
            var parameters = new ParameterSet(ready.Model);
            var wanted = options(source);
            using var session = new RunSession(ready, parameters, wanted);
            session.Advance(new PauseAt(), cancellation, progress);
            var run = session.Result();
            using var trace = run.Trace;
            if (run.Failure is { } failure)
                return cancellation.IsCancellationRequested
                    ? throw new OperationCanceledException(cancellation)
                    : Failed($"{failure.Message} (at {failure.Time:G6} s)");
            var evaluation = new MeasureEvaluation(ready, parameters.Values, trace, wanted.Start, wanted.End);
            var found = measures.Select(m => evaluation.Evaluate(m.Expression)).ToList();
            List<string?> shownUnits =
            [
                .. found.Select(m =>
                    m.Value is null ? null
                    : isShown ? m.ShownUnit
                    : m.Unit
                ),
            ];
            for (var i = 0; i < found.Count; i++)
                units[i] ??= shownUnits[i];
            return new StudyResult(
                index,
                [.. found.Select(m => isShown ? m.Shown : m.Value)],
                Verdicts(source, ready, parameters, trace, wanted),
                found.Find(m => m.Value is null)?.Problem,
                false,
                watch.Elapsed.TotalSeconds,
                shownUnits
            )
            {
                Courses = Courses is { } kept && index < kept.Rows ? kept.Sampled(ready, parameters, trace) : null,
            };
        }
        catch (Exception e) when (e is SimulationException or DocumentException or LanguageException or BudgetException)
        {
            return Failed(e.Message);
        }
    }

    static List<StudyVerdict> Verdicts(
        ModelSource source,
        PreparedModel ready,
        ParameterSet parameters,
        Simulation.Recording.Trace trace,
        RunOptions wanted
    )
    {
        if (source.Document is not { Requirements.Count: > 0 } document)
            return [];
        var check = new RequirementCheck(ready, parameters, trace, wanted.Start, wanted.End, document.Measures);
        return
        [
            .. document.Requirements.Select(r =>
            {
                var verdict = check.Check(r.Key, r.Value);
                return new StudyVerdict(
                    verdict.Kind == VerdictKind.Open ? null : verdict.Kind == VerdictKind.Met,
                    verdict.Margin is { } m && double.IsFinite(m) ? m : null
                );
            }),
        ];
    }

    static string Told(Finding finding) => finding.Part.Length > 0 ? $"{finding.Part}: {finding.Message}" : finding.Message;

    /// <summary>The model with a row's values, and as it was written down with its settings.</summary>
    /// <exception cref="DocumentException">A value is no expression, or a setting is not there.</exception>
    public (ModelSource Source, PreparedModel Model) Prepared(StudyCell[] cells)
    {
        var values = new Dictionary<string, string>(set);
        var plain = new List<(string Path, string Text)>();
        var source = model;
        var (structure, drawsAnew) = ("", false);
        for (var i = 0; i < table.Factors.Count; i++)
        {
            var (path, text) = (table.Factors[i].Path, cells[i].Text);
            if (RowSettings.IsOne(path))
            {
                source = source.With(document => RowSettings.Set(document, path, text));
                // Points of a stimulus change tables of values: their code is shared, but what is prepared is of one row.
                if (TrackPoint.Parse(path) is not null)
                    drawsAnew = true;
                else
                    structure += $"{path}={text}\n";
            }
            else if (cells[i].Number is not null)
                plain.Add((path, text));
            else
            {
                values[path] = text;
                structure += $"{path}={text}\n";
            }
        }

        var shared = prepared.GetOrAdd(structure, _ => new Lazy<PreparedModel>(() =>
            source.Prepare(new Dictionary<string, string>(values))
        ));
        if (plain.Count == 0 && !drawsAnew)
            return (source, shared.Value);
        if (!drawsAnew && ValueChange.Apply(shared.Value, plain) is { } changed)
            return (source, changed);
        foreach (var (path, text) in plain)
            values[path] = text;
        return (source, source.Prepare(values, shared.Value.CanRun ? shared.Value : null));
    }
}
