using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>Linear systems of models whose states are tied by constraints, about points at which they move.</summary>
public class ConstrainedLinearTests
{
    /// <summary>A pendulum of 1 m and 1 kg in Cartesian places; a force pushes it along.</summary>
    const string Pendulum = """
        Real x(start = 0.6); Real y(start = -0.8); Real vx(start = 0); Real vy(start = 0); Real p; Real f;
        equation
          f = 0; der(x) = vx; der(y) = vy; der(vx) = f - p * x; der(vy) = -p * y - 9.81; x ^ 2 + y ^ 2 = 1;
        """;

    static OperatingPoint At(PreparedModel prepared, double time) =>
        OperatingPoint.AtTime(
            prepared,
            new ParameterSet(prepared.Model),
            time,
            new RunOptions
            {
                End = 2,
                RelativeTolerance = 1e-10,
                AbsoluteTolerance = 1e-12,
            }
        );

    /// <summary>
    /// How its speed along changes, by hand: the pull p = vx² + vy² − 9.81 y + f x keeps it on the circle, where y = −√(1 − x²) and
    /// vy = −x vx / y.
    /// </summary>
    static double Acceleration(double x, double vx, double f)
    {
        var y = -Math.Sqrt(1 - x * x);
        var vy = -x * vx / y;
        return f - (vx * vx + vy * vy - 9.81 * y + f * x) * x;
    }

    /// <summary>Five points about zero: the error is of the fourth order, 1e-12 of what is differentiated here.</summary>
    static double Slope(Func<double, double> of)
    {
        const double h = 1e-3;
        return (of(-2 * h) - 8 * of(-h) + 8 * of(h) - of(2 * h)) / (12 * h);
    }

    [Theory]
    [InlineData(0.05)]
    [InlineData(0.5)]
    [InlineData(0.9)]
    public void A_pendulum_that_swings_has_the_slopes_of_its_way(double time)
    {
        var prepared = TextModel.Prepare(Pendulum);
        var point = At(prepared, time);
        double Value(string name) => point.Values[prepared.Find(name)!.Index];
        var (x, vx) = (Value("x"), Value("vx"));
        Assert.True(Math.Abs(vx) > 0.1);

        var system = Linearizer.Between(prepared, point, "f", "vx");
        Assert.Equal(["vx", "x"], system.States.Order());
        var (i, j) = (system.States.ToList().IndexOf("vx"), system.States.ToList().IndexOf("x"));
        Assert.Equal(Slope(d => Acceleration(x + d, vx, 0)), system.A[i, j], 1e-6);
        Assert.Equal(Slope(d => Acceleration(x, vx + d, 0)), system.A[i, i], 1e-6);
        Assert.Equal(Slope(d => Acceleration(x, vx, d)), system.B[i], 1e-6);
        Assert.Equal((1, 0), (system.A[j, i], system.A[j, j]));

        var whole = Linearizer.Whole(prepared, point);
        Assert.Equal(system.A.Cast<double>(), whole.A.Cast<double>(), (a, b) => Math.Abs(a - b) < 1e-9);
    }

    [Fact]
    public void A_pendulum_at_rest_swings_by_the_root_of_g_over_l()
    {
        var prepared = TextModel.Prepare(Pendulum.Replace("0.6", "0.1", StringComparison.Ordinal));
        var point = OperatingPoint.Steady(prepared, new ParameterSet(prepared.Model));
        var mode = Assert.Single(Mode.Of(Linearizer.Whole(prepared, point)));
        Assert.Equal(Math.Sqrt(9.81), mode.Frequency, 1e-6);
    }
}
