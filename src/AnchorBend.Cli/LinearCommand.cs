using System.CommandLine;
using System.Numerics;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Simulation;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend linear</c>: the linear system between two signals.</summary>
static class LinearCommand
{
    public static Command Create()
    {
        var file = CommandParts.File();
        var from = new Option<string>("--from")
        {
            Description = "Signal to which the small input is added; several separated by commas make a system of matrices",
            Required = true,
        };
        var to = new Option<string>("--to") { Description = "Signal that is the output, or several separated by commas", Required = true };
        var open = new Option<string?>("--open") { Description = "Signal at which the loop is cut, or several separated by commas" };
        var at = new Option<string>("--at")
        {
            Description = "Instant of the operating point in s, or 'steady'",
            DefaultValueFactory = _ => "steady",
        };
        var frequencies = new Option<string?>("--freq") { Description = "Frequencies in rad/s for the response, separated by commas" };
        var all = new Option<bool>("--all")
        {
            Description = "With the peaks of the closed loop, the delay margin, and the modes: natural frequency and damping of each pole",
        };
        var discrete = new Option<string?>("--discrete") { Description = "Sampling period, as in 0.1 or '10 ms': the discrete system too" };
        var hold = new Option<string>("--hold")
        {
            Description = "How it is made discrete: zoh (exact for a held input), tustin or matched",
            DefaultValueFactory = _ => "zoh",
        };
        hold.AcceptOnlyFromAmong("zoh", "tustin", "matched");
        var exact = new Option<double?>("--exact-at") { Description = "Frequency in rad/s at which tustin gives the response exactly" };
        var set = CommandParts.Set();
        var json = new Option<bool>("--json") { Description = "Print JSON (always so; kept for symmetry with the other commands)" };
        var command = new Command("linear", "Linearise between two signals: state space, poles, zeros, margins, response")
        {
            file,
            from,
            to,
            open,
            at,
            frequencies,
            all,
            discrete,
            hold,
            exact,
            set,
            json,
        };
        command.SetAction(parsed =>
            CommandParts.Guarded(() =>
            {
                var prepared = ModelFile.Read(parsed.GetValue(file)!).PrepareToRun(CommandParts.Settings(parsed.GetValue(set)));
                var parameters = new ParameterSet(prepared.Model);
                var point = Point(prepared, parameters, Instant(parsed.GetValue(at)!));
                var (input, output) = (parsed.GetValue(from)!, parsed.GetValue(to)!);
                var cuts = CommandParts.Names(parsed.GetValue(open) ?? "");
                var points = parsed.GetValue(frequencies) is { } list ? CommandParts.Numbers(list, "--freq") : [];
                if ((input + output).Contains(','))
                {
                    if (parsed.GetValue(discrete) is not null)
                        throw new CommandException("--discrete takes one input and one output.");
                    var matrix = LinearMatrix.Between(prepared, point, CommandParts.Names(input), CommandParts.Names(output), cuts);
                    Console.WriteLine(JsonSerializer.Serialize(MatrixLinear.Of(matrix, point, cuts, points), CommandParts.Json));
                    return 0;
                }

                if (SampledSystem.IsBetween(prepared, input, output, cuts))
                {
                    if (parsed.GetValue(discrete) is not null)
                        throw new CommandException(
                            "Samples lie between these signals, so the system is a discrete one without --discrete."
                        );
                    var sampled = SampledSystem.Between(prepared, point, input, output, cuts);
                    Console.WriteLine(
                        JsonSerializer.Serialize(
                            SampledLinear.Of(
                                sampled,
                                prepared,
                                point,
                                (input, output, cuts.Length > 0 ? string.Join(",", cuts) : null),
                                points
                            ),
                            CommandParts.Json
                        )
                    );
                    return 0;
                }

                var system = Linearizer.Between(prepared, point, input, output, cuts).Reduced();
                // An open loop with the feedback's sign in it: the margins are those of the loop −y/u where it is cut at its own input.
                var loop = input == output && cuts.Contains(input) ? Negated(system) : system;
                var margins = StabilityMargins.Of(loop);
                Console.WriteLine(
                    JsonSerializer.Serialize(
                        new
                        {
                            from = input,
                            to = output,
                            open = cuts.Length > 0 ? string.Join(",", cuts) : null,
                            operatingPoint = Name(point),
                            states = system.States,
                            a = Rows(system.A),
                            b = system.B,
                            c = system.C,
                            d = system.D,
                            delays = system.Delays,
                            poles = PolesAndZeros.Poles(system).Select(Pair),
                            zeros = PolesAndZeros.Zeros(system).Select(Pair),
                            polesApproximateDelays = system.Delays.Length > 0,
                            marginsOf = ReferenceEquals(loop, system) ? "response" : "negative response",
                            gainMargins = margins.PhaseCrossings.Select(c => new
                            {
                                frequency = c.Frequency,
                                factor = c.Margin,
                                decibel = 20 * Math.Log10(c.Margin),
                            }),
                            furtherGainMargins = margins.Further is not { } further
                                ? null
                                : new
                                {
                                    above = further.From,
                                    leastFactor = further.Least,
                                    mostFactor = double.IsFinite(further.Most) ? further.Most : (double?)null,
                                },
                            phaseMargins = margins.GainCrossings.Select(c => new { frequency = c.Frequency, degrees = c.Margin }),
                            closed = parsed.GetValue(all) ? Closed(loop, margins) : null,
                            modes = parsed.GetValue(all) ? PolesAndZeros.Poles(system).Where(p => p.Imaginary >= 0).Select(Mode) : null,
                            discrete = parsed.GetValue(discrete) is { } period
                                ? Discrete(
                                    system,
                                    CommandParts.Seconds(period, "--discrete"),
                                    parsed.GetValue(hold)!,
                                    parsed.GetValue(exact),
                                    points
                                )
                                : null,
                            response = points.Select(w => Response(w, system.At(new Complex(0, w)))),
                        },
                        CommandParts.Json
                    )
                );
                return 0;
            })
        );
        return command;
    }

    /// <summary>The loop that is closed around the open one with negative feedback.</summary>
    /// <param name="period">Of the samples, where the loop is on their plane; else 0.</param>
    internal static object Closed(LinearSystem loop, StabilityMargins margins, double period = 0)
    {
        var peaks = new LoopPeaks(loop, null, period, CancellationToken.None);
        return new
        {
            maxSensitivity = Told(peaks.Sensitivity.Value),
            maxSensitivityAt = SampledPlane.Frequency(peaks.Sensitivity.Frequency, period),
            maxComplementary = Told(peaks.Complementary.Value),
            maxComplementaryAt = SampledPlane.Frequency(peaks.Complementary.Frequency, period),
            delayMargin = Told(margins.DelayMargin),
        };
    }

    internal static double? Told(double value) => double.IsFinite(value) ? value : null;

    internal static object Mode(Complex pole) =>
        new
        {
            re = pole.Real,
            im = pole.Imaginary,
            naturalFrequency = pole.Magnitude,
            damping = pole.Magnitude > 0 ? -pole.Real / pole.Magnitude : (double?)null,
            timeConstant = pole.Real != 0 ? -1 / pole.Real : (double?)null,
        };

    internal static object Response(double frequency, Complex value) =>
        new
        {
            frequency,
            re = value.Real,
            im = value.Imaginary,
            magnitude = value.Magnitude,
            phase = value.Phase * 180 / Math.PI,
        };

    static object Discrete(LinearSystem system, double period, string hold, double? exactAt, IReadOnlyList<double> points)
    {
        var made = Discretisation.Of(
            system,
            period,
            hold switch
            {
                "tustin" => Hold.Tustin,
                "matched" => Hold.Matched,
                _ => Hold.Zoh,
            },
            exactAt
        );
        return new
        {
            period,
            hold,
            a = Rows(made.A),
            b = made.B,
            c = made.C,
            d = made.D,
            poles = PolesAndZeros.Poles(made).Select(Pair),
            zeros = PolesAndZeros.Zeros(made).Select(Pair),
            response = points.Select(w => Response(w, made.At(Complex.Exp(new Complex(0, w * period))))),
        };
    }

    internal static string Name(OperatingPoint point) => point.IsSteady ? "steady" : FormattableString.Invariant($"{point.Time:R} s");

    static OperatingPoint Point(PreparedModel prepared, ParameterSet parameters, double? at) =>
        at is { } time ? OperatingPoint.AtTime(prepared, parameters, time, RunTo(time)) : OperatingPoint.Settled(prepared, parameters);

    /// <summary>An instant as <c>--at</c> says it; null for the steady state.</summary>
    internal static double? Instant(string at) => at == "steady" ? null : CommandParts.Seconds(at, "--at");

    /// <summary>A run to an operating point, whose values the linear system inherits.</summary>
    internal static RunOptions RunTo(double time) =>
        new()
        {
            End = Math.Max(1e-9, time),
            RelativeTolerance = 1e-9,
            AbsoluteTolerance = 1e-12,
        };

    internal static LinearSystem Negated(LinearSystem s) => s with { C = [.. s.C.Select(v => -v)], D = -s.D, F = [.. s.F.Select(v => -v)] };

    internal static double[][] Rows(double[,] m) =>
        [.. Enumerable.Range(0, m.GetLength(0)).Select(i => Enumerable.Range(0, m.GetLength(1)).Select(j => m[i, j]).ToArray())];

    internal static object Pair(Complex c) => new { re = c.Real, im = c.Imaginary };
}
