using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>Systems from several signals to several, and as polynomials, against what is known of them.</summary>
public class LinearMatrixTests
{
    static (PreparedModel Prepared, OperatingPoint Point) Model(string text)
    {
        var prepared = TextModel.Prepare(text);
        return (prepared, OperatingPoint.AtTime(prepared, new ParameterSet(prepared.Model), 1e-6, new RunOptions { End = 1 }));
    }

    const string TwoByTwo =
        "Real u1 = 0; Real u2 = 0; Real x1(start = 0); Real x2(start = 0); Real x3(start = 0); Real apart(start = 0); Real y1; Real y2; "
        + "equation der(x1) = -x1 + u1; der(x2) = -2 * x2 + u2; der(x3) = -3 * x3 + u1 + u2; der(apart) = -apart; "
        + "y1 = x1 + 2 * x2; y2 = x1 + x3;";

    [Fact]
    public void Matrices_zeros_and_singular_values_are_those_of_the_equations()
    {
        var (prepared, point) = Model(TwoByTwo);
        var matrix = LinearMatrix.Between(prepared, point, ["u1", "u2"], ["y1", "y2"], []);
        // What lies on no way between them is no part of it.
        Assert.Equal(["x1", "x2", "x3"], matrix.States);
        Assert.Equal(
            new double[,]
            {
                { 1, 0 },
                { 0, 1 },
                { 1, 1 },
            },
            matrix.B
        );
        Assert.Equal(
            new double[,]
            {
                { 1, 2, 0 },
                { 1, 0, 1 },
            },
            matrix.C
        );
        Assert.Equal(
            new double[,]
            {
                { 0, 0 },
                { 0, 0 },
            },
            matrix.D
        );
        // det G = −3/((s + 1)(s + 3)), times the polynomial of the poles: −3 (s + 2).
        var zero = Assert.Single(matrix.TransmissionZeros()!);
        Assert.Equal(-2, zero.Real, 1e-8);
        var values = LinearMatrix.SingularValues(matrix.At(1));
        Assert.Equal(3 / (Math.Sqrt(2) * Math.Sqrt(10)), values[0] * values[1], 1e-12);
        Assert.True(values[0] > values[1]);
    }

    [Fact]
    public void A_system_that_is_not_square_has_no_transmission_zeros_to_tell()
    {
        var (prepared, point) = Model(TwoByTwo);
        Assert.Null(LinearMatrix.Between(prepared, point, ["u1"], ["y1", "y2"], []).TransmissionZeros());
        Assert.Equal("signals", Assert.Throws<DesignException>(() => LinearMatrix.Between(prepared, point, [], ["y1"], [])).Code);
    }

    [Fact]
    public void Two_loops_are_cut_at_once()
    {
        // y = a + b; with both ways back cut only the one forward is left.
        var (prepared, point) = Model(
            "Gain f(k = 2); Gain p(k = 3); Gain q(k = 5); Lag l(k = 1, T = 1); equation l.u = f.y - p.y - q.y; f.u = 0; p.u = l.y; q.u = l.y;"
        );
        Complex At(params string[] open) => Linearizer.Between(prepared, point, "f.u", "l.y", open).Reduced().At(new Complex(0, 1));
        var s = new Complex(0, 1);
        Assert.True((At() - 2 / (s + 1 + 8)).Magnitude < 1e-12);
        Assert.True((At("p.y") - 2 / (s + 1 + 5)).Magnitude < 1e-12);
        Assert.True((At("p.y", "q.y") - 2 / (s + 1)).Magnitude < 1e-12);
    }

    [Fact]
    public void A_transfer_function_has_its_coefficients_back()
    {
        var (prepared, point) = Model("TransferFunction g(b = {2, 3}, a = {1, 4, 5, 6}); equation g.u = 0;");
        var found = TransferFunction.Of(Linearizer.Between(prepared, point, "g.u", "g.y"))!;
        Assert.Equal([2, 3], found.Numerator.Select(v => Math.Round(v, 9)));
        Assert.Equal([1, 4, 5, 6], found.Denominator.Select(v => Math.Round(v, 9)));
    }

    [Fact]
    public void What_a_zero_takes_away_of_the_poles_is_left_out()
    {
        var (prepared, point) = Model("TransferFunction g(b = {1, 2}, a = {1, 3, 2}); equation g.u = 0;");
        var found = TransferFunction.Of(Linearizer.Between(prepared, point, "g.u", "g.y"))!;
        Assert.Equal([1], found.Numerator.Select(v => Math.Round(v, 9)));
        Assert.Equal([1, 1], found.Denominator.Select(v => Math.Round(v, 9)));
        var (late, at) = Model("DeadTime d(T = 1); equation d.u = time;");
        Assert.Null(TransferFunction.Of(Linearizer.Between(late, at, "d.u", "d.y")));
    }

    [Fact]
    public void Tustins_rule_is_exact_where_it_is_asked_to_be()
    {
        var (prepared, point) = Model("TransferFunction g(b = {4}, a = {1, 0.4, 4}); equation g.u = 0;");
        var system = Linearizer.Between(prepared, point, "g.u", "g.y");
        const double period = 0.5,
            at = 2.0;
        Complex Of(double? exactAt) => Discretisation.Of(system, period, Hold.Tustin, exactAt).At(Complex.Exp(new Complex(0, at * period)));
        var expected = system.At(new Complex(0, at));
        Assert.True((Of(at) - expected).Magnitude < 1e-10 * expected.Magnitude);
        Assert.True((Of(null) - expected).Magnitude > 0.1 * expected.Magnitude);
        Assert.Equal("prewarp", Assert.Throws<DesignException>(() => Of(7)).Code);
        Assert.Equal("prewarp", Assert.Throws<DesignException>(() => Discretisation.Of(system, period, Hold.Zoh, at)).Code);
    }

    [Fact]
    public void A_free_body_has_its_double_pole_at_zero()
    {
        // Two bodies on a spring, free to turn together: s² and the spring's mode.
        var (prepared, point) = Model(
            "Real a(start = 0); Real b(start = 0); Real v(start = 0); Real w(start = 0); Real u = 0; equation der(a) = v; der(b) = w; "
                + "0.9 * der(v) = u - 5000 * (a - b) - 15 * (v - w); 2.4 * der(w) = 5000 * (a - b) + 15 * (v - w);"
        );
        var poles = PolesAndZeros.Poles(Linearizer.Between(prepared, point, "u", "v"));
        var modes = Mode.Of(Linearizer.Whole(prepared, point));
        Assert.Equal(2, poles.Count(p => p == Complex.Zero));
        Assert.Equal(2, modes.Count(m => m.Pole == Complex.Zero));
        Assert.Equal(Math.Sqrt(5000 * (1 / 0.9 + 1 / 2.4)), poles[^1].Magnitude, 1e-6);
    }

    [Fact]
    public void A_slow_swing_beside_what_is_fast_is_no_double_pole_at_zero()
    {
        // A tide beside a stiff line: rounding of the fast entry, 1e9 times 2e-16, over the slow one leaves two parts in a thousand.
        var (prepared, point) = Model(
            "Real h(start = 0); Real q(start = 0); Real p(start = 0); Real u = 0; "
                + "equation der(h) = q; der(q) = -1.96e-8 * h; der(p) = 1e9 * (u + h - p);"
        );
        var slow = PolesAndZeros.Poles(Linearizer.Whole(prepared, point)).Where(v => v.Magnitude < 1).ToList();
        Assert.All(slow, v => Assert.Equal(1.4e-4, v.Magnitude, 3e-7));
        Assert.Contains(Mode.Of(Linearizer.Whole(prepared, point)), m => Math.Abs(m.Frequency - 1.4e-4) < 3e-7);
    }
}
