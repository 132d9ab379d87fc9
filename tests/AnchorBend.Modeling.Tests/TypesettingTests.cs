using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Tests;

public class TypesettingTests
{
    [Theory]
    [InlineData("T * der(x) = k * u - x", @"T\, \dot{x} = k\, u - x")]
    [InlineData("y = (a + b) / c", @"y = \frac{a + b}{c}")]
    [InlineData("y = (a + b) * c", @"y = \left(a + b\right)\, c")]
    [InlineData("y = a - (b - c)", @"y = a - \left(b - c\right)")]
    [InlineData("y = sqrt(x ^ 2)", @"y = \sqrt{x^{2}}")]
    [InlineData("y = u[1]", @"y = u_{1}")]
    [InlineData("tau = J_rotor * alpha", @"\tau = J_{\mathrm{rotor}}\, \alpha")]
    [InlineData("y = Ti", @"y = T_{\mathrm{i}}")]
    [InlineData("y = not a and b", @"y = \neg a \wedge b")]
    [InlineData("y = pre(n) + 1", @"y = n^{-} + 1")]
    [InlineData("y = 1e-9", @"y = 1\cdot 10^{-9}")]
    public void Equations_are_set_as_mathematics(string equation, string expected)
    {
        var (classes, errors) = Parser.ParseFile($"model M equation {equation}; end M;");
        Assert.Empty(errors);
        Assert.Equal(expected, EquationMath.Print(classes[0].Equations[0]));
    }

    [Fact]
    public void A_choice_becomes_cases() =>
        Assert.Equal(
            @"\begin{cases}1 & \text{if } u > 0\\2 & \text{otherwise}\end{cases}",
            EquationMath.Print(Parser.ParseExpression("if u > 0 then 1 else 2"))
        );

    [Fact]
    public void The_catalog_describes_a_part_for_the_interface()
    {
        var lag = PartCatalog.Standard.Describe("Lag");
        Assert.Equal(("Lag", "Dynamics", "First-order lag"), (lag.Title, lag.Group, lag.Help));
        Assert.Equal([("u", Causality.Input), ("y", Causality.Output)], lag.Ports.Select(p => (p.Name, p.Causality)));
        var time = lag.Parameters.Single(p => p.Name == "T");
        Assert.Equal(("s", "1", "Time constant"), (time.Unit, time.Default, time.Description));
        Assert.Equal(1e-9, double.Parse(time.Minimum!, System.Globalization.CultureInfo.InvariantCulture));
        Assert.Equal(
            ["P", "PI", "PD", "PID"],
            PartCatalog.Standard.Describe("PID").Parameters.Single(p => p.Name == "form").Choices!.Select(c => c.Name)
        );
    }
}
