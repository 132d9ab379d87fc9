using AnchorBend.Exploration;
using AnchorBend.Exploration.Trends;
using AnchorBend.Language;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Studies;

/// <summary>How a measure is spread over the runs.</summary>
public sealed record MeasureSpread(string Id, string Name, string Unit, Distribution? Spread);

/// <summary>What share of the runs meets a requirement.</summary>
/// <param name="Share">With the interval that holds the true share with 95 %; null while no run decides.</param>
/// <param name="Goes">The factor that its margin goes with most, by rank; null where none does.</param>
public sealed record RequirementYield(string Id, string Name, int Met, int Missed, ShareInterval? Share, string? Goes, double? Rank);

/// <summary>What a study has shown so far.</summary>
/// <param name="Yield">The share of runs that meet every requirement; null without requirements.</param>
public sealed record StudySummary(
    IReadOnlyList<MeasureSpread> Measures,
    IReadOnlyList<RequirementYield> Requirements,
    ShareInterval? Yield,
    int Judged
);

/// <summary>Values of one column by another's value.</summary>
public sealed record BoxView(string Label, double? At, Distribution Spread);

/// <summary>A mean over a cell of two factors.</summary>
public sealed record MapCell(double X, double Y, double Value, int Count);

/// <summary>How much a column goes with a factor.</summary>
/// <param name="Low">What the straight law of all factors gives at the factor's least value, the others in the middle.</param>
/// <param name="High">At its largest.</param>
/// <param name="Share">Of the variance, for a design that tells; with errors.</param>
public sealed record WeightView(
    string Factor,
    string Label,
    double? Regression,
    double? Rank,
    double? Low,
    double? High,
    VarianceShare? Share
);

/// <summary>What a chart of a study shows beside the runs themselves.</summary>
/// <param name="Course">A fitted course with its band.</param>
/// <param name="Law">It in words.</param>
/// <param name="Problem">Why something is missing.</param>
public sealed record StudyChart(
    IReadOnlyList<TrendPoint> Course,
    string? Law,
    double? Determination,
    Distribution? Spread,
    IReadOnlyList<BoxView> Boxes,
    IReadOnlyList<MapCell> Cells,
    IReadOnlyList<WeightView> Weights,
    double? Explained,
    string? Problem
)
{
    /// <summary>Lines of one value on a map whose cells form a grid.</summary>
    public IReadOnlyList<MapLine> Lines { get; init; } = [];
}

/// <summary>A line on which a map has one value.</summary>
/// <param name="X">Places among the map's columns; 1.5 lies between the second and the third.</param>
/// <param name="Y">Places among its rows.</param>
public sealed record MapLine(double Level, IReadOnlyList<double> X, IReadOnlyList<double> Y);

/// <summary>Figures of a study's results: spreads, shares, trends, weights.</summary>
public sealed class StudyAnalysis
{
    const int MostBoxes = 60;

    readonly StudyJob job;
    readonly List<ResultRow> rows;

    /// <summary>Runs that failed: they are in no figure, and meet nothing.</summary>
    readonly int failed;

    /// <param name="without">Rows that are left out of all charts.</param>
    public StudyAnalysis(StudyJob job, IReadOnlySet<int> without)
    {
        this.job = job;
        List<StudyResult> taken = [.. job.Results().OfType<StudyResult>().Where(r => !without.Contains(r.Index))];
        failed = taken.Count(r => r.IsFailed);
        rows = [];
        foreach (var result in taken.Where(r => !r.IsFailed))
        {
            WorkBudget.Current.Check();
            rows.Add(job.RowOf(result));
        }
    }

    public StudySummary Summary()
    {
        var (_, measures, requirements) = job.Columns;
        var judged = rows.Where(r => r.Met.Count > 0 && r.Met.All(m => m is not null)).ToList();
        return new StudySummary(
            [
                .. measures.Select(
                    (m, i) => new MeasureSpread(m.Id, m.Name, m.Unit, Distribution.Of(Finite(rows.Select(r => r.Measures[i]))))
                ),
            ],
            [
                .. requirements.Select(
                    (q, i) =>
                    {
                        var met = rows.Count(r => r.Met.Count > i && r.Met[i] == true);
                        var missed = rows.Count(r => r.Met.Count > i && r.Met[i] == false);
                        var (goes, rank) = Goes(r => r.Margins.Count > i ? r.Margins[i] : null);
                        return new RequirementYield(q.Id, q.Name, met, missed, Share(met, met + missed + failed), goes, rank);
                    }
                ),
            ],
            requirements.Count == 0 ? null : Share(judged.Count(r => r.Met.All(m => m == true)), judged.Count + failed),
            judged.Count + failed
        );
    }

    static IEnumerable<double> Finite(IEnumerable<double?> values) => values.OfType<double>();

    static ShareInterval? Share(int met, int count) => count > 0 ? ShareInterval.Of(met, count, StudyJob.Confidence) : null;

    /// <summary>The factor that something goes with most, by rank.</summary>
    (string? Factor, double? Rank) Goes(Func<ResultRow, double?> of)
    {
        try
        {
            var (numeric, weights, _) = Weighed(of);
            var best = weights.Factors.Select((w, i) => (i, w.Rank)).MaxBy(w => Math.Abs(w.Rank));
            return Math.Abs(best.Rank) > 0 ? (job.Columns.Factors[numeric[best.i]].Name, best.Rank) : (null, null);
        }
        catch (ExplorationException)
        {
            return (null, null);
        }
    }

    /// <summary>What a chart shows beside the runs.</summary>
    /// <exception cref="DocumentException">It names no column.</exception>
    public StudyChart Chart(StudyChartNode chart)
    {
        var empty = new StudyChart([], null, null, null, [], [], [], null, null);
        try
        {
            return chart.Kind switch
            {
                "scatter" => Trend(empty, chart),
                "histogram" => empty with { Spread = Distribution.Of(Finite(rows.Select(Column(chart.X)))) },
                "box" => empty with { Boxes = Boxes(chart) },
                "map" => Map(empty, chart),
                "weights" or "tornado" => Weights(empty, chart),
                _ => empty,
            };
        }
        catch (ExplorationException e)
        {
            return empty with { Problem = $"{e.Message} {e.Advice}".Trim() };
        }
    }

    /// <summary>Values of a column: <c>run</c>, or <c>factor:</c>, <c>measure:</c>, <c>margin:</c> with an id.</summary>
    Func<ResultRow, double?> Column(string name)
    {
        var (factors, measures, requirements) = job.Columns;
        var (kind, id) = name.Split(':', 2) is [var k, var rest] ? (k, rest) : (name, "");
        int Place(IReadOnlyList<StudyColumn> of) => of.ToList().FindIndex(c => c.Id == id);
        return (
            kind,
            Place(
                kind == "factor" ? factors
                : kind == "measure" ? measures
                : requirements
            )
        ) switch
        {
            ("run", _) => r => r.Row + 1,
            ("factor", >= 0 and var i) => r => r.Numbers[i],
            ("measure", >= 0 and var i) => r => r.Measures[i],
            ("margin", >= 0 and var i) => r => r.Margins.Count > i ? r.Margins[i] : null,
            _ => throw new DocumentException($"The results have no column '{DocumentLimits.Short(name)}'."),
        };
    }

    StudyChart Trend(StudyChart empty, StudyChartNode chart)
    {
        if (chart.Fit == "none")
            return empty;
        var (of, on) = (Column(chart.Y), Column(chart.X));
        var pairs = rows.Select(r => (X: on(r), Y: of(r))).Where(p => p.X is not null && p.Y is not null).ToList();
        double[] x = [.. pairs.Select(p => p.X!.Value)],
            y = [.. pairs.Select(p => p.Y!.Value)];
        if (chart.Fit == "smooth")
            return empty with { Course = Drawn(LocalTrend.Of(x, y)) };
        var degree = chart.Fit switch
        {
            "square" => 2,
            "cubic" => 3,
            _ => 1,
        };
        var fit = TrendFit.Of(x, y, chart.Fit == "power" ? TrendKind.Power : TrendKind.Polynomial, degree, StudyJob.Confidence);
        return empty with
        {
            Course = Drawn(fit.Course),
            Law = Law(fit),
            Determination = double.IsFinite(fit.Determination) ? fit.Determination : null,
        };
    }

    /// <summary>A band that nothing tells of, as of two points, has no width.</summary>
    static IReadOnlyList<TrendPoint> Drawn(IReadOnlyList<TrendPoint> course) =>
        [
            .. course
                .Where(p => double.IsFinite(p.Y))
                .Select(p => double.IsFinite(p.Low) && double.IsFinite(p.High) ? p : p with { Low = p.Y, High = p.Y }),
        ];

    static string Law(TrendFit fit)
    {
        string N(double v) => v.ToString("G4", System.Globalization.CultureInfo.InvariantCulture);
        if (fit.Kind == TrendKind.Power)
            return $"{N(fit.Coefficients[0])}·x^{N(fit.Coefficients[1])}";
        return string.Join(
            " + ",
            fit.Coefficients.Select(
                (c, i) =>
                    N(c)
                    + i switch
                    {
                        0 => "",
                        1 => "·x",
                        2 => "·x²",
                        _ => "·x³",
                    }
            )
        );
    }

    List<BoxView> Boxes(StudyChartNode chart)
    {
        var of = Column(chart.Y);
        var factors = job.Columns.Factors.ToList();
        var place = factors.FindIndex(f => "factor:" + f.Id == chart.X);
        if (place < 0)
            throw new ExplorationException("column", "Boxes stand over a factor.", "Choose a factor for the bottom.");
        var groups = rows.Where(r => of(r) is not null).GroupBy(r => r.Cells[place]).ToList();
        if (groups.Count > MostBoxes)
            throw new ExplorationException("groups", $"The factor has {groups.Count} values.", "Points show more here than boxes.");
        return
        [
            .. groups
                .Select(g => new BoxView(g.Key, g.First().Numbers[place], Distribution.Of(Finite(g.Select(of)))!))
                .OrderBy(b => b.At ?? double.PositiveInfinity),
        ];
    }

    List<MapCell> Cells(StudyChartNode chart)
    {
        if (chart.Z is not { Length: > 0 } z)
            throw new ExplorationException("column", "A map needs a third column.", "Choose what its tone shows.");
        var (x, y, v) = (Column(chart.X), Column(chart.Y), Column(z));
        return
        [
            .. rows.Where(r => x(r) is not null && y(r) is not null && v(r) is not null)
                .GroupBy(r => (X: x(r)!.Value, Y: y(r)!.Value))
                .Select(g => new MapCell(g.Key.X, g.Key.Y, g.Average(r => v(r)!.Value), g.Count())),
        ];
    }

    StudyChart Map(StudyChart empty, StudyChartNode chart)
    {
        var cells = Cells(chart);
        List<double> xs = [.. cells.Select(c => c.X).Distinct().Order()],
            ys = [.. cells.Select(c => c.Y).Distinct().Order()];
        if (xs.Count < 2 || ys.Count < 2 || xs.Count * (long)ys.Count > 4L * cells.Count)
            return empty with { Cells = cells };
        var grid = new double[xs.Count, ys.Count];
        for (var i = 0; i < xs.Count; i++)
        for (var k = 0; k < ys.Count; k++)
            grid[i, k] = double.NaN;
        var (columns, lines) = (Places(xs), Places(ys));
        foreach (var cell in cells)
            grid[columns[cell.X], lines[cell.Y]] = cell.Value;
        return empty with
        {
            Cells = cells,
            Lines =
            [
                .. Contours
                    .Of(grid, Contours.Levels(cells.Min(c => c.Value), cells.Max(c => c.Value)))
                    .Select(l => new MapLine(l.Level, [.. l.Points.Select(p => p.X)], [.. l.Points.Select(p => p.Y)])),
            ],
        };
    }

    static Dictionary<double, int> Places(List<double> values) => values.Select((v, i) => (v, i)).ToDictionary(v => v.v, v => v.i);

    StudyChart Weights(StudyChart empty, StudyChartNode chart)
    {
        var of = Column(chart.Y);
        var (numeric, weights, ends) = Weighed(of);
        var factors = job.Columns.Factors;
        IReadOnlyList<VarianceShare>? shares = null;
        if (job.Study.Design is { Kind: "shares" } design && job.Study.Rows.Count == 0 && numeric.Count == factors.Count)
        {
            var all = job.Results();
            // Only the whole table tells: rows that are off or left out by a condition are missing in every sum.
            if (all.Count == design.Runs * (factors.Count + 2) && all.All(r => r is { IsFailed: false }))
                shares = VarianceShares.Of([.. all.Select(r => of(job.RowOf(r!)) ?? double.NaN)], factors.Count, design.Seed);
        }

        double? Told(double v) => double.IsFinite(v) ? v : null;
        return empty with
        {
            Explained = Told(weights.Explained),
            Weights =
            [
                .. numeric.Select(
                    (f, i) =>
                        new WeightView(
                            factors[f].Id,
                            factors[f].Name,
                            Told(weights.Factors[i].Regression),
                            Told(weights.Factors[i].Rank),
                            Told(ends[i].Low),
                            Told(ends[i].High),
                            shares?[i]
                        )
                ),
            ],
        };
    }

    /// <summary>Weights of the factors that are numbers everywhere and vary.</summary>
    (List<int> Numeric, Sensitivity Weights, List<(double Low, double High)> Ends) Weighed(Func<ResultRow, double?> of)
    {
        var kept = rows.Where(r => of(r) is not null).ToList();
        var numeric = Enumerable
            .Range(0, job.Columns.Factors.Count)
            .Where(f => kept.All(r => r.Numbers[f] is not null) && kept.Select(r => r.Numbers[f]).Distinct().Skip(1).Any())
            .ToList();
        if (numeric.Count == 0)
            throw new ExplorationException("factors", "No factor of numbers varies in these runs.", "Look at boxes by factor.");
        List<double[]> inputs = [.. kept.Select(r => numeric.Select(f => r.Numbers[f]!.Value).ToArray())];
        double[] results = [.. kept.Select(r => of(r)!.Value)];
        var weights = Sensitivity.Of(inputs, results);
        var spread = Distribution.Of(results)!;
        return (
            numeric,
            weights,
            [
                .. numeric.Select(
                    (_, i) =>
                    {
                        var own = Distribution.Of(inputs.Select(r => r[i]))!;
                        var slope = weights.Factors[i].Regression * (spread.Deviation / own.Deviation ?? double.NaN);
                        return (spread.Mean + slope * (own.Least - own.Mean), spread.Mean + slope * (own.Largest - own.Mean));
                    }
                ),
            ]
        );
    }
}
