using AnchorBend.Compiler.Planning;
using AnchorBend.Modeling;
using AnchorBend.Tests;

namespace AnchorBend.Compiler.Tests;

public class PlannerTests
{
    static string Print(string text)
    {
        var prepared = TextModel.Prepare(text);
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings));
        return ExecutionPlanText.Print(prepared.Compiled!.Plan).ReplaceLineEndings("\n");
    }

    static Finding Error(string text) => Assert.Single(TextModel.Prepare(text).Findings, f => f.Severity == Severity.Error);

    [Fact]
    public void Equations_in_any_order_and_on_either_side_are_sorted_and_solved() =>
        Assert.Equal(
            """
            states: x
              z := 2 * x
              y := (5 - z) / 3
              der(x) := y - x
            o w := y + z

            """.ReplaceLineEndings("\n"),
            Print(
                """
                Real x; Real y; Real z; Real w;
                equation
                  y + z = w;
                  y - x = der(x);
                  z + 3 * y = 5;
                  2 * x = z;
                """
            )
        );

    [Fact]
    public void A_condition_on_a_slope_is_no_row_of_a_mass_matrix() =>
        Assert.Equal(
            """
            states: lag, sum
            e high := der(sum) > 0.2
              der(lag) := der(sum) - lag
              der(sum) := sin(time)
            state relation der(sum) > 0.2
            """.ReplaceLineEndings("\n").Split('\n').Order(StringComparer.Ordinal),
            Print(
                    """
                    Real wave, lag, sum; Boolean high;
                    equation wave = sin(time); der(lag) = wave - lag; high = wave > 0.2; der(sum) = wave;
                    """
                )
                .Trim()
                .Split('\n')
                .Order(StringComparer.Ordinal)
        );

    [Fact]
    public void A_product_with_a_zero_parameter_closes_no_loop()
    {
        const string loop = "parameter Real direct = 0; Real x, y, u; equation der(x) = u - x; y = x + direct * u; u = time - y;";
        Assert.DoesNotContain(TextModel.Prepare(loop).Findings, f => f.Code == "algebraic-loop");
        Assert.Contains(TextModel.Prepare(loop, new Dictionary<string, string> { ["direct"] = "0.5" }).Findings, f =>
            f.Code == "algebraic-loop"
        );
    }

    /// <summary>Parts of a network decide together: that is how networks are. A signal that comes back at once is told.</summary>
    [Theory]
    [InlineData("Resistor a(R = 10); Resistor b(R = 20); equation connect(v.a, a.a); connect(a.b, b.a); connect(b.b, v.b);", 0)]
    [InlineData(
        "PressureBoundary p(p = 3e5), q; Pipe r(N = 1), s(N = 1); equation connect(p.a, r.a); connect(r.b, s.a); connect(s.b, q.a);",
        0
    )]
    [InlineData(
        "Gain k(k = 0.5); Sum d(signs = {1, -1}); Step r; equation connect(r.y, d.u[1]); connect(d.y, k.u); connect(k.y, d.u[2]);",
        1
    )]
    public void Only_a_loop_of_signals_is_told(string text, int told)
    {
        var fed = text.Contains("v.a", StringComparison.Ordinal) ? "VoltageSource v; Ground g; " : "";
        var grounded = fed.Length > 0 ? " connect(v.b, g.a);" : "";
        Assert.Equal(told, TextModel.Prepare(fed + text + grounded).Findings.Count(f => f.Code == "algebraic-loop"));
    }

    [Fact]
    public void The_branch_that_a_parameter_rules_out_closes_no_loop() =>
        Assert.DoesNotContain(
            TextModel
                .Prepare(
                    "parameter Boolean through = false; Real x, y, u; equation der(x) = u - x; y = if through then u else x; u = time - y;"
                )
                .Findings,
            f => f.Code == "algebraic-loop"
        );

    [Theory]
    [InlineData("PID c(k = 3)"), InlineData("SampledPID c(k = 3, Td = 0.1)")]
    public void A_controller_and_a_transfer_function_without_direct_term_are_no_loop(string controller)
    {
        var prepared = TextModel.Prepare(
            $"{controller}; TransferFunction p(b = {{1}}, a = {{0.3, 1, 0.5}}); Step r; equation connect(r.y, c.r); connect(c.u, p.u); connect(p.y, c.y);"
        );
        Assert.True(prepared.CanRun);
        Assert.Empty(prepared.Findings);
    }

    [Theory]
    [InlineData("parameter Real m = 0; Real v(start = 1); equation m * der(v) = -v;", "der(v) := (-v) * (1 / m)")]
    [InlineData("parameter Real k = 0; Real x, y; equation k * (x - y) = 0; der(y) = 1;", "x := y")]
    public void An_equation_stays_where_a_zero_would_leave_nothing_of_it(string text, string solved) =>
        Assert.Contains(solved, Print(text), StringComparison.Ordinal);

    [Fact]
    public void A_linear_loop_is_torn_and_named()
    {
        var prepared = TextModel.Prepare("Real a; Real b; Real c; equation a = 2 * b + time; b = 0.25 * c; c = a + b;");
        Assert.Contains(prepared.Findings, f => f.Code == "algebraic-loop" && f.Severity == Severity.Information);
        var loop = Assert.Single(prepared.Compiled!.Plan.Blocks.OfType<LoopBlock>());
        Assert.True(loop.IsLinear);
        Assert.Single(loop.Torn);
        Assert.Equal(2, loop.Inner.Length);
    }

    [Fact]
    public void A_condition_on_an_unknown_makes_a_loop_nonlinear() =>
        Assert.False(
            Assert
                .Single(
                    TextModel.Prepare("Real a; equation a + (if a > 1 then a else 2 * a) = time;").Compiled!.Plan.Blocks.OfType<LoopBlock>()
                )
                .IsLinear
        );

    [Fact]
    public void What_only_events_change_is_left_out_of_the_derivatives() =>
        Assert.Equal(
            """
            states: x
            e n := if $tick1 then pre(n) + 1 else pre(n)
            e held := 2 * n
              der(x) := held - x
            o y := x + 1
            held relation n > 3
            """.ReplaceLineEndings("\n").Trim(),
            Print(
                    """
                    Real x; discrete Real n; Real held; Real y; Boolean many;
                    equation
                      when sample(0, 1) then n = pre(n) + 1; end when;
                      held = 2 * n; der(x) = held - x; y = x + 1; many = n > 3;
                    """
                )
                .Replace("e many := n > 3\n", "", StringComparison.Ordinal)
                .Trim()
        );

    [Fact]
    public void Too_few_equations_name_the_unknown() =>
        Assert.Equal(
            ("too-few-equations", "y"),
            (Error("Real x; Real y; equation x = time;").Code, Error("Real x; Real y; equation x = time;").Item)
        );

    [Fact]
    public void Too_many_equations_name_the_equation() =>
        Assert.Contains("x = 2", Error("Real x; equation x = time; x = 2;").Message, StringComparison.Ordinal);

    [Fact]
    public void States_tied_together_become_one_and_are_told()
    {
        var prepared = TextModel.Prepare("Real x; Real y; Real f; equation der(x) = f; der(y) = 1; x = 2 * y;");
        Assert.Contains(
            "was differentiated once",
            prepared.Findings.Single(f => f.Code == "index-reduction").Message,
            StringComparison.Ordinal
        );
        Assert.Single(prepared.Compiled!.Plan.States);
    }

    [Fact]
    public void A_constraint_that_nothing_can_keep_is_an_error() =>
        Assert.Contains(TextModel.Prepare("Real x; Real y; equation der(x) = 2; der(y) = 1; x = 2 * y; ").Findings, f =>
            f.Code is "high-index" or "too-many-equations"
        );

    [Fact]
    public void Discrete_values_that_need_each_other_at_once_are_told() =>
        Assert.Equal("discrete-loop", Error("Boolean a; Boolean b; equation a = not b; b = not a;").Code);

    [Fact]
    public void Only_order_relations_of_changing_reals_are_watched()
    {
        var plan = TextModel
            .Prepare(
                """
                parameter Real p = 1; Real x; Real y; discrete Real n;
                equation
                  der(x) = if p > 0 then 1 else 2;
                  y = (if x > 3 then 1 else 0) + (if time >= 2 * p then 1 else 0) + noEvent(if x > 4 then 1 else 0);
                  when sample(0, 1) then n = pre(n) + 1; end when;
                """
            )
            .Compiled!.Plan;
        Assert.Equal(
            [RelationKind.Held, RelationKind.State, RelationKind.Time],
            plan.Relations.Select(r => r.Kind)
                .Order()
                .OrderBy(k =>
                    k == RelationKind.Held ? 0
                    : k == RelationKind.State ? 1
                    : 2
                )
        );
    }

    [Fact]
    public void A_long_chain_is_sorted_without_running_out_of_stack()
    {
        var n = 20_000;
        var text = $"Real x[{n}]; equation x[1] = time; for i in 2:{n} loop x[i] = 0.5 * x[i - 1] + 1; end for;";
        var prepared = TextModel.Prepare(text);
        Assert.True(prepared.CanRun);
        Assert.Equal(n, prepared.Compiled!.Plan.Blocks.Count);
    }

    [Fact]
    public void A_sum_of_thousands_is_no_chain_of_thousands()
    {
        var values = TextModel.Values(
            "Real x[20000]; Real total; equation for i in 1:20000 loop x[i] = i * time; end for; total = sum(x);",
            "total",
            [1]
        );
        Assert.Equal(20000.0 * 20001 / 2, values[0], 1e-3);
    }
}
