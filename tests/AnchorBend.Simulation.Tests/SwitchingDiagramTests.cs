using System.Globalization;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>
/// Diagrams of waves, conditions and logic drawn by lot. What they add up must not depend on the method: an event that one of them
/// misses, or takes twice, shows.
/// </summary>
public class SwitchingDiagramTests
{
    const double End = 10.37;

    static readonly IntegrationMethod[] Methods =
    [
        IntegrationMethod.Auto,
        IntegrationMethod.DormandPrince54,
        IntegrationMethod.Radau5,
        IntegrationMethod.BackwardDifferences,
    ];

    /// <summary>A number between two powers of ten.</summary>
    static string Size(Random random, double from, double to) =>
        Math.Pow(10, from + (to - from) * random.NextDouble()).ToString("R", CultureInfo.InvariantCulture);

    static string Wave(Random random, string name) =>
        random.Next(6) switch
        {
            0 => $"Sine {name}(amplitude = {Size(random, -0.3, 0.5)}, f = {Size(random, -1, 1)}, phase = {Size(random, -1, 0.7)});",
            1 => $"Triangle {name}(amplitude = {Size(random, -0.3, 0.5)}, period = {Size(random, -1, 1)});",
            2 => $"Sawtooth {name}(amplitude = {Size(random, -0.3, 0.5)}, period = {Size(random, -1, 1)}, offset = -0.4);",
            3 => $"Square {name}(amplitude = {Size(random, -0.3, 0.5)}, period = {Size(random, -1, 1)});",
            4 => $"Chirp {name}(f1 = 0.1, f2 = {Size(random, -1, 0.7)}, duration = 8);",
            _ => $"DampedSine {name}(amplitude = 3, f = {Size(random, -0.5, 0.7)}, damping = 0.2);",
        };

    static (string Part, string Wire) Condition(Random random, string name, string source) =>
        random.Next(4) switch
        {
            0 => ($"BooleanPulse {name}(period = {Size(random, -0.7, 0.7)}, width = {Size(random, -2, -0.1)});", ""),
            1 => ($"Compare {name}(threshold = {Size(random, -1, -0.3)});", $"connect({source}, {name}.u1);"),
            2 => (
                $"HysteresisSwitch {name}(upper = {Size(random, -1, -0.3)}, lower = -{Size(random, -1, -0.5)});",
                $"connect({source}, {name}.u);"
            ),
            _ => ($"InRange {name}(lower = -{Size(random, -1, 0)}, upper = {Size(random, -1, 0)});", $"connect({source}, {name}.u);"),
        };

    /// <summary>A part under test, what drives it and its output.</summary>
    static (string Parts, string Wires, string Output) Subject(Random random, string source) =>
        random.Next(14) switch
        {
            0 => ($"Debounce p(T = {Size(random, -2, 0)}); BooleanToReal q;", "connect(c1.y, p.u); connect(p.y, q.u);", "q.y"),
            1 => ("Counter p;", "connect(c1.y, p.u);", "p.y"),
            2 => ("Timer p;", "connect(c1.y, p.u);", "p.y"),
            3 => ($"OnDelay p(T = {Size(random, -2, 0)}); BooleanToReal q;", "connect(c1.y, p.u); connect(p.y, q.u);", "q.y"),
            4 => ($"OffDelay p(T = {Size(random, -2, 0)}); BooleanToReal q;", "connect(c1.y, p.u); connect(p.y, q.u);", "q.y"),
            5 => ("HoldWhile p;", "connect(w2.y, p.u); connect(c1.y, p.hold);", "p.y"),
            6 => ("Latch p; BooleanToReal q;", "connect(c1.y, p.set); connect(c2.y, p.reset); connect(p.y, q.u);", "q.y"),
            7 => ("Toggle p; BooleanToReal q;", "connect(c1.y, p.u); connect(p.y, q.u);", "q.y"),
            8 => ($"EdgeDetect p(T = {Size(random, -3, -1)}); BooleanToReal q;", "connect(c1.y, p.u); connect(p.y, q.u);", "q.y"),
            9 => ($"SlidingMean p(T = {Size(random, -1, 0.5)});", $"connect({source}, p.u);", "p.y"),
            10 => ($"Quantizer p(q = {Size(random, -1.3, -0.3)});", $"connect({source}, p.u);", "p.y"),
            11 => ("Rounding p;", $"connect({source}, p.u);", "p.y"),
            12 => ("Switch p;", "connect(w1.y, p.u1); connect(w2.y, p.u2); connect(c1.y, p.condition);", "p.y"),
            _ => ("ResettableIntegrator p(y0 = 0.1);", "connect(w2.y, p.u); connect(c1.y, p.reset);", "p.y"),
        };

    /// <summary>Two waves, a lag, two conditions, the part, and an integrator that adds up what it says.</summary>
    static string Diagram(int seed)
    {
        var random = new Random(seed);
        var source = random.Next(2) == 0 ? "w1.y" : "lag.y";
        var (first, second, subject) = (Condition(random, "c1", source), Condition(random, "c2", "w2.y"), Subject(random, source));
        return $"""
            {Wave(random, "w1")} {Wave(random, "w2")} Lag lag(T = {Size(
                random,
                -2,
                1
            )}); {first.Part} {second.Part} {subject.Parts} Integrator sum; Lag slow(T = 30);
            equation connect(w1.y, lag.u); {first.Wire} {second.Wire} {subject.Wires} connect({subject.Output}, sum.u); connect({subject.Output}, slow.u);
            """;
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void All_methods_add_up_the_same(int part)
    {
        foreach (var seed in Enumerable.Range(25 * part, 25))
        {
            var text = Diagram(seed);
            var prepared = TextModel.Prepare(text);
            Assert.True(prepared.CanRun, $"{seed}: {string.Join("\n", prepared.Findings)}\n{text}");
            var sum = prepared.Compiled!.Plan.RepresentativeOf("sum.y");
            double Sum(IntegrationMethod method, double tolerance)
            {
                var result = TextModel.Run(
                    prepared,
                    new RunOptions
                    {
                        End = End,
                        OutputTimes = [End],
                        Method = method,
                        RelativeTolerance = tolerance,
                        AbsoluteTolerance = tolerance,
                    }
                );
                Assert.True(result.Failure is null, $"{seed} {method}: {result.Failure?.Message}\n{text}");
                return result.Trace[result.Trace.Rows - 1, sum];
            }

            var exact = Sum(IntegrationMethod.DormandPrince853, 1e-10);
            foreach (var method in Methods)
            foreach (var tolerance in new[] { 1e-4, 1e-7 })
                Assert.True(
                    Math.Abs(Sum(method, tolerance) - exact) <= 10 * tolerance * (1 + Math.Abs(exact)),
                    $"{seed} {method} {tolerance}: {Sum(method, tolerance)}, not {exact}\n{text}"
                );
        }
    }
}
