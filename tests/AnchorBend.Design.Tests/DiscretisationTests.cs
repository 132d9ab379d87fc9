using System.Numerics;

namespace AnchorBend.Design.Tests;

/// <summary>Discrete systems against closed forms.</summary>
public class DiscretisationTests
{
    static LinearSystem Fraction(string b, string a) =>
        CrossingTests.Plant($"TransferFunction f(b = {b}, a = {a}); equation f.u = 0;", "f.u", "f.y");

    static Complex At(LinearSystem discrete, double angle) => discrete.At(Complex.FromPolarCoordinates(1, angle));

    [Fact]
    public void A_held_lag_is_a_lag_of_samples()
    {
        // 1/(2 s + 1) every 0.5 s: (1 − e^(−1/4))/(z − e^(−1/4)).
        var discrete = Discretisation.Of(Fraction("{1}", "{2, 1}"), 0.5, Hold.Zoh);
        var pole = Math.Exp(-0.25);
        Assert.Equal(pole, discrete.A[0, 0], 1e-14);
        foreach (var angle in (double[])[0.01, 0.5, 2, Math.PI])
            Assert.Equal(0, ((1 - pole) / (Complex.FromPolarCoordinates(1, angle) - pole) - At(discrete, angle)).Magnitude, 1e-13);
    }

    [Fact]
    public void A_held_double_integrator_has_its_zero_at_minus_one()
    {
        // T²/2 (z + 1)/(z − 1)² (Åström and Wittenmark, "Computer-Controlled Systems", table 3.1).
        var discrete = Discretisation.Of(Fraction("{1}", "{1, 0, 0}"), 0.1, Hold.Zoh);
        Assert.Equal(-1, Assert.Single(PolesAndZeros.Zeros(discrete)).Real, 1e-9);
        var z = Complex.FromPolarCoordinates(1, 0.7);
        Assert.Equal(0, (0.005 * (z + 1) / ((z - 1) * (z - 1)) - At(discrete, 0.7)).Magnitude, 1e-12);
    }

    [Theory]
    [InlineData("{1}", "{2, 1}")]
    [InlineData("{1, 3}", "{1, 0.4, 4}")]
    [InlineData("{1, 1}", "{3, 1}")]
    public void Tustin_is_the_continuous_response_at_a_bent_frequency(string b, string a)
    {
        const double period = 0.2;
        var system = Fraction(b, a);
        var discrete = Discretisation.Of(system, period, Hold.Tustin);
        foreach (var w in (double[])[0.1, 1, 5, 12])
        {
            var bent = 2 / period * Math.Tan(w * period / 2);
            Assert.Equal(0, (system.At(new Complex(0, bent)) - At(discrete, w * period)).Magnitude, 1e-11);
        }
    }

    [Fact]
    public void Matched_poles_and_zeros_are_exponentials_and_the_gain_at_rest_stays()
    {
        const double period = 0.2;
        var discrete = Discretisation.Of(Fraction("{1, 3}", "{1, 0.4, 4}"), period, Hold.Matched);
        var pole = Complex.Exp(new Complex(-0.2, Math.Sqrt(3.96)) * period);
        Assert.Contains(PolesAndZeros.Poles(discrete), p => (p - pole).Magnitude < 1e-9);
        Assert.Equal(Math.Exp(-0.6), Assert.Single(PolesAndZeros.Zeros(discrete)).Real, 1e-9);
        Assert.Equal(0.75, At(discrete, 1e-7).Real, 1e-6);
        // Of 1/(s + 1)², one of two zeros at infinity goes to −1.
        var two = Discretisation.Of(Fraction("{1}", "{1, 2, 1}"), period, Hold.Matched);
        Assert.Equal(-1, Assert.Single(PolesAndZeros.Zeros(two)).Real, 1e-9);
        Assert.Equal(1, At(two, 1e-6).Real, 1e-5);
    }

    [Fact]
    public void What_cannot_be_made_discrete_says_why()
    {
        var late = CrossingTests.Plant(
            "TransferFunction f(b = {1}, a = {1, 1}); DeadTime d(T = 1); equation f.u = 0; connect(f.y, d.u);",
            "f.u",
            "d.y"
        );
        Assert.Equal("delay", Assert.Throws<DesignException>(() => Discretisation.Of(late, 0.1, Hold.Tustin)).Code);
        Assert.Equal("period", Assert.Throws<DesignException>(() => Discretisation.Of(Fraction("{1}", "{1, 1}"), 0, Hold.Zoh)).Code);
    }
}
