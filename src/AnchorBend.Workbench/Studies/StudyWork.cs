using AnchorBend.Interchange.Sheets;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using Microsoft.Extensions.Logging;

namespace AnchorBend.Workbench.Studies;

/// <summary>Runs of picked rows, to be looked at.</summary>
/// <param name="Runs">Ids by row.</param>
public sealed record OverlayView(IReadOnlyDictionary<int, string> Runs);

/// <summary>What is done with studies beside running them: their design tables, rows as runs to look at, results as files.</summary>
public sealed class StudyWork(RunPool runs, ILogger<StudyWork> logger)
{
    /// <summary>Rows of a design table that are answered at once.</summary>
    public const int MostRows = 2000;

    /// <summary>Rows that are overlaid at once.</summary>
    public const int MostOverlaid = 60;

    /// <exception cref="NotFoundException">There is no such study.</exception>
    public StudyDesignView Design(ModelSession session, string study, int offset, int limit, CancellationToken wanted)
    {
        var (prepared, document, _) = session.Prepare(wanted);
        if (!document.Studies.TryGetValue(study, out var node))
            throw new NotFoundException("There is no such study any more.");
        var plan = StudyPlan.Of(document, node, prepared, true);
        var off = node.Off.ToHashSet();
        var own = plan.Table is null ? 0 : node.Rows.Count;
        var firstOwn = plan.Numbers.Count == 0 ? 0 : plan.Numbers[^1] - own;
        return new StudyDesignView(
            plan.Factors,
            plan.Numbers.Count(n => !off.Contains(n)),
            plan.LeftOut,
            plan.Numbers.Count,
            [
                .. plan
                    .Numbers.Select((n, i) => (Number: n, Place: i))
                    .Skip(offset)
                    .Take(limit)
                    .Select(r => new StudyDesignRow(
                        r.Number,
                        !off.Contains(r.Number),
                        [.. plan.Table!.Rows[r.Place].Select(c => c.Text)],
                        r.Number > firstOwn
                    )),
            ],
            plan.Problem,
            plan.Advice
        );
    }

    /// <summary>Makes runs of rows, with all that is recorded, one beside another; those of the last time go.</summary>
    /// <exception cref="DocumentException">A row is not there, or they are too many.</exception>
    public OverlayView Overlay(StudyJob job, IReadOnlyList<int> rows)
    {
        if (rows.Count > MostOverlaid)
            throw new DocumentException($"At most {MostOverlaid} runs are overlaid at once. Pick fewer, or look at the charts.");
        var view = job.View();
        if (rows.Any(r => r < 0 || r >= view.Rows))
            throw new DocumentException("The study has no such row.");
        var set = $"study {job.ModelId}";
        runs.ForgetSet(set);
        var name = job.Study.Name;
        var made = new List<RunJob>();
        foreach (var row in rows.Distinct())
        {
            var (source, prepared) = job.Run.Prepared(job.Row(row));
            if (!prepared.CanRun)
                throw new DocumentException($"Row {row + 1} cannot run: {prepared.Findings[0].Message}");
            var options = RunPool.OptionsOf(source.Document!);
            made.Add(
                new RunJob(
                    job.ModelId,
                    job.Stored.Revision,
                    prepared,
                    source.Document!,
                    options with
                    {
                        Keep = KeptVariables.Of(prepared, source.Document!, options),
                    }
                )
                {
                    Set = set,
                    Number = row + 1,
                    Label = new RunLabel($"{Words(job, row)} · {name}", "", false),
                }
            );
        }

        foreach (var run in made)
            _ = Task.Factory.StartNew(
                () =>
                {
                    try
                    {
                        runs.Make(run);
                    }
                    catch (Exception e)
                    {
                        logger.LogError(e, "Row {Row} of the study {Study} cannot be looked at.", run.Number, job.Id);
                    }
                },
                CancellationToken.None,
                TaskCreationOptions.LongRunning,
                TaskScheduler.Default
            );
        return new OverlayView(made.ToDictionary(m => m.Number - 1, m => m.Id));
    }

    static string Words(StudyJob job, int row)
    {
        const int most = 3;
        var cells = job.Row(row);
        return string.Join(", ", job.Run.Table.Factors.Take(most).Select((f, i) => $"{f.Label} {cells[i].Text}"));
    }

    /// <summary>All results as columns.</summary>
    public static (IReadOnlyList<ResultColumn> Columns, int Rows) Table(StudyJob job)
    {
        List<ResultRow> rows = [.. job.Results().OfType<StudyResult>().Select(job.RowOf)];
        var (factors, measures, requirements) = job.Columns;
        static double Or(double? value) => value ?? double.NaN;
        var columns = new List<ResultColumn> { new("run", "", [.. rows.Select(r => r.Row + 1.0)], null) };
        for (var i = 0; i < factors.Count; i++)
        {
            var at = i;
            var isNumeric = rows.TrueForAll(r => r.Numbers[at] is not null);
            columns.Add(
                new ResultColumn(
                    factors[i].Name,
                    isNumeric ? factors[i].Unit : "",
                    isNumeric ? [.. rows.Select(r => r.Numbers[at]!.Value)] : null,
                    isNumeric ? null : [.. rows.Select(r => r.Cells[at])]
                )
            );
        }

        for (var i = 0; i < measures.Count; i++)
            columns.Add(new ResultColumn(measures[i].Name, measures[i].Unit, [.. rows.Select(r => Or(r.Measures[i]))], null));
        for (var i = 0; i < requirements.Count; i++)
        {
            columns.Add(
                new ResultColumn(requirements[i].Name + ", margin", "", [.. rows.Select(r => Or(r.Margins.ElementAtOrDefault(i)))], null)
            );
            columns.Add(
                new ResultColumn(
                    requirements[i].Name,
                    "",
                    null,
                    [
                        .. rows.Select(r =>
                            r.Met.ElementAtOrDefault(i) is { } met
                                ? met
                                    ? "met"
                                    : "missed"
                                : "open"
                        ),
                    ]
                )
            );
        }

        columns.Add(new ResultColumn("problem", "", null, [.. rows.Select(r => r.Problem ?? "")]));
        return (columns, rows.Count);
    }

    /// <summary>The values of a row as an edit of the model: those of a search's best, or of any other.</summary>
    /// <exception cref="DocumentException">A factor is no parameter of the model.</exception>
    public static IReadOnlyList<PatchOperation> Applied(StudyJob job, int row, ModelDocument present)
    {
        var cells = job.Row(row);
        return [.. job.Run.Table.Factors.SelectMany((f, i) => FactorEdits.Of(present, f, job.Study.Factors[f.Id].Target, cells[i]))];
    }
}
