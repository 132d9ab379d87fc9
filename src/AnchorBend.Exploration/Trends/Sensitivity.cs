using AnchorBend.Exploration.Designs;
using MathNet.Numerics.LinearAlgebra.Double;
using MathNet.Numerics.Statistics;

namespace AnchorBend.Exploration.Trends;

/// <summary>How much a result goes with one factor.</summary>
/// <param name="Regression">Standardised regression coefficient: by how many of its deviations the result goes with one of the
/// factor's, the others kept (Saltelli and others, "Global Sensitivity Analysis", section 1.2.5); NaN where it cannot be told.</param>
/// <param name="Rank">Spearman's rank correlation.</param>
public sealed record FactorWeight(double Regression, double Rank);

/// <summary>Which factors a result goes with, from runs of any design.</summary>
/// <param name="Explained">R²: the share of the result's variance that a straight law in all factors explains; where it is small the
/// regression says little.</param>
public sealed record Sensitivity(IReadOnlyList<FactorWeight> Factors, double Explained)
{
    /// <param name="factors">By run, a number for each factor.</param>
    /// <param name="results">By run.</param>
    /// <exception cref="ExplorationException">There are too few runs.</exception>
    public static Sensitivity Of(IReadOnlyList<double[]> factors, IReadOnlyList<double> results)
    {
        var kept = Enumerable.Range(0, factors.Count).Where(i => double.IsFinite(results[i]) && factors[i].All(double.IsFinite)).ToArray();
        var k = factors.Count > 0 ? factors[0].Length : 0;
        if (kept.Length < k + 2)
            throw new ExplorationException("sensitivity", $"{kept.Length} runs are too few for {k} factors.", $"Take {k + 2} or more.");
        double[] y = [.. kept.Select(i => results[i])];
        var columns = Enumerable.Range(0, k).Select(c => kept.Select(i => factors[i][c]).ToArray()).ToArray();
        var (weights, explained) = Regression(columns, y);
        return new Sensitivity(
            [.. columns.Select((c, i) => new FactorWeight(weights[i], Varies(c) && Varies(y) ? Correlation.Spearman(c, y) : 0))],
            explained
        );
    }

    static bool Varies(double[] values) => values.Max() > values.Min();

    static (double[] Weights, double Explained) Regression(double[][] columns, double[] y)
    {
        var used = Enumerable.Range(0, columns.Length).Where(i => Varies(columns[i])).ToArray();
        var weights = new double[columns.Length];
        if (used.Length == 0 || !Varies(y))
            return (weights, Varies(y) ? 0 : 1);
        double[] Standard(double[] v)
        {
            var (mean, deviation) = (v.Average(), v.StandardDeviation());
            return [.. v.Select(x => (x - mean) / deviation)];
        }

        var design = DenseMatrix.OfColumnArrays(used.Select(i => Standard(columns[i])));
        var wanted = DenseVector.OfArray(Standard(y));
        var svd = design.Svd();
        // Factors that go together leave open which of them it is.
        if (svd.S[^1] < 1e-9 * svd.S[0])
        {
            foreach (var i in used)
                weights[i] = double.NaN;
            return (weights, double.NaN);
        }

        var found = svd.Solve(wanted);
        for (var i = 0; i < used.Length; i++)
            weights[used[i]] = found[i];
        var left = wanted - design * found;
        return (weights, 1 - left.DotProduct(left) / wanted.DotProduct(wanted));
    }
}

/// <summary>Shares of a result's variance that go with one factor, with error bars.</summary>
/// <param name="First">By the factor alone.</param>
/// <param name="Total">With all that it does together with others.</param>
/// <param name="FirstError">Half the width of the interval that holds it with 95 %.</param>
public sealed record VarianceShare(double First, double FirstError, double Total, double TotalError);

/// <summary>
/// Indices of Sobol from two independent samples A and B and those in which one factor of A is that of B, by the estimators of Saltelli
/// and others (Comput. Phys. Commun. 181, 2010) and Jansen (Comput. Phys. Commun. 117, 1999); error bars by drawing the runs anew.
/// </summary>
public static class VarianceShares
{
    const int Resamples = 400;

    /// <summary>Rows of the runs that are needed, in the order A, B, then A with each factor of B; shares between 0 and 1.</summary>
    /// <param name="count">Of each sample.</param>
    public static IReadOnlyList<double[]> Rows(int factors, int count, ulong seed)
    {
        var both = SobolSequence.Points(2 * factors, count, seed).ToList();
        double[] Mixed(double[] row, int of) => [.. Enumerable.Range(0, factors).Select(i => i == of ? row[factors + i] : row[i])];
        return
        [
            .. both.Select(r => r[..factors]),
            .. both.Select(r => r[factors..]),
            .. Enumerable.Range(0, factors).SelectMany(f => both.Select(r => Mixed(r, f))),
        ];
    }

    /// <param name="results">Of the rows, in their order.</param>
    public static IReadOnlyList<VarianceShare> Of(IReadOnlyList<double> results, int factors, ulong seed)
    {
        var count = results.Count / (factors + 2);
        if (count * (factors + 2) != results.Count || count < 2)
            throw new ArgumentException("results of other rows", nameof(results));
        if (!results.All(double.IsFinite))
            throw new ExplorationException("runs", "A run of the study has no result.", "Run those that failed again.");
        double A(int i) => results[i];
        double B(int i) => results[count + i];
        double Mixed(int f, int i) => results[(2 + f) * count + i];
        (double First, double Total) Estimate(int f, IReadOnlyList<int> runs)
        {
            var all = runs.SelectMany(i => (double[])[A(i), B(i)]).ToArray();
            var mean = all.Average();
            var variance = all.Sum(v => (v - mean) * (v - mean)) / all.Length;
            // Of the results less their mean products are less noisy.
            var first = runs.Sum(i => (B(i) - mean) * (Mixed(f, i) - A(i))) / runs.Count;
            var total = runs.Sum(i => (A(i) - Mixed(f, i)) * (A(i) - Mixed(f, i))) / (2 * runs.Count);
            return variance > 0 ? (first / variance, total / variance) : (0, 0);
        }

        int[] every = [.. Enumerable.Range(0, count)];
        var draw = new SeededDraw(seed);
        var resamples = Enumerable.Range(0, Resamples).Select(_ => every.Select(_ => draw.Below(count)).ToArray()).ToList();
        return
        [
            .. Enumerable
                .Range(0, factors)
                .Select(f =>
                {
                    var (first, total) = Estimate(f, every);
                    var again = resamples.Select(r => Estimate(f, r)).ToList();
                    double Error(Func<(double First, double Total), double> of) => 1.96 * again.Select(of).StandardDeviation();
                    return new VarianceShare(first, Error(e => e.First), total, Error(e => e.Total));
                }),
        ];
    }
}
