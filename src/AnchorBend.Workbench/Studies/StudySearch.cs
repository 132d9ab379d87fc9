using AnchorBend.Exploration;
using AnchorBend.Exploration.Factors;
using AnchorBend.Exploration.Search;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Studies;

/// <summary>
/// A search as a study: it makes rows in rounds, from what came out of the rows before. Same seed and same outcomes, same rows; so after a
/// break it comes to where it was by being told again.
/// </summary>
public sealed class StudySearch
{
    readonly IReadOnlyList<StudyFactor> factors;
    readonly StudySearchNode wanted;
    readonly ISearch search;
    readonly SearchLoads loads;

    /// <summary>Place of the requirement whose margin is made least; −1 for all of them.</summary>
    readonly int worst;

    /// <summary>Sets of faults that are tried by one search.</summary>
    const int MostSets = 100_000;

    int asked;

    /// <summary>Whether a run missed what is made to be missed.</summary>
    bool isMissed;

    /// <param name="document">Whose requirements are kept, or missed as far as can be.</param>
    /// <param name="present">The row that the model has now; null where it lies outside of the bounds.</param>
    /// <param name="draws">How many draws each attempt stands, where it does.</param>
    /// <exception cref="ExplorationException">The factors have no bounds, or nothing is looked for.</exception>
    public StudySearch(
        StudySearchNode wanted,
        IReadOnlyList<StudyFactor> factors,
        ModelDocument? document,
        IReadOnlyList<string?> present,
        int draws = 1
    )
    {
        (this.wanted, this.factors) = (wanted, factors);
        if (wanted.Worst is null && wanted.Goal.Trim().Length == 0)
            throw new ExplorationException("goal", "Nothing is looked for yet.", "Write what is to be made least, such as maximum(depth).");
        if (wanted.Worst is not null && document is not { Requirements.Count: > 0 })
            throw new ExplorationException("goal", "The model has no requirement that could be missed.", "Add one under Verify.");
        worst = wanted.Worst is { Length: > 0 } id ? document!.Requirements.Keys.ToList().IndexOf(id) : -1;
        if (wanted.Worst is { Length: > 0 } && worst < 0)
            throw new ExplorationException("goal", "The requirement is not in the model any more.", "Choose another.");
        loads = SearchLoads.Of(wanted, factors, draws);
        foreach (var factor in loads.Searched)
            if (factor.Spread is NormalSpread { Low: null } or NormalSpread { High: null })
                throw new ExplorationException(
                    "factor",
                    $"'{factor.Label}' has no bounds to search between.",
                    "Give it a range, low:high."
                );
        List<double?> start =
        [
            .. factors
                .Select((f, i) => (f, i))
                .Where(f => IsSearched(f.f))
                .Select(f => present[f.i] is { } text ? ShareOf(f.f, text) : null),
        ];
        if (wanted.Method == "cutsets")
        {
            (search, Why) = (CutSetsOf(wanted, loads), $"Sets of up to {wanted.Order} faults, the smallest first.");
            return;
        }

        var choice = SearchChoice.Of(
            Methods[wanted.Method],
            loads.Searched.Count,
            loads.Searched.Count(f => f.Spread.Levels is not null),
            start.TrueForAll(s => s is not null) ? [.. start.Select(s => s!.Value)] : null,
            wanted.Runs / Size,
            wanted.Seed
        );
        (search, Why) = (choice.Search, Size == 1 ? choice.Why : $"{choice.Why} Each attempt is {Size} runs, of which the worst counts.");
    }

    static CutSetSearch CutSetsOf(StudySearchNode wanted, SearchLoads loads)
    {
        if (wanted.Worst is null)
            throw new ExplorationException("goal", "A search for sets of faults needs what they bring about.", "Choose a requirement.");
        if (loads.Searched.FirstOrDefault(f => f.Spread.Levels?.Count != 2) is { } other)
            throw new ExplorationException("factor", $"'{other.Label}' is not off or on.", "Let faults be the factors, as 'off, on'.");
        // All of them are asked for at once, size by size: a search that would end half way would tell of sets that nobody tried.
        if (CutSetSearch.Sets(loads.Searched.Count, wanted.Order) is var sets && sets > Math.Min(wanted.Runs, MostSets))
            throw new ExplorationException(
                "factors",
                FormattableString.Invariant(
                    $"These are {sets:0} sets of up to {wanted.Order} faults; the search may take {Math.Min(wanted.Runs, MostSets)} runs."
                ),
                "Let fewer faults come together, leave some out, or give it more runs."
            );
        return new CutSetSearch(loads.Searched.Count, wanted.Order);
    }

    /// <summary>The least sets so far, as places of factors; null for other searches.</summary>
    public IReadOnlyList<IReadOnlyList<int>>? CutSets =>
        (search as CutSetSearch)
            ?.Found.Select(s => (IReadOnlyList<int>)[.. s.Select(i => factors.ToList().IndexOf(loads.Searched[i]))])
            .ToList();

    /// <summary>Whether a factor is searched, and not what each attempt has to stand.</summary>
    public bool IsSearched(StudyFactor factor) => loads.Searched.Contains(factor);

    /// <summary>Runs of one attempt; rows come in groups of so many.</summary>
    public int Size => loads.Rows.Count;

    static readonly Dictionary<string, SearchMethod> Methods = new()
    {
        ["auto"] = SearchMethod.Automatic,
        ["simplex"] = SearchMethod.Simplex,
        ["covariance"] = SearchMethod.CovarianceAdaptation,
        ["differential"] = SearchMethod.DifferentialEvolution,
        ["newton"] = SearchMethod.QuasiNewton,
    };

    /// <summary>Why this method, in a sentence.</summary>
    public string Why { get; }

    /// <summary>Why it has ended; null while it goes on.</summary>
    public string? Ended =>
        wanted.EndsWhenMissed && isMissed
            ? wanted.Reach is { Length: > 0 }
                ? "It has found such a run."
                : "It has found a run that misses it."
            : asked >= wanted.Runs
                ? $"It has had its {wanted.Runs} runs."
                : search.Ended;

    /// <summary>Whether what it looks for is what a goal says, in the last measure of each result.</summary>
    public bool HasGoal => wanted.Worst is null;

    /// <summary>Rows to be run now; none where it has ended.</summary>
    public IReadOnlyList<StudyCell[]> Ask()
    {
        if (Ended is not null)
            return [];
        List<StudyCell[]> rows = [.. search.Ask().SelectMany(Attempt)];
        asked += rows.Count;
        return rows;
    }

    IEnumerable<StudyCell[]> Attempt(double[] place)
    {
        var found = loads.Searched.Select((f, i) => (f, Cell: CellAt(f, place[i]))).ToDictionary(f => f.f, f => f.Cell);
        return loads.Rows.Select(load => factors.Select(f => found.TryGetValue(f, out var cell) ? cell : load[f]).ToArray());
    }

    /// <param name="results">Of the rows that were asked for, in their order.</param>
    public void Tell(IReadOnlyList<StudyResult> results)
    {
        isMissed |= !HasGoal && results.Any(IsCounterexample);
        // What is missed may have no margin, as where a time has passed: whether it is missed is enough for sets of faults.
        search.Tell([.. results.Chunk(Size).Select(a => search is CutSetSearch ? Missed(a) : OutcomeOf(a))]);
    }

    Outcome Missed(IReadOnlyList<StudyResult> attempt) =>
        attempt.Any(IsCounterexample) ? new Outcome(-1, 0)
        : attempt.All(r => r.IsFailed) ? Outcome.Failed
        : new Outcome(1, 0);

    /// <summary>Whether a run misses the requirement whose margin is made least.</summary>
    public bool IsCounterexample(StudyResult result) =>
        !result.IsFailed && (worst >= 0 ? result.Verdicts[worst].IsMet == false : result.Verdicts.Any(v => v.IsMet == false));

    /// <summary>How good the runs of one attempt are together: as the worst of them.</summary>
    public Outcome OutcomeOf(IReadOnlyList<StudyResult> attempt) => attempt.Select(OutcomeOf).Max();

    /// <summary>Of the runs of an attempt the one that decides.</summary>
    public StudyResult Deciding(IReadOnlyList<StudyResult> attempt) => attempt.MaxBy(OutcomeOf)!;

    /// <summary>Makes all runs of the search, round by round.</summary>
    /// <param name="run">Whose last measure is the goal.</param>
    /// <param name="jobs">How many at once.</param>
    /// <returns>The rows with their results, in their order.</returns>
    public IReadOnlyList<(StudyCell[] Row, StudyResult Result)> Run(StudyRun run, int jobs, CancellationToken cancellation)
    {
        var made = new List<(StudyCell[], StudyResult)>();
        while (Ask() is { Count: > 0 } rows)
        {
            var results = new StudyResult[rows.Count];
            var first = made.Count;
            Parallel.For(0, rows.Count, new ParallelOptions { MaxDegreeOfParallelism = jobs, CancellationToken = cancellation }, i =>
                results[i] = run.Of(first + i, rows[i], cancellation)
            );
            Tell(results);
            made.AddRange(rows.Zip(results));
        }

        return made;
    }

    /// <summary>How good a result is.</summary>
    public Outcome OutcomeOf(StudyResult result)
    {
        if (result.IsFailed)
            return Outcome.Failed;
        double Least(IEnumerable<double?> margins) => margins.OfType<double>().DefaultIfEmpty(double.NaN).Min();
        if (!HasGoal)
            return new Outcome(worst >= 0 ? result.Verdicts[worst].Margin ?? double.NaN : Least(result.Verdicts.Select(v => v.Margin)), 0);
        var violation = wanted.KeepsRequirements
            ? result.Verdicts.Sum(v => v.IsMet == true ? 0 : Math.Max(-v.Margin ?? 1, v.IsMet == false ? 1e-12 : 0))
            : 0;
        return new Outcome(result.Measures[^1] ?? double.NaN, violation);
    }

    static StudyCell CellAt(StudyFactor factor, double share)
    {
        var (low, high) = Bounds(factor.Spread);
        return factor.Spread.Levels is null && factor.Spread is not RangeSpread
            ? factor.CellOf(FactorLevel.Of(low + share * (high - low)))
            : factor.CellOf(factor.Spread.At(Math.Min(share, Math.BitDecrement(1.0))));
    }

    static (double Low, double High) Bounds(FactorSpread spread) =>
        spread switch
        {
            NormalSpread { Low: { } low, High: { } high } => (low, high),
            TriangularSpread t => (t.Low, t.High),
            RangeSpread r => (r.Low, r.High),
            _ => (0, 0),
        };

    static double? ShareOf(StudyFactor factor, string text)
    {
        if (factor.Spread is ListedSpread list)
            return factor.Texts!.ToList().IndexOf(text) is >= 0 and var at ? (at + 0.5) / list.Count : null;
        if (FactorText.NumberIn(text, factor.Unit) is not { } value)
            return null;
        var (low, high) = Bounds(factor.Spread);
        var share = factor.Spread is RangeSpread { IsLogarithmic: true }
            ? Math.Log(value / low) / Math.Log(high / low)
            : (value - low) / (high - low);
        return share is >= 0 and <= 1 ? share : null;
    }
}
