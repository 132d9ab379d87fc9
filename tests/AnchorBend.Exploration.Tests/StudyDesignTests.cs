using AnchorBend.Exploration.Designs;
using AnchorBend.Exploration.Factors;
using CsCheck;

namespace AnchorBend.Exploration.Tests;

public class StudyDesignTests
{
    static readonly Factor Mass = new("mass", new RangeSpread(80, 140, false, 7)),
        Law = new("law", new ListedSpread(2)),
        Drag = new("drag", new RangeSpread(60, 80, false, null));

    static double[] Numbers(StudyDesign design, int column) => [.. design.Rows.Select(r => r[column].Number!.Value)];

    [Fact]
    public void All_combinations_go_through_the_last_factor_fastest()
    {
        var design = StudyDesign.Of([Mass, Law], DesignKind.Grid, 0, 0);
        Assert.Equal(14, design.Rows.Count);
        Assert.Equal([80, 80, 90, 90, 100], Numbers(design, 0)[..5]);
        Assert.Equal([0, 1, 0, 1], design.Rows.Take(4).Select(r => r[1].Place));
        Assert.Equal(140, Numbers(design, 0)[^1]);
    }

    [Fact]
    public void One_at_a_time_leaves_the_others_at_their_first()
    {
        var design = StudyDesign.Of([Mass, Law], DesignKind.OneAtATime, 0, 0);
        Assert.Equal(1 + 6 + 1, design.Rows.Count);
        Assert.All(design.Rows, r => Assert.True(r[0].Number == 80 || r[1].Place == 0));
    }

    [Fact]
    public void An_even_ratio_meets_both_ends_and_has_one_ratio()
    {
        var levels = new RangeSpread(1, 1000, true, 4).Levels!.Select(l => l.Number!.Value).ToArray();
        Assert.Equal(1, levels[0]);
        Assert.Equal(10, levels[1], 1e-12);
        Assert.Equal(100, levels[2], 1e-11);
        Assert.Equal(1000, levels[3]);
        Assert.Equal(-10, new RangeSpread(-1, -100, true, 3).Levels![1].Number!.Value, 1e-12);
    }

    [Theory]
    [InlineData(DesignKind.Random)]
    [InlineData(DesignKind.LatinHypercube)]
    [InlineData(DesignKind.Sobol)]
    public void A_seed_gives_the_same_rows_and_another_one_others(DesignKind kind)
    {
        double[] Drawn(ulong seed) => Numbers(StudyDesign.Of([Drag, Law], kind, 50, seed), 0);
        Assert.Equal(Drawn(5), Drawn(5));
        Assert.NotEqual(Drawn(5), Drawn(6));
        Assert.All(Drawn(5), v => Assert.InRange(v, 60, 80));
    }

    [Fact]
    public void A_latin_hypercube_has_one_run_in_each_part_of_each_factor() =>
        Gen.Select(Gen.Int[1, 200], Gen.ULong)
            .Sample(
                (runs, seed) =>
                {
                    var design = StudyDesign.Of(
                        [Drag, new("b", new RangeSpread(0, 1, false, null))],
                        DesignKind.LatinHypercube,
                        runs,
                        seed
                    );
                    for (var column = 0; column < 2; column++)
                    {
                        var (low, width) = column == 0 ? (60.0, 20.0) : (0.0, 1.0);
                        var parts = Numbers(design, column).Select(v => (int)Math.Floor((v - low) / width * runs + 1e-9)).Order();
                        Assert.Equal(Enumerable.Range(0, runs), parts);
                    }
                },
                iter: 50
            );

    [Theory]
    [InlineData(21, 10, 1UL)]
    [InlineData(5, 12, 77UL)]
    public void The_first_points_of_Sobol_lie_one_in_each_part_of_each_dimension(int dimensions, int power, ulong seed)
    {
        var count = 1 << power;
        var points = SobolSequence.Points(dimensions, count, seed).ToArray();
        for (var d = 0; d < dimensions; d++)
            Assert.Equal(Enumerable.Range(0, count), points.Select(p => (int)(p[d] * count)).Order());
    }

    [Fact]
    public void Two_dimensions_of_Sobol_have_one_point_in_each_box_of_one_size()
    {
        // The first two are a (0, m, 2)-net in base 2.
        var points = SobolSequence.Points(2, 256, 3).ToArray();
        for (var a = 0; a <= 8; a++)
            Assert.Equal(256, points.Select(p => ((int)(p[0] * (1 << a)), (int)(p[1] * (1 << (8 - a))))).Distinct().Count());
    }

    [Fact]
    public void A_mean_over_Sobol_points_is_nearer_than_over_drawn_ones()
    {
        // ∏ (1 + (x − 1/2)) over six dimensions is one in the mean.
        double Off(DesignKind kind) =>
            Math.Abs(
                StudyDesign
                    .Of([.. Enumerable.Range(0, 6).Select(i => new Factor($"x{i}", new RangeSpread(0, 1, false, null)))], kind, 4096, 9)
                    .Rows.Average(r => r.Aggregate(1.0, (p, l) => p * (0.5 + l.Number!.Value))) - 1
            );
        Assert.InRange(Off(DesignKind.Sobol), 0, 1e-3);
        Assert.True(Off(DesignKind.Sobol) < Off(DesignKind.Random));
    }

    [Fact]
    public void Spreads_have_the_shares_that_their_distributions_say()
    {
        var normal = new NormalSpread(10, 2, null, null);
        Assert.Equal(10, normal.At(0.5).Number!.Value, 1e-9);
        Assert.Equal(10 + 2 * 1.959963984540054, normal.At(0.975).Number!.Value, 1e-6);
        var cut = new NormalSpread(10, 2, 8, 12);
        Assert.Equal(10, cut.At(0.5).Number!.Value, 1e-9);
        Assert.InRange(cut.At(0).Number!.Value, 8, 8.0001);
        Assert.InRange(cut.At(Math.BitDecrement(1.0)).Number!.Value, 11.9999, 12);
        // Half of a triangle from 0 to 1 with its tip at 0 lies below 1 − √(1/2).
        Assert.Equal(1 - Math.Sqrt(0.5), new TriangularSpread(0, 0, 1).At(0.5).Number!.Value, 1e-9);
        Assert.Equal([0, 0, 1, 2, 2], ((double[])[0, 0.3, 0.34, 0.7, 0.999]).Select(s => new ListedSpread(3).At(s).Place));
        Assert.Equal([1.0, 1, 3], ((double[])[0, 0.4, 0.9]).Select(s => new RangeSpread(1, 3, false, 2).At(s).Number!.Value));
    }

    public static TheoryData<FactorSpread> Nonsense =>
        [
            new ListedSpread(0),
            new RangeSpread(1, 1, false, 3),
            new RangeSpread(0, 1, true, 3),
            new RangeSpread(-1, 1, true, null),
            new RangeSpread(1, double.NaN, false, 2),
            new RangeSpread(1, 2, false, 0),
            new NormalSpread(1, 0, null, null),
            new NormalSpread(1, 1, 3, 2),
            new NormalSpread(0, 1, 50, null),
            new TriangularSpread(0, 2, 1),
        ];

    [Theory]
    [MemberData(nameof(Nonsense))]
    public void What_is_no_spread_is_refused_with_its_factor(FactorSpread spread)
    {
        var refused = Assert.Throws<ExplorationException>(() => StudyDesign.Of([new Factor("warp", spread)], DesignKind.Random, 5, 1));
        Assert.Contains("warp", refused.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Designs_that_cannot_be_are_refused()
    {
        Assert.Throws<ExplorationException>(() => StudyDesign.Of([], DesignKind.Random, 5, 1));
        Assert.Throws<ExplorationException>(() => StudyDesign.Of([Mass, Mass], DesignKind.Grid, 0, 1));
        Assert.Throws<ExplorationException>(() => StudyDesign.Of([Drag], DesignKind.Grid, 0, 1));
        Assert.Throws<ExplorationException>(() => StudyDesign.Of([Drag], DesignKind.Random, 0, 1));
        var many = Enumerable.Range(0, 30).Select(i => new Factor($"f{i}", new RangeSpread(0, 1, false, 10))).ToArray();
        Assert.Throws<ExplorationException>(() => StudyDesign.Of(many, DesignKind.Grid, 0, 1));
        Assert.Throws<ExplorationException>(() => StudyDesign.Of(many, DesignKind.Sobol, 10, 1));
        Assert.Equal(10, StudyDesign.Of(many, DesignKind.LatinHypercube, 10, 1).Rows.Count);
    }
}
