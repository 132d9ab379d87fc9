using AnchorBend.Exploration.Designs;
using AnchorBend.Exploration.Trends;
using CsCheck;

namespace AnchorBend.Exploration.Tests;

public class TrendTests
{
    [Fact]
    public void A_straight_line_through_five_points_is_that_of_the_textbook()
    {
        // Sums by hand: x̄ = 3, ȳ = 4, Sxx = 10, Sxy = 6, so y = 2.2 + 0.6 x; left over 2.4, so s² = 0.8.
        var fit = TrendFit.Of([1, 2, 3, 4, 5], [2, 4, 5, 4, 5], TrendKind.Polynomial);
        Assert.Equal(2.2, fit.Coefficients[0], 1e-12);
        Assert.Equal(0.6, fit.Coefficients[1], 1e-12);
        Assert.Equal(0.6, fit.Determination, 1e-12);
        Assert.Equal(Math.Sqrt(0.8), fit.Deviation, 1e-12);
        Assert.Equal(Math.Sqrt(0.8 / 10), fit.Errors[1], 1e-12);
        Assert.Equal(Math.Sqrt(0.8 * (1 / 5.0 + 9 / 10.0)), fit.Errors[0], 1e-12);
        // At the end x = 5 the band is t(0.975; 3) √(0.8 (1/5 + 4/10)) to either side.
        var end = fit.Course[^1];
        Assert.Equal(5, end.X);
        Assert.Equal(5.2, end.Y, 1e-12);
        Assert.Equal(3.182446305 * Math.Sqrt(0.8 * 0.6), end.High - end.Y, 1e-6);
        Assert.Equal(end.High - end.Y, end.Y - end.Low, 1e-12);
    }

    [Fact]
    public void A_polynomial_gives_its_coefficients_back() =>
        Gen.Select(Gen.Double[-5, 5].Array[4], Gen.Double[-100, 100], Gen.Double[0.1, 50])
            .Sample(
                (c, from, width) =>
                {
                    var x = Enumerable.Range(0, 12).Select(i => from + width * i / 11).ToArray();
                    var y = x.Select(v => c[0] + v * (c[1] + v * (c[2] + v * c[3]))).ToArray();
                    var fit = TrendFit.Of(x, y, TrendKind.Polynomial, 3);
                    var size = y.Max(Math.Abs);
                    foreach (var p in fit.Course)
                        Assert.Equal(c[0] + p.X * (c[1] + p.X * (c[2] + p.X * c[3])), p.Y, 1e-9 * (1 + size));
                },
                iter: 200
            );

    [Fact]
    public void A_power_gives_its_factor_and_exponent_back_also_below_zero()
    {
        double[] x = [1, 2, 4, 9];
        var fit = TrendFit.Of(x, [.. x.Select(v => -3 * Math.Pow(v, -1.5))], TrendKind.Power);
        Assert.Equal(-3, fit.Coefficients[0], 1e-10);
        Assert.Equal(-1.5, fit.Coefficients[1], 1e-10);
        Assert.All(fit.Course, p => Assert.True(p.Low <= p.Y && p.Y <= p.High));
    }

    [Fact]
    public void What_cannot_be_fitted_is_refused()
    {
        Assert.Throws<ExplorationException>(() => TrendFit.Of([1, 2], [1, 2], TrendKind.Polynomial));
        Assert.Throws<ExplorationException>(() => TrendFit.Of([1, 1, 1], [1, 2, 3], TrendKind.Polynomial));
        Assert.Throws<ExplorationException>(() => TrendFit.Of([1, 2, 3], [1, -2, 3], TrendKind.Power));
        Assert.Throws<ExplorationException>(() => TrendFit.Of([0, 2, 3], [1, 2, 3], TrendKind.Power));
        Assert.Throws<ExplorationException>(() => TrendFit.Of([1, 2, 3], [1, 2, 3], TrendKind.Polynomial, 9));
        // A run without a result is left out.
        Assert.Equal(1, TrendFit.Of([1, 2, 3, 4], [1, 2, double.NaN, 4], TrendKind.Polynomial).Coefficients[1], 1e-12);
    }

    [Theory]
    [InlineData(0, 10, 0, 0.3084971)]
    [InlineData(10, 10, 0.6915029, 1)]
    [InlineData(81, 263, 0.2527366, 0.3676735)]
    public void The_interval_of_a_share_is_that_of_Clopper_and_Pearson(int met, int count, double low, double high)
    {
        var interval = ShareInterval.Of(met, count, 0.95);
        // Of none and all: 1 − 0.025^(1/n); the third by the quantiles of the beta distribution.
        Assert.Equal(low, interval.Low, 2e-4);
        Assert.Equal(high, interval.High, 2e-4);
    }

    [Fact]
    public void A_straight_law_has_the_weights_that_its_coefficients_say()
    {
        var rows = SobolSequence.Points(3, 1024, 4).ToArray();
        // Variances of the parts are 9, 16 and 0 twelfths.
        var found = Sensitivity.Of(rows, [.. rows.Select(r => 3 * r[0] - 4 * r[1] + 7)]);
        Assert.Equal(0.6, found.Factors[0].Regression, 5e-3);
        Assert.Equal(-0.8, found.Factors[1].Regression, 5e-3);
        Assert.Equal(0, found.Factors[2].Regression, 1e-9);
        Assert.Equal(1, found.Explained, 1e-9);
        Assert.InRange(found.Factors[1].Rank, -0.85, -0.7);
    }

    [Fact]
    public void Factors_that_go_together_cannot_be_told_apart_and_one_that_stands_still_has_no_weight()
    {
        var rows = Enumerable.Range(0, 20).Select(i => (double[])[i, 2 * i, 5]).ToArray();
        var found = Sensitivity.Of(rows, [.. rows.Select(r => r[0] * r[0])]);
        Assert.True(double.IsNaN(found.Factors[0].Regression));
        Assert.Equal(1, found.Factors[0].Rank, 1e-12);
        Assert.Equal(0, found.Factors[2].Rank);
        Assert.Throws<ExplorationException>(() => Sensitivity.Of(rows[..4], [1, 2, 3, 4]));
    }

    [Fact]
    public void The_function_of_Ishigami_has_its_known_indices()
    {
        // sin x1 + 7 sin² x2 + 0.1 x3⁴ sin x1 on (−π, π)³ (Saltelli and others, 2010).
        const double a = 7,
            b = 0.1;
        var (pi4, pi8) = (Math.Pow(Math.PI, 4), Math.Pow(Math.PI, 8));
        var variance = a * a / 8 + b * pi4 / 5 + b * b * pi8 / 18 + 0.5;
        double[] first = [0.5 * Math.Pow(1 + b * pi4 / 5, 2) / variance, a * a / 8 / variance, 0];
        double[] total = [first[0] + 8 * b * b * pi8 / 225 / variance, first[1], 8 * b * b * pi8 / 225 / variance];
        var rows = VarianceShares.Rows(3, 4096, 11);
        var results = rows.Select(r =>
            {
                double X(int i) => Math.PI * (2 * r[i] - 1);
                return Math.Sin(X(0)) + a * Math.Pow(Math.Sin(X(1)), 2) + b * Math.Pow(X(2), 4) * Math.Sin(X(0));
            })
            .ToArray();
        var shares = VarianceShares.Of(results, 3, 1);
        for (var i = 0; i < 3; i++)
        {
            Assert.Equal(first[i], shares[i].First, 0.03);
            Assert.Equal(total[i], shares[i].Total, 0.03);
            Assert.InRange(shares[i].FirstError, 0, 0.1);
        }
    }

    [Fact]
    public void A_smooth_course_gives_straight_lines_back_and_follows_a_bend() =>
        Gen.Select(Gen.Double[-5, 5], Gen.Double[-5, 5], Gen.Int[6, 80])
            .Sample(
                (a, b, n) =>
                {
                    var x = Enumerable.Range(0, n).Select(i => (double)i).ToArray();
                    foreach (var p in LocalTrend.Of(x, [.. x.Select(v => a + b * v)]))
                    {
                        Assert.Equal(a + b * p.X, p.Y, 1e-8 * (1 + n * Math.Abs(b) + Math.Abs(a)));
                        Assert.True(p.Low <= p.Y && p.Y <= p.High);
                    }
                },
                iter: 200
            );

    [Fact]
    public void The_band_of_a_smooth_course_holds_the_true_one_about_as_often_as_it_says()
    {
        // A sine with even noise of a known deviation; the bend within a window is small against the band.
        var draw = new SeededDraw(11);
        double[] x = [.. Enumerable.Range(0, 400).Select(i => i / 399.0)];
        var (inside, count) = (0, 0);
        for (var n = 0; n < 60; n++)
        {
            var y = x.Select(v => Math.Sin(3 * v) + draw.Share() - 0.5).ToArray();
            foreach (var p in LocalTrend.Of(x, y, 0.25))
                (inside, count) = (inside + (p.Low <= Math.Sin(3 * p.X) && Math.Sin(3 * p.X) <= p.High ? 1 : 0), count + 1);
        }

        Assert.InRange((double)inside / count, 0.9, 0.98);
    }

    [Fact]
    public void Runs_that_share_a_value_count_together_in_a_smooth_course()
    {
        double[] x = [.. Enumerable.Range(0, 60).Select(i => (double)(i % 3))];
        var course = LocalTrend.Of(x, [.. x.Select(v => v * v)], count: 3);
        Assert.Equal([0, 1, 4], course.Select(p => Math.Round(p.Y, 6)));
        Assert.Throws<ExplorationException>(() => LocalTrend.Of([1, 1, 1, 1, 1, 1, 1], [1, 2, 3, 4, 5, 6, 7]));
    }

    [Fact]
    public void A_distribution_has_the_quantiles_and_classes_of_its_values()
    {
        var spread = Distribution.Of(Enumerable.Range(1, 100).Select(i => (double)i))!;
        Assert.Equal((50.5, 50.5, 1, 100), (spread.Mean, spread.Median, spread.Least, spread.Largest));
        Assert.Equal(Math.Sqrt(100 * 101 / 12.0), spread.Deviation!.Value, 1e-9);
        Assert.Equal(100, spread.Counts.Sum());
        Assert.Equal(spread.Counts.Count + 1, spread.Edges.Count);
        // Type 8: the place of a share p among n values is (n + 1/3) p + 1/3.
        Assert.Equal((100 + 1 / 3.0) * 0.25 + 1 / 3.0, spread.Quarter, 1e-9);
        Assert.Null(Distribution.Of([double.NaN]));
        Assert.Null(Distribution.Of([3])!.Deviation);
    }
}
