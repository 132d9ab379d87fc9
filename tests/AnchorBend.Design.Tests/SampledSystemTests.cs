using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

public class SampledSystemTests
{
    static SampledSystem Sampled(string text, string from, string to, string? open = null)
    {
        var prepared = TextModel.Prepare(text);
        return SampledSystem.Between(prepared, OperatingPoint.Steady(prepared, new ParameterSet(prepared.Model)), from, to, open);
    }

    static void Same(Complex expected, Complex actual, double tolerance = 1e-10) =>
        Assert.True((expected - actual).Magnitude <= tolerance, $"{actual} instead of {expected}");

    const string Loop =
        "Constant r(k = 1); SampledPI c(k = 1.5, Ti = 2, T = 0.1); Lag a(T = 1); "
        + "equation connect(r.y, c.r); connect(c.u, a.u); connect(a.y, c.y);";

    [Fact]
    public void The_poles_of_a_sampled_loop_are_those_of_its_polynomial()
    {
        // (z − a)(z − 1) + (1 − a) k (z − 1 + T/Ti) with a = e^(−T).
        var (a, k, share) = (Math.Exp(-0.1), 1.5, 0.1 / 2);
        var (p, q) = (-(a + 1) + (1 - a) * k, a - (1 - a) * k * (1 - share));
        var root = Complex.Sqrt(p * p / 4 - q);
        var system = Sampled(Loop, "r.y", "a.y").Held().Reduced();
        Complex[] found = [.. PolesAndZeros.Poles(system).OrderBy(z => z.Real)];
        Assert.Equal(2, found.Length);
        Same(-p / 2 - root, found[0]);
        Same(-p / 2 + root, found[1]);
        // The integral part leaves no error at rest.
        Same(1, system.At(1), 1e-9);
    }

    [Theory]
    [InlineData(0.5)]
    [InlineData(7)]
    [InlineData(40)]
    public void A_hold_passes_the_part_of_a_sine_that_its_steps_hold(double w)
    {
        var sampled = Sampled("Real u; SampleHold h(T = 0.1); equation u = 0; h.u = u;", "u", "h.y");
        var s = new Complex(0, w);
        Same((1 - Complex.Exp(-0.1 * s)) / (0.1 * s), sampled.At(w));
        Same(1, sampled.Held().At(Complex.Exp(0.1 * s)));
    }

    [Fact]
    public void What_a_sampled_loop_does_to_a_sine_is_what_its_running_model_does()
    {
        // The first frequency of a loop with a sampler: G H C* over 1 + L*, with all aliases in L*.
        const double w = 2;
        var (s, z) = (new Complex(0, w), Complex.Exp(new Complex(0, 0.1 * w)));
        var a = Math.Exp(-0.1);
        var controller = 1.5 * (1 + 0.05 / (z - 1));
        var loop = controller * (1 - a) / (z - a);
        var hold = (1 - Complex.Exp(-0.1 * s)) / (0.1 * s);
        Same(hold * controller / (1 + s) / (1 + loop), Sampled(Loop, "r.y", "a.y").At(w));
    }

    [Fact]
    public void Clocks_with_different_times_are_looked_at_over_their_common_period()
    {
        // The slow hold takes every fifth value at an even and every second at an odd place: 0.2 s and 0.5 s meet each second.
        var sampled = Sampled("Real u; SampleHold a(T = 0.2); SampleHold b(T = 0.5); equation u = 0; a.u = u; b.u = a.y;", "u", "b.y");
        Assert.Equal(1, sampled.Period, 1e-12);
        // u is read at 0 for the first half, at 0.4 s for the second: the mean of both parts of e^(jωt).
        const double w = 3;
        var s = new Complex(0, w);
        var half = (1 - Complex.Exp(-0.5 * s)) / s;
        Same(half + Complex.Exp(s * (0.4 - 0.5)) * half, sampled.At(w));
    }

    [Fact]
    public void Without_a_common_period_it_is_told_which_parts_have_none()
    {
        var refused = Assert.Throws<DesignException>(() =>
            Sampled("Real u; SampleHold a(T = 0.1); SampleHold b(T = 0.1414213562); equation u = 0; a.u = u; b.u = a.y;", "u", "b.y")
        );
        Assert.Equal("sample-times", refused.Code);
        Assert.Contains("a, b", refused.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_value_that_follows_events_is_no_part_of_a_linear_system()
    {
        var refused = Assert.Throws<DesignException>(() =>
            Sampled(
                "model M Real u; Real x(start = 1); discrete Real d(start = 0); equation u = 0; "
                    + "der(x) = u - x + d; when x < 0.2 then d = x; end when; end M;",
                "u",
                "x"
            )
        );
        Assert.Equal("sampled", refused.Code);
    }

    [Fact]
    public void A_parameter_is_no_signal_that_a_small_change_could_enter_by()
    {
        var prepared = TextModel.Prepare("parameter Real r = 1; Lag a(T = 1); equation a.u = r;");
        var point = OperatingPoint.Steady(prepared, new ParameterSet(prepared.Model));
        Assert.Equal("signal", Assert.Throws<DesignException>(() => Linearizer.Between(prepared, point, "r", "a.y")).Code);
    }
}
