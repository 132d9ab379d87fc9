using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Flat;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Modeling.Tests;

public class FlatteningTests
{
    static (FlatModel Model, IReadOnlyList<Finding> Findings) Flatten(string text)
    {
        var (classes, errors) = Parser.ParseFile(text);
        Assert.Empty(errors);
        return Flattener.Flatten(classes[^1], new ClassList(classes, PartCatalog.Standard));
    }

    static Finding Error(string text) => Assert.Single(Flatten(text).Findings, f => f.Severity == Severity.Error);

    [Fact]
    public void A_model_of_parts_prints_as_its_equations()
    {
        var (model, findings) = Flatten(
            """
            model Loop
              Step s(height = 2);
              Gain g(k = 3);
            equation
              connect(s.y, g.u);
            end Loop;
            """
        );
        Assert.Empty(findings);
        Assert.Equal(
            """
            model Loop
              continuous Real s.y
              parameter Real s.height = 2
              parameter Real s.offset = 0
              parameter Real s.startTime [s] = 1
              continuous Real g.u
              continuous Real g.y
              parameter Real g.k = 3
            equations
              s.y = s.offset + (if time >= s.startTime then s.height else 0)
              g.y = g.k * g.u
              g.u = s.y

            """,
            FlatModelText.Print(model),
            ignoreLineEndingDifferences: true
        );
    }

    [Fact]
    public void Arrays_take_their_size_from_their_value_and_loops_expand()
    {
        var (model, findings) = Flatten(
            """
            model A
              parameter Real a[:] = {1, 2, 3};
              Real x[size(a, 1)];
              Real total;
            equation
              for i in 1:size(a, 1) loop
                x[i] = a[i] * time;
              end for;
              total = sum(x) + a * x;
            end A;
            """
        );
        Assert.Empty(findings);
        Assert.Equal(4, model.Equations.Count);
        Assert.Equal(["x[1]", "x[2]", "x[3]", "total"], model.Variables.Where(v => v.Role == VariableRole.Continuous).Select(v => v.Name));
    }

    [Fact]
    public void Modifications_reach_into_parts_and_outer_ones_win()
    {
        var (model, findings) = Flatten(
            """
            model Inner parameter Real k = 1; Lag l(T = k); equation l.u = time; end Inner;
            model Outer Inner i(k = 4, l(k = 2)); end Outer;
            """
        );
        Assert.Empty(findings);
        var values = model.ParameterValues();
        Assert.Equal(4, values[model.Find("i.l.T")!.Index]);
        Assert.Equal(2, values[model.Find("i.l.k")!.Index]);
    }

    [Fact]
    public void Extends_brings_components_and_equations()
    {
        var (model, findings) = Flatten(
            """
            partial block Base input Real u; output Real y; end Base;
            block Twice extends Base; equation y = 2 * u; end Twice;
            model M Twice t; equation t.u = time; end M;
            """
        );
        Assert.Empty(findings);
        Assert.Equal(2, model.Equations.Count);
    }

    [Fact]
    public void Physical_connectors_make_equal_potentials_and_zero_sums_of_flows()
    {
        var (model, findings) = Flatten(
            """
            connector Pin Real v; flow Real i; end Pin;
            model R Pin p; Pin n; parameter Real R = 1; equation p.v - n.v = R * p.i; p.i + n.i = 0; end R;
            model M R a; R b; R c; equation connect(a.n, b.p); connect(a.n, c.p); end M;
            """
        );
        Assert.Empty(findings);
        var text = FlatModelText.Print(model);
        Assert.Contains("a.n.i + (b.p.i + c.p.i) = 0", text, StringComparison.Ordinal);
        Assert.Contains("b.p.v = a.n.v", text, StringComparison.Ordinal);
        Assert.Contains("a.p.i = 0", text, StringComparison.Ordinal);
    }

    [Fact]
    public void An_unknown_name_is_told_with_the_nearest_one()
    {
        var finding = Error("model M parameter Real gain = 2; Real y; equation y = gian * time; end M;");
        Assert.Equal("unknown-name", finding.Code);
        Assert.Equal("Did you mean gain?", finding.Suggestion);
    }

    [Fact]
    public void An_unknown_parameter_of_a_part_is_told()
    {
        var finding = Error("model M Lag l(TT = 3); equation l.u = time; end M;");
        Assert.Contains("has no parameter 'TT'", finding.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_value_outside_its_limits_is_told_with_the_limit()
    {
        var finding = Error("model M Lag l(T = -1); equation l.u = time; end M;");
        Assert.Equal("limit", finding.Code);
        Assert.Equal(("l", "T"), (finding.Part, finding.Item));
    }

    [Fact]
    public void A_parameter_that_depends_on_itself_is_told() =>
        Assert.Equal("cycle", Flatten("model M parameter Real a = b; parameter Real b = a; end M;").Findings[0].Code);

    [Fact]
    public void Two_drivers_of_one_input_are_told() =>
        Assert.Equal("double-driver", Error("model M Step a; Step b; Gain g; equation connect(a.y, g.u); connect(b.y, g.u); end M;").Code);

    [Fact]
    public void An_input_without_a_wire_is_zero_and_told()
    {
        var finding = Assert.Single(Flatten("model M Gain g; end M;").Findings);
        Assert.Equal((Severity.Warning, "unconnected", "u"), (finding.Severity, finding.Code, finding.Item));
    }

    [Fact]
    public void A_wrong_choice_names_the_choices()
    {
        var (_, findings) = Flatten("model M PID p(form = PID.Form.PIX); end M;");
        Assert.Contains(findings, f => f.Code == "unknown-name" && f.Suggestion!.Contains("PI", StringComparison.Ordinal));
    }

    [Fact]
    public void A_model_that_contains_itself_is_refused()
    {
        var (_, findings) = Flatten("model M M m; end M;");
        Assert.Contains(findings, f => f.Code == "recursion");
    }

    [Fact]
    public void A_clash_of_units_is_a_warning_and_known_units_travel()
    {
        var (model, _) = Flatten(
            """
            model M
              Real v(unit = "m/s"); Real x; Real y;
            equation
              der(x) = v; v = 2 * time; y = 3 * x;
            end M;
            """
        );
        var (dimensions, findings) = UnitInference.Infer(model);
        Assert.Empty(findings);
        Assert.Equal("m", dimensions[model.Find("y")!.Index].ToString());
        (model, _) = Flatten(
            """
            model M
              Real v(unit = "m/s"); Real x; Real bad(unit = "kg");
            equation
              der(x) = v; v = 2 * time; bad = x;
            end M;
            """
        );
        Assert.Equal("unit-clash", Assert.Single(UnitInference.Infer(model).Findings).Code);
    }

    [Fact]
    public void A_clash_at_a_wire_names_what_it_joins()
    {
        var (model, _) = Flatten(
            """
            block Ammeter output Real y(unit = "A"); equation y = time; end Ammeter;
            block Rail input Real vdc(unit = "V"); output Real y; equation y = vdc; end Rail;
            model M Ammeter battery; Rail vectors; equation connect(battery.y, vectors.vdc); end M;
            """
        );
        var finding = Assert.Single(UnitInference.Infer(model).Findings);
        Assert.Equal("The units do not agree: 'battery.y' is in A, 'vectors.vdc' is in V.", finding.Message);
        Assert.Equal("vectors", finding.Part);
    }

    [Fact]
    public void A_branch_that_a_parameter_decides_on_alone_says_which_units_meet()
    {
        const string Text = """
            model M
              parameter Real power = DECIDES;
              Real v(unit = "m/s"); Real t(unit = "s"); Real y;
            equation
              v = 2; t = time; y = v * (if power >= 0 then t else 1 / t);
            end M;
            """;
        string Of(string power)
        {
            var (model, _) = Flatten(Text.Replace("DECIDES", power, StringComparison.Ordinal));
            var (dimensions, findings) = UnitInference.Infer(model);
            Assert.Empty(findings);
            return dimensions[model.Find("y")!.Index].ToString()!;
        }

        Assert.Equal("m", Of("1"));
        Assert.Equal("m/s2", Of("-1"));
    }

    [Fact]
    public void When_clauses_become_discrete_equations()
    {
        var (model, findings) = Flatten(
            """
            model M
              Real x(start = 1); discrete Real n(start = 0);
            equation
              der(x) = -x;
              when x < 0.5 then n = pre(n) + 1; elsewhen sample(0, 1) then n = 0; end when;
            end M;
            """
        );
        Assert.Empty(findings);
        Assert.Equal(VariableRole.Discrete, model.Find("n")!.Role);
        Assert.Single(model.Clocks);
        Assert.Contains("pre(n) + 1", FlatModelText.Print(model), StringComparison.Ordinal);
    }
}
