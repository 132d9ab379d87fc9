using AnchorBend.Exploration.Trends;
using AnchorBend.Interchange.Sheets;
using AnchorBend.Language;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Studies;

/// <summary>Runs of picked rows, to be looked at.</summary>
/// <param name="Runs">Ids by row.</param>
public sealed record OverlayView(IReadOnlyDictionary<int, string> Runs);

/// <summary>What is done with studies beside running them: their design tables, rows as runs to look at, results as files.</summary>
public sealed class StudyWork(RunPool runs, IStudyStore store)
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
        var kept = StudyCourses.Of(document, node, prepared, plan.RowsAtMost(node));
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
        )
        {
            KeptSignals = kept.Signals.Count,
            KeptRows = kept.Rows,
            KeptBytes = kept.Rows * kept.BytesPerRow,
        };
    }

    /// <summary>The model's tolerances as they are read.</summary>
    public static TolerancesView Tolerances(ModelSession session, CancellationToken wanted)
    {
        var (prepared, document, _) = session.Prepare(wanted);
        var all = new StudyNode
        {
            Name = "Tolerances",
            Design = new StudyDesignNode { HasTolerances = true },
        };
        var plan = StudyPlan.Of(document, all, prepared);
        return new TolerancesView(plan.Factors, document.Tolerances.Count == 0 ? null : plan.Problem);
    }

    /// <summary>Rows of a file or of what was pasted, as an edit that adds them.</summary>
    /// <exception cref="NotFoundException">There is no such study.</exception>
    /// <exception cref="DocumentException">It is no table of rows.</exception>
    public static ActionView RowsOf(ModelSession session, string study, byte[] table, CancellationToken wanted)
    {
        var (prepared, document, _) = session.Prepare(wanted);
        if (!document.Studies.TryGetValue(study, out var node))
            throw new NotFoundException("There is no such study any more.");
        var factors = StudyPlan.Of(document, node with { Rows = [] }, prepared, true).Factors;
        return RowsOfTable.Of(study, node, [.. factors.Where(f => !f.IsTolerance)], SpreadsheetFile.Read(table));
    }

    /// <summary>Where the courses of signals lie in rows of a study.</summary>
    /// <param name="signals">By identity; those whose courses are not kept have no band.</param>
    public StudyBands Bands(StudyJob job, IReadOnlyList<int> rows, IReadOnlyList<string> signals)
    {
        if (job.Run.Courses is not { Rows: > 0 } kept)
            return new StudyBands(
                [],
                0,
                "The study keeps no courses: choose those of the plot sheets in its design table, and run it anew."
            );
        var (bands, runs) = (new List<SignalBand>(), 0);
        foreach (var signal in signals.Distinct())
        {
            WorkBudget.Current.Check();
            if (kept.Signals.ToList().IndexOf(job.Document.NameOf(signal) ?? signal) is not (>= 0 and var place))
                continue;
            var courses = store.Courses(job.Id, rows, place);
            runs = Math.Max(runs, courses.Count);
            var band = CourseBand.Of(kept.Times, [.. courses.Values]);
            List<int> known = [.. Enumerable.Range(0, band.Times.Count).Where(i => band.Count[i] > 0)];
            IReadOnlyList<double> Of(IReadOnlyList<double> all) => [.. known.Select(i => all[i])];
            bands.Add(
                new SignalBand(signal, Of(band.Times), Of(band.Least), Of(band.Low), Of(band.Median), Of(band.High), Of(band.Largest))
            );
        }

        return new StudyBands(
            bands,
            runs,
            bands.Count == 0 ? "None of the signals was kept by this study: it keeps those of the plot sheets as they were when it began."
                : runs == 0 ? "None of these runs keeps courses."
                : null
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
            runs.Begin(run);
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
        return
        [
            .. job
                .Run.Table.Factors.Select((f, i) => (Factor: f, Cell: cells[i]))
                .Where(f => job.Search?.IsSearched(f.Factor) ?? true)
                .SelectMany(f => FactorEdits.Of(present, f.Factor, f.Factor.Target, f.Cell)),
        ];
    }
}
