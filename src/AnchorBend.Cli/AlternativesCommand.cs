using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Verification;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend alternatives</c>: runs every combination of a document's slots and options.</summary>
static class AlternativesCommand
{
    /// <summary>One run: what was chosen, what the kept variables came to, which requirements were missed.</summary>
    sealed record Row(
        string Label,
        IReadOnlyDictionary<string, string> Chosen,
        IReadOnlyDictionary<string, double> Last,
        IReadOnlyList<string> Missed,
        string? Problem
    );

    public static Command Create()
    {
        var file = CommandParts.File();
        var only = new Option<string[]>("--only")
        {
            Description = "path=name,…: of a slot or option these values alone, as in 'Valve.alternative=Spool'; may be repeated",
            AllowMultipleArgumentsPerToken = false,
        };
        var keep = new Option<string?>("--keep") { Description = "Names of the variables whose last values are told, separated by commas" };
        var list = new Option<bool>("--list") { Description = "Say what can be chosen and run nothing" };
        var json = new Option<bool>("--json") { Description = "Print as JSON" };
        var command = new Command("alternatives", "Run every combination of the slots and options of a model document")
        {
            file,
            only,
            keep,
            list,
            json,
        };
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        var model = ModelFile.Read(parsed.GetValue(file)!);
                        if (model.Document is not { } document)
                            throw new CommandException("Slots and options belong to model documents (.json); text models have none.");
                        var choices = ModelChoices.Of(model.PrepareToRun(new Dictionary<string, string>()), document);
                        if (parsed.GetValue(list))
                            return List(choices, parsed.GetValue(json));
                        var kept = parsed.GetValue(keep) is { } names ? CommandParts.Names(names) : [];
                        var rows = Combinations(choices, CommandParts.Settings(parsed.GetValue(only)))
                            .Select(c => Run(model, document, c, kept, cancellation))
                            .ToList();
                        Print(rows, kept, parsed.GetValue(json));
                        return rows.Exists(r => r.Problem is not null) ? 1 : 0;
                    })
                )
        );
        return command;
    }

    static int List(IReadOnlyList<ModelChoice> choices, bool json)
    {
        if (json)
            Console.WriteLine(JsonSerializer.Serialize(choices, CommandParts.Json));
        else
            foreach (var choice in choices)
            {
                var names = choice.Values.Select(v => v.Name == choice.Present ? v.Name + " (in now)" : v.Name);
                Console.WriteLine($"{choice.Path}: {string.Join(", ", names)}");
            }
        return 0;
    }

    static IReadOnlyList<Combination> Combinations(IReadOnlyList<ModelChoice> choices, Dictionary<string, string> only)
    {
        try
        {
            var wanted = choices.Select(c => new WantedChoice(
                c.Path,
                only.Remove(c.Path, out var names)
                    ? names.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                    : [.. c.Values.Select(v => v.Name)]
            ));
            List<WantedChoice> all = [.. wanted];
            if (only.Keys.FirstOrDefault() is { } unknown)
                throw new CommandException($"There is nothing to choose at '{unknown}'; --list says what there is.");
            return Combination.All(choices, all);
        }
        catch (DocumentException e)
        {
            throw new CommandException(e.Message);
        }
    }

    static Row Run(
        ModelSource model,
        ModelDocument document,
        Combination combination,
        IReadOnlyList<string> kept,
        CancellationToken cancellation
    )
    {
        try
        {
            var prepared = model.PrepareToRun(combination.Set);
            var run = VerifiedRun.Of(prepared, new ParameterSet(prepared.Model), DocumentRun.OptionsOf(document), document, cancellation);
            var trace = run.Result.Trace;
            var last = new Dictionary<string, double>();
            foreach (var name in kept)
                if (prepared.Find(name) is { } variable && trace.Rows > 0)
                {
                    var place = prepared.Compiled!.Plan.Representative[variable.Index];
                    if (trace.Has(place))
                        last[name] = trace.At(place, trace.Times[trace.Rows - 1]);
                }

            List<string> missed = [.. run.Verdicts.Where(v => v.Kind == VerdictKind.Missed).Select(v => v.Name)];
            return new Row(combination.Label, combination.Chosen, last, missed, run.Result.Failure?.Message);
        }
        catch (CommandException e)
        {
            return new Row(combination.Label, combination.Chosen, new Dictionary<string, double>(), [], e.Message);
        }
    }

    static void Print(List<Row> rows, IReadOnlyList<string> kept, bool json)
    {
        if (json)
        {
            Console.WriteLine(JsonSerializer.Serialize(rows, CommandParts.Json));
            return;
        }

        string Cell(Row row, string name) =>
            row.Last.TryGetValue(name, out var value) ? value.ToString("G6", CultureInfo.InvariantCulture) : "–";
        var wide = rows.Max(r => r.Label.Length);
        foreach (var row in rows)
        {
            var told =
                row.Problem is { } problem ? $"error: {problem.ReplaceLineEndings(" ")}"
                : row.Missed.Count > 0 ? $"missed: {string.Join(", ", row.Missed)}"
                : "";
            Console.WriteLine(
                $"{row.Label.PadRight(wide)}  {string.Join("  ", kept.Select(n => $"{n} {Cell(row, n)}"))}  {told}".TrimEnd()
            );
        }
    }
}
