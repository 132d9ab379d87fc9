using AnchorBend.Exploration.Factors;

namespace AnchorBend.Exploration.Designs;

public enum DesignKind
{
    /// <summary>Every value of each factor with every one of the others; the last factor changes fastest.</summary>
    Grid,

    /// <summary>The first value of all, then each factor's others by themselves.</summary>
    OneAtATime,

    /// <summary>Drawn independently.</summary>
    Random,

    /// <summary>Latin hypercube: each factor's range in as many parts as there are runs, one run in each.</summary>
    LatinHypercube,

    /// <summary>The sequence of Sobol, which fills the space evenly however many of it are taken.</summary>
    Sobol,
}

/// <summary>Rows of values: what the runs of a study have.</summary>
/// <param name="Rows">By run, a value for each factor.</param>
public sealed record StudyDesign(IReadOnlyList<Factor> Factors, IReadOnlyList<FactorLevel[]> Rows)
{
    public const int MostRows = 1_000_000;

    /// <param name="runs">How many rows, of the kinds that are drawn.</param>
    /// <param name="seed">The same seed gives the same rows, bit for bit, on any machine.</param>
    /// <param name="together">Groups of factors that are drawn together; null for none.</param>
    /// <exception cref="ExplorationException">A factor or the number of rows makes no design.</exception>
    public static StudyDesign Of(
        IReadOnlyList<Factor> factors,
        DesignKind kind,
        int runs,
        ulong seed,
        IReadOnlyList<CorrelatedShares>? together = null
    )
    {
        if (factors.Count == 0)
            throw new ExplorationException("factors", "Nothing varies in this study.", "Add a factor.");
        if (factors.GroupBy(f => f.Name).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw new ExplorationException("factors", $"'{twice.Key}' is a factor twice.", "Take one of them away.");
        foreach (var factor in factors)
            factor.Spread.Check(factor.Name);
        if (kind is DesignKind.Grid or DesignKind.OneAtATime)
            return new StudyDesign(factors, kind == DesignKind.Grid ? Grid(factors) : OneAtATime(factors));
        if (runs is < 1 or > MostRows)
            throw new ExplorationException("runs", $"{runs} runs are no study.", $"Take from 1 to {MostRows}.");
        var shares = kind switch
        {
            DesignKind.Random => Drawn(factors.Count, runs, new SeededDraw(seed)),
            DesignKind.LatinHypercube => LatinHypercube(factors.Count, runs, new SeededDraw(seed)),
            _ => SobolSequence.Points(factors.Count, runs, seed),
        };
        List<double[]> drawn = [.. shares];
        foreach (var group in together ?? [])
            drawn.ForEach(group.Apply);
        return new StudyDesign(factors, [.. drawn.Select(row => row.Select((s, i) => factors[i].Spread.At(s)).ToArray())]);
    }

    static IReadOnlyList<FactorLevel> Levels(Factor factor) =>
        factor.Spread.Levels
        ?? throw new ExplorationException(
            "levels",
            $"'{factor.Name}' has no end of values, so they cannot be gone through.",
            "Give it a list or steps, or draw the runs."
        );

    static List<FactorLevel[]> Grid(IReadOnlyList<Factor> factors)
    {
        var levels = factors.Select(Levels).ToList();
        var count = 1L;
        foreach (var of in levels)
            if ((count *= of.Count) > MostRows)
                throw new ExplorationException(
                    "runs",
                    $"All combinations of these factors are more than {MostRows} runs.",
                    "Take fewer steps, or a Latin hypercube."
                );
        var rows = new List<FactorLevel[]>((int)count);
        for (var n = 0L; n < count; n++)
        {
            var row = new FactorLevel[factors.Count];
            var rest = n;
            for (var i = factors.Count - 1; i >= 0; i--)
            {
                row[i] = levels[i][(int)(rest % levels[i].Count)];
                rest /= levels[i].Count;
            }

            rows.Add(row);
        }

        return rows;
    }

    static List<FactorLevel[]> OneAtATime(IReadOnlyList<Factor> factors)
    {
        var levels = factors.Select(Levels).ToList();
        FactorLevel[] first = [.. levels.Select(l => l[0])];
        List<FactorLevel[]> rows = [first];
        for (var i = 0; i < factors.Count; i++)
            foreach (var level in levels[i].Skip(1))
            {
                var row = (FactorLevel[])first.Clone();
                row[i] = level;
                rows.Add(row);
            }

        return rows;
    }

    static IEnumerable<double[]> Drawn(int factors, int runs, SeededDraw draw) =>
        Enumerable.Range(0, runs).Select(_ => Enumerable.Range(0, factors).Select(_ => draw.Share()).ToArray());

    /// <summary>McKay, Beckman and Conover, Technometrics 21, 1979.</summary>
    internal static double[][] LatinHypercube(int factors, int runs, SeededDraw draw)
    {
        var rows = Enumerable.Range(0, runs).Select(_ => new double[factors]).ToArray();
        for (var i = 0; i < factors; i++)
        {
            var order = draw.Permutation(runs);
            for (var n = 0; n < runs; n++)
                rows[n][i] = Math.Min((order[n] + draw.Share()) / runs, Math.BitDecrement(1.0));
        }

        return rows;
    }
}
