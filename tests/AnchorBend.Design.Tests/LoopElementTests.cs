using System.Numerics;

namespace AnchorBend.Design.Tests;

public class LoopElementTests
{
    /// <summary>1/s with a pair of poles of 10 rad/s damped by 0.02 behind it.</summary>
    static LinearSystem Swinging() =>
        LinearSystem.Of(
            new double[,]
            {
                { 0, 0, 0 },
                { 0, 0, 1 },
                { 100, -100, -0.4 },
            },
            [1, 0, 0],
            [0, 1, 0],
            0
        );

    static Complex At(LoopElement element, double w) => element.System().At(new Complex(0, SampledPlane.Place(w, element.Period)));

    [Theory]
    [InlineData(30, 4, 0)]
    [InlineData(55, 0.3, 0)]
    [InlineData(30, 4, 0.1)]
    public void A_lead_adds_its_phase_at_its_frequency_and_leaves_the_gain(double degrees, double w, double period)
    {
        var element = new LoopElement(LoopElementKind.Lead, w, degrees, 0, period);
        element.Check();
        Assert.Equal(degrees, At(element, w).Phase * 180 / Math.PI, 1e-9);
        Assert.Equal(1, At(element, w).Magnitude, 1e-12);
    }

    [Fact]
    public void A_lag_raises_what_is_slow_and_leaves_what_is_fast()
    {
        var element = new LoopElement(LoopElementKind.Lag, 2, 5, 0, 0);
        Assert.Equal(5, At(element, 1e-6).Magnitude, 1e-9);
        Assert.Equal(1, At(element, 1e8).Magnitude, 1e-9);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(0.05)]
    public void A_notch_leaves_of_its_frequency_the_ratio_of_its_dampings(double period)
    {
        var element = new LoopElement(LoopElementKind.Notch, 10, 0.7, 0.02, period);
        Assert.Equal(0.02 / 0.7, At(element, 10).Magnitude, 1e-12);
        Assert.Equal(1, At(element, 1e-5).Magnitude, 1e-9);
    }

    [Fact]
    public void A_notch_at_a_resonance_takes_it_out_of_the_loop()
    {
        var (plant, gains) = (Swinging(), new PidGains(PidForm.P, 1, 1, 0, 10, 1, 0));
        var resonance = Assert.Single(Resonance.Of(plant, gains.OpenLoop(plant), 0));
        Assert.Equal(10, resonance.Frequency, 1e-9);
        Assert.Equal(0.02, resonance.Damping, 1e-9);
        // With K = 1 the swing of 1/(2·0.02)/10 = 2.5 at 10 rad/s, at −180°, makes the loop unstable …
        Assert.False(LoopFigures.Of(gains, plant).IsStable);
        // … and with the poles taken away what is left is 1/s with a well damped pair: Routh asks for K < 2·0.7·10.
        var element = new LoopElement(LoopElementKind.Notch, 10, 0.7, resonance.Damping, 0);
        Assert.True(LoopFigures.Of(gains, element.Before(plant)).IsStable);
        Assert.True(LoopFigures.Of(gains with { K = 13.9 }, element.Before(plant)).IsStable);
        Assert.False(LoopFigures.Of(gains with { K = 14.1 }, element.Before(plant)).IsStable);
    }

    [Fact]
    public void Poles_that_zeros_take_away_are_no_resonances()
    {
        // A swing behind a notch with just its zeros.
        var plant = new LoopElement(LoopElementKind.Notch, 10, 0.9, 0.02, 0).Before(
            LinearSystem.Of(
                new double[,]
                {
                    { 0, 1 },
                    { -100, -0.4 },
                },
                [0, 100],
                [1, 0],
                0
            )
        );
        Assert.Empty(Resonance.Of(plant, plant, 0));
    }

    [Theory]
    [InlineData(LoopElementKind.Lead, 4, 80, 0)]
    [InlineData(LoopElementKind.Lag, 4, 1, 0)]
    [InlineData(LoopElementKind.Notch, 4, 0.01, 0)]
    [InlineData(LoopElementKind.Notch, -1, 0.7, 0)]
    [InlineData(LoopElementKind.Notch, 40, 0.7, 0.1)]
    [InlineData(LoopElementKind.Lead, double.NaN, 30, 0)]
    public void Figures_out_of_range_are_refused(LoopElementKind kind, double frequency, double amount, double period) =>
        Assert.Throws<DesignException>(new LoopElement(kind, frequency, amount, 0.05, period).Check);
}
