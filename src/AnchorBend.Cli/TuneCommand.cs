using System.CommandLine;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Tuning;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend tune</c>: gains of a PID part for a wanted bandwidth and phase margin, or the best ones under limits.</summary>
static class TuneCommand
{
    public static Command Create()
    {
        var file = CommandParts.File();
        var part = new Option<string>("--part") { Description = "Path of the PID part", Required = true };
        var bandwidth = new Option<double?>("--bandwidth") { Description = "Wanted gain-crossover frequency in rad/s" };
        var margin = new Option<double>("--phase-margin") { Description = "Wanted phase margin in degrees", DefaultValueFactory = _ => 60 };
        var sensitivity = new Option<double?>("--max-sensitivity")
        {
            Description = "Largest peak of the sensitivity: the best gains that keep it",
        };
        var complementary = new Option<double?>("--max-complementary") { Description = "Largest peak of the complementary sensitivity" };
        var noise = new Option<double?>("--max-noise-gain")
        {
            Description = "Largest gain from measurement noise to the controller's output, over all frequencies",
        };
        var goal = new Option<string>("--goal")
        {
            Description = "What is best: ki (integral gain), load or setpoint (integrated absolute error of a unit step)",
            DefaultValueFactory = _ => "ki",
        };
        goal.AcceptOnlyFromAmong("ki", "load", "setpoint");
        var forms = new Option<string[]>("--form")
        {
            Description =
                "Form to propose: p, pi, pd or pid; may be repeated. PI and PID without it; of P and PD the largest gain is proposed",
            AllowMultipleArgumentsPerToken = true,
        };
        forms.AcceptOnlyFromAmong("p", "pi", "pd", "pid");
        var at = new Option<string>("--at")
        {
            Description = "Instant of the operating point in s, or 'steady'",
            DefaultValueFactory = _ => "steady",
        };
        var set = CommandParts.Set();
        var json = new Option<bool>("--json") { Description = "Print JSON" };
        var command = new Command("tune", "Propose gains for a PID part: for a bandwidth and a margin, or the best under limits")
        {
            file,
            part,
            bandwidth,
            margin,
            sensitivity,
            complementary,
            noise,
            goal,
            forms,
            at,
            set,
            json,
        };
        command.SetAction(parsed =>
            CommandParts.Guarded(() =>
            {
                if (parsed.GetValue(bandwidth) is null == parsed.GetValue(sensitivity) is null)
                    throw new CommandException(
                        "Say either what bandwidth is wanted (--bandwidth) or what must be kept (--max-sensitivity)."
                    );
                var prepared = ModelFile.Read(parsed.GetValue(file)!).PrepareToRun(CommandParts.Settings(parsed.GetValue(set)));
                var parameters = new ParameterSet(prepared.Model);
                var time = LinearCommand.Instant(parsed.GetValue(at)!);
                var run = time is { } end ? LinearCommand.RunTo(end) : null;
                if (parsed.GetValue(sensitivity) is { } most)
                {
                    var wishes = new RobustWishes(
                        time,
                        new LoopLimits(most, parsed.GetValue(complementary), parsed.GetValue(noise)),
                        parsed.GetValue(goal) switch
                        {
                            "load" => LoopGoal.Load,
                            "setpoint" => LoopGoal.SetPoint,
                            _ => LoopGoal.IntegralGain,
                        },
                        [.. (parsed.GetValue(forms) ?? []).Select(f => Enum.Parse<PidForm>(f, ignoreCase: true))]
                    );
                    return BestGains.Print(
                        RobustProposal.Of(prepared, parameters, parsed.GetValue(part)!, wishes, run, CancellationToken.None),
                        parsed.GetValue(json)
                    );
                }

                var (design, _, _, _, candidates) = LoopProposal.Of(
                    prepared,
                    parameters,
                    parsed.GetValue(part)!,
                    new LoopWishes(time, parsed.GetValue(bandwidth), parsed.GetValue(margin)),
                    run,
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
                                    form = c.Pid().Form.ToString(),
                                    k = c.Pid().K,
                                    ti = c.Pid().HasIntegral ? c.Pid().Ti : (double?)null,
                                    td = c.Pid().HasDerivative ? c.Pid().Td : (double?)null,
                                    n = c.Pid().N,
                                    parameters = BestGains.Parameters(design, c.Pid()),
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
                        $"{c.Name, -8} k = {c.Pid().K:G5}{(c.Pid().HasIntegral ? $"  Ti = {c.Pid().Ti:G5} s" : "")}"
                            + $"{(c.Pid().HasDerivative ? $"  Td = {c.Pid().Td:G5} s" : "")}"
                            + $"  bandwidth {c.Bandwidth:G4} rad/s  phase margin "
                            + $"{c.Margins.Phase?.Margin:F1}°{(c.IsStable ? "" : "  UNSTABLE")}{(c.Remark is null ? "" : "  " + c.Remark)}"
                    );
                return 0;
            })
        );
        return command;
    }
}
