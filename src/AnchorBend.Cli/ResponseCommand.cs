using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Design.Identification;
using AnchorBend.Language.Syntax;
using AnchorBend.Simulation;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend response</c>: the frequency response of the running model, measured with sines.</summary>
static class ResponseCommand
{
    public static Command Create()
    {
        var file = CommandParts.File();
        var at = new Option<string>("--at") { Description = "Signal to which a sine is added", Required = true };
        var from = new Option<string?>("--from") { Description = "Signal whose wave goes in; the one with the sine in it without it" };
        var to = new Option<string?>("--to")
        {
            Description = "Signal that answers; without --from and --to what comes around the loop, turned in sign: L",
        };
        var freq = new Option<string>("--freq")
        {
            Description = "Frequencies in rad/s, separated by commas, or low..high:count, evenly spaced by their logarithms",
            Required = true,
        };
        var amplitude = new Option<double?>("--amplitude") { Description = "Amplitude of the sine; a hundredth of the signal without it" };
        var time = new Option<string>("--time")
        {
            Description = "Instant from which on it is added, as in 20 or '5 min', or 'steady'",
            DefaultValueFactory = _ => "steady",
        };
        var limit = new Option<string[]>("--limit") { Description = "name=deviation: how far a signal may move; may be repeated" };
        var csv = new Option<FileInfo?>("--csv") { Description = "File for the response, as 'fit' reads it" };
        var set = CommandParts.Set();
        var json = new Option<bool>("--json") { Description = "Print JSON" };
        var command = new Command("response", "Measure a frequency response of the running model, with its switches, samples and limits")
        {
            file,
            at,
            from,
            to,
            freq,
            amplitude,
            time,
            limit,
            csv,
            set,
            json,
        };
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        var source = ModelFile.Read(parsed.GetValue(file)!);
                        var prepared = source.PrepareToRun(CommandParts.Settings(parsed.GetValue(set)));
                        var parameters = new ParameterSet(prepared.Model);
                        var method = source.Document is { } document ? DocumentRun.OptionsOf(document) : new RunOptions { End = 1 };
                        var instant = parsed.GetValue(time)!;
                        double? begin = instant == "steady" ? null : CommandParts.Seconds(instant, "--time");
                        var signal = parsed.GetValue(at)!;
                        var options = new SweepOptions(
                            Frequencies(parsed.GetValue(freq)!),
                            parsed.GetValue(amplitude) ?? Usual(prepared, parameters, signal, begin, method),
                            begin,
                            parsed.GetValue(from),
                            parsed.GetValue(to),
                            [.. CommandParts.Settings(parsed.GetValue(limit)).Select(l => (l.Key, Number(l.Value)))],
                            method
                        );
                        var points = SineSweep.Run(prepared, parameters, signal, options, cancellation);
                        if (parsed.GetValue(csv) is { } target)
                            File.WriteAllLines(target.FullName, Csv(points));
                        Print(points, options.Amplitude, parsed.GetValue(json));
                        return points.All(p => p.Problem is null) ? 0 : 1;
                    })
                )
        );
        return command;
    }

    static double Usual(PreparedModel prepared, ParameterSet parameters, string signal, double? at, RunOptions method) =>
        SineSweep.UsualAmplitude(
            prepared,
            at is { } t ? OperatingPoint.AtTime(prepared, parameters, t, method) : OperatingPoint.Settled(prepared, parameters),
            signal
        );

    static double Number(string text) =>
        double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && value > 0
            ? value
            : throw new CommandException($"--limit needs name=deviation with a number above zero, not '{text}'.");

    static double[] Frequencies(string text)
    {
        if (text.IndexOf("..", StringComparison.Ordinal) is not (> 0 and var dots))
            return CommandParts.Numbers(text, "--freq");
        var colon = text.IndexOf(':', StringComparison.Ordinal);
        var ends = CommandParts.Numbers($"{text[..dots]},{(colon > dots ? text[(dots + 2)..colon] : text[(dots + 2)..])}", "--freq");
        var count = colon > dots ? (int)CommandParts.Numbers(text[(colon + 1)..], "--freq")[0] : 20;
        if (ends is not [> 0 and var low, var high] || !(high > low) || count is < 2 or > 1000)
            throw new CommandException($"--freq needs low..high:count with rising frequencies and 2 to 1000 of them, not '{text}'.");
        return FrequencyGrid.Between(low, high, count);
    }

    static IEnumerable<string> Csv(IReadOnlyList<SweepPoint> points) =>
        points
            .Where(p => p.Problem is null)
            .Select(p => FormattableString.Invariant($"{p.Frequency:R},{p.Value.Real:R},{p.Value.Imaginary:R},{p.Coherence:R}"))
            .Prepend("frequency,re,im,coherence");

    static void Print(IReadOnlyList<SweepPoint> points, double amplitude, bool asJson)
    {
        static double? Finite(double v) => double.IsFinite(v) ? v : null;
        if (asJson)
        {
            Console.WriteLine(
                JsonSerializer.Serialize(
                    new
                    {
                        amplitude,
                        points = points.Select(p => new
                        {
                            frequency = p.Frequency,
                            re = Finite(p.Value.Real),
                            im = Finite(p.Value.Imaginary),
                            magnitude = Finite(p.Value.Magnitude),
                            phase = Finite(p.Value.Phase * 180 / Math.PI),
                            coherence = p.Coherence,
                            purity = p.Purity,
                            seconds = p.Seconds,
                            problem = p.Problem,
                        }),
                    },
                    CommandParts.Json
                )
            );
            return;
        }

        foreach (var p in points)
            Console.WriteLine(
                p.Problem is null
                    ? FormattableString.Invariant($"{p.Frequency, -12:G6} rad/s  {20 * Math.Log10(p.Value.Magnitude), 9:F3} dB  ")
                        + FormattableString.Invariant($"{p.Value.Phase * 180 / Math.PI, 9:F2}°  coherence {p.Coherence:F4}  ")
                        + FormattableString.Invariant($"purity {p.Purity:F3}")
                    : FormattableString.Invariant($"{p.Frequency, -12:G6} rad/s  {p.Problem}")
            );
    }
}
