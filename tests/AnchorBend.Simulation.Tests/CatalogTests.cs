using AnchorBend.Language.Syntax;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Walks the whole catalog: every part checks, runs on its own with its defaults, and can be shown.</summary>
public class CatalogTests
{
    public static TheoryData<string> Parts => [.. PartCatalog.Standard.Parts.Select(p => p.Name)];

    static string Driven(PartDescription part)
    {
        var inputs = part.Ports.Where(p => p.Causality == Causality.Input && p.Optional is null)
            .Select(p => p.IsArray ? $"for i in 1:size(part.{p.Name}, 1) loop part.{p.Name}[i] = {Signal(p)}; end for;" : $"part.{p.Name} = {Signal(p)};");
        return $"{part.Name} part;\nequation\n{string.Join("\n", inputs)}";
    }

    static string Signal(PortDescription port) => port.Type == "Boolean" ? "time > 0.5" : "1.5 + sin(time)";

    [Theory]
    [MemberData(nameof(Parts))]
    public void A_part_checks_and_runs_with_its_defaults(string name)
    {
        var part = PartCatalog.Standard.Describe(name);
        var text = Driven(part);
        if (!text.Contains('\n', StringComparison.Ordinal) || text.EndsWith("equation\n", StringComparison.Ordinal)) text = $"{name} part;";
        var prepared = TextModel.Prepare(text);
        Assert.DoesNotContain(prepared.Findings, f => f.Severity != Severity.Information);
        var result = TextModel.Run(prepared, new RunOptions { End = 2 });
        Assert.Null(result.Failure);
        Assert.Equal(2, result.Trace.Times[^1]);
    }

    [Theory]
    [MemberData(nameof(Parts))]
    public void A_part_has_what_the_interface_shows(string name)
    {
        var part = PartCatalog.Standard.Describe(name);
        Assert.NotEmpty(part.Title);
        Assert.NotEmpty(part.Keywords);
        Assert.True(part.Article is { Length: > 20 } || part.Help is { Length: > 10 }, "no help");
        Assert.True(part.Symbol is not null || part.Face.Length > 0, "no face");
        Assert.All(part.Parameters, p => Assert.False(string.IsNullOrWhiteSpace(p.Description), $"{p.Name} has no prompt"));
        Assert.All(part.Ports, p => Assert.False(string.IsNullOrWhiteSpace(p.Description), $"{p.Name} has no description"));
        Assert.All(part.Equations, e => Assert.DoesNotContain("noEvent", e, StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("Constant c(k = 4);", "c.y", 1, 4)]
    [InlineData("Ramp r(height = 6, duration = 3, startTime = 1, offset = 2);", "r.y", 2.5, 5)]
    [InlineData("Ramp r(height = 6, duration = 3, startTime = 1, offset = 2);", "r.y", 9, 8)]
    [InlineData("Sine s(amplitude = 2, f = 0.25, phase = 0, offset = 1);", "s.y", 1, 3)]
    [InlineData("Chirp c(f1 = 0, f2 = 0.5, duration = 2, amplitude = 3);", "c.y", 2, 0)]
    [InlineData("Gain g(k = -3); equation g.u = 2;", "g.y", 1, -6)]
    [InlineData("Sum s(signs = {1, -2, 0.5}); equation s.u[1] = 10; s.u[2] = 3; s.u[3] = 4;", "s.y", 1, 6)]
    [InlineData("Product p(powers = {1, -1, 1}); equation p.u[1] = 6; p.u[2] = 4; p.u[3] = 2;", "p.y", 1, 3)]
    [InlineData("AbsoluteValue a; equation a.u = -2.5;", "a.y", 1, 2.5)]
    [InlineData("Extremum e(kind = Extremum.Kind.larger); equation e.u1 = time; e.u2 = 2 - time;", "e.y", 0.5, 1.5)]
    [InlineData("Extremum e; equation e.u1 = time; e.u2 = 2 - time;", "e.y", 1.5, 0.5)]
    [InlineData("FunctionOfOne f(kind = FunctionOfOne.Kind.sqrt); equation f.u = 9;", "f.y", 1, 3)]
    [InlineData("FunctionOfOne f(kind = FunctionOfOne.Kind.atan); equation f.u = 1;", "f.y", 1, Math.PI / 4)]
    [InlineData("FunctionOfOne f(kind = FunctionOfOne.Kind.reciprocal); equation f.u = 8;", "f.y", 1, 0.125)]
    [InlineData("Expression e(n = 2, y = e.u[1] ^ 2 + e.u[2]); equation e.u[1] = 3; e.u[2] = 4;", "e.y", 1, 13)]
    [InlineData("Saturation s(upper = 2, lower = -1); equation s.u = 3 * time - 3;", "s.y", 0.2, -1)]
    [InlineData("Saturation s(upper = 2, lower = -1); equation s.u = 3 * time - 3;", "s.y", 3, 2)]
    [InlineData("DeadZone d(upper = 1, lower = -2); equation d.u = time - 3;", "d.y", 0.5, -0.5)]
    [InlineData("DeadZone d(upper = 1, lower = -2); equation d.u = time - 3;", "d.y", 5, 1)]
    [InlineData("SampleHold h(T = 0.5); equation h.u = time;", "h.y", 1.2, 1)]
    [InlineData("Switch s; equation s.u1 = 1; s.u2 = 2; s.condition = time < 1;", "s.y", 0.5, 1)]
    [InlineData("Switch s; equation s.u1 = 1; s.u2 = 2; s.condition = time < 1;", "s.y", 1.5, 2)]
    [InlineData("Compare c(threshold = 2, kind = Compare.Kind.less); equation c.u1 = time;", "c.y", 1, 1)]
    [InlineData("Compare c(twoInputs = true, kind = Compare.Kind.greaterOrEqual); equation c.u1 = time; c.u2 = 1.5;", "c.y", 2, 1)]
    [InlineData("Logic l(kind = Logic.Kind.exclusive, n = 3); equation l.u[1] = time > 1; l.u[2] = true; l.u[3] = time > 2;", "l.y", 3, 1)]
    [InlineData("Logic l(kind = Logic.Kind.nand); equation l.u[1] = true; l.u[2] = time > 1;", "l.y", 2, 0)]
    public void A_part_does_what_it_says(string text, string name, double time, double expected) =>
        Assert.Equal(expected, TextModel.Values(text, name, [time])[0], 1e-9);

    [Fact]
    public void A_rate_limiter_rises_no_faster_than_its_limit()
    {
        var y = TextModel.Values("RateLimiter r(rising = 2, falling = 1); equation r.u = if time < 3 then 100 else 0;", "r.y", [1, 3, 5]);
        Assert.Equal(2, y[0], 1e-6);
        Assert.Equal(6, y[1], 1e-6);
        Assert.Equal(4, y[2], 1e-6);
    }

    [Fact]
    public void A_filtered_derivative_of_a_ramp_is_its_slope()
    {
        var y = TextModel.Values("FilteredDerivative d(T = 0.1, k = 2); equation d.u = 3 * time;", "d.y", [0.2, 2]);
        Assert.Equal(6 * (1 - Math.Exp(-2)), y[0], 1e-7);
        Assert.Equal(6 * (1 - Math.Exp(-20)), y[1], 1e-7);
    }

    [Fact]
    public void Tracking_takes_over_without_a_bump()
    {
        const string text = "PID c(k = 2, Ti = 1, tracking = true, Tt = 0.05); equation c.r = 1; c.y = 0.5; c.uTrack = 7; c.track = time < 1;";
        var u = TextModel.Values(text, "c.u", [0.9, 1.0 + 1e-6]);
        Assert.Equal(7, u[0], 1e-9);
        Assert.Equal(7, u[1], 1e-4);
    }
}
