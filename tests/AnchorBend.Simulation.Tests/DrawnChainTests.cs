using System.Globalization;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>
/// Chains of blocks drawn by lot, some with feedback: every adaptive method must come to the same values, within ten times its tolerance
/// of what backward differentiation and order 5 find alike at a much tighter one.
/// </summary>
public class DrawnChainTests
{
    static readonly double[] Times = [1.31, 3.57, 6.83];

    static readonly (IntegrationMethod Method, double Tolerance)[] Settings =
    [
        (IntegrationMethod.Auto, 1e-3),
        (IntegrationMethod.Auto, 1e-7),
        (IntegrationMethod.DormandPrince853, 1e-6),
        (IntegrationMethod.Radau5, 1e-4),
        (IntegrationMethod.Radau5, 1e-8),
        (IntegrationMethod.BackwardDifferences, 1e-5),
        (IntegrationMethod.DormandPrince54, 1e-5),
    ];

    [Fact]
    public void All_methods_agree_on_chains_drawn_by_lot()
    {
        for (var seed = 0; seed < 120; seed++)
        {
            var text = new Lot(seed).Chain();
            var prepared = TextModel.Prepare(text);
            Assert.True(prepared.CanRun, $"{seed}: {string.Join("\n", prepared.Findings)}\n{text}");
            double[] Values(IntegrationMethod method, double tolerance)
            {
                var result = TextModel.Run(
                    prepared,
                    new RunOptions
                    {
                        End = Times[^1],
                        OutputTimes = Times,
                        Method = method,
                        RelativeTolerance = tolerance,
                        AbsoluteTolerance = tolerance,
                    }
                );
                Assert.True(result.Failure is null, $"{seed}, {method} at {tolerance}: {result.Failure?.Message}\n{text}");
                var place = prepared.Compiled!.Plan.RepresentativeOf("last.y");
                return
                [
                    .. Times.Select(t => result.Trace[Enumerable.Range(0, result.Trace.Rows).Last(r => result.Trace.Times[r] <= t), place]),
                ];
            }

            double[] reference = Values(IntegrationMethod.BackwardDifferences, 1e-9),
                other = Values(IntegrationMethod.DormandPrince54, 1e-9);
            var size = Math.Max(1, reference.Max(Math.Abs));
            var gap = Distance(reference, other);
            Assert.True(gap < 2e-7 * size, $"{seed}: the references differ by {gap}\n{text}");
            foreach (var (method, tolerance) in Settings)
            {
                var distance = Distance(reference, Values(method, tolerance));
                Assert.True(distance <= 10 * tolerance * size + 10 * gap, $"{seed}: {method} at {tolerance} is {distance} off\n{text}");
            }
        }
    }

    static double Distance(double[] a, double[] b) => Enumerable.Range(0, a.Length).Max(i => Math.Abs(a[i] - b[i]));

    sealed class Lot(int seed)
    {
        readonly Random random = new(seed);

        /// <summary>A number between two powers of ten.</summary>
        string Between(double low, double high) =>
            Math.Pow(10, low + (high - low) * random.NextDouble()).ToString("G4", CultureInfo.InvariantCulture);

        string One(params string[] choices) => choices[random.Next(choices.Length)];

        public string Chain()
        {
            List<string> parts = [Wave()],
                wires = [];
            var isLoop = random.Next(2) == 0;
            var last = "w.y";
            if (isLoop)
            {
                parts.Add($"Sum e(signs = {{1, -{Between(-1, -0.3)}}})");
                wires.Add("connect(w.y, e.u[1])");
                last = "e.y";
            }

            for (int i = 0, n = 2 + random.Next(5); i < n; i++)
            {
                parts.Add(
                    string.Format(
                        CultureInfo.InvariantCulture,
                        random.Next(10) switch
                        {
                            < 5 => Dynamic(),
                            < 8 => Static(),
                            _ => Sampled(),
                        },
                        $"p{i}"
                    )
                );
                wires.Add($"connect({last}, p{i}.u)");
                last = $"p{i}.y";
            }

            if (isLoop)
            {
                parts.Add("Lag back(T = 0.2)");
                wires.Add($"connect({last}, back.u)");
                wires.Add("connect(back.y, e.u[2])");
            }

            parts.Add("Lag last(T = 0.5)");
            wires.Add($"connect({last}, last.u)");
            return $"model Chain\n{string.Join(";\n", parts)};\nequation\n{string.Join(";\n", wires)};\nend Chain;";
        }

        string Wave() =>
            One(
                $"Sine w(amplitude = {Between(-0.3, 0.5)}, f = {Between(-1, 0.6)}, phase = {Between(-1, 0.7)})",
                $"Triangle w(amplitude = {Between(-0.3, 0.5)}, period = {Between(-0.5, 1)})",
                $"Square w(amplitude = {Between(-0.3, 0.5)}, period = {Between(-0.5, 1)})",
                $"Chirp w(f1 = 0.1, f2 = {Between(-1, 0.5)}, duration = 8)",
                $"DampedSine w(amplitude = 3, f = {Between(-0.5, 0.5)}, damping = 0.2)",
                $"Step w(height = {Between(-0.3, 0.4)}, startTime = 0.37)"
            );

        string Dynamic() =>
            One(
                $"Lag {{0}}(T = {Between(-2.5, 0.5)})",
                $"SecondOrder {{0}}(w = {Between(-0.3, 1.5)}, D = {Between(-1, 0.2)})",
                $"TransferFunction {{0}}(b = {{{{1}}}}, a = {{{{{Between(-2, 0)}, 1, {Between(-0.3, 0.5)}}}}})",
                $"LeadLag {{0}}(T1 = {Between(-1, 0)}, T2 = {Between(-2, 0)})",
                $"Washout {{0}}(T = {Between(-1, 1)})",
                $"BandPass {{0}}(f = {Between(-0.5, 0.5)}, Q = 2)",
                $"Notch {{0}}(f = {Between(-0.5, 0.5)})",
                $"LowPass {{0}}(n = {1 + random.Next(6)}, f = {Between(0, 1)})",
                $"HighPass {{0}}(n = {1 + random.Next(4)}, f = {Between(-1, 0)})",
                $"PadeDelay {{0}}(T = {Between(-1.5, -0.3)})",
                $"DeadTime {{0}}(T = {Between(-1.5, 0.3)})",
                $"AllPass {{0}}(T = {Between(-1, 0)})",
                $"FilteredDerivative {{0}}(T = {Between(-2, 0)}, k = 0.3)",
                $"LimitedIntegrator {{0}}(k = {Between(-0.5, 0.5)}, upper = {Between(-0.5, 0.2)})",
                "PolesZeros {0}(k = 8)",
                $"StateSpace {{0}}(A = [0, 1; -{Between(0, 1.5)}, -{Between(-0.5, 0.5)}], c = {{{{{Between(0, 1)}, 0}}}})",
                $"SlidingMean {{0}}(T = {Between(-1, 0.3)})"
            );

        string Static() =>
            One(
                $"Saturation {{0}}(upper = {Between(-0.5, 0)}, lower = -{Between(-0.5, 0)})",
                $"DeadBand {{0}}(upper = {Between(-1, -0.3)}, lower = -{Between(-1, -0.3)})",
                $"Relay {{0}}(on = {Between(-1, -0.3)}, off = -{Between(-1, -0.3)})",
                $"Play {{0}}(width = {Between(-1, -0.2)})",
                $"SlewLimit {{0}}(rising = {Between(-0.5, 0.5)}, falling = {Between(-0.5, 0.5)})",
                "SoftSaturation {0}",
                $"SlidingFriction {{0}}(small = {Between(-2, -1)})",
                "AbsoluteValue {0}",
                "FunctionOfOne {0}(kind = FunctionOfOne.Kind.sin)",
                "WrapAngle {0}",
                "Table {0}(x = {{-1, -0.2, 0.3, 1}}, values = {{-0.5, 0.1, 0.2, 1}})",
                "Table {0}(x = {{-1, -0.2, 0.3, 1}}, values = {{-0.5, 0.1, 0.2, 1}}, between = Table.Between.monotone)",
                "Gain {0}(k = -0.7)"
            );

        string Sampled()
        {
            var interval = Between(-1.5, -0.3);
            return One(
                $"SampleHold {{0}}(T = {interval})",
                $"SampledLag {{0}}(T = {interval}, tau = {Between(-1, 0.3)})",
                $"SampledIntegrator {{0}}(T = {interval}, k = 0.3)",
                $"SampledTransferFunction {{0}}(T = {interval}, b = {{{{0.3, 0.1}}}}, a = {{{{1, -0.7, 0.1}}}})",
                $"SampleDelay {{0}}(T = {interval}, n = {1 + random.Next(3)})",
                $"MovingAverage {{0}}(T = {interval}, n = {1 + random.Next(5)})",
                $"SampledLowPass {{0}}(T = {interval}, f = 0.3)",
                $"SampledWashout {{0}}(T = {interval})",
                $"SampledLeadLag {{0}}(T = {interval})"
            );
        }
    }
}
