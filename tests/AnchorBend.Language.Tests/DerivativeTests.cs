using AnchorBend.Language.Terms;
using CsCheck;
using static AnchorBend.Language.Terms.TermBuilder;

namespace AnchorBend.Language.Tests;

public class DerivativeTests
{
    static readonly VariableTerm X = new(0),
        Y = new(1);

    public static TheoryData<string, Func<Term>> Functions =>
        new()
        {
            { "product", () => Multiply(Multiply(X, Y), Unary(Operator.Sin, X)) },
            { "quotient", () => Divide(Unary(Operator.Exp, X), Add(Multiply(Y, Y), Term.One)) },
            { "power", () => Binary(Operator.Power, Add(Multiply(X, X), Term.One), Y) },
            { "root", () => Unary(Operator.SquareRoot, Add(Multiply(X, X), Multiply(Y, Y))) },
            { "arc tangent", () => Binary(Operator.Atan2, X, Y) },
            { "hyperbolic", () => Multiply(Unary(Operator.Tanh, X), Unary(Operator.Cosh, Y)) },
            { "logarithm", () => Unary(Operator.Log, Add(Multiply(X, X), Term.Two)) },
            { "condition", () => Conditional(Binary(Operator.Greater, X, Y), Multiply(X, X), Multiply(Y, X)) },
            {
                "table",
                () => new TableTerm([X, Term.Of(-3), Term.Of(0), Term.Of(3), Term.Of(1), Term.Of(4), Term.Of(-2)], TableKind.Linear, false)
            },
        };

    /// <summary>A central difference of step h errs by O(h²) plus rounding of order ε/h; with h = 1e-5 both stay below 1e-7 here.</summary>
    [Theory]
    [MemberData(nameof(Functions))]
    public void Partial_derivatives_agree_with_differences(string name, Func<Term> function)
    {
        _ = name;
        var term = function();
        Gen.Select(Gen.Double[-2, 2], Gen.Double[0.3, 2])
            .Sample(
                (x, y) =>
                {
                    if (Math.Abs(x) < 1e-3 || Math.Abs(x - y) < 1e-3)
                        return;
                    for (var v = 0; v < 2; v++)
                    {
                        double At(double dx) => new TermEvaluator(i => (i == 0 ? x : y) + (i == v ? dx : 0)).Evaluate(term);
                        var exact = new TermEvaluator(i => i == 0 ? x : y).Evaluate(TermDerivative.Partial(term, v));
                        var difference = (At(1e-5) - At(-1e-5)) / 2e-5;
                        Assert.Equal(difference, exact, 1e-6 * Math.Max(1, Math.Abs(exact)));
                    }
                },
                iter: 300
            );
    }

    [Fact]
    public void Constants_fold_and_neutral_elements_go()
    {
        Assert.Same(X, Add(X, Term.Zero));
        Assert.Same(X, Multiply(Term.One, X));
        Assert.True(Multiply(X, Term.Zero).IsConstant(0));
        Assert.True(Binary(Operator.Power, Term.Of(2), Term.Of(10)).IsConstant(1024));
    }

    [Theory]
    [InlineData(-7.5, 2, 0.5)]
    [InlineData(7.5, -2, -0.5)]
    [InlineData(6, 2, 0)]
    public void Modulo_has_the_sign_of_the_divisor(double a, double b, double expected) =>
        Assert.Equal(expected, TermEvaluator.Modulo(a, b));

    [Theory]
    [InlineData(-1, TableKind.Linear, 1)]
    [InlineData(0.5, TableKind.Linear, 1.5)]
    [InlineData(1, TableKind.Linear, 5)]
    [InlineData(9, TableKind.Linear, 7)]
    [InlineData(0.9, TableKind.Steps, 1)]
    [InlineData(2.5, TableKind.RepeatingLinear, 1.5)]
    public void Tables_interpolate_hold_and_repeat(double x, TableKind kind, double expected) =>
        Assert.Equal(expected, TableLookup.Evaluate(x, [0, 1, 1, 2], [1, 2, 5, 7], kind, false), 12);
}
