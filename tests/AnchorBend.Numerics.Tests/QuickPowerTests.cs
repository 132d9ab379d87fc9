using AnchorBend.Numerics.Integration;

namespace AnchorBend.Numerics.Tests;

/// <summary>The quick logarithm and exponential of step control against those of the platform's library.</summary>
public class QuickPowerTests
{
    [Fact]
    public void The_logarithm_is_right_to_six_digits_over_the_whole_range()
    {
        for (var e = -300.0; e < 300; e += 0.0137)
            Assert.Equal(Math.Log2(Math.Pow(10, e)), FastPower.Log2(Math.Pow(10, e)), 1e-6);
    }

    [Fact]
    public void The_exponential_is_right_to_six_digits_over_the_whole_range()
    {
        for (var y = -1000.0; y < 1000; y += 0.0371)
            Assert.InRange(FastPower.Exp2(y) / Math.Pow(2, y), 1 - 1e-6, 1 + 1e-6);
    }

    [Theory]
    [InlineData(0.125, -3), InlineData(1, 0), InlineData(2, 1), InlineData(1024, 10)]
    public void Powers_of_two_are_exact(double x, double exponent)
    {
        Assert.Equal(exponent, FastPower.Log2(x));
        Assert.Equal(x, FastPower.Exp2(exponent));
    }
}
