using AnchorBend.Language.Syntax;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>One small model for each rule, by section of the Modelica Language Specification 3.6: what it must give, or how it must be
/// refused.</summary>
public class LanguageConformanceTests
{
    const string Functions = """
        function root "Newton's method" input Real x; input Integer n = 30; output Real y;
        algorithm y := if x > 1 then x else 1; for i in 1:n loop if abs(y * y - x) < 1e-15 * x then break; end if; y := 0.5 * (y + x / y); end for; end root;
        function both input Real a[:]; output Real s = 0; output Real p = 1; algorithm for i in 1:size(a, 1) loop s := s + a[i]; p := p * a[i]; end for; end both;
        function fact input Integer n; output Integer r; algorithm if n <= 1 then r := 1; else r := n * fact(n - 1); end if; end fact;
        function early input Real x; output Real y; algorithm y := 1; if x > 0.5 then return; end if; y := 2; end early;
        function halvings input Real a; output Integer n = 0; protected Real b = a; algorithm while b > 1 loop b := b / 2; n := n + 1; end while; end halvings;
        function reversed input Real a[:]; output Real b[size(a, 1)]; algorithm for i in 1:size(a, 1) loop b[i] := a[end + 1 - i]; end for; end reversed;
        partial function Shape input Real x; output Real y; end Shape;
        function square extends Shape; algorithm y := x ^ 2; end square;
        record Bearing Real d; Real c = 3; end Bearing;
        type Pace = enumeration(off, slow, fast);
        partial model Drive parameter Real k = 1; Real w; end Drive;
        model Slow extends Drive; equation w = k; end Slow;
        model Fast extends Drive(k = 10); equation w = 2 * k; end Fast;
        connector Flange Real s; flow Real f; end Flange;
        model Fixed Flange a; parameter Real s0 = 0; equation a.s = s0; end Fixed;
        model Spring Flange a, b; parameter Real c = 1; equation a.f = -b.f; b.f = c * (b.s - a.s); end Spring;
        model Pull Flange a; parameter Real f = 1; equation a.f = -f; end Pull;
        model Plant replaceable Slow d constrainedby Drive; replaceable model M = Slow; M m; end Plant;
        package Lib constant Real g = 9.5; package Inner constant Real twice = 2 * g; function half input Real u; output Real y; algorithm y := u / 2; end half; end Inner; end Lib;
        """;

    [Theory]
    [InlineData("3.6.5 and 3.7.5: if expression", "Real y = if time > 0.5 then 2 else 1;", "y", 2)]
    [InlineData("3.7.2: div truncates", "Real y = div(-7, 2) + 10 * mod(-7, 2) + 100 * rem(-7, 2);", "y", -3 + 10 - 100)]
    [InlineData("3.7.2: integer rounds down", "Real y = integer(-1.5 + 0 * time);", "y", -2)]
    [InlineData("3.7.4.1: der of an expression", "Real x(start = 2, fixed = true), y = der(x ^ 2); equation der(x) = 1;", "y", 6)]
    [InlineData(
        "9.1.3: members of an expandable connector",
        "Constant c(k = 3); Gain g(k = 2); Bundle b; equation connect(c.y, b.level); connect(b.level, g.u);",
        "g.y",
        6
    )]
    [InlineData(
        "9.1.3: an expandable connector within another",
        "Constant c(k = 3); Gain g(k = 2); Bundle a; Bundle b; Pick p; equation connect(c.y, a.level); connect(a, b.tank); connect(b, p); connect(p.tank.level, g.u);",
        "g.y",
        6
    )]
    [InlineData(
        "9.1.3: a member that is a whole connector",
        "expandable connector Bus end Bus; Bus b; Fixed x(s0 = 2); Spring s(c = 3); Fixed y; equation connect(x.a, b.end1); connect(b.end1, s.a); connect(s.b, y.a);",
        "s.b.f",
        -6
    )]
    [InlineData(
        "9.1.3: an expandable connector as a port",
        "expandable connector Bus end Bus; model P Bus b; Real y; Gain g(k = 5); equation connect(b.level, g.u); y = g.y; end P; P p; Constant c(k = 2); Bus bus; equation connect(c.y, bus.level); connect(bus, p.b);",
        "p.y",
        10
    )]
    [InlineData("3.7.4.2: delay", "Real y = delay(time, 0.25);", "y", 0.75)]
    [InlineData("3.7.4.4: homotopy by position", "Real y; equation homotopy(y - 3, y) = 0;", "y", 3)]
    [InlineData("3.7.4.4: homotopy by name", "Real y; equation y = homotopy(actual = 4, simplified = 1);", "y", 4)]
    [InlineData("3.7.4.5: semiLinear", "Real y = semiLinear(time - 3, 5, 7);", "y", -14)]
    [InlineData("3.7.5.1: noEvent guards a root", "Real y = noEvent(if time - 2 > 0 then sqrt(time - 2) else 0.5);", "y", 0.5)]
    [InlineData("3.7.5.2: smooth", "Real y = smooth(1, if time > 0.5 then time else 0.5);", "y", 1)]
    [InlineData("4.4.2: declaration equations", "Real a = 3, b = 2 * a;", "b", 6)]
    [InlineData("4.4.4: start and fixed", "Real x(start = 7, fixed = true); equation der(x) = 0;", "x", 7)]
    [InlineData(
        "4.4.5: a conditional component is left out with its connections",
        "parameter Boolean on = false; Pull p if on; Spring s(c = 4); Fixed f; equation connect(p.a, s.b); connect(f.a, s.a);",
        "s.b.s",
        0
    )]
    [InlineData(
        "4.5.1: short type with a modification",
        "type Half = Real(start = 0.5); Half x(fixed = true); equation der(x) = 0;",
        "x",
        0.5
    )]
    [InlineData("4.8.5: enumeration", "parameter Pace m = Pace.fast; Real y = if m == Pace.fast then 5 else 0;", "y", 5)]
    [InlineData("5.3.2: composite names", "Real y = Lib.Inner.twice + Lib.Inner.half(3);", "y", 20.5)]
    [InlineData("7.1: inheritance with a modification", "Fast d(k = 4); Real y = d.w;", "y", 8)]
    [InlineData(
        "7.2: nested modification",
        "model Pair Slow a, b; end Pair; Pair p(a(k = 3), b.k = 5); Real y = p.a.w + 10 * p.b.w;",
        "y",
        53
    )]
    [InlineData(
        "7.2.5: each and arrays of parts",
        "Slow d[3](k = {1, 2, 3}); Spring s[2](each c = 4); Real y = sum(d.w) + sum(s.c); Fixed f[4]; equation for i in 1:2 loop connect(f[i].a, s[i].a); connect(f[i + 2].a, s[i].b); end for;",
        "y",
        14
    )]
    [InlineData("7.2.6: final", "model Sealed final parameter Real q = 4; end Sealed; Sealed s; Real y = s.q;", "y", 4)]
    [InlineData("7.3: redeclared component", "Plant p(redeclare Fast d(k = 2)); Real y = p.d.w + 100 * p.m.w;", "y", 104)]
    [InlineData("7.3: redeclared class", "Plant p(redeclare model M = Fast(k = 3)); Real y = p.m.w + 100 * p.d.w;", "y", 106)]
    [InlineData("8.3.3: for equation", "Real x[4]; equation for i in 1:4 loop x[i] = i * i; end for;", "x[3]", 9)]
    [InlineData(
        "8.3.4: if equation of parameters",
        "parameter Boolean a = true; Real y; equation if a then y = 1; else y = 2; end if;",
        "y",
        1
    )]
    [InlineData("8.3.4: if equation during the run", "Real y; equation if time > 0.5 then 2 * y = 6; else y = 1; end if;", "y", 3)]
    [InlineData(
        "8.3.5: when with elsewhen",
        "Real y(start = 0); equation when time > 0.2 then y = 1; elsewhen time > 0.6 then y = 2; end when;",
        "y",
        2
    )]
    [InlineData("8.3.5.3: sampled when", "Real y(start = 0); equation when sample(0.1, 0.25) then y = pre(y) + 1; end when;", "y", 4)]
    [InlineData(
        "8.3.6: reinit",
        "Real x(start = 0, fixed = true); equation der(x) = 1; when x > 0.6 then reinit(x, 0); end when;",
        "x",
        0.4
    )]
    [InlineData("8.6: initial equation", "Real x; initial equation x = 3; equation der(x) = 1;", "x", 4)]
    [InlineData(
        "9.2: flows sum to zero",
        "Fixed f; Spring s(c = 2); Pull p(f = 3), q(f = 1); equation connect(f.a, s.a); connect(s.b, p.a); connect(s.b, q.a);",
        "s.b.s",
        2
    )]
    [InlineData("9.2: an open flow is zero", "Fixed f(s0 = 5); Spring s; equation connect(f.a, s.a);", "s.b.s", 5)]
    [InlineData(
        "9.3: arrays of connectors in a loop",
        "Spring s[3](each c = 1); Fixed f; Pull p(f = 2); equation connect(f.a, s[1].a); for i in 1:2 loop connect(s[i].b, s[i + 1].a); end for; connect(s[3].b, p.a);",
        "s[3].b.s",
        6
    )]
    [InlineData("10.4.1: comprehension", "Real y = sum({i * j for i in 1:3, j in 1:2});", "y", 18)]
    [InlineData(
        "10.4.2: concatenation by braces and size",
        "parameter Real a[:, :] = {{1, 2, 3}, {4, 5, 6}}; Real y = size(a, 2) + 10 * size(a, 1) + 100 * a[2, end];",
        "y",
        623
    )]
    [InlineData("10.5: ranges in subscripts", "parameter Real a[5] = {1, 2, 3, 4, 5}; Real y = sum(a[2:2:4]);", "y", 6)]
    [InlineData(
        "10.6.4: matrix times vector",
        "parameter Real a[2, 2] = [1, 2; 3, 4]; Real v[2] = a * {1, 10}; Real y = v * {1, 1};",
        "y",
        64
    )]
    [InlineData("10.3.3: fill and identity", "Real y = sum(fill(2, 2, 3)) + sum(identity(3));", "y", 15)]
    [InlineData("11.1.2: an algorithm starts with start values", "Real y(start = 5); algorithm y := y + time;", "y", 6)]
    [InlineData("11.2.1: later assignments win", "Real y; algorithm y := time; y := 3 * y + 1;", "y", 4)]
    [InlineData("11.2.2: for statement", "Real y; algorithm y := 0; for i in 1:4 loop y := y + i * time; end for;", "y", 10)]
    [InlineData(
        "11.2.3: while statement of known rounds",
        "parameter Integer n = 3; Integer k; Real y; algorithm k := 0; y := 1; while k < n loop k := k + 1; y := y * 2; end while;",
        "y",
        8
    )]
    [InlineData("11.2.4: break", "Real y; algorithm y := 0; for i in 1:10 loop if i > 4 then break; end if; y := y + 1; end for;", "y", 4)]
    [InlineData(
        "11.2.6: if statement with elseif",
        "Real y; algorithm y := 0; if time > 2 then y := 1; elseif time > 0.5 then y := 2; else y := 3; end if;",
        "y",
        2
    )]
    [InlineData(
        "11.2.7: when statement",
        "Integer n(start = 0); Real y; algorithm when sample(0, 0.25) then n := pre(n) + 1; end when; y := 2 * n;",
        "y",
        10
    )]
    [InlineData(
        "11.2.8: reinit in a when statement",
        "Real x(start = 0, fixed = true); equation der(x) = 1; algorithm when x > 0.6 then reinit(x, 0); end when;",
        "x",
        0.4
    )]
    [InlineData("12.4.1: call by position and by name", "Real y = root(x = 9 * time, n = 40) + root(4);", "y", 5)]
    [InlineData("12.4.3: several results", "Real s, p; equation (s, p) = both({time, 2, 3});", "p", 6)]
    [InlineData("12.4.3: a dropped result in a statement", "Real p; algorithm (, p) := both({time, 2, 4});", "p", 8)]
    [InlineData("12.4.4: output default", "Real y = halvings(40);", "y", 6)]
    [InlineData("12.4.6: arrays in the place of scalars", "Real y = sum(root({1, 4, 9}));", "y", 6)]
    [InlineData("12.2: recursion on a known number", "Real y = fact(5);", "y", 120)]
    [InlineData("12.2: return", "Real y = early(time) + 10 * early(0);", "y", 21)]
    [InlineData("12.3: partial function", "Real y = square(3 * time);", "y", 9)]
    [InlineData("12.4: array result", "Real b[3] = reversed({1, 2, 3 * time}); Real y = b[1];", "y", 3)]
    [InlineData("12.4: function in a parameter", "parameter Real q = root(16); Real y = q;", "y", 4)]
    [InlineData("12.6: record constructor", "Bearing b = Bearing(d = 2 * time, c = 5); Real y = b.d * b.c;", "y", 10)]
    [InlineData("12.6: record copied", "Bearing a(d = 4), b = a; Real y = b.d + b.c;", "y", 7)]
    [InlineData("4.6: record equation", "Bearing a(d = 4), b(c = a.c); Real y = b.d; equation b.d = a.d;", "y", 4)]
    [InlineData("13.2.1: import", "import Lib.Inner.half; import L = Lib; Real y = half(3) + L.g;", "y", 11)]
    [InlineData("13.2.1: import of all", "import Lib.Inner.*; Real y = half(5);", "y", 2.5)]
    public void Is_in_and_means(string rule, string body, string variable, double expected)
    {
        var value = TextModel.Values($"{Functions}\n{body}", variable, [0, 1])[1];
        Assert.True(Math.Abs(value - expected) <= 1e-6 * (1 + Math.Abs(expected)), $"{rule}: {value}, not {expected}");
    }

    [Theory]
    [InlineData("7.3: not replaceable", "model P Slow d; end P; P p(redeclare Fast d);", "'d' is not replaceable")]
    [InlineData("7.3: unknown class", "Plant p(redeclare Faster d);", "There is no part or type 'Faster'")]
    [InlineData("4.7: a partial model is no part", "Drive d;", "is partial")]
    [InlineData("11.2: assigning a parameter", "parameter Real k = 1; algorithm k := 2;", "known before the run")]
    [InlineData("11.2: a number to a condition", "Boolean b; algorithm b := 2;", "another type")]
    [InlineData(
        "11.2.3: rounds that change during the run",
        "Real y; algorithm y := 0; while y < time loop y := y + 1; end while;",
        "cannot be unrolled"
    )]
    [InlineData("11.2.3: a loop without end", "Real y; algorithm y := 0; while true loop y := y + 1; end while;", "More than 100000")]
    [InlineData("11.2.4: break outside a loop", "Real y; algorithm y := 0; break;", "stands inside one")]
    [InlineData(
        "11.2.7: when inside if",
        "Real y; algorithm y := 0; if time > 1 then when time > 2 then y := 1; end when; end if;",
        "cannot stand inside an if"
    )]
    [InlineData(
        "12.2: endless recursion",
        "function deep input Real x; output Real y; algorithm y := deep(x) + 1; end deep; Real y = deep(1);",
        "calls itself more than"
    )]
    [InlineData(
        "12.2: der in a function",
        "function bad input Real x; output Real y; algorithm y := der(x); end bad; Real y = bad(time);",
        "der cannot stand in a function"
    )]
    [InlineData(
        "12.2: output without a value",
        "function bad input Real x; output Real y; algorithm end bad; Real y = bad(time);",
        "no value"
    )]
    [InlineData("12.4.1: unknown input", "Real y = root(1, m = 3);", "no input 'm'")]
    [InlineData("12.4.1: too many arguments", "Real y = root(1, 2, 3);", "takes 2 arguments")]
    [InlineData("12.4: unknown function", "Real y = rot(1);", "There is no function 'rot'")]
    [InlineData("12.4.3: too many results", "Real a, b; equation (a, b) = root(2);", "has 1 result")]
    [InlineData("12.6: no record", "Bearing b = 3;", "A record of type Bearing")]
    [InlineData("8.3.4: unbalanced branches", "Real y; equation if time > 1 then y = 1; end if;", "The branches have 1 and 0 equations")]
    [InlineData("9.1.3: a signal without a member's name", "Constant c; Bundle b; equation connect(c.y, b);", "is a bundle")]
    [InlineData(
        "9.1.3: two sources for one member",
        "Constant c, d; Bundle b; Gain g; equation connect(c.y, b.level); connect(d.y, b.level); connect(b.level, g.u);",
        "is written twice"
    )]
    [InlineData("4.6: expandable without connector", "expandable model M end M;", "'connector' after 'expandable'")]
    [InlineData(
        "9.1: connectors of different kinds",
        "connector Pin Real v; flow Real i; Real extra; end Pin; Fixed f; model P Pin p; end P; P p; equation connect(f.a, p.p);",
        "has 2 signals and 'p.p' has 3"
    )]
    [InlineData("3.6.2: comparing a number with a condition", "Boolean b = 1 == true;", "cannot be compared")]
    public void Is_refused_with_its_reason(string rule, string body, string reason)
    {
        var (classes, errors) = Parser.ParseFile($"model Test {Functions}\n{body}\nend Test;");
        var findings = Flattener
            .Flatten(classes[^1], new ClassList(classes, PartCatalog.Standard))
            .Findings.Where(f => f.Severity == Severity.Error)
            .Select(f => f.Message)
            .Concat(errors.Select(e => e.Message))
            .ToList();
        Assert.True(findings.Any(m => m.Contains(reason, StringComparison.Ordinal)), $"{rule}: {string.Join(" | ", findings)}");
    }

    [Fact]
    public void Ten_errors_are_all_told_with_their_lines()
    {
        var text = """
            model Ten
              parameter Real a = ;
              Real b c;
              Reall d;
              Real e(unit = "wrong");
              impure Real q;
              Real f[2] = {1, 2, 3};
              Real g = unknown + 1;
              Real h = sinn(1);
            algorithm
              g = 3;
            equation
              b == 2;
              if true then e = 1 else e = 2; end if;
              connect(e);
            end Ten;
            """;
        var (classes, errors) = Parser.ParseFile(text);
        var found = errors
            .Select(e => e.At.Line)
            .Concat(Flattener.Flatten(classes[^1], new ClassList(classes, PartCatalog.Standard)).Findings.Select(f => f.At.Line))
            .Distinct()
            .Order()
            .ToList();
        foreach (var line in new[] { 2, 3, 4, 5, 6, 7, 8, 9, 11, 13, 14, 15 })
            Assert.Contains(line, found);
    }

    [Fact]
    public void A_long_iteration_in_a_function_stays_small()
    {
        var values = TextModel.Values(
            """
            function logistic input Real x; input Integer n; output Real y; algorithm y := x; for i in 1:n loop y := 3.5 * y * (1 - y) + 0.01 * y; end for; end logistic;
            Real y = logistic(0.3 + 0 * time, 500);
            """,
            "y",
            [0, 1]
        );
        var expected = 0.3;
        for (var i = 0; i < 500; i++)
            expected = 3.5 * expected * (1 - expected) + 0.01 * expected;
        Assert.Equal(expected, values[1], 9);
    }
}
