using System.CommandLine;
using System.Globalization;
using System.Text;
using System.Text.Json;
using AnchorBend.Delivery;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation.Grid;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend code</c>: writes a part of a model as C, and checks that it computes what the model does.</summary>
static class CodeCommand
{
    /// <summary>Steps that are compared where nobody says how many.</summary>
    const int UsualSteps = 10_000;

    public static Command Create()
    {
        var file = CommandParts.File();
        var part = CommandParts.Part();
        var tunable = CommandParts.Tunable();
        var single = CommandParts.Single();
        var folder = new Option<DirectoryInfo>("--out") { Description = "Folder for the code", Required = true };
        var step = new Option<string>("--step")
        {
            Description = "Time from step to step, as in 0.001 or '1 ms'",
            DefaultValueFactory = _ => "1 ms",
        };
        var method = new Option<string>("--method")
        {
            Description = "How what is continuous goes from step to step: euler, heun or rk4",
            DefaultValueFactory = _ => "euler",
        };
        method.AcceptOnlyFromAmong([.. CodeRequest.Methods.Keys]);
        var check = new Option<bool>("--check")
        {
            Description = "Compile it and compare it with the model step by step; exit code 1 where they part or the compiler warns",
        };
        var steps = new Option<int>("--steps") { Description = "Steps to compare", DefaultValueFactory = _ => UsualSteps };
        var seed = new Option<int>("--seed") { Description = "The same seed draws the same inputs", DefaultValueFactory = _ => 1 };
        var json = new Option<bool>("--json") { Description = "Print what was written and found as JSON" };
        var command = new Command("code", "Write a part of a model document as C, with which line comes from which part")
        {
            file,
            part,
            folder,
            step,
            method,
            single,
            tunable,
            check,
            steps,
            seed,
            json,
        };
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        if (ModelFile.Read(parsed.GetValue(file)!).Document is not { } document)
                            throw new CommandException("Code is written from model documents (.json).");
                        var request = new CodeRequest(
                            parsed.GetValue(part)!,
                            CommandParts.Seconds(parsed.GetValue(step)!, "--step"),
                            CodeRequest.Methods[parsed.GetValue(method)!],
                            parsed.GetValue(single),
                            CommandParts.Tuned(parsed.GetValue(tunable))
                        );
                        try
                        {
                            var unit = CodeUnit.Of(document, Modeling.Catalog.PartCatalog.Of(document), request);
                            var written = Write(unit, parsed.GetValue(folder)!);
                            var result = parsed.GetValue(check)
                                ? BackToBack.Compare(unit, Drawn(unit, parsed.GetValue(steps), parsed.GetValue(seed)), cancellation)
                                : null;
                            Tell(written, result, parsed.GetValue(json));
                            return result is { AreSame: false } or { Compiler.Length: > 0 } ? 1 : 0;
                        }
                        catch (DeliveryException e)
                        {
                            throw new CommandException($"{e.Message} {e.Advice}");
                        }
                    })
                )
        );
        return command;
    }

    static List<(string Path, int Lines)> Write(CodeUnit unit, DirectoryInfo folder)
    {
        folder.Create();
        var written = new List<(string, int)>();
        var lines = new StringBuilder("file,line,part\n");
        var files = CWriter.Write(unit);
        foreach (var file in files)
        {
            var path = Path.Combine(folder.FullName, file.Name);
            File.WriteAllText(path, file.Text);
            written.Add((path, file.Text.Count(c => c == '\n')));
            foreach (var (line, origin) in file.Origins.OrderBy(o => o.Key))
                lines.Append(
                    CultureInfo.InvariantCulture,
                    $"{file.Name},{line},\"{Origin(unit, origin).Replace("\"", "\"\"", StringComparison.Ordinal)}\"\n"
                );
        }

        var table = Path.Combine(folder.FullName, files[1].Name.Replace(".c", "_lines.csv", StringComparison.Ordinal));
        File.WriteAllText(table, lines.ToString());
        written.Add((table, lines.ToString().Count(c => c == '\n')));
        return written;
    }

    static string Origin(CodeUnit unit, string owner) =>
        CodeUnit.PathWithin(owner) is { Length: > 0 } path ? $"{unit.Name}.{path}" : unit.Name;

    static IReadOnlyList<double[]> Drawn(CodeUnit unit, int steps, int seed) =>
        steps is < 1 or > 10_000_000
            ? throw new CommandException("--steps must lie between 1 and 10,000,000.")
            : DrawnInputs.Of(unit, steps, seed);

    static void Tell(List<(string Path, int Lines)> written, BackToBackResult? result, bool json)
    {
        if (json)
        {
            Console.WriteLine(
                JsonSerializer.Serialize(
                    new { files = written.Select(w => new { path = w.Path, lines = w.Lines }), check = result },
                    CommandParts.Json
                )
            );
            return;
        }

        foreach (var (path, lines) in written)
            Console.WriteLine(FormattableString.Invariant($"{path}: {lines} lines"));
        if (result is null)
            return;
        if (result.Compiler.Length > 0)
            Console.WriteLine(result.Compiler);
        Console.WriteLine(
            result.First is { } first
                ? FormattableString.Invariant(
                    $"Part at step {first.Step}: {first.Output} is {first.Model:R} in the model, {first.Code:R} in the code."
                )
                : FormattableString.Invariant($"Same as the model in {result.Steps} steps.")
        );
    }
}
