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
        var unit = new UnitArguments("euler");
        var folder = new Option<DirectoryInfo>("--out") { Description = "Folder for the code", Required = true };
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
            folder,
            check,
            steps,
            seed,
            json,
        };
        unit.AddTo(command);
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        if (ModelFile.Read(parsed.GetValue(file)!).Document is not { } document)
                            throw new CommandException("Code is written from model documents (.json).");
                        try
                        {
                            var code = CodeUnit.Of(document, Modeling.Catalog.PartCatalog.Of(document), unit.Request(parsed));
                            var written = Write(code, parsed.GetValue(folder)!);
                            var result = parsed.GetValue(check)
                                ? BackToBack.Compare(code, Drawn(code, parsed.GetValue(steps), parsed.GetValue(seed)), cancellation)
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
        foreach (var (name, text) in CodeFiles.Of(unit, CWriter.Write(unit)))
        {
            var path = Path.Combine(folder.FullName, name);
            File.WriteAllText(path, text);
            written.Add((path, text.Count(c => c == '\n')));
        }

        return written;
    }

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
        if (result.Unsolved + result.Unsettled > 0)
            Console.WriteLine(
                FormattableString.Invariant(
                    $"Both took what they had come to {result.Unsolved} times in algebraic loops and {result.Unsettled} times in decisions."
                )
            );
    }
}
