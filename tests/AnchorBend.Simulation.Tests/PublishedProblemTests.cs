using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Published initial value problems with known solutions, as text models at several tolerances.</summary>
public class PublishedProblemTests
{
    static RunOptions At(double tolerance) =>
        new()
        {
            End = 1,
            RelativeTolerance = tolerance,
            AbsoluteTolerance = tolerance,
        };

    public static TheoryData<string, string, double, double> Exact =>
        new()
        {
            // Problem set of Hull, Enright, Fellen and Sedgwick (SIAM J. Numer. Anal. 9, 1972), class A and others with closed solutions.
            { "Real y(start = 1); equation der(y) = -y;", "y", 20, Math.Exp(-20) },
            { "Real y(start = 1); equation der(y) = -y ^ 3 / 2;", "y", 20, 1 / Math.Sqrt(21) },
            { "Real y(start = 1); equation der(y) = y * cos(time);", "y", 20, Math.Exp(Math.Sin(20)) },
            { "Real y(start = 1); equation der(y) = y / 4 * (1 - y / 20);", "y", 20, 20 / (1 + 19 * Math.Exp(-5)) },
            {
                "Real y[2](start = {1, 3}); equation der(y[1]) = 2 * (y[1] - y[1] * y[2]); der(y[2]) = -(y[2] - y[1] * y[2]);",
                "y[1]",
                20,
                0.6761876008577
            },
            {
                "Real a(start = 2), b(start = 0), c(start = 1); equation der(a) = -a + b; der(b) = a - 2 * b + c; der(c) = b - c;",
                "b",
                20,
                1 - Math.Exp(-60)
            },
            { "Real x(start = 1), y; equation der(x) = y; der(y) = -4 * x;", "x", 10, Math.Cos(20) },
        };

    /// <summary>The error may be ten times the tolerance, relative to a solution of order one or above, absolute below.</summary>
    [Theory]
    [MemberData(nameof(Exact))]
    public void Errors_stay_within_ten_times_the_tolerance(string text, string name, double end, double expected)
    {
        foreach (var tolerance in new[] { 1e-5, 1e-7, 1e-9 })
        {
            var value = TextModel.Values(text, name, [end], At(tolerance))[0];
            Assert.InRange(Math.Abs(value - expected), 0, 10 * tolerance * Math.Max(1, Math.Abs(expected)) + 1e-12);
        }
    }

    [Fact]
    public void Kepler_s_orbit_keeps_energy_and_returns()
    {
        // Class D of the same set: eccentricity 0.5; after 2π the body is back.
        const string text =
            "Real x(start = 0.5), y, u, v(start = sqrt(3)), r; equation r = sqrt(x ^ 2 + y ^ 2); der(x) = u; der(y) = v; der(u) = -x / r ^ 3; der(v) = -y / r ^ 3;";
        var x = TextModel.Values(text, "x", [2 * Math.PI], At(1e-10))[0];
        Assert.Equal(0.5, x, 1e-8);
    }

    [Fact]
    public void Van_der_pol_at_mu_one_agrees_with_the_reference()
    {
        // Reference by 200,000 equal steps of order 4 in another program; half as many agree in 14 digits.
        var y = TextModel.Values("Real x(start = 2), y; equation der(x) = y; der(y) = (1 - x ^ 2) * y - x;", "x", [20], At(1e-10))[0];
        Assert.Equal(2.0081497621749, y, 1e-8);
    }

    [Fact]
    public void A_pendulum_swings_with_its_elliptic_period()
    {
        // Period 4 K(sin(θ₀/2)) for l = g; K by the arithmetic–geometric mean.
        const double angle = 2.0;
        double a = 1,
            b = Math.Cos(angle / 2);
        for (var i = 0; i < 20; i++)
            (a, b) = ((a + b) / 2, Math.Sqrt(a * b));
        var period = 2 * Math.PI / a;
        var value = TextModel.Values($"Real q(start = {angle}), w; equation der(q) = w; der(w) = -sin(q);", "q", [period], At(1e-10))[0];
        Assert.Equal(angle, value, 1e-8);
    }
}
