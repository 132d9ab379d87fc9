using System.CommandLine;
using System.Globalization;
using System.Text;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange.Traces;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend run</c>: simulates a model and writes its variables.</summary>
static class RunCommand
{
    public static Command Create()
    {
        var file = CommandParts.File();
        var arguments = new RunArguments();
        var keep = new Option<string?>("--keep") { Description = "Names of the variables to write, separated by commas; all without it" };
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
        var parquet = new Option<FileInfo?>("--parquet") { Description = "File to write as Apache Parquet" };
        var arrow = new Option<FileInfo?>("--arrow") { Description = "File to write as Arrow IPC" };
        var stats = new Option<bool>("--stats") { Description = "Print statistics as JSON" };
        var command = new Command("run", "Simulate a model and write its variables as a table")
        {
            file,
            from,
            save,
            record,
            repeat,
            keep,
            csv,
            parquet,
            arrow,
            stats,
        };
        arguments.AddTo(command);
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        var model = ModelFile.Read(parsed.GetValue(file)!);
                        var prepared = model.PrepareToRun(CommandParts.Settings(parsed.GetValue(arguments.Set)));
                        var kept = Kept(prepared, parsed.GetValue(keep));
                        var options = arguments.OptionsOf(parsed, model, parsed.GetValue(repeat) is null ? null : 1);
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
                        using var session = Begin(prepared, parameters, options, parsed.GetValue(from));
                        session.Advance(new PauseAt(), cancellation);
                        var result = session.Result();
                        if (parsed.GetValue(save) is { } saved && result.Failure is null)
                            File.WriteAllBytes(saved.FullName, session.Save().State.ToBytes());
                        var target = parsed.GetValue(csv);
                        var printsStats = parsed.GetValue(stats);
                        if (parsed.GetValue(parquet) is { } columns)
                            Write(columns, file => ColumnFiles.WriteParquet(Table(prepared, parameters, kept, result), file, cancellation));
                        if (parsed.GetValue(arrow) is { } stream)
                            Write(stream, file => ColumnFiles.WriteArrow(Table(prepared, parameters, kept, result), file, cancellation));
                        if (target is not null || !printsStats && parsed.GetValue(parquet) is null && parsed.GetValue(arrow) is null)
                            Write(prepared, parameters, kept, result, target);
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

    static RunSession Begin(PreparedModel prepared, ParameterSet parameters, RunOptions options, FileInfo? from)
    {
        if (from is null)
            return new RunSession(prepared, parameters, options);
        try
        {
            var state = RunState.FromBytes(File.ReadAllBytes(from.FullName));
            if (state.Time >= options.End)
                throw new CommandException($"The saved run has reached {state.Time:R} s already; give a later --to.");
            return RunSession.From(prepared, parameters, options, state);
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

    static void Write(
        PreparedModel prepared,
        ParameterSet parameters,
        List<(FlatVariable Variable, string Name)> kept,
        RunResult result,
        FileInfo? target
    )
    {
        using var writer =
            target is null || target.Name == "-"
                ? new StreamWriter(Console.OpenStandardOutput())
                : new StreamWriter(target.FullName, false, new UTF8Encoding(false));
        writer.Write("time");
        foreach (var (_, name) in kept)
            writer.Write("," + Quoted(name));
        writer.Write('\n');
        var columns = kept.Select(k => RecordedSignal.Values(prepared, parameters.Values, result.Trace, k.Variable)).ToArray();
        var line = new StringBuilder();
        for (var row = 0; row < result.Trace.Rows; row++)
        {
            line.Clear();
            line.Append(result.Trace.Times[row].ToString("R", CultureInfo.InvariantCulture));
            foreach (var column in columns)
                line.Append(',').Append(column[row].ToString("R", CultureInfo.InvariantCulture));
            line.Append('\n');
            writer.Write(line);
        }
    }

    static void Write(FileInfo target, Func<Stream, Task> write)
    {
        using var file = target.Create();
        write(file).GetAwaiter().GetResult();
    }

    static RunTable Table(
        PreparedModel prepared,
        ParameterSet parameters,
        List<(FlatVariable Variable, string Name)> kept,
        RunResult result
    ) =>
        new(
            [.. result.Trace.Times],
            [
                .. kept.Select(k => new RunColumn(
                    k.Name,
                    k.Variable.Unit?.Symbol ?? "",
                    RecordedSignal.Values(prepared, parameters.Values, result.Trace, k.Variable)
                )),
            ]
        );

    static string Quoted(string name) =>
        name.Contains(',', StringComparison.Ordinal) || name.Contains('"', StringComparison.Ordinal)
            ? "\"" + name.Replace("\"", "\"\"", StringComparison.Ordinal) + "\""
            : name;
}
