using System.CommandLine;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Tuning;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend tune</c>: gains of a PID part for a wanted bandwidth and phase margin.</summary>
static class TuneCommand
{
    public static Command Create()
    {
        var file = CommandParts.File();
        var part = new Option<string>("--part") { Description = "Path of the PID part", Required = true };
        var bandwidth = new Option<double>("--bandwidth") { Description = "Wanted gain-crossover frequency in rad/s", Required = true };
        var margin = new Option<double>("--phase-margin") { Description = "Wanted phase margin in degrees", DefaultValueFactory = _ => 60 };
        var at = new Option<string>("--at")
        {
            Description = "Instant of the operating point in s, or 'steady'",
            DefaultValueFactory = _ => "steady",
        };
        var set = CommandParts.Set();
        var json = new Option<bool>("--json") { Description = "Print JSON" };
        var command = new Command("tune", "Propose gains for a PID part") { file, part, bandwidth, margin, at, set, json };
        command.SetAction(parsed =>
            CommandParts.Guarded(() =>
            {
                var prepared = ModelFile.Read(parsed.GetValue(file)!).PrepareToRun(CommandParts.Settings(parsed.GetValue(set)));
                var parameters = new ParameterSet(prepared.Model);
                var time = LinearCommand.Instant(parsed.GetValue(at)!);
                var (design, _, _, _, candidates) = LoopProposal.Of(
                    prepared,
                    parameters,
                    parsed.GetValue(part)!,
                    new LoopWishes(time, parsed.GetValue(bandwidth), parsed.GetValue(margin)),
                    time is { } end ? LinearCommand.RunTo(end) : null,
                    CancellationToken.None
                );
                if (parsed.GetValue(json))
                {
                    Console.WriteLine(
                        JsonSerializer.Serialize(
                            new
                            {
                                part = design.Part,
                                plantPoles = PolesAndZeros.Poles(design.Plant).Select(LinearCommand.Pair),
                                candidates = candidates.Select(c => new
                                {
                                    c.Name,
                                    form = c.Gains.Form.ToString(),
                                    k = c.Gains.K,
                                    ti = c.Gains.HasIntegral ? c.Gains.Ti : (double?)null,
                                    td = c.Gains.HasDerivative ? c.Gains.Td : (double?)null,
                                    n = c.Gains.N,
                                    c.Bandwidth,
                                    phaseMargin = c.Margins.Phase?.Margin,
                                    gainMargin = c.Margins.Gain?.Margin,
                                    c.IsStable,
                                    c.IsExact,
                                    c.Remark,
                                }),
                            },
                            CommandParts.Json
                        )
                    );
                    return 0;
                }

                foreach (var c in candidates)
                    Console.WriteLine(
                        $"{c.Name, -8} k = {c.Gains.K:G5}{(c.Gains.HasIntegral ? $"  Ti = {c.Gains.Ti:G5} s" : "")}"
                            + $"{(c.Gains.HasDerivative ? $"  Td = {c.Gains.Td:G5} s" : "")}"
                            + $"  bandwidth {c.Bandwidth:G4} rad/s  phase margin "
                            + $"{c.Margins.Phase?.Margin:F1}°{(c.IsStable ? "" : "  UNSTABLE")}{(c.Remark is null ? "" : "  " + c.Remark)}"
                    );
                return 0;
            })
        );
        return command;
    }
}
