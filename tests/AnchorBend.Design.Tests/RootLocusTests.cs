using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

public class RootLocusTests
{
    const string Swing =
        "parameter Real m = 2; parameter Real c = 8; parameter Real d = 1; "
        + "parameter Real w = sqrt(c / m); Real x(start = 0); Real v(start = 0); equation der(x) = v; m * der(v) = -c * x - d * v;";

    static OperatingPoint At(PreparedModel prepared, ParameterSet set) => OperatingPoint.Steady(prepared, set);

    [Fact]
    public void The_poles_over_a_gain_are_those_of_the_polynomial()
    {
        // s² + s + k = 0 around an integrator and a lag.
        var prepared = TextModel.Prepare(
            "Constant r(k = 0); Gain g(k = 0.1); Lag a(T = 1); Integrator b; equation g.u = r.y - b.y; "
                + "connect(g.y, a.u); connect(a.y, b.u);"
        );
        double[] gains = [.. Enumerable.Range(0, 40).Select(i => 0.02 * Math.Pow(1.2, i))];
        var locus = RootLocus.Of(prepared, "g.k", gains, set => At(prepared, set));
        foreach (var point in locus)
        {
            var root = Complex.Sqrt(0.25 - point.Value);
            Assert.All(point.Poles!, p => Assert.True(Math.Min((p - (-0.5 + root)).Magnitude, (p - (-0.5 - root)).Magnitude) < 1e-7));
        }
    }

    [Fact]
    public void Branches_are_followed_from_value_to_value()
    {
        var prepared = TextModel.Prepare(Swing);
        double[] values = [.. Enumerable.Range(1, 60).Select(i => 0.1 * i)];
        var locus = RootLocus.Of(prepared, "d", values, set => At(prepared, set));
        for (var i = 1; i < values.Length; i++)
        for (var k = 0; k < 2; k++)
            // A branch changes no side while it swings.
            Assert.Equal(Math.Sign(locus[0].Poles![k].Imaginary), Math.Sign(locus[i].Poles![k].Imaginary));
    }

    [Fact]
    public void The_movers_of_a_mode_are_those_that_its_formula_has()
    {
        // Frequency √(c/m), damping d/(2 √(c m)).
        var prepared = TextModel.Prepare(Swing);
        var (frequency, damping) = (2.0, 1 / (2 * Math.Sqrt(16)));
        var pole = frequency * new Complex(-damping, Math.Sqrt(1 - damping * damping));
        var (found, looked, all) = RootLocus.Movers(prepared, pole, set => At(prepared, set), TimeSpan.FromMinutes(1));
        Assert.Equal((3, 3), (looked, all));
        var movers = found.ToDictionary(m => m.Parameter);
        Assert.Equal(["c", "d", "m"], movers.Keys.Order());
        Assert.Equal(0.5, movers["c"].Frequency, 1e-5);
        Assert.Equal(-0.5, movers["m"].Frequency, 1e-5);
        Assert.Equal(0, movers["d"].Frequency, 1e-5);
        Assert.Equal(damping, movers["d"].Damping, 1e-5);
        Assert.Equal(-damping / 2, movers["c"].Damping, 1e-5);
    }

    [Fact]
    public void What_follows_from_another_parameter_cannot_be_changed_on_its_own()
    {
        var prepared = TextModel.Prepare(Swing);
        var refused = Assert.Throws<DesignException>(() => RootLocus.Of(prepared, "w", [1, 2], set => At(prepared, set)));
        Assert.Equal("parameter", refused.Code);
    }

    [Fact]
    public void A_value_without_an_operating_point_has_no_poles()
    {
        var prepared = TextModel.Prepare("parameter Real q = 1; Real h(start = 1); equation der(h) = q - sqrt(h);");
        var locus = RootLocus.Of(prepared, "q", [0.5, 0, 1], set => At(prepared, set));
        Assert.Equal(-1, locus[0].Poles![0].Real, 1e-6);
        Assert.Null(locus[1].Poles);
        Assert.Equal(-0.5, locus[2].Poles![0].Real, 1e-6);
    }

    [Fact]
    public void Samples_are_not_taken_for_something_continuous()
    {
        var prepared = TextModel.Prepare("parameter Real k = 1; Real x(start = 0); SampleHold h; equation der(x) = -k * h.y; h.u = x;");
        Assert.Equal("sampled", Assert.Throws<DesignException>(() => RootLocus.Of(prepared, "k", [1], set => At(prepared, set))).Code);
    }
}
