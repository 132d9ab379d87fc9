using System.CommandLine;
using System.Globalization;
using System.Text;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend run</c>: simulates a model and writes its variables.</summary>
static class RunCommand
{
    public static Command Create()
    {
        var file = CommandParts.File();
        var to = new Option<string?>("--to")
        {
            Description = "End time, as in 20 or '5 min'; a model document has its own; needed for text unless a recorded run is repeated",
        };
        var method = new Option<string>("--method")
        {
            Description = string.Join("; ", MethodDescription.All.Select(m => $"{m.Name}: {m.Guidance}")),
            DefaultValueFactory = _ => "auto",
        };
        method.AcceptOnlyFromAmong([.. MethodDescription.All.Select(m => m.Name)]);
        var step = new Option<double>("--step") { Description = "Step of a fixed-step method in s", DefaultValueFactory = _ => 1e-3 };
        var largest = new Option<string?>("--max-step")
        {
            Description =
                "Largest step of an adaptive method, as in 1e-3 or '2 ms': for short pulses after long rest, which an error "
                + "estimate cannot see",
        };
        var rtol = new Option<double>("--rtol") { Description = "Relative tolerance", DefaultValueFactory = _ => 1e-6 };
        var atol = new Option<double>("--atol") { Description = "Absolute tolerance", DefaultValueFactory = _ => 1e-9 };
        var every = new Option<double?>("--every") { Description = "Distance of output points in s" };
        var at = new Option<string?>("--at") { Description = "Output times in s, separated by commas" };
        var set = CommandParts.Set();
        var keep = new Option<string?>("--keep") { Description = "Names of the variables to write, separated by commas; all without it" };
        var start = new Option<string>("--start")
        {
            Description = "given: from the start values; steady: at rest, with the start values as guesses",
            DefaultValueFactory = _ => "given",
        };
        start.AcceptOnlyFromAmong("given", "steady");
        var steady = new Option<string?>("--steady") { Description = "Parts that start at rest, separated by commas" };
        var record = new Option<FileInfo?>("--record") { Description = "File to write what the run was made from, as JSON" };
        var repeat = new Option<FileInfo>("--repeat")
        {
            Description = "A recorded run to make again, with its settings",
        }.AcceptExistingOnly();
        var save = new Option<FileInfo?>("--save") { Description = "File to save the state at the end, to go on from" };
        var from = new Option<FileInfo>("--from")
        {
            Description = "A saved state to go on from, also with other parameters",
        }.AcceptExistingOnly();
        var csv = new Option<FileInfo?>("--csv") { Description = "File to write; '-' or nothing writes to standard output" };
        var stats = new Option<bool>("--stats") { Description = "Print statistics as JSON" };
        var command = new Command("run", "Simulate a model and write its variables as CSV")
        {
            file,
            to,
            method,
            step,
            largest,
            rtol,
            atol,
            every,
            at,
            start,
            steady,
            from,
            save,
            record,
            repeat,
            set,
            keep,
            csv,
            stats,
        };
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        var model = ModelFile.Read(parsed.GetValue(file)!);
                        var prepared = model.PrepareToRun(CommandParts.Settings(parsed.GetValue(set)));
                        var times = parsed.GetValue(at) is { } list ? CommandParts.Numbers(list, "--at") : null;
                        var kept = Kept(prepared, parsed.GetValue(keep));
                        var options = new RunOptions
                        {
                            End =
                                parsed.GetValue(to) is { } end ? CommandParts.Seconds(end, "--to")
                                : parsed.GetValue(repeat) is not null ? 1
                                : model.Document is { } document ? DocumentRun.OptionsOf(document).End
                                : throw new CommandException("--to is missing: say how long to run."),
                            Method = MethodDescription.Named(parsed.GetValue(method)!)!.Method,
                            Step = parsed.GetValue(step),
                            RelativeTolerance = parsed.GetValue(rtol),
                            AbsoluteTolerance = parsed.GetValue(atol),
                            LargestStep = parsed.GetValue(largest) is { } most ? CommandParts.Seconds(most, "--max-step") : null,
                            OutputInterval = parsed.GetValue(every),
                            OutputTimes = times,
                            SteadyStart = parsed.GetValue(start) == "steady",
                            SteadyParts = parsed.GetValue(steady) is { } parts ? CommandParts.Names(parts) : [],
                            RecordEvents = times is null && parsed.GetValue(every) is null,
                        };
                        var parameters = new ParameterSet(prepared.Model);
                        if (parsed.GetValue(repeat) is { } earlier)
                            options = Repeated(earlier, prepared, parameters);
                        options = options with
                        {
                            Keep = [.. kept.Select(k => prepared.Compiled!.Plan.Representative[k.Variable.Index]).Distinct()],
                        };
                        if (options.Problem() is { } problem)
                            throw new CommandException(problem);
                        if (parsed.GetValue(record) is { } recordFile)
                            File.WriteAllText(
                                recordFile.FullName,
                                JsonSerializer.Serialize(RunProvenance.Of(prepared, parameters, options), CommandParts.Json)
                            );
                        using var simulator = Begin(prepared, parameters, options, parsed.GetValue(from));
                        var result = simulator.Run(cancellation);
                        if (parsed.GetValue(save) is { } saved && result.Failure is null)
                            File.WriteAllBytes(saved.FullName, simulator.Save().ToBytes());
                        var target = parsed.GetValue(csv);
                        var printsStats = parsed.GetValue(stats);
                        if (target is not null || !printsStats)
                            Write(prepared, kept, result, target);
                        if (printsStats)
                            Console.WriteLine(
                                JsonSerializer.Serialize(
                                    result.Statistics with
                                    {
                                        CompileSeconds = prepared.CompileSeconds,
                                    },
                                    CommandParts.Json
                                )
                            );
                        foreach (var note in RunNote.Of(result.Statistics, null).Where(n => n.Code is "small-state" or "method-replaced"))
                            Console.Error.WriteLine("warning: " + note.Message);
                        if (result.Failure is not { } failure)
                            return 0;
                        Console.Error.WriteLine($"error: {failure.Message} {failure.Advice}");
                        return 1;
                    })
                )
        );
        return command;
    }

    static Simulator Begin(PreparedModel prepared, ParameterSet parameters, RunOptions options, FileInfo? from)
    {
        if (from is null)
            return new Simulator(prepared.Compiled!, parameters, options);
        try
        {
            var state = RunState.FromBytes(File.ReadAllBytes(from.FullName));
            if (state.Time >= options.End)
                throw new CommandException($"The saved run has reached {state.Time:R} s already; give a later --to.");
            return Simulator.Restore(prepared.Compiled!, parameters, options, state);
        }
        catch (InvalidDataException e)
        {
            throw new CommandException($"{from.Name}: {e.Message}");
        }
    }

    static RunOptions Repeated(FileInfo file, PreparedModel prepared, ParameterSet parameters)
    {
        try
        {
            var record = JsonSerializer.Deserialize<RunProvenance>(File.ReadAllText(file.FullName), CommandParts.Json)
                ?? throw new CommandException($"{file.Name} is empty.");
            var options = record.ToOptions();
            var now = RunProvenance.Of(prepared, parameters, options);
            if (now.Fingerprint != record.Fingerprint)
                throw new CommandException($"{file.Name} records a run of another model, or of one with other values.");
            if (now.Version != record.Version)
                Console.Error.WriteLine(
                    $"warning: the run was made by version {record.Version}, this is {now.Version}; its bits may differ."
                );
            return options;
        }
        catch (Exception e) when (e is JsonException or InvalidDataException)
        {
            throw new CommandException($"{file.Name} is not a record of a run: {e.Message}");
        }
    }

    static List<(FlatVariable Variable, string Name)> Kept(PreparedModel prepared, string? keep)
    {
        if (keep is null)
            return
            [
                .. prepared
                    .Model.Variables.Where(v =>
                        v.Role is VariableRole.Continuous or VariableRole.Discrete && !v.Name.Contains('$', StringComparison.Ordinal)
                    )
                    .Select(v => (v, v.Name)),
            ];
        var result = new List<(FlatVariable, string)>();
        foreach (var name in CommandParts.Names(keep))
        {
            var variable = prepared.Model.Find(name);
            if (variable is null)
            {
                var near = Language.Nearest.Of(name, prepared.Model.Variables.Select(v => v.Name).Concat(prepared.Model.Aliases.Keys));
                throw new CommandException($"There is no variable '{name}'.{(near is null ? "" : $" Did you mean '{near}'?")}");
            }

            result.Add((variable, name));
        }

        return result;
    }

    static void Write(PreparedModel prepared, List<(FlatVariable Variable, string Name)> kept, RunResult result, FileInfo? target)
    {
        using var writer =
            target is null || target.Name == "-"
                ? new StreamWriter(Console.OpenStandardOutput())
                : new StreamWriter(target.FullName, false, new UTF8Encoding(false));
        writer.Write("time");
        foreach (var (_, name) in kept)
            writer.Write("," + Quoted(name));
        writer.Write('\n');
        var constants = new ParameterSet(prepared.Model).Values;
        var columns = kept.Select(k => prepared.Compiled!.Plan.Representative[k.Variable.Index])
            .Select(r => result.Trace.Has(r) ? result.Trace.Column(r) : null)
            .ToArray();
        var line = new StringBuilder();
        for (var row = 0; row < result.Trace.Rows; row++)
        {
            line.Clear();
            line.Append(result.Trace.Times[row].ToString("R", CultureInfo.InvariantCulture));
            for (var c = 0; c < columns.Length; c++)
            {
                var value =
                    columns[c] is { } column
                    && prepared.Compiled!.Plan.Model.Variables[kept[c].Variable.Index].Role != VariableRole.Parameter
                        ? column[row]
                        : constants[kept[c].Variable.Index];
                line.Append(',').Append(value.ToString("R", CultureInfo.InvariantCulture));
            }

            line.Append('\n');
            writer.Write(line);
        }
    }

    static string Quoted(string name) =>
        name.Contains(',', StringComparison.Ordinal) || name.Contains('"', StringComparison.Ordinal)
            ? "\"" + name.Replace("\"", "\"\"", StringComparison.Ordinal) + "\""
            : name;
}
