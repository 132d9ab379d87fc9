using System.Globalization;
using System.Text;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Diagrams drawn by lot, checked against an evaluator that knows each part's equations by hand and steps through time
/// plainly.</summary>
public class RandomDiagramTests
{
    /// <summary>A part of a random diagram: its text, its present output from its inputs, and the rate of its state.</summary>
    sealed class Part(
        string text,
        int inputs,
        Func<double, double[], double, double> output,
        Func<double[], double, double>? rate = null,
        double start = 0,
        int period = 0
    )
    {
        public string Text => text;

        public int[] Inputs { get; } = new int[inputs];

        public Func<double, double[], double, double> Output => output;

        public Func<double[], double, double>? Rate => rate;

        public double Start => start;

        /// <summary>Steps between samples; 0 for none.</summary>
        public int Period => period;

        public bool HasMemory => rate is not null || period > 0;
    }

    const double StepSize = 1e-3,
        End = 2;

    static string N(double value) => value.ToString("R", CultureInfo.InvariantCulture);

    static Part RandomPart(Random random, string name)
    {
        double a = random.Next(-9, 10) / 10.0,
            b = random.Next(2, 10) / 10.0;
        switch (random.Next(11))
        {
            case 0:
                return new Part($"Constant {name}(k = {N(a)});", 0, (_, _, _) => a);
            case 1:
                return new Part($"Sine {name}(amplitude = {N(a)}, f = {N(b)});", 0, (t, _, _) => a * Math.Sin(2 * Math.PI * b * t));
            case 2:
                return new Part($"Gain {name}(k = {N(a)});", 1, (_, u, _) => a * u[0]);
            case 3:
                return new Part($"Sum {name}(signs = {{1, -1, 1}});", 3, (_, u, _) => u[0] - u[1] + u[2]);
            case 4:
                return new Part($"Product {name};", 2, (_, u, _) => u[0] * u[1]);
            case 5:
                return new Part($"Saturation {name}(upper = {N(b)}, lower = {N(-b / 2)});", 1, (_, u, _) => Math.Clamp(u[0], -b / 2, b));
            case 6:
                return new Part($"DeadBand {name}(upper = {N(b / 4)}, lower = {N(-b / 4)});", 1, (_, u, _) => u[0] > b / 4 ? u[0] - b / 4
                    : u[0] < -b / 4 ? u[0] + b / 4
                    : 0);
            case 7:
                return new Part($"AbsoluteValue {name};", 1, (_, u, _) => Math.Abs(u[0]));
            case 8:
                return new Part(
                    $"Lag {name}(k = {N(a)}, T = {N(b)}, y0 = {N(a / 2)});",
                    1,
                    (_, _, x) => x,
                    (u, x) => (a * u[0] - x) / b,
                    a / 2
                );
            case 9:
                return new Part($"Integrator {name}(k = {N(a / 4)}, y0 = {N(b)});", 1, (_, _, x) => x, (u, _) => a / 4 * u[0], b);
            default:
                return new Part($"SampleHold {name}(T = 0.1, y0 = {N(a)});", 1, (_, _, x) => x, null, a, 100);
        }
    }

    /// <summary>Inputs come from earlier parts, or from any part that has memory, so that loops always have one.</summary>
    static List<Part> RandomDiagram(Random random)
    {
        var parts = new List<Part> { new("Sine p0(amplitude = 1, f = 0.7);", 0, (t, _, _) => Math.Sin(2 * Math.PI * 0.7 * t)) };
        var count = random.Next(3, 40);
        for (var i = 1; i < count; i++)
            parts.Add(RandomPart(random, $"p{i}"));
        for (var i = 1; i < count; i++)
        for (var k = 0; k < parts[i].Inputs.Length; k++)
        {
            var source = random.Next(0, count);
            parts[i].Inputs[k] = source < i || parts[source].HasMemory ? source : random.Next(0, i);
        }

        return parts;
    }

    static string TextOf(List<Part> parts)
    {
        var text = new StringBuilder();
        foreach (var part in parts)
            text.AppendLine(part.Text);
        text.AppendLine("equation");
        for (var i = 0; i < parts.Count; i++)
        for (var k = 0; k < parts[i].Inputs.Length; k++)
            text.AppendLine(
                $"connect(p{parts[i].Inputs[k]}.y, p{i}.u{(parts[i].Text.StartsWith("Sum", StringComparison.Ordinal) || parts[i].Text.StartsWith("Product", StringComparison.Ordinal) ? $"[{k + 1}]" : "")});"
            );
        return text.ToString();
    }

    /// <summary>Outputs at the end by the classical Runge–Kutta method; sampled parts act between the steps.</summary>
    static double[] Reference(List<Part> parts)
    {
        var states = parts.Select(p => p.Start).ToArray();
        double[] Outputs(double t, double[] x)
        {
            var y = new double[parts.Count];
            for (var i = 0; i < parts.Count; i++)
                if (parts[i].HasMemory)
                    y[i] = x[i];
            for (var i = 0; i < parts.Count; i++)
                if (!parts[i].HasMemory)
                    y[i] = parts[i].Output(t, [.. parts[i].Inputs.Select(s => y[s])], 0);
            return y;
        }

        double[] Rates(double t, double[] x)
        {
            var y = Outputs(t, x);
            return [.. parts.Select((p, i) => p.Rate is null ? 0 : p.Rate([.. p.Inputs.Select(s => y[s])], x[i]))];
        }

        static double[] Along(double[] x, double[] d, double h) => [.. x.Select((v, i) => v + h * d[i])];
        void Sample(double t, int step)
        {
            // All samples of one instant see each other's new values, as their outputs are equal to what they hold.
            for (var pass = 0; pass < parts.Count; pass++)
            {
                var y = Outputs(t, states);
                var next = (double[])states.Clone();
                for (var i = 0; i < parts.Count; i++)
                    if (parts[i].Period > 0 && step % parts[i].Period == 0)
                        next[i] = y[parts[i].Inputs[0]];
                if (next.SequenceEqual(states))
                    return;
                states = next;
            }
        }

        var steps = (int)Math.Round(End / StepSize);
        for (var n = 0; n < steps; n++)
        {
            var t = n * StepSize;
            Sample(t, n);
            var k1 = Rates(t, states);
            var k2 = Rates(t + StepSize / 2, Along(states, k1, StepSize / 2));
            var k3 = Rates(t + StepSize / 2, Along(states, k2, StepSize / 2));
            var k4 = Rates(t + StepSize, Along(states, k3, StepSize));
            states = [.. states.Select((x, i) => x + StepSize / 6 * (k1[i] + 2 * k2[i] + 2 * k3[i] + k4[i]))];
        }

        Sample(End, steps);
        return Outputs(End, states);
    }

    [Theory]
    [InlineData(IntegrationMethod.Auto)]
    [InlineData(IntegrationMethod.Radau5)]
    [InlineData(IntegrationMethod.BackwardDifferences)]
    public void A_random_diagram_does_what_its_parts_say(IntegrationMethod method)
    {
        var checkedDiagrams = 0;
        for (var seed = 0; seed < 60; seed++)
        {
            var parts = RandomDiagram(new Random(seed));
            var prepared = TextModel.Prepare(TextOf(parts));
            // Samplers that read each other at one instant have no order; that is told as an error.
            if (!prepared.CanRun && prepared.Findings.Any(f => f.Code == "discrete-loop"))
                continue;
            Assert.True(
                prepared.CanRun,
                $"seed {seed}: {string.Join("; ", prepared.Findings.Where(f => f.Severity == Severity.Error).Select(f => f.Message))}"
            );
            var result = TextModel.Run(
                prepared,
                new RunOptions
                {
                    End = End,
                    Method = method,
                    RelativeTolerance = 1e-7,
                    AbsoluteTolerance = 1e-8,
                }
            );
            Assert.True(result.Failure is null, $"seed {seed}: {result.Failure}");
            var expected = Reference(parts);
            for (var i = 0; i < parts.Count; i++)
            {
                var place = prepared.Compiled!.Plan.RepresentativeOf($"p{i}.y");
                var value =
                    prepared.Model.Variables[place].Role == Modeling.Flat.VariableRole.Parameter
                        ? expected[i]
                        : result.Trace[result.Trace.Rows - 1, place];
                // Kinks in the middle of the reference's steps cost it up to a step squared times a slope of a few units.
                Assert.True(
                    Math.Abs(value - expected[i]) < 2e-5 * (1 + Math.Abs(expected[i])),
                    $"seed {seed}, {parts[i].Text} has {value:R}, not {expected[i]:R}"
                );
            }

            checkedDiagrams++;
        }

        Assert.True(checkedDiagrams > 40, $"only {checkedDiagrams} diagrams could run");
    }

    /// <summary>Equations drawn by lot may have no solution, a wild one or a stiff one: every run must end, with a result or a
    /// reason.</summary>
    [Fact]
    public void Random_equations_end_with_a_result_or_a_reason()
    {
        string Expression(Random random, int n, int depth)
        {
            if (depth == 0 || random.Next(4) == 0)
                return random.Next(5) switch
                {
                    0 => "time",
                    1 => N(random.Next(-50, 50) / 10.0),
                    _ => $"x{random.Next(n)}",
                };
            string Sub() => Expression(random, n, depth - 1);
            return random.Next(14) switch
            {
                0 => $"({Sub()} + {Sub()})",
                1 => $"({Sub()} - {Sub()})",
                2 => $"({Sub()} * {Sub()})",
                3 => $"({Sub()} / {Sub()})",
                4 => $"sin({Sub()})",
                5 => $"sqrt({Sub()})",
                6 => $"exp({Sub()})",
                7 => $"log({Sub()})",
                8 => $"(if {Sub()} > {Sub()} then {Sub()} else {Sub()})",
                9 => $"abs({Sub()})",
                10 => $"({Sub()})^2",
                11 => $"min({Sub()}, {Sub()})",
                12 => $"delay({Sub()}, 0.1)",
                _ => $"(1000 * {Sub()})",
            };
        }

        for (var seed = 0; seed < 250; seed++)
        {
            var random = new Random(seed);
            var n = random.Next(1, 6);
            var text = new StringBuilder(
                "Real "
                    + string.Join(", ", Enumerable.Range(0, n).Select(i => $"x{i}(start = {N(random.Next(-20, 20) / 10.0)})"))
                    + "; equation "
            );
            for (var i = 0; i < n; i++)
                text.Append(
                        random.Next(5) switch
                        {
                            0 => $"x{i} = ",
                            1 => $"0 = {Expression(random, n, 2)} - ",
                            _ => $"der(x{i}) = ",
                        }
                    )
                    .Append(Expression(random, n, 3))
                    .Append("; ");
            if (random.Next(3) == 0)
                text.Append($"when x0 > {N(random.Next(-10, 10) / 10.0)} then reinit(x0, {Expression(random, n, 1)}); end when;");
            var prepared = TextModel.Prepare(text.ToString());
            if (!prepared.CanRun)
                continue;
            var watch = System.Diagnostics.Stopwatch.StartNew();
            using var simulator = new Simulator(
                prepared.Compiled!,
                new ParameterSet(prepared.Model),
                new RunOptions { End = 2, TimeBudget = TimeSpan.FromSeconds(3) }
            );
            var result = simulator.Run();
            Assert.True(watch.Elapsed < TimeSpan.FromSeconds(20), $"seed {seed} took {watch.Elapsed}: {text}");
            if (result.Failure is { } failure)
                Assert.True(failure.Message.Length > 10 && failure.Advice.Length > 5, $"seed {seed}: {failure}");
            else
                Assert.True(
                    double.IsFinite(result.Trace.Times[^1]) && result.Trace.Times[^1] == 2,
                    $"seed {seed} ended at {result.Trace.Times[^1]}"
                );
        }
    }
}
