using AnchorBend.Compiler.Planning;

namespace AnchorBend.Compiler.Tests;

/// <summary>Sorting as graphs, on graphs drawn by lot against slow and simple answers.</summary>
public class GraphTests
{
    static int[][] Drawn(Random random, int rows, int columns, double density) =>
        [.. Enumerable.Range(0, rows).Select(_ => Enumerable.Range(0, columns).Where(_ => random.NextDouble() < density).ToArray())];

    /// <summary>The size of the largest matching, by trying every choice.</summary>
    static int Largest(int[][] candidates, int row, HashSet<int> taken)
    {
        if (row == candidates.Length)
            return 0;
        var best = Largest(candidates, row + 1, taken);
        foreach (var column in candidates[row])
        {
            if (!taken.Add(column))
                continue;
            best = Math.Max(best, 1 + Largest(candidates, row + 1, taken));
            taken.Remove(column);
        }

        return best;
    }

    [Fact]
    public void A_matching_is_valid_and_as_large_as_any()
    {
        var random = new Random(3);
        for (var n = 0; n < 400; n++)
        {
            int rows = random.Next(1, 7),
                columns = random.Next(1, 7);
            var candidates = Drawn(random, rows, columns, random.NextDouble());
            var found = Matching.Match(candidates, columns);
            for (var e = 0; e < rows; e++)
                if (found[e] >= 0)
                    Assert.Contains(found[e], candidates[e]);
            var matched = found.Where(u => u >= 0).ToList();
            Assert.Equal(matched.Count, matched.Distinct().Count());
            Assert.Equal(Largest(candidates, 0, []), matched.Count);
        }
    }

    [Fact]
    public void Preferred_unknowns_come_first_where_nothing_is_in_the_way() =>
        Assert.Equal(
            [2, 0],
            Matching.Match(
                [
                    [2, 0],
                    [0, 2],
                ],
                3
            )
        );

    [Fact]
    public void A_long_chain_of_augmentations_needs_no_stack()
    {
        // Each equation prefers the unknown that the one before has taken already; the last path runs through all.
        const int n = 20_000;
        var candidates = Enumerable.Range(0, n).Select(i => i == n - 1 ? [0] : new[] { i, i + 1 }).ToArray();
        Assert.DoesNotContain(-1, Matching.Match(candidates, n));
    }

    [Fact]
    public void A_matching_stops_when_nobody_waits()
    {
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        using var budget = Language.WorkBudget.Begin(stop.Token);
        Assert.Throws<OperationCanceledException>(() =>
            Matching.Match(
                [
                    [0],
                    [0],
                ],
                1
            )
        );
    }

    [Fact]
    public void Models_sort_into_loops_exactly_where_variables_depend_on_each_other()
    {
        // A linear system drawn by lot: unknowns i and j lie in one loop exactly where each reaches the other.
        var random = new Random(5);
        for (var trial = 0; trial < 40; trial++)
        {
            var n = random.Next(3, 12);
            var depends = Drawn(random, n, n, 0.18);
            for (var i = 0; i < n; i++)
                depends[i] = [.. depends[i].Where(j => j != i)];
            var text =
                string.Concat(Enumerable.Range(0, n).Select(i => $"Real v{i}; "))
                + "equation "
                + string.Concat(
                    Enumerable.Range(0, n).Select(i => $"v{i} = time + {i}{string.Concat(depends[i].Select(j => $" + sin(0.1 * v{j})"))}; ")
                );
            var plan = AnchorBend.Tests.TextModel.Prepare(text).Compiled!.Plan;
            var reach = Reach(depends);
            var loops = plan
                .Blocks.OfType<LoopBlock>()
                .Select(l => l.Determines.Select(plan.Model.NameOf).Order(StringComparer.Ordinal).ToList())
                .ToList();
            for (var i = 0; i < n; i++)
            {
                var together = Enumerable
                    .Range(0, n)
                    .Where(j => j == i || reach[i].Contains(j) && reach[j].Contains(i))
                    .Select(j => $"v{j}")
                    .Order(StringComparer.Ordinal)
                    .ToList();
                var own = loops.Find(l => l.Contains($"v{i}")) ?? [$"v{i}"];
                Assert.Equal(together, own);
            }
        }
    }

    static HashSet<int>[] Reach(int[][] depends) =>
        [
            .. Enumerable
                .Range(0, depends.Length)
                .Select(start =>
                {
                    var seen = new HashSet<int>();
                    var open = new Stack<int>(depends[start]);
                    while (open.TryPop(out var at))
                        if (seen.Add(at))
                            foreach (var next in depends[at])
                                open.Push(next);
                    return seen;
                }),
        ];

    [Theory]
    [InlineData(20)]
    [InlineData(120)]
    public void A_loop_in_which_all_depend_on_all_is_solved(int n)
    {
        // y[i] = 0.5/n·sum(y) + i: the sum s obeys s = 0.5 s + n(n + 1)/2.
        var text = $"Real y[{n}]; equation for i in 1:{n} loop y[i] = {0.5 / n:R} * sum(y) + i; end for;";
        var sum = n * (n + 1.0);
        var values = AnchorBend.Tests.TextModel.Values(text, $"y[{n}]", [1]);
        Assert.Equal(0.5 / n * sum + n, values[0], 1e-9 * n);
    }
}
