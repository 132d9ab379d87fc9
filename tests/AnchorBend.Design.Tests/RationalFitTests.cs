using System.Numerics;
using AnchorBend.Design.Identification;

namespace AnchorBend.Design.Tests;

/// <summary>Models fitted to responses: what made the response comes back.</summary>
public class RationalFitTests
{
    static readonly double[] Grid = [.. Enumerable.Range(0, 30).Select(i => 0.02 * Math.Pow(10, 3.0 * i / 29))];

    static RationalFit Fit(Func<Complex, Complex> plant, FitForm form, Func<int, double>? noise = null) =>
        RationalFit.Of(Grid, [.. Grid.Select((w, i) => plant(new Complex(0, w)) * (1 + (noise?.Invoke(i) ?? 0)))], form);

    [Fact]
    public void A_lag_with_dead_time_comes_back()
    {
        var fit = Fit(s => 3 * Complex.Exp(-0.4 * s) / (2 * s + 1), new FitForm(0, 1, 0, true));

        Assert.Equal(3, fit.Numerator[0], 1e-6);
        Assert.Equal(2, fit.Denominator[0], 1e-6);
        Assert.Equal(0.4, fit.Delay, 1e-6);
        Assert.Equal(1, fit.Quality, 1e-6);
        Assert.True(fit.IsStable);
    }

    [Fact]
    public void An_integrator_with_two_lags_a_zero_and_a_resonance_come_back()
    {
        var fit = Fit(s => (0.5 * s + 1) * 2 / (s * (0.1 * s + 1) * (s * s / 9 + 0.1 * s + 1)), new FitForm(1, 3, 1, false));

        for (var i = 0; i < Grid.Length; i++)
        {
            var s = new Complex(0, Grid[i]);
            var expected = (0.5 * s + 1) * 2 / (s * (0.1 * s + 1) * (s * s / 9 + 0.1 * s + 1));
            Assert.True((fit.At(Grid[i]) - expected).Magnitude < 1e-6 * expected.Magnitude);
        }

        Assert.Equal(0, fit.Denominator[^1]);
        Assert.Equal(5, fit.Denominator.Count);
    }

    [Fact]
    public void Noise_of_a_hundredth_leaves_numbers_right_to_hundredths()
    {
        var random = new Random(3);
        var fit = Fit(
            s => 5 * Complex.Exp(-0.1 * s) / ((s + 1) * (0.2 * s + 1)),
            new FitForm(0, 2, 0, true),
            _ => 0.01 * (2 * random.NextDouble() - 1)
        );

        Assert.Equal(5, fit.Numerator[0], 0.05);
        Assert.Equal(0.1, fit.Delay, 0.01);
        Assert.Equal(1.2, fit.Denominator[1], 0.06);
        Assert.InRange(fit.Quality, 0.98, 0.999);
    }

    [Fact]
    public void A_form_that_is_too_simple_says_so_by_its_quality()
    {
        var simple = Fit(s => 1 / Complex.Pow(s + 1, 4), new FitForm(0, 1, 0, false));
        var enough = Fit(s => 1 / Complex.Pow(s + 1, 4), new FitForm(0, 4, 0, false));

        Assert.True(simple.Quality < 0.8);
        Assert.Equal(1, enough.Quality, 1e-5);
    }

    [Fact]
    public void Too_few_points_and_impossible_orders_are_refused()
    {
        Assert.Equal("few-points", Assert.Throws<DesignException>(() => RationalFit.Of([1, 2], [1, 1], new FitForm(2, 5, 0, true))).Code);
        var apart = Enumerable.Range(0, 20).Select(i => 1e-60 * Math.Pow(10, 6.0 * i)).ToArray();
        Assert.Equal(
            "unfit",
            Assert
                .Throws<DesignException>(() =>
                    RationalFit.Of(apart, [.. apart.Select(w => new Complex(1, -w))], new FitForm(6, 6, 0, false))
                )
                .Code
        );
        Assert.Equal("order", Assert.Throws<DesignException>(() => RationalFit.Of([1, 2], [1, 1], new FitForm(3, 2, 0, false))).Code);
    }
}
