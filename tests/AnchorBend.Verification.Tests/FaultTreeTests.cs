using AnchorBend.Verification.FaultTrees;

namespace AnchorBend.Verification.Tests;

/// <summary>Fault trees against sums over all combinations of their events.</summary>
public class FaultTreeTests
{
    static BasicEvent E(string id, double p) => new(id, p);

    static Gate Or(string id, params TreePlace[] inputs) => new(id, 1, inputs);

    static Gate And(string id, params TreePlace[] inputs) => new(id, inputs.Length, inputs);

    static TreeFigures Of(TreePlace tree) => new DecisionDiagram(tree).Figures(100);

    [Fact]
    public void Independent_events_in_one_gate_have_the_known_probabilities()
    {
        Assert.Equal(0.01 * 0.02, Of(And("g", E("a", 0.01), E("b", 0.02))).Probability, 15);
        Assert.Equal(1 - 0.99 * 0.98, Of(Or("g", E("a", 0.01), E("b", 0.02))).Probability, 15);
        // Two of three of 0.1: 3 · 0.01 · 0.9 + 0.001.
        var vote = Of(new Gate("g", 2, [E("a", 0.1), E("b", 0.1), E("c", 0.1)]));
        Assert.Equal(0.028, vote.Probability, 15);
        Assert.Equal(3, vote.Count);
        Assert.All(vote.CutSets, s => Assert.Equal((2, 0.01), (s.Events.Count, Math.Round(s.Probability, 15))));
    }

    [Fact]
    public void An_event_that_stands_in_two_places_is_one_event()
    {
        // (a or b) and (a or c) = a or (b and c): a bridge that a sum over gates would get wrong.
        var tree = And("top", Or("l", E("a", 0.1), E("b", 0.2)), Or("r", E("a", 0.1), E("c", 0.3)));
        var figures = Of(tree);
        Assert.Equal(0.1 + 0.9 * 0.2 * 0.3, figures.Probability, 15);
        Assert.Equal(["a"], figures.CutSets[0].Events);
        Assert.Equal(["b", "c"], figures.CutSets[1].Events.Order());
        Assert.Equal(2, figures.Count);
    }

    [Fact]
    public void Importances_follow_from_the_probabilities_with_and_without_an_event()
    {
        var figures = Of(Or("top", E("a", 0.1), And("g", E("b", 0.2), E("c", 0.3))));
        var of = figures.Importances.ToDictionary(i => i.Event);
        var p = 0.1 + 0.9 * 0.06;
        Assert.Equal(1 - 0.06, of["a"].Birnbaum, 14);
        Assert.Equal(0.9 * 0.3, of["b"].Birnbaum, 14);
        Assert.Equal(0.94 * 0.1 / p, of["a"].Share, 14);
        Assert.Equal((p - 0.1) / p, of["b"].Share, 14);
        Assert.Equal(1 / p, of["a"].Achievement, 14);
        Assert.Equal("a", figures.Importances[0].Event);
    }

    [Fact]
    public void Random_trees_agree_with_the_sum_over_all_combinations()
    {
        var random = new Random(11);
        for (var round = 0; round < 200; round++)
        {
            var events = Enumerable.Range(0, 7).Select(i => E($"e{i}", random.NextDouble())).ToArray();
            var places = new List<TreePlace>(events);
            for (var g = 0; g < 5; g++)
            {
                var inputs = Enumerable.Range(0, 2 + random.Next(3)).Select(_ => places[random.Next(places.Count)]).Distinct().ToList();
                places.Add(new Gate($"g{g}", 1 + random.Next(inputs.Count), inputs));
            }

            var tree = places[^1];
            var (sum, cuts) = (0.0, new List<int>());
            for (var set = 0; set < 1 << events.Length; set++)
            {
                if (!Comes(tree, set))
                    continue;
                sum += events.Select((e, i) => (set >> i & 1) == 1 ? e.Probability : 1 - e.Probability).Aggregate(1.0, (a, b) => a * b);
                if (Enumerable.Range(0, events.Length).All(i => (set >> i & 1) == 0 || !Comes(tree, set & ~(1 << i))))
                    cuts.Add(set);
            }

            var figures = new DecisionDiagram(tree).Figures(1000);
            Assert.Equal(sum, figures.Probability, 12);
            // Birnbaum: how much more probable where the event has happened than where it has not.
            foreach (var importance in figures.Importances)
            {
                var bit = 1 << int.Parse(importance.Event[1..], System.Globalization.CultureInfo.InvariantCulture);
                double With(int state) =>
                    Enumerable
                        .Range(0, 1 << events.Length)
                        .Where(s => (s & bit) == state && Comes(tree, s))
                        .Sum(s =>
                            events
                                .Where((_, i) => 1 << i != bit)
                                .Aggregate(1.0, (a, e) =>
                                    a * ((s >> Array.IndexOf(events, e) & 1) == 1 ? e.Probability : 1 - e.Probability)
                                )
                        );
                Assert.Equal(With(bit) - With(0), importance.Birnbaum, 12);
                Assert.Equal(With(bit) / sum, importance.Achievement, 1e-9 / sum);
            }

            Assert.Equal(cuts.Count, figures.Count);
            Assert.Equal(
                cuts.Order(),
                figures
                    .CutSets.Select(s => s.Events.Sum(e => 1 << int.Parse(e[1..], System.Globalization.CultureInfo.InvariantCulture)))
                    .Order()
            );
            Assert.Equal(figures.CutSets.Select(s => s.Probability).OrderDescending(), figures.CutSets.Select(s => s.Probability));
        }

        static bool Comes(TreePlace place, int set) =>
            place is Gate gate
                ? gate.Inputs.Count(i => Comes(i, set)) >= gate.Least
                : (set >> int.Parse(place.Id[1..], System.Globalization.CultureInfo.InvariantCulture) & 1) == 1;
    }

    [Fact]
    public void Large_trees_of_many_small_gates_are_exact_at_once()
    {
        // A hundred pairs: 1 − (1 − p²)^100, by its series, as the difference to 1 would lose half the digits.
        var tree = Or("top", [.. Enumerable.Range(0, 100).Select(i => (TreePlace)And($"g{i}", E($"a{i}", 1e-3), E($"b{i}", 1e-3)))]);
        var figures = Of(tree);
        Assert.Equal(9.9995050161696079e-5, figures.Probability, 1e-18);
        Assert.Equal(100, figures.Count);
    }

    [Fact]
    public void A_tree_that_is_too_entangled_is_refused_in_time()
    {
        // The sum of products of pairs across two halves, in the worst order for them: the diagram doubles with each pair.
        var left = Enumerable.Range(0, 40).Select(i => E($"l{i}", 0.1)).ToArray();
        var right = Enumerable.Range(0, 40).Select(i => E($"r{i}", 0.1)).ToArray();
        var first = And("all", [.. left, .. right]);
        var tree = Or("top", [first, .. left.Zip(right.Reverse()).Select((p, i) => (TreePlace)And($"g{i}", p.First, p.Second))]);
        Assert.Contains(
            "too entangled",
            Assert.Throws<FaultTreeException>(() => new DecisionDiagram(tree)).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_probability_outside_of_0_and_1_is_refused() =>
        Assert.Throws<FaultTreeException>(() => new DecisionDiagram(Or("g", E("a", 1.5))));
}
