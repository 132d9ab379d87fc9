using System.Text.RegularExpressions;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation.Grid;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Delivery.Tests;

/// <summary>Parts written as equations: loops, jumps, tables over time, parameters that follow from others.</summary>
public class EquationCodeTests
{
    static CodeUnit Unit(string text, GridMethod method = GridMethod.RungeKutta4, double step = 0.01)
    {
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["c"] = Part("#own", "Unit") },
        }.AsModel();
        model.Definitions["own"] = new TextDefinition
        {
            Name = "Own",
            Text = $"block Own\n  input Real u;\n  output Real y;\n{text}\nend Own;",
        };
        return CodeUnit.Of(model, PartCatalog.Of(model), new CodeRequest("Unit", step, method, false, null));
    }

    /// <summary>Where there is no solution both take what they have come to, and it is told how often.</summary>
    [CompiledFact]
    public void What_is_not_solved_is_told()
    {
        var result = BackToBack.Compare(
            Unit("equation\n  y ^ 2 + 2 + sin(u) = 0.1 * y;"),
            [
                [0.1],
                [0.2],
            ]
        );
        Assert.Equal("", result.Compiler);
        Assert.NotEqual(0, result.Unsolved);
    }

    [CompiledTheory]
    [InlineData("equation\n  y + y ^ 3 + exp(0.3 * y) = u;")]
    [InlineData("  Real a;\nequation\n  a = u - 0.4 * sin(y);\n  y = 2 * a + 0.1 * cos(a);")]
    [InlineData("equation\n  y = u - (if y > 0 then 2 * y else 0.5 * y);")]
    [InlineData("  Real x(start = 0.2, fixed = true);\nequation\n  der(x) = u - y;\n  y + 0.3 * y * abs(y) = x;")]
    public void Loops_by_newton(string text) => IsSame(Unit(text));

    [CompiledTheory]
    [InlineData(
        "  Real x(start = 0, fixed = true);\nequation\n  der(x) = u;\n"
            + "  when x > 0.3 or x < -0.3 then\n    reinit(x, 0);\n  end when;\n  y = x;"
    )]
    [InlineData(
        "  Real h(start = 1, fixed = true);\n  Real v(start = 0, fixed = true);\nequation\n  der(h) = v;\n  der(v) = u - 9.81;\n"
            + "  when h < 0 then\n    reinit(v, -0.8 * v);\n  end when;\n  y = h;"
    )]
    public void States_that_jump(string text) => IsSame(Unit(text));

    /// <summary>Knots on and between the steps; the stretch is the one of a step's beginning.</summary>
    [CompiledTheory]
    [InlineData("interpolate(time, {0, 0.1, 0.333, 1.2}, {0, 1, -1, 4})")]
    [InlineData("interpolate(time / 0.3, {0, 0.2, 0.5, 1}, {0, 1, 1, 0}, \"repeat\")")]
    [InlineData("interpolate(3 * time - 0.1, {0, 0.2, 0.5, 1}, {0, 1, 1, 0}, \"repeat\")")]
    public void Tables_over_time(string table)
    {
        var text = $"  Real x(start = 0, fixed = true);\nequation\n  der(x) = {table} + 0 * u - x;\n  y = x;";
        IsSame(Unit(text, GridMethod.RungeKutta4));
        IsSame(Unit(text, GridMethod.Heun));
        IsSame(Unit(text, GridMethod.Euler));
    }

    /// <summary>What follows from a tunable parameter by more than some products is computed once a step.</summary>
    [CompiledFact]
    public void Parameters_that_follow_are_computed_once()
    {
        var unit = Unit(
            """
              parameter Real w = 3;
              parameter Real z = 0.7;
              parameter Real half = w / 2;
              parameter Real damped = w * sqrt(abs(1 - z ^ 2));
              parameter Real turn = exp(-z * w) * cos(damped);
            equation
              y = turn * u + turn * damped + half;
            """
        );
        IsSame(unit);
        var source = CWriter.Write(unit)[1].Text;
        Assert.Single(Regex.Matches(source, "sqrt\\("));
        Assert.Single(Regex.Matches(source, "cos\\("));
        Assert.Contains("s->turn = ", source, StringComparison.Ordinal);
        Assert.Contains("p->w / 2.0", source, StringComparison.Ordinal);
    }

    /// <summary>A tunable parameter that changes nothing would deceive: tables and sample times are numbers in the code.</summary>
    [Fact]
    public void What_tables_and_clocks_come_from_is_not_tunable()
    {
        var table = Unit(
            "  parameter Real a = 1;\n  parameter Real b = 2 * a;\n  parameter Real k = 3;\n"
                + "equation\n  y = k * interpolate(u, {0, b}, {0, 1});"
        );
        Assert.Equal(["k"], table.Tunable.Select(t => t.Name));
        var within = Unit(
            "  parameter Real a = 1;\n  parameter Real k = 0.5;\n"
                + "protected\n  parameter Real g = interpolate(k, {0, a}, {0, 1});\nequation\n  y = g * u;"
        );
        Assert.Equal(["k"], within.Tunable.Select(t => t.Name));
        var clock = Unit(
            "  parameter Real Ts = 0.02;\n  parameter Real k = 3;\n  discrete Real m(start = 0, fixed = true);\n"
                + "equation\n  when sample(0, Ts) then\n    m = k * u;\n  end when;\n  y = m;"
        );
        Assert.Equal(["k"], clock.Tunable.Select(t => t.Name));
    }

    [Fact]
    public void Parameters_that_nothing_reads_are_told()
    {
        var unit = Unit("  parameter Real k = 3;\n  parameter Real spare = 1;\nequation\n  y = k * u;");
        Assert.Equal(["spare"], CWriter.Idle(unit, CWriter.Write(unit)));
    }

    /// <summary>Given by another of its own it follows; asked for by name it is changed by itself.</summary>
    [Fact]
    public void Followers_are_tuned_only_where_they_are_asked_for()
    {
        const string Text = "  parameter Real w = 3;\n  parameter Real half = w / 2;\nequation\n  y = half * u + w;";
        Assert.Equal(["w"], Unit(Text).Tunable.Select(t => t.Name));
        Assert.Equal(["w", "half"], Unit(Text).Changeable.Select(t => t.Name));
    }

    static void IsSame(CodeUnit unit)
    {
        var result = BackToBack.Compare(unit, DrawnInputs.Of(unit, 2000, 7));
        Assert.Equal("", result.Compiler);
        Assert.Null(result.First);
    }
}
