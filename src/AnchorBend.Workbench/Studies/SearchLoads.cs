using AnchorBend.Exploration;
using AnchorBend.Exploration.Factors;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Studies;

/// <summary>What each attempt of a search has to stand: the ends of what is drawn, the values of lists, or draws.</summary>
/// <param name="Searched">Factors that are searched.</param>
/// <param name="Rows">Cells of the others, one row for each run of an attempt; a single empty one where nothing is to be stood.</param>
sealed record SearchLoads(IReadOnlyList<StudyFactor> Searched, IReadOnlyList<IReadOnlyDictionary<StudyFactor, StudyCell>> Rows)
{
    const int Most = 512;

    /// <param name="draws">How many, where they are drawn; the same for every attempt, which then differ by what was searched.</param>
    /// <exception cref="ExplorationException">There is nothing to be stood, or too much.</exception>
    public static SearchLoads Of(StudySearchNode wanted, IReadOnlyList<StudyFactor> factors, int draws)
    {
        if (wanted.Under == "nominal")
            return new SearchLoads(factors, [new Dictionary<StudyFactor, StudyCell>()]);
        List<StudyFactor> drawn = [.. factors.Where(f => f.IsDrawn)];
        if (drawn.Count == 0)
            throw new ExplorationException(
                "factors",
                "There is nothing that each attempt could have to stand.",
                "Add the model's tolerances, or a factor such as ± 10 %, or a list that is drawn; or let attempts be single runs."
            );
        var levels =
            wanted.Under == "corners" ? Corners(drawn)
            : draws <= Most ? StudyTable.Draws(drawn, draws, wanted.Seed)
            : throw TooMany(draws);
        if (levels.Count > wanted.Runs)
            throw TooMany(levels.Count);
        return new SearchLoads(
            [.. factors.Where(f => !f.IsDrawn)],
            [.. levels.Select(row => drawn.Select((f, i) => (f, Cell: f.CellOf(row[i]))).ToDictionary(f => f.f, f => f.Cell))]
        );
    }

    static ExplorationException TooMany(long count) =>
        new(
            "runs",
            $"Each attempt would be {count} runs, more than the search may take in all or than {Most}.",
            "Let it stand fewer draws or tolerances, or give the search more runs."
        );

    static List<FactorLevel[]> Corners(List<StudyFactor> drawn)
    {
        List<FactorLevel[]> rows =
        [
            [],
        ];
        foreach (var factor in drawn)
        {
            var ends = Ends(factor);
            if (rows.Count * (long)ends.Count > Most)
                throw TooMany(rows.Count * (long)ends.Count);
            rows = [.. rows.SelectMany(r => ends.Select(e => (FactorLevel[])[.. r, e]))];
        }

        return rows;
    }

    static IReadOnlyList<FactorLevel> Ends(StudyFactor factor) =>
        factor.Spread switch
        {
            ListedSpread list => list.Levels,
            NormalSpread { Low: { } low, High: { } high } => [FactorLevel.Of(low), FactorLevel.Of(high)],
            NormalSpread n =>
            [
                FactorLevel.Of(n.Mean - FactorText.Deviations * n.Deviation),
                FactorLevel.Of(n.Mean + FactorText.Deviations * n.Deviation),
            ],
            TriangularSpread t => [FactorLevel.Of(t.Low), FactorLevel.Of(t.High)],
            RangeSpread r => [FactorLevel.Of(r.Low), FactorLevel.Of(r.High)],
            _ => [],
        };
}
