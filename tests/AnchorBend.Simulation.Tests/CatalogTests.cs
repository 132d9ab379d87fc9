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
        var inputs = part
            .Ports.Where(p => p is { Causality: Causality.Input, Optional: null, Type: not "Bundle" })
            .Select(p =>
                p.IsArray
                    ? $"for i in 1:size(part.{p.Name}, 1) loop part.{p.Name}[i] = {Signal(p)}; end for;"
                    : $"part.{p.Name} = {Signal(p)};"
            );
        // A physical port gets something that gives way, so that its potential and flow are defined.
        var ends = part.Ports.Where(p => p.Domain is not null && p.Optional is null).ToList();
        var loads = ends.Select(p =>
            p.Domain switch
            {
                "translational" => $"Spring on_{p.Name}; Damper with_{p.Name}; TranslationalFixed at_{p.Name};",
                "rotational" => $"TorsionSpring on_{p.Name}; TorsionDamper with_{p.Name}; FixedShaft at_{p.Name};",
                "electrical" => $"Resistor on_{p.Name}; Ground at_{p.Name};",
                "thermal" => $"Conduction on_{p.Name}; FixedTemperature at_{p.Name};",
                "fluid" => $"LoopValve on_{p.Name}(signal = false); PressureBoundary at_{p.Name};",
                // What acts along a line needs its two points apart and held where they begin.
                "plane" =>
                    $"PlaneBody on_{p.Name}(useB = false, phi0 = 0.3, x0 = {ends.IndexOf(p)}, hold = {(IsLine(part) ? "true" : "false")});",
                _ => $"Orifice on_{p.Name}; Reservoir at_{p.Name};",
            }
        );
        var joints = ends.Select(p =>
            p.Domain switch
            {
                "translational" or "rotational" =>
                    $"connect(part.{p.Name}, on_{p.Name}.b); connect(on_{p.Name}.a, at_{p.Name}.a); connect(part.{p.Name}, with_{p.Name}.b); connect(with_{p.Name}.a, at_{p.Name}.a);",
                "electrical" => $"connect(part.{p.Name}, on_{p.Name}.p); connect(on_{p.Name}.n, at_{p.Name}.p);",
                "plane" => $"connect(part.{p.Name}, on_{p.Name}.a);",
                "thermal" => $"connect(part.{p.Name}, on_{p.Name}.a); connect(on_{p.Name}.b, at_{p.Name}.b);",
                "fluid" => $"connect(part.{p.Name}, on_{p.Name}.a); connect(on_{p.Name}.b, at_{p.Name}.a);",
                _ => $"connect(part.{p.Name}, on_{p.Name}.a); connect(on_{p.Name}.b, at_{p.Name}.a);",
            }
        );
        // Each input has its own unit.
        var levels = part.Ports.Select(p => $"parameter Real level_{p.Name} = 1.5, swing_{p.Name} = 1;");
        return $"{part.Name} part;\n{string.Join("\n", levels)}\n{string.Join("\n", loads)}\nequation\n{string.Join("\n", inputs)}\n{string.Join("\n", joints)}";
    }

    static bool IsLine(PartDescription part) => part.Name is "PlaneSpring" or "PlaneStrut";

    static string Signal(PortDescription port) =>
        port.Type == "Boolean" ? "time > 0.5" : $"level_{port.Name} + swing_{port.Name} * sin(time)";

    [Theory]
    [MemberData(nameof(Parts))]
    public void A_part_checks_and_runs_with_its_defaults(string name)
    {
        var part = PartCatalog.Standard.Describe(name);
        var text = Driven(part);
        var prepared = TextModel.Prepare(text);
        var problems = prepared
            .Findings.Where(f => f.Severity != Severity.Information)
            .Select(f => $"{f.Part} {f.Item}: {f.Message}")
            .ToList();
        Assert.True(problems.Count == 0, string.Join("\n", problems));
        var result = TextModel.Run(prepared, new RunOptions { End = 2 });
        Assert.True(result.Failure is null, result.Failure?.ToString());
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
        Assert.True(part.Validity is { Length: > 4 } && part.Validity.EndsWith('.'), "no limits of validity");
        Assert.True(part.Symbol is not null || part.Face.Length > 0, "no face");
        Assert.All(part.Parameters, p => Assert.False(string.IsNullOrWhiteSpace(p.Description), $"{p.Name} has no prompt"));
        Assert.All(part.Ports, p => Assert.False(string.IsNullOrWhiteSpace(p.Description), $"{p.Name} has no description"));
        Assert.All(part.Equations, e => Assert.DoesNotContain("noEvent", e, StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("der", "Lag")]
    [InlineData("delay", "DeadTime")]
    [InlineData("sample", "SampleHold")]
    [InlineData("when", "Counter")]
    [InlineData("sqrt", "VectorNorm")]
    public void A_part_is_found_by_what_its_equations_use(string name, string part) =>
        Assert.Contains(name, PartCatalog.Standard.Describe(part).Operators);

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
    [InlineData("DeadBand d(upper = 1, lower = -2); equation d.u = time - 3;", "d.y", 0.5, -0.5)]
    [InlineData("DeadBand d(upper = 1, lower = -2); equation d.u = time - 3;", "d.y", 5, 1)]
    [InlineData("SampleHold h(T = 0.5); equation h.u = time;", "h.y", 1.2, 1)]
    [InlineData("Switch s; equation s.u1 = 1; s.u2 = 2; s.condition = time < 1;", "s.y", 0.5, 1)]
    [InlineData("Switch s; equation s.u1 = 1; s.u2 = 2; s.condition = time < 1;", "s.y", 1.5, 2)]
    [InlineData("Compare c(threshold = 2, kind = Compare.Kind.less); equation c.u1 = time;", "c.y", 1, 1)]
    [InlineData("Compare c(twoInputs = true, kind = Compare.Kind.greaterOrEqual); equation c.u1 = time; c.u2 = 1.5;", "c.y", 2, 1)]
    [InlineData("Logic l(kind = Logic.Kind.exclusive, n = 3); equation l.u[1] = time > 1; l.u[2] = true; l.u[3] = time > 2;", "l.y", 3, 1)]
    [InlineData("Logic l(kind = Logic.Kind.nand); equation l.u[1] = true; l.u[2] = time > 1;", "l.y", 2, 0)]
    public void A_part_does_what_it_says(string text, string name, double time, double expected) =>
        Assert.Equal(expected, TextModel.Values(text, name, [time])[0], 1e-9);

    /// <summary>Exact values of simple responses; integrated at 1e-8, so within ten times that.</summary>
    [Theory]
    [InlineData("Sawtooth s(amplitude = 2, period = 0.5, offset = 1);", "s.y", 1.125, 1.5)]
    [InlineData("Triangle t(amplitude = 2, period = 4);", "t.y", 1.5, 1)]
    [InlineData("Triangle t(amplitude = 2, period = 4);", "t.y", 3, -2)]
    [InlineData("Trapezoid t(amplitude = 3, rising = 0.2, width = 0.3, falling = 0.2, period = 1);", "t.y", 1.1, 1.5)]
    [InlineData("Trapezoid t(amplitude = 3, rising = 0.2, width = 0.3, falling = 0.2, period = 1);", "t.y", 2.4, 3)]
    [InlineData("ExponentialRise e(amplitude = 2, T1 = 0.5, endTime = 9);", "e.y", 0.5, 1.2642411176571153)]
    [InlineData("DampedSine s(amplitude = 2, f = 0.25, damping = 1);", "s.y", 1, 0.7357588823428847)]
    [InlineData("Doublet d(amplitude = 2, width = 0.5, startTime = 1);", "d.y", 1.75, -2)]
    [InlineData("SmoothStep s(height = 2, startTime = 1, duration = 2);", "s.y", 2, 1)]
    [InlineData("SmoothStep s(height = 2, startTime = 1, duration = 2);", "s.y", 1.5, 0.20703125)]
    [InlineData("MotionProfile p(distance = 1, vMax = 0.5, aMax = 1, jMax = 5, startTime = 0);", "p.y", 9, 1)]
    [InlineData("MotionProfile p(distance = -2, vMax = 0.5, aMax = 1, jMax = 5, startTime = 0);", "p.v", 1.5, -0.5)]
    [InlineData("MotionProfile p(distance = 0.001, vMax = 5, aMax = 10, jMax = 5, startTime = 0);", "p.y", 9, 0.001)]
    [InlineData("SmoothPoints p(t = {0, 1, 2, 4}, values = {0, 1, 0.5, 0.5});", "p.y", 1, 1)]
    [InlineData("SmoothPoints p(t = {0, 1, 2}, values = {0, 1, 2});", "p.y", 0.3, 0.3)]
    [InlineData("StepSequence s(t = {1, 2}, values = {3, 1}, first = 5);", "s.y", 0.5, 5)]
    [InlineData("StepSequence s(t = {1, 2}, values = {3, 1}, first = 5);", "s.y", 1.5, 3)]
    [InlineData("StepSequence s(t = {1, 2}, values = {3, 1}, first = 5);", "s.y", 2.5, 1)]
    [InlineData("BooleanPulse b(period = 2, width = 0.25);", "b.y", 2.4, 1)]
    [InlineData("BooleanPulse b(period = 2, width = 0.25);", "b.y", 2.6, 0)]
    [InlineData("BooleanTable b(t = {1, 2, 3});", "b.y", 2.5, 0)]
    [InlineData("BooleanTable b(t = {1, 2, 3});", "b.y", 3.5, 1)]
    [InlineData("BooleanStep b(startTime = 1);", "b.y", 1.5, 1)]
    [InlineData("MultiSine m(amplitude = 1, f0 = 0.5, n = 1);", "m.y", 0.5, 1)]
    [InlineData("Polynomial p(c = {2, 0, -3}); equation p.u = 3;", "p.y", 1, 15)]
    [InlineData("Power p(n = 2, signed = true); equation p.u = -3;", "p.y", 1, -9)]
    [InlineData("Divide d(smallest = 0.5); equation d.u1 = 3; d.u2 = -0.1;", "d.y", 1, -6)]
    [InlineData("Atan2 a; equation a.y_ = -1; a.x_ = -1;", "a.y", 1, -2.356194490192345)]
    [InlineData("Modulo m(m = 3); equation m.u = 5 * time;", "m.y", 2, 1)]
    [InlineData("Rounding r(kind = Rounding.Kind.up); equation r.u = time;", "r.y", 1.2, 2)]
    [InlineData("Rounding r(kind = Rounding.Kind.zero); equation r.u = -time;", "r.y", 1.7, -1)]
    [InlineData("SignOf s; equation s.u = 1 - time;", "s.y", 2, -1)]
    [InlineData("MinMaxOfMany m; equation m.u[1] = 2; m.u[2] = time; m.u[3] = -1;", "m.largest", 3, 3)]
    [InlineData("Mean m; equation m.u[1] = 2; m.u[2] = time; m.u[3] = 1;", "m.y", 3, 2)]
    [InlineData("LinearScale l(u1 = 4, y1 = 0, u2 = 20, y2 = 100, clip = true); equation l.u = 12;", "l.y", 1, 50)]
    [InlineData("LinearScale l(u1 = 4, y1 = 0, u2 = 20, y2 = 100, clip = true); equation l.u = 30;", "l.y", 1, 100)]
    [InlineData("RootMeanSquare r(T = 2); equation r.u = 3 * sin(2 * 3.141592653589793 * time);", "r.y", 5, 2.1213203435596424)]
    [InlineData("SlidingMean r(T = 2); equation r.u = time;", "r.y", 5, 4)]
    [InlineData("Table t(x = {0, 1, 3}, values = {0, 2, 4}); equation t.u = 2;", "t.y", 1, 3)]
    [InlineData("Table t(x = {0, 1, 3}, values = {0, 2, 4}, outside = Table.Outside.extend); equation t.u = 5;", "t.y", 1, 6)]
    [InlineData("Table t(x = {0, 1, 3}, values = {0, 2, 4}, between = Table.Between.steps); equation t.u = 2.9;", "t.y", 1, 2)]
    [InlineData("Table t(x = {0, 1, 2, 3}, values = {0, 1, 2, 3}, between = Table.Between.akima); equation t.u = 1.3;", "t.y", 1, 1.3)]
    [InlineData("Table t(x = {0, 1, 2}, values = {0, 1, 1}, between = Table.Between.monotone); equation t.u = 1.5;", "t.y", 1, 1)]
    [InlineData(
        "Table2D t(x1 = {0, 1, 2}, x2 = {0, 10}, values = {{0, 10}, {1, 11}, {4, 14}}); equation t.u1 = 1.5; t.u2 = 5;",
        "t.y",
        1,
        7.5
    )]
    [InlineData("Table2D t(outside = Table2D.Outside.extend); equation t.u1 = 2; t.u2 = 0;", "t.y", 1, 4)]
    [InlineData("Table3D t; equation t.u1 = 0.5; t.u2 = 1; t.u3 = 0.25;", "t.y", 1, 4.25)]
    [InlineData("LeadLag l(k = 2, T1 = 0.5, T2 = 0.1); equation l.u = 1;", "l.y", 0.1, 4.943035529371539)]
    [InlineData("Washout w(T = 1); equation w.u = 1;", "w.y", 1, 0.36787944117144233)]
    [InlineData("Notch n(f = 1, D1 = 0); equation n.u = sin(2 * 3.141592653589793 * time);", "n.y", 20, 0)]
    [InlineData("LowPass l(n = 1, f = 0.15915494309189535); equation l.u = 1;", "l.y", 1, 0.6321205588285577)]
    [InlineData("LowPass l(n = 2, f = 0.15915494309189535); equation l.u = 1;", "l.y", 1, 0.3048315559454021)]
    [InlineData("LowPass l(n = 5, f = 10); equation l.u = 3;", "l.y", 9, 3)]
    [InlineData("HighPass h(n = 1, f = 0.15915494309189535); equation h.u = 1;", "h.y", 1, 0.36787944117144233)]
    [InlineData("HighPass h(n = 3, f = 1); equation h.u = 2;", "h.y", 20, 0)]
    [InlineData("BandPass b(f = 1, Q = 1); equation b.u = sin(2 * 3.141592653589793 * time);", "b.y", 20.25, 1)]
    [InlineData("ComplementaryFilter c(T = 0.5); equation c.slow = 3 + 2 * time; c.fast = 2;", "c.y", 9, 21)]
    [InlineData("SecondOrderSections s(sections = {{0, 0, 1, 1, 0, 1}}); equation s.u = 1;", "s.y", 3.141592653589793, 2)]
    [InlineData("PolesZeros z(k = 6, zeros_ = {-1}, poles = {-2, -3}); equation z.u = 1;", "z.y", 30, 1)]
    [InlineData("DoubleIntegrator d(y0 = 1, v0 = 2); equation d.u = 2;", "d.y", 3, 16)]
    [InlineData("LimitedIntegrator i(upper = 2); equation i.u = if time < 3 then 1 else -1;", "i.y", 4, 1)]
    [InlineData("ResettableIntegrator i; equation i.u = 1; i.reset = time > 2.5;", "i.y", 3, 0.5)]
    [InlineData("VaryingDeadTime d(Tmax = 2); equation d.u = 3 * time; d.T = 0.5 * time;", "d.y", 3, 4.5)]
    [InlineData("AllPass a(T = 1); equation a.u = 1;", "a.y", 1, 0.26424111765711533)]
    [InlineData("PadeDelay p(T = 0.1); equation p.u = 2;", "p.y", 9, 2)]
    [InlineData("TankLevel t(A = 1, a = 0, h0 = 1); equation t.u = 0.5;", "t.y", 2, 2)]
    [InlineData("StateFeedback s(K = {2, 3}, N = 4); equation s.x[1] = 1; s.x[2] = 2; s.r = 5;", "s.u", 1, 12)]
    [InlineData("FeedForward f(k0 = 2, k1 = 3, T = 0.01); equation f.u = 4 * time;", "f.y", 2, 28)]
    [InlineData("TwoPoint t(band = 2); equation t.r = 5; t.y = time;", "t.u", 5.5, 1)]
    [InlineData("TwoPoint t(band = 2); equation t.r = 5; t.y = time;", "t.u", 6.5, 0)]
    [InlineData("SoftSaturation s(limit = 2); equation s.u = 100;", "s.y", 1, 2)]
    [InlineData("VariableSaturation v; equation v.upper = 2; v.lower = -1; v.u = 3 * time;", "v.y", 1, 2)]
    [InlineData("Quantizer q(q = 0.5); equation q.u = time;", "q.y", 1.3, 1.5)]
    [InlineData("WrapAngle w; equation w.u = 4 * time;", "w.y", 1, -2.2831853071795862)]
    [InlineData("SlidingFriction c(fc = 2, d = 3); equation c.u = 1;", "c.y", 1, 5)]
    [InlineData("Slip s(band = 0.5); equation s.u = time;", "s.y", 1.2, 1)]
    [InlineData("SampleDelay d(T = 0.5, n = 2, y0 = -1); equation d.u = time;", "d.y", 2.2, 1)]
    [InlineData("SampleDelay d(T = 0.5, n = 2, y0 = -1); equation d.u = time;", "d.y", 0.7, -1)]
    [InlineData("SampledIntegrator i(T = 0.5, k = 2); equation i.u = 3;", "i.y", 1.2, 6)]
    [InlineData("SampledIntegrator i(T = 0.5, rule = SampledIntegrator.Rule.trapezoid); equation i.u = time;", "i.y", 2, 2)]
    [InlineData("SampledDerivative d(T = 0.5); equation d.u = time ^ 2;", "d.y", 2, 3.5)]
    [InlineData("SampledLag l(T = 0.1, tau = 0.5); equation l.u = 1;", "l.y", 1.05, 0.8646647167633873)]
    [InlineData("SampledTransferFunction d(T = 1, b = {1}, a = {1, -0.5}); equation d.u = 1;", "d.y", 2, 1.5)]
    [InlineData("SampledFilter f(T = 1, b = {0.5, 0.25}); equation f.u = time;", "f.y", 3, 2)]
    [InlineData("MovingAverage m(T = 1, n = 3); equation m.u = time;", "m.y", 5, 4)]
    [InlineData("MovingAverage m(T = 1, n = 3); equation m.u = time;", "m.y", 1, 0.5)]
    [InlineData("SampledStateSpace s(T = 1, A = {{1, 1}, {0, 1}}, B = {0, 1}, C = {1, 0}); equation s.u = 1;", "s.y", 4, 6)]
    [InlineData("RateChange r(T1 = 0.1, T2 = 0.5); equation r.u = time;", "r.y", 1.3, 1)]
    [InlineData("EdgeDetect e(T = 0.2); equation e.u = time > 1;", "e.y", 1.1, 1)]
    [InlineData("EdgeDetect e(T = 0.2); equation e.u = time > 1;", "e.y", 1.3, 0)]
    [InlineData("EdgeDetect e(T = 0.2, kind = EdgeDetect.Kind.falling); equation e.u = time < 1;", "e.y", 1.1, 1)]
    [InlineData("Latch l; equation l.set = time > 1 and time < 2; l.reset = time > 3;", "l.y", 2.5, 1)]
    [InlineData("Latch l; equation l.set = time > 1 and time < 2; l.reset = time > 3;", "l.y", 3.5, 0)]
    [InlineData("Toggle t; equation t.u = sin(2 * 3.141592653589793 * time) > 0.5;", "t.y", 2.5, 1)]
    [InlineData("OnDelay o(T = 1); equation o.u = time > 1;", "o.y", 1.9, 0)]
    [InlineData("OnDelay o(T = 1); equation o.u = time > 1;", "o.y", 2.1, 1)]
    [InlineData("OffDelay o(T = 1); equation o.u = time < 1;", "o.y", 1.9, 1)]
    [InlineData("OffDelay o(T = 1); equation o.u = time < 1;", "o.y", 2.1, 0)]
    [InlineData("Debounce d(T = 0.1); equation d.u = time > 1 and time < 1.05 or time > 2;", "d.y", 1.2, 0)]
    [InlineData("Debounce d(T = 0.1); equation d.u = time > 1 and time < 1.05 or time > 2;", "d.y", 2.2, 1)]
    [InlineData("Timer t; equation t.u = time > 1;", "t.y", 3, 2)]
    [InlineData("Counter c; equation c.u = sin(2 * 3.141592653589793 * time) > 0.5;", "c.y", 3.05, 3)]
    [InlineData("Counter c(modulus = 2); equation c.u = sin(2 * 3.141592653589793 * time) > 0.5;", "c.y", 2.5, 1)]
    [InlineData("Watchdog w(T = 0.5, band = 0.01); equation w.u = if time < 1 then time else 1;", "w.stale", 1.6, 1)]
    [InlineData("Watchdog w(T = 0.5, band = 0.01); equation w.u = if time < 1 then time else 1;", "w.stale", 1.3, 0)]
    [InlineData("MajorityVote m; equation m.u[1] = true; m.u[2] = time > 1; m.u[3] = false;", "m.y", 2, 1)]
    [InlineData("MajorityVote m; equation m.u[1] = true; m.u[2] = time > 1; m.u[3] = false;", "m.differ", 2, 1)]
    [InlineData("MedianVote m; equation m.u1 = 1; m.u2 = 100; m.u3 = 1.05;", "m.y", 1, 1.05)]
    [InlineData("Selector s; equation s.index = time; s.u[1] = 10; s.u[2] = 20; s.u[3] = 30;", "s.y", 2.2, 20)]
    [InlineData("Selector s; equation s.index = time; s.u[1] = 10; s.u[2] = 20; s.u[3] = 30;", "s.y", 9, 30)]
    [InlineData("HysteresisSwitch h(upper = 1, lower = -1); equation h.u = 2 * cos(3.141592653589793 * time);", "h.y", 0.6, 1)]
    [InlineData("HysteresisSwitch h(upper = 1, lower = -1); equation h.u = 2 * cos(3.141592653589793 * time);", "h.y", 1.4, 0)]
    [InlineData("InRange i; equation i.u = time;", "i.y", 0.5, 1)]
    [InlineData("BooleanToReal b(whenTrue = 7, whenFalse = 3); equation b.u = time > 1;", "b.y", 0.5, 3)]
    [InlineData("Negation n; equation n.u = time > 1;", "n.y", 2, 0)]
    [InlineData("HoldWhile h; equation h.u = time; h.hold = time > 2;", "h.y", 3, 2)]
    [InlineData("HoldWhile h(y0 = 7); equation h.u = time; h.hold = true;", "h.y", 3, 7)]
    [InlineData("HandOver h; equation h.command = time; h.controller = 5 + 0.1 * time; h.closed = time > 2 and time < 6;", "h.y", 1.5, 1.5)]
    // From 2, where the controller says 5.2: half of the difference is left after half of the time.
    [InlineData(
        "HandOver h; equation h.command = time; h.controller = 5 + 0.1 * time; h.closed = time > 2 and time < 6;",
        "h.y",
        2.5,
        3.65
    )]
    [InlineData("HandOver h; equation h.command = time; h.controller = 5 + 0.1 * time; h.closed = time > 2 and time < 6;", "h.y", 4, 5.4)]
    [InlineData("HandOver h; equation h.command = time; h.controller = 5 + 0.1 * time; h.closed = time > 2 and time < 6;", "h.y", 8, 8)]
    [InlineData("HandOver h(byTime = true, closes = 3); equation h.command = 0; h.controller = 2;", "h.y", 2.9, 0)]
    [InlineData("HandOver h(byTime = true, closes = 3); equation h.command = 0; h.controller = 2;", "h.y", 3.5, 1)]
    // A second hand-over while the difference of the first still fades goes on from where the output is.
    [InlineData("HandOver h; equation h.command = 0; h.controller = 2; h.closed = time > 2 and time < 2.5;", "h.y", 2.501, 0.99999999)]
    [InlineData("MatrixGain m(K = {{1, 2}, {3, 4}, {5, 6}}); equation m.u[1] = 1; m.u[2] = 10;", "m.y[3]", 1, 65)]
    [InlineData("DotProduct d(n = 2); equation d.a[1] = 1; d.a[2] = 2; d.b[1] = 3; d.b[2] = 4;", "d.y", 1, 11)]
    [InlineData("CrossProduct c; equation c.a[1] = 1; c.a[2] = 2; c.a[3] = 3; c.b[1] = 4; c.b[2] = 5; c.b[3] = 6;", "c.y[2]", 1, 6)]
    [InlineData(
        "Constant a(k = 3), b(k = 4); Stack s(n = 2); MatrixGain m(K = {{1, 1}, {1, -1}}); Unstack t(n = 2); equation connect(a.y, s.u[1]); connect(b.y, s.u[2]); connect(s.y, m.u); connect(m.y, t.u);",
        "t.y[2]",
        1,
        -1
    )]
    [InlineData(
        "ConstantVector a(k = {1, 2, 3}), b(k = {5, 5, 5}); VectorSum s(signs = {1, -2}); equation connect(a.y, s.a); connect(b.y, s.b);",
        "s.y[3]",
        1,
        -7
    )]
    [InlineData("ConstantVector a(k = {1, 2, 3}); VectorGain g(k = {2, -3, 4}); equation connect(a.y, g.u);", "g.y[2]", 1, -6)]
    [InlineData(
        "ConstantVector a(k = {1, 2, 3}); VectorIntegrator i(k = 0.5, y0 = {0, 1, 0}); equation connect(a.y, i.u);",
        "i.y[2]",
        3,
        4
    )]
    // Poles -1 ± 2i and -3, zeros ± 3i: at rest k·9 / (5·3), and a sine of 3 rad/s does not come through.
    [InlineData(
        "PolesZeros f(zeros_ = fill(0.0, 0), zeroPairs = {{0, 3}}, poles = {-3}, polePairs = {{-1, 2}}, k = 5); equation f.u = 1;",
        "f.y",
        30,
        3
    )]
    [InlineData(
        "PolesZeros f(zeros_ = fill(0.0, 0), zeroPairs = {{0, 3}}, poles = {-3}, polePairs = {{-1, 2}}, k = 5); equation f.u = sin(3 * time);",
        "f.y",
        30,
        0
    )]
    // Taken over after tracking, the output goes on from what it followed.
    [InlineData("ParallelPID c(tracking = true, Tt = 0.2); equation c.r = 0; c.y = 0; c.uTrack = 5; c.track = time < 5;", "c.u", 5.5, 5)]
    [InlineData("SeriesPID c(tracking = true, Tt = 0.2); equation c.r = 0; c.y = 0; c.uTrack = 5; c.track = time < 5;", "c.u", 5.5, 5)]
    // With no weight of the set-point only the integral part answers it at once: nothing at t = 0+.
    [InlineData("ParallelPID c(kp = 2, ki = 1, b = 0); equation c.r = 1; c.y = 0;", "c.u", 1, 1)]
    [InlineData("SeriesPID c(k = 2, Ti = 0.5, Td = 0, b = 0, c = 0); equation c.r = 1; c.y = 0;", "c.u", 1, 4)]
    [InlineData("SeriesPID c(k = 2, Ti = 0.5, Td = 0); equation c.r = 1; c.y = 0;", "c.u", 1, 6)]
    // Sampled twins: gain at rest; at the frequency that is kept exact a sine of amplitude 1 comes out as k/(2D), a quarter of a period
    // late.
    [InlineData("SampledLeadLag f(k = 3); equation f.u = 1;", "f.y", 20, 3)]
    [InlineData("SampledLeadLag f(T = 0.1, T1 = 1, T2 = 0.2); equation f.u = 1;", "f.y", 0.05, 4.2)] // (2·1/0.1 + 1) / (2·0.2/0.1 + 1)
    [InlineData("SampledSecondOrder f(w = 5, D = 0.5, T = 0.1); equation f.u = sin(5 * time);", "f.y", 40, -0.4871876750070059)] // -cos(200)
    [InlineData("SampledNotch f(f = 2, D1 = 0, T = 0.05); equation f.u = sin(4 * 3.141592653589793 * time);", "f.y", 40, 0)]
    [InlineData("SampledWashout f; equation f.u = 7;", "f.y", 60, 0)]
    [InlineData("SampledLowPass f(f = 1, T = 0.05); equation f.u = 2;", "f.y", 40, 2)]
    [InlineData("SampledHighPass f(f = 1, T = 0.05); equation f.u = 2;", "f.y", 40, 0)]
    // y(k) = 0.5 y(k-1) + u(k-1): at rest u / (1 - 0.5).
    [InlineData("SampledPolesZeros f(poles = {0.5}); equation f.u = 1;", "f.y", 0.2, 1.5)]
    [InlineData(
        "SampledPolesZeros f(poles = fill(0.0, 0), polePairs = {{0, 0.5}}, zeros_ = {-1}, k = 2); equation f.u = 1;",
        "f.y",
        30,
        3.2
    )] // 2·2 / 1.25
    [InlineData("VectorNorm v(n = 2); equation v.u[1] = 3; v.u[2] = 4;", "v.y", 1, 5)]
    [InlineData("Rotation2D r; equation r.u1 = 1; r.u2 = 0; r.phi = 3.141592653589793 / 2;", "r.y2", 1, 1)]
    [InlineData("PolarToCartesian p; equation p.r = 2; p.phi = 3.141592653589793;", "p.x", 1, -2)]
    [InlineData("StateSpaceMIMO s; equation s.u[1] = 1; s.u[2] = 4;", "s.y[1]", 30, 3)]
    [InlineData("Observer o(L = {2, 1}); equation o.u = 2; o.y = 1 + 3 * time + time ^ 2;", "o.x[2]", 30, 63)]
    [InlineData("KalmanFilter k; equation k.u = 2; k.y = 1 + 3 * time + time ^ 2;", "k.x[2]", 30, 63)]
    [InlineData("ParallelPID c(kp = 2, ki = 4, kd = 0); equation c.r = 1; c.y = 0.5;", "c.u", 2, 5)]
    [InlineData("SeriesPID c(k = 2, Ti = 4, Td = 0); equation c.r = 1; c.y = 0.5;", "c.u", 2, 1.5)]
    [InlineData("GainScheduledPI c(x = {0, 1}, k = {1, 3}, Ti = {1, 1}); equation c.r = 1; c.y = 0; c.s = 0.5;", "c.u", 1, 4)]
    [InlineData("SampledPID c(T = 0.5, k = 2, Ti = 1); equation c.r = 1; c.y = 0;", "c.u", 1.2, 4)]
    [InlineData("Play p(width = 0.4); equation p.u = sin(3.141592653589793 / 2 * time);", "p.y", 1, 0.8)]
    public void A_part_has_its_exact_response(string text, string name, double time, double expected) =>
        Assert.Equal(
            expected,
            TextModel.Values(text, name, [0, time])[1],
            text.StartsWith("Play", StringComparison.Ordinal) ? 2e-4 : 1e-7 * (1 + Math.Abs(expected))
        );

    [Fact]
    public void A_rate_limiter_rises_no_faster_than_its_limit()
    {
        var y = TextModel.Values("SlewLimit r(rising = 2, falling = 1); equation r.u = if time < 3 then 100 else 0;", "r.y", [1, 3, 5]);
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
        const string text =
            "PID c(k = 2, Ti = 1, tracking = true, Tt = 0.05); equation c.r = 1; c.y = 0.5; c.uTrack = 7; c.track = time < 1;";
        var u = TextModel.Values(text, "c.u", [0.9, 1.0 + 1e-6]);
        Assert.Equal(7, u[0], 1e-9);
        Assert.Equal(7, u[1], 1e-4);
    }

    [Fact]
    public void Noise_has_its_deviation_and_is_the_same_at_each_run()
    {
        var times = Enumerable.Range(0, 8000).Select(i => 0.05 * i + 0.01).ToArray();
        var first = TextModel.Values("Noise n(sigma = 2, mean = 1, bandwidth = 10, seed = 5);", "n.y", times);
        Assert.Equal(first, TextModel.Values("Noise n(sigma = 2, mean = 1, bandwidth = 10, seed = 5);", "n.y", times));
        var mean = first.Average();
        // 8000 values: the mean lies within four of its standard deviations, 2/√8000, and the deviation within four of 2/√16000.
        Assert.InRange(mean, 0.91, 1.09);
        Assert.InRange(Math.Sqrt(first.Average(y => (y - mean) * (y - mean))), 1.93, 2.07);
        Assert.NotEqual(first, TextModel.Values("Noise n(sigma = 2, mean = 1, bandwidth = 10, seed = 6);", "n.y", times));
    }

    [Fact]
    public void Waves_have_their_significant_height()
    {
        var times = Enumerable.Range(0, 12000).Select(i => 0.25 * i).ToArray();
        foreach (var gamma in new[] { "1", "3.3" })
        {
            var values = TextModel.Values($"Waves w(Hs = 2, Tp = 6, gamma = {gamma});", "w.y", times);
            Assert.InRange(4 * Math.Sqrt(values.Average(y => y * y)), 1.9, 2.1);
        }
    }

    [Fact]
    public void A_random_binary_signal_has_two_levels_equally_often()
    {
        var values = TextModel.Values(
            "RandomBinary r(amplitude = 3, T = 0.1);",
            "r.y",
            [.. Enumerable.Range(0, 4000).Select(i => 0.1 * i + 0.05)]
        );
        Assert.All(values, v => Assert.Equal(3, Math.Abs(v)));
        Assert.InRange(values.Average(), -0.2, 0.2); // four standard deviations of the mean, 3/√4000
    }

    /// <summary>Double integrator: K = {1, √2}. Third order: computed with SciPy 1.10's solve_continuous_are. Filter of a noisy position:
    /// gains from p₁² = 2 p₂ and p₂ = √(QR).</summary>
    [Theory]
    [InlineData("LQFeedback c(x = {1, 0}, r = 0);", "c.u", -1)]
    [InlineData("LQFeedback c(x = {0, 1}, r = 0);", "c.u", -1.4142135623730951)]
    [InlineData(
        "LQFeedback c(A = {{0, 1, 0}, {0, 0, 1}, {1, -2, 3}}, B = {0, 0, 1}, Q = {{1, 0, 0}, {0, 2, 0}, {0, 0, 3}}, R = 0.5, x = {1, 0, 0}, r = 0);",
        "c.u",
        -2.73205081
    )]
    [InlineData(
        "LQFeedback c(A = {{0, 1, 0}, {0, 0, 1}, {1, -2, 3}}, B = {0, 0, 1}, Q = {{1, 0, 0}, {0, 2, 0}, {0, 0, 3}}, R = 0.5, x = {0, 0, 1}, r = 0);",
        "c.u",
        -7.39305257
    )]
    [InlineData("KalmanFilter k(R = 0.01); Real y = k.L[2]; equation k.u = 0; k.y = 0;", "y", 10)]
    [InlineData("KalmanFilter k(R = 0.01); Real y = k.L[1]; equation k.u = 0; k.y = 0;", "y", 4.47213595499958)]
    public void Gains_solve_their_Riccati_equation(string text, string name, double expected) =>
        Assert.Equal(expected, TextModel.Values(text, name, [0, 1])[1], 1e-8);

    [Fact]
    public void A_monitor_stops_the_run_when_its_condition_fails()
    {
        const string watched = "Monitor m; equation m.u = time < 2;";
        var result = TextModel.Run(watched, 5);
        Assert.Equal("assertion", result.Failure?.Code);
        Assert.Equal(2, result.Failure!.Time, 1e-6);
    }

    [Fact]
    public void Every_part_is_listed_once_and_has_a_title_of_its_own()
    {
        var parts = PartCatalog.Standard.Parts.ToList();
        Assert.True(parts.Count >= 200, $"{parts.Count} parts");
        Assert.Empty(parts.GroupBy(p => p.Title).Where(g => g.Count() > 1).Select(g => g.Key));
    }
}
