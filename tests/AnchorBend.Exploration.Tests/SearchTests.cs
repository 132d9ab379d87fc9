using AnchorBend.Exploration.Search;

namespace AnchorBend.Exploration.Tests;

public class SearchTests
{
    static ISearch Made(SearchMethod method, double[] start, ulong seed = 3) =>
        SearchChoice.Of(method, start.Length, 0, start, 10_000, seed).Search;

    /// <summary>The best of a search, and how many runs it took.</summary>
    static (Attempt Best, int Runs) Searched(ISearch search, Func<double[], Outcome> of, int most = 40_000)
    {
        var (best, runs) = ((Attempt?)null, 0);
        while (search.Ask() is { Count: > 0 } places && runs < most)
        {
            Assert.All(places, p => Assert.All(p, v => Assert.InRange(v, 0, 1)));
            var outcomes = places.Select(of).ToArray();
            for (var i = 0; i < places.Count; i++)
                if (best is null || outcomes[i] < best.Outcome)
                    best = new Attempt(places[i], outcomes[i]);
            runs += places.Count;
            search.Tell(outcomes);
        }

        return (best!, runs);
    }

    static Outcome Value(double v) => new(v, 0);

    public static TheoryData<SearchMethod> Methods =>
        [SearchMethod.Simplex, SearchMethod.CovarianceAdaptation, SearchMethod.DifferentialEvolution, SearchMethod.QuasiNewton];

    [Theory]
    [MemberData(nameof(Methods))]
    public void The_bent_valley_of_Rosenbrock_is_followed_to_its_end(SearchMethod method)
    {
        // From −2 to 2 in both: the least lies at 1, 1, that is at three quarters.
        static Outcome Rosenbrock(double[] p)
        {
            var (x, y) = (4 * p[0] - 2, 4 * p[1] - 2);
            return Value(100 * Math.Pow(y - x * x, 2) + Math.Pow(1 - x, 2));
        }

        var (best, runs) = Searched(Made(method, [0.2, 0.75]), Rosenbrock);
        Assert.InRange(best.Outcome.Value, 0, 1e-5);
        Assert.Equal(0.75, best.Place[0], 2e-3);
        Assert.Equal(0.75, best.Place[1], 4e-3);
        Assert.InRange(runs, 1, 12_000);
    }

    [Theory]
    [MemberData(nameof(Methods))]
    public void A_best_place_on_a_bound_is_found(SearchMethod method)
    {
        // Falls toward the corner 0, 1 and beyond.
        var (best, _) = Searched(Made(method, [0.6, 0.3]), p => Value(p[0] + (1.2 - p[1]) * (1.2 - p[1])));
        Assert.Equal(0, best.Place[0], 1e-3);
        Assert.Equal(1, best.Place[1], 1e-3);
    }

    [Theory]
    [InlineData(SearchMethod.CovarianceAdaptation)]
    [InlineData(SearchMethod.DifferentialEvolution)]
    public void A_turned_ellipsoid_of_eight_dimensions_is_come_to_the_bottom_of(SearchMethod method)
    {
        // Axes of lengths one to thirty, turned by sums and differences.
        static Outcome Ellipsoid(double[] p)
        {
            var sum = 0.0;
            for (var i = 0; i < p.Length; i++)
            {
                var z = p[i] - 0.4 + (p[(i + 1) % p.Length] - 0.4) / 2;
                sum += Math.Pow(30, 2.0 * i / (p.Length - 1)) * z * z;
            }

            return Value(sum);
        }

        var (best, _) = Searched(Made(method, [.. Enumerable.Repeat(0.9, 8)]), Ellipsoid);
        Assert.InRange(best.Outcome.Value, 0, 1e-7);
    }

    [Fact]
    public void Of_many_valleys_the_deepest_is_found_by_a_population()
    {
        // The sum of Rastrigin from −5.12 to 5.12 in four dimensions has 10⁴ valleys and is zero in the middle of them.
        var (best, _) = Searched(Made(SearchMethod.DifferentialEvolution, [0.9, 0.1, 0.8, 0.2]), p =>
            Value(p.Sum(v => 10.24 * v - 5.12 is var x ? x * x - 10 * Math.Cos(2 * Math.PI * x) + 10 : 0))
        );
        Assert.InRange(best.Outcome.Value, 0, 1e-4);
    }

    [Theory]
    [InlineData(SearchMethod.CovarianceAdaptation)]
    [InlineData(SearchMethod.DifferentialEvolution)]
    [InlineData(SearchMethod.Simplex)]
    public void The_best_that_keeps_a_constraint_lies_on_its_edge(SearchMethod method)
    {
        // Least x + y with x y ≥ 1/4: both are 1/2.
        var (best, _) = Searched(Made(method, [0.9, 0.8]), p => new Outcome(p[0] + p[1], Math.Max(0, 0.25 - p[0] * p[1])));
        Assert.True(best.Outcome.IsMet);
        Assert.Equal(1, best.Outcome.Value, 5e-3);
    }

    [Theory]
    [InlineData(SearchMethod.CovarianceAdaptation)]
    [InlineData(SearchMethod.DifferentialEvolution)]
    public void Runs_that_fail_are_gone_around(SearchMethod method)
    {
        var (best, _) = Searched(Made(method, [0.5, 0.5]), p =>
            p[0] + p[1] > 1.1 ? Outcome.Failed : Value(Math.Pow(p[0] - 0.6, 2) + Math.Pow(p[1] - 0.3, 2))
        );
        Assert.InRange(best.Outcome.Value, 0, 1e-6);
    }

    [Theory]
    [MemberData(nameof(Methods))]
    public void The_same_seed_and_outcomes_give_the_same_places(SearchMethod method)
    {
        static Outcome Bowl(double[] p) => Value(p.Sum(v => (v - 0.3) * (v - 0.3)));
        List<double[]> Places()
        {
            var search = Made(method, [0.7, 0.7, 0.2], 21);
            var all = new List<double[]>();
            for (var round = 0; round < 12 && search.Ask() is { Count: > 0 } places; round++)
            {
                all.AddRange(places);
                search.Tell([.. places.Select(Bowl)]);
            }

            return all;
        }

        Assert.Equal(Places(), Places());
    }

    [Fact]
    public void What_keeps_constraints_goes_before_what_is_better_and_failure_comes_last()
    {
        Outcome[] rising = [new(1, 0), new(2, 0), new(0, 0.1), new(-9, 0.2), Outcome.Failed];
        Assert.Equal(rising, rising.Reverse().Order());
        Assert.False(new Outcome(double.NaN, 0).IsMet);
    }

    [Fact]
    public void The_method_is_chosen_by_the_problem_and_says_why()
    {
        SearchMethod Chosen(int dimensions, int wholes, int runs) =>
            SearchChoice.Of(SearchMethod.Automatic, dimensions, wholes, null, runs, 1).Method;
        Assert.Equal(SearchMethod.Simplex, Chosen(2, 0, 60));
        Assert.Equal(SearchMethod.CovarianceAdaptation, Chosen(6, 0, 1000));
        Assert.Equal(SearchMethod.DifferentialEvolution, Chosen(6, 1, 1000));
        Assert.Equal(SearchMethod.QuasiNewton, Chosen(50, 0, 1000));
        Assert.NotEmpty(SearchChoice.Of(SearchMethod.Automatic, 2, 0, null, 10, 1).Why);
        Assert.Throws<ExplorationException>(() => Chosen(0, 0, 1));
    }
}
