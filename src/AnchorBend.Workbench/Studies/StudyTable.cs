using AnchorBend.Exploration;
using AnchorBend.Exploration.Designs;
using AnchorBend.Exploration.Factors;
using AnchorBend.Exploration.Trends;

namespace AnchorBend.Workbench.Studies;

/// <summary>One value of a row.</summary>
/// <param name="Text">As typed.</param>
/// <param name="Number">In the factor's unit; null for what is no number.</param>
public readonly record struct StudyCell(string Text, double? Number);

/// <summary>The rows of a study: what each run has.</summary>
/// <param name="Rows">By run, a cell for each factor.</param>
public sealed record StudyTable(IReadOnlyList<StudyFactor> Factors, IReadOnlyList<StudyCell[]> Rows)
{
    /// <summary>Rows of a design over all factors.</summary>
    /// <exception cref="ExplorationException">They make no design.</exception>
    public static StudyTable Of(IReadOnlyList<StudyFactor> factors, DesignKind kind, int runs, ulong seed) =>
        new(
            factors,
            [
                .. StudyDesign
                    .Of([.. factors.Select(f => f.Factor)], kind, runs, seed, FactorGroup.Of(factors))
                    .Rows.Select(r => Cells(factors, r)),
            ]
        );

    /// <summary>
    /// Rows of a design over the factors that are gone through, each with as many draws of the others: the same draws for every row, so
    /// that rows differ by what was set and not by luck. The first draws stay what they are when more are wanted.
    /// </summary>
    /// <param name="kind">Null where only draws are made.</param>
    /// <exception cref="ExplorationException">They make no design.</exception>
    public static StudyTable Of(IReadOnlyList<StudyFactor> factors, DesignKind? kind, int runs, ulong seed, int draws)
    {
        // Where rows are drawn, tolerances are drawn with them: one draw for all rows would vary nothing.
        if (kind is DesignKind.Random or DesignKind.LatinHypercube or DesignKind.Sobol)
            return Of(factors, kind.Value, runs, seed);
        var (set, drawn) = (factors.Where(f => !f.IsDrawn).ToList(), factors.Where(f => f.IsDrawn).ToList());
        foreach (var factor in drawn)
            factor.Spread.Check(factor.Label);
        if (drawn.Count == 0)
            draws = 1;
        IReadOnlyList<FactorLevel[]> rows =
            set.Count == 0 || kind is null
                ?
                [
                    [],
                ]
                : StudyDesign.Of([.. set.Select(f => f.Factor)], kind.Value, runs, seed).Rows;
        if (rows.Count * (long)draws > StudyDesign.MostRows)
            throw new ExplorationException(
                "runs",
                $"{rows.Count} rows with {draws} draws each are more than {StudyDesign.MostRows} runs.",
                "Take fewer steps or fewer draws."
            );
        var levels = Draws(drawn, draws, seed);
        var made = new List<StudyCell[]>(rows.Count * draws);
        foreach (var of in levels)
        foreach (var row in rows)
        {
            var (s, d) = (0, 0);
            made.Add([.. factors.Select(f => f.CellOf(f.IsDrawn ? of[d++] : row[s++]))]);
        }

        return new StudyTable(factors, made);
    }

    /// <summary>Levels of factors, drawn so many times.</summary>
    internal static List<FactorLevel[]> Draws(IReadOnlyList<StudyFactor> drawn, int count, ulong seed)
    {
        var (draw, together) = (new SeededDraw(seed), FactorGroup.Of(drawn));
        var levels = new List<FactorLevel[]>(count);
        for (var n = 0; n < count; n++)
        {
            double[] shares = [.. drawn.Select(_ => draw.Share())];
            foreach (var group in together)
                group.Apply(shares);
            levels.Add([.. drawn.Select((f, i) => f.Spread.At(shares[i]))]);
        }

        return levels;
    }

    /// <summary>Rows from which shares of variance can be told (<see cref="VarianceShares"/>).</summary>
    /// <param name="count">Of independent draws; there are as many rows for each factor, and twice as many besides.</param>
    public static StudyTable ForShares(IReadOnlyList<StudyFactor> factors, int count, ulong seed)
    {
        foreach (var factor in factors)
            factor.Spread.Check(factor.Label);
        if (factors.Any(f => f.Group is not null))
            throw new ExplorationException(
                "factors",
                "Shares of variance ask for factors that vary independently.",
                "Take the tolerances out of their groups, or choose another design."
            );
        if (count * (factors.Count + 2L) > StudyDesign.MostRows)
            throw new ExplorationException("runs", $"These are more than {StudyDesign.MostRows} runs.", "Take fewer draws.");
        return new StudyTable(
            factors,
            [
                .. VarianceShares
                    .Rows(factors.Count, count, seed)
                    .Select(r => r.Select((s, i) => factors[i].CellOf(factors[i].Spread.At(s))).ToArray()),
            ]
        );
    }

    static StudyCell[] Cells(IReadOnlyList<StudyFactor> factors, FactorLevel[] row) =>
        [.. row.Select((level, i) => factors[i].CellOf(level))];
}
