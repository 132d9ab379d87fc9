using System.Collections.Concurrent;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Exploration.Designs;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Verification.Measures;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Studies;

/// <summary>What is measured on each run.</summary>
public sealed record StudyMeasure(string Name, string Expression);

/// <summary>What one run of a study gave.</summary>
/// <param name="Index">From 0, in the order of the design.</param>
/// <param name="Measures">In the units that the model computes in; null for what has no value.</param>
/// <param name="Problem">Why it failed or a measure has no value; null where all is well.</param>
public sealed record StudyResult(int Index, IReadOnlyList<double?> Measures, string? Problem);

/// <summary>
/// Runs the rows of a design on a model: the model is prepared with each row's values, and what was compiled for another row of the same
/// structure is used again. Rows know nothing of one another, so their results are the same whichever runs first, and how many at once.
/// </summary>
public sealed class StudyRun(
    ModelSource model,
    IReadOnlyDictionary<string, string> set,
    IReadOnlyList<StudyFactor> factors,
    StudyDesign design,
    IReadOnlyList<StudyMeasure> measures,
    RunOptions options
)
{
    readonly ConcurrentDictionary<string, PreparedModel> compiled = new();

    /// <summary>A row's values by factor as a table has them: bare numbers, in the unit that the range was given in.</summary>
    public IReadOnlyList<string> Cells(int row) =>
        [
            .. design
                .Rows[row]
                .Select(
                    (level, i) => level.Number?.ToString("R", System.Globalization.CultureInfo.InvariantCulture) ?? factors[i].TextOf(level)
                ),
        ];

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
                var result = Of(row, cancellation);
                lock (gate)
                    done(result);
            }
        );
    }

    /// <summary>One run; what goes wrong in it is its problem and no other's.</summary>
    public StudyResult Of(int row, CancellationToken cancellation)
    {
        StudyResult Failed(string why) => new(row, [.. measures.Select(_ => (double?)null)], why);
        try
        {
            var prepared = Prepared(row);
            if (!prepared.CanRun)
                return Failed(Told(prepared.Findings.First(f => f.Severity == Severity.Error)));
            var parameters = new ParameterSet(prepared.Model);
            using var session = new RunSession(prepared, parameters, options);
            session.Advance(new PauseAt(), cancellation);
            var run = session.Result();
            using var trace = run.Trace;
            if (run.Failure is { } failure)
                return Failed($"{failure.Message} (at {failure.Time:G6} s)");
            var evaluation = new MeasureEvaluation(prepared, parameters.Values, trace, options.Start, options.End);
            var found = measures.Select(m => evaluation.Evaluate(m.Expression)).ToList();
            return new StudyResult(row, [.. found.Select(m => m.Value)], found.FirstOrDefault(m => m.Value is null)?.Problem);
        }
        catch (Exception e) when (e is SimulationException or DocumentException or LanguageException or BudgetException)
        {
            return Failed(e.Message);
        }
    }

    static string Told(Finding finding) => finding.Part.Length > 0 ? $"{finding.Part}: {finding.Message}" : finding.Message;

    PreparedModel Prepared(int row)
    {
        var overrides = new Dictionary<string, string>(set);
        var structure = "";
        for (var i = 0; i < factors.Count; i++)
        {
            var level = design.Rows[row][i];
            overrides[factors[i].Path] = factors[i].TextOf(level);
            // Numbers leave the structure what it is, nearly always; values of lists may change it.
            if (level.Number is null)
                structure += level.Place + " ";
        }

        var prepared = model.Prepare(overrides, compiled.GetValueOrDefault(structure));
        if (prepared.CanRun)
            compiled.TryAdd(structure, prepared);
        return prepared;
    }
}
