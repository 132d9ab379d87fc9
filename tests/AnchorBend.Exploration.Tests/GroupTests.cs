using AnchorBend.Exploration.Designs;
using AnchorBend.Exploration.Factors;
using AnchorBend.Exploration.Trends;

namespace AnchorBend.Exploration.Tests;

/// <summary>What is drawn together, and what is told of many runs.</summary>
public class GroupTests
{
    static List<double[]> Drawn(int members, double correlation, int count)
    {
        var (draw, group) = (new SeededDraw(3), new CorrelatedShares([.. Enumerable.Range(0, members)], correlation));
        group.Check("a batch");
        return
        [
            .. Enumerable
                .Range(0, count)
                .Select(_ =>
                {
                    double[] row = [.. Enumerable.Range(0, members).Select(_ => draw.Share())];
                    group.Apply(row);
                    return row;
                }),
        ];
    }

    [Theory]
    [InlineData(2, 0.8)]
    [InlineData(4, 0.5)]
    [InlineData(3, -0.5)]
    [InlineData(5, -0.2)]
    public void Any_two_of_a_group_go_together_and_each_stays_even_by_itself(int members, double correlation)
    {
        const int count = 20_000;
        var rows = Drawn(members, correlation, count);
        // Of a normal copula the correlation of ranks is (6/π) arcsin(ρ/2); its error is about 1/√n, four of them are allowed.
        var wanted = 6 / Math.PI * Math.Asin(correlation / 2);
        for (var i = 0; i < members; i++)
        {
            Assert.Equal(0.5, rows.Average(r => r[i]), 4 * Math.Sqrt(1.0 / 12 / count));
            Assert.Equal(1.0 / 12, rows.Average(r => (r[i] - 0.5) * (r[i] - 0.5)), 0.002);
            for (var k = 0; k < i; k++)
                Assert.Equal(wanted, 12 * rows.Average(r => (r[i] - 0.5) * (r[k] - 0.5)), 4 / Math.Sqrt(count));
        }
    }

    [Fact]
    public void With_one_they_are_the_same_and_with_minus_one_they_are_opposite()
    {
        Assert.All(Drawn(3, 1, 200), r => Assert.Equal(r[0], r[2], 1e-12));
        Assert.All(Drawn(2, -1, 200), r => Assert.Equal(1 - r[0], r[1], 1e-12));
    }

    [Theory]
    [InlineData(3, -0.6)]
    [InlineData(2, 1.1)]
    public void A_correlation_that_so_many_cannot_have_is_refused(int members, double correlation) =>
        Assert.Throws<ExplorationException>(() => new CorrelatedShares([.. Enumerable.Range(0, members)], correlation).Check("a batch"));

    [Fact]
    public void Lines_of_one_value_of_a_cone_are_circles()
    {
        const int n = 41;
        var cone = new double[n, n];
        for (var i = 0; i < n; i++)
        for (var k = 0; k < n; k++)
            cone[i, k] = Math.Sqrt((i - 20.0) * (i - 20) + (k - 20.0) * (k - 20));
        var line = Assert.Single(Contours.Of(cone, [12.3]));
        Assert.Equal(line.Points[0], line.Points[^1]);
        // Along an edge the cone bends by at most 1/(8 r) below its chord.
        Assert.All(line.Points, p => Assert.Equal(12.3, Math.Sqrt((p.X - 20) * (p.X - 20) + (p.Y - 20) * (p.Y - 20)), 1 / (8 * 11.0)));
        Assert.True(line.Points.Count > 60);
    }

    [Fact]
    public void On_a_saddle_two_lines_pass_each_other_and_holes_end_them()
    {
        double[,] saddle =
        {
            { 1, 0 },
            { 0, 1 },
        };
        // The middle is 0.5: above 0.4 the two high corners belong together, above 0.6 they do not.
        foreach (var level in (double[])[0.4, 0.6])
        {
            var lines = Contours.Of(saddle, [level]);
            Assert.Equal(2, lines.Count);
            var cutsHigh = lines.Any(l => l.Points.All(p => p.X + p.Y < 1));
            Assert.Equal(level > 0.5, cutsHigh);
        }

        saddle[1, 1] = double.NaN;
        Assert.Empty(Contours.Of(saddle, [0.5]));
    }

    [Fact]
    public void A_plane_has_one_open_line_for_each_round_level()
    {
        var plane = new double[6, 3];
        for (var i = 0; i < 6; i++)
        for (var k = 0; k < 3; k++)
            plane[i, k] = i;
        var levels = Contours.Levels(0, 5);
        Assert.Equal([1, 2, 3, 4], levels);
        var lines = Contours.Of(plane, [.. levels.Select(l => l + 0.5)]);
        Assert.Equal(4, lines.Count);
        Assert.All(lines, l => Assert.All(l.Points, p => Assert.Equal(l.Level, p.X, 1e-12)));
        Assert.Empty(Contours.Levels(3, 3));
    }

    [Fact]
    public void A_band_holds_the_runs_that_reach_an_instant()
    {
        var courses = Enumerable.Range(0, 101).Select(i => new[] { i, i < 50 ? double.NaN : 2.0 * i }).ToList();
        var band = CourseBand.Of([0, 1], courses);
        Assert.Equal([101, 51], band.Count);
        Assert.Equal((0, 50, 100), (band.Least[0], band.Median[0], band.Largest[0]));
        Assert.Equal((100, 150, 200), (band.Least[1], band.Median[1], band.Largest[1]));
        Assert.InRange(band.Low[0], 4, 6);
        Assert.InRange(band.High[0], 94, 96);
    }

    [Theory]
    [InlineData(50, 50, 0.9, null, true)] // 0.929 at least, so surely above
    [InlineData(20, 50, 0.9, null, true)] // surely below
    [InlineData(46, 50, 0.9, null, false)]
    [InlineData(500, 1000, null, 0.032, true)] // ± 0.0315
    [InlineData(500, 1000, null, 0.030, false)]
    public void Enough_is_known_when_the_interval_says_so(int met, int count, double? wanted, double? within, bool isEnough) =>
        Assert.Equal(isEnough, new ShareEnding(wanted, within).Enough(ShareInterval.Of(met, count, 0.95)) is not null);
}
