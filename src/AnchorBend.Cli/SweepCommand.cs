using System.CommandLine;
using System.Globalization;
using System.Text;
using AnchorBend.Exploration;
using AnchorBend.Exploration.Designs;
using AnchorBend.Workbench.Studies;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend sweep</c>: runs a model over values of its parameters and writes a table of measures.</summary>
static class SweepCommand
{
    static readonly Dictionary<string, DesignKind> Designs = new()
    {
        ["grid"] = DesignKind.Grid,
        ["one"] = DesignKind.OneAtATime,
        ["random"] = DesignKind.Random,
        ["lhs"] = DesignKind.LatinHypercube,
        ["sobol"] = DesignKind.Sobol,
    };

    public static Command Create()
    {
        var file = CommandParts.File();
        var vary = new Option<string[]>("--vary")
        {
            Description =
                "What varies: 'name=a,b,c', 'name=from:to:count' or, where runs are drawn, 'name=from:to', with units if wanted and 'log' "
                + "behind a range for even ratios; once for each factor",
            AllowMultipleArgumentsPerToken = true,
            Required = true,
        };
        var design = new Option<string>("--design")
        {
            Description = "grid: all combinations; one: one at a time; random, lhs (Latin hypercube), sobol: drawn",
            DefaultValueFactory = _ => "grid",
        };
        design.AcceptOnlyFromAmong([.. Designs.Keys]);
        var runs = new Option<int>("--runs") { Description = "How many runs are drawn", DefaultValueFactory = _ => 100 };
        var seed = new Option<ulong>("--seed") { Description = "The same seed gives the same table", DefaultValueFactory = _ => 1 };
        var measure = new Option<string[]>("--measure")
        {
            Description = "'name = expression' or an expression as for 'measure'; once for each column; without any, those of the document",
            AllowMultipleArgumentsPerToken = true,
        };
        var csv = new Option<FileInfo?>("--csv") { Description = "File to write; '-' or nothing writes to standard output" };
        var jobs = new Option<int?>("--jobs") { Description = "How many runs at once; as many as there are processors without it" };
        var resume = new Option<DirectoryInfo?>("--resume")
        {
            Description = "Folder that results are kept in as they come; the same command goes on there after a break",
        };
        var arguments = new RunArguments();
        var command = new Command("sweep", "Run a model over values of its parameters and write a table of measures")
        {
            file,
            vary,
            design,
            runs,
            seed,
            measure,
            csv,
            jobs,
            resume,
        };
        arguments.AddTo(command);
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        try
                        {
                            var given = parsed.GetValue(file)!;
                            var model = ModelFile.Read(given);
                            List<StudyMeasure> measures = parsed.GetValue(measure) is { Length: > 0 } own
                                ? [.. own.Select(Measure)]
                                : [.. (model.Document?.Measures ?? []).Values.Select(m => new StudyMeasure(m.Name, m.Expression))];
                            if (measures.Count == 0)
                                throw new CommandException("Say what to measure, such as --measure \"deepest = maximum(depth)\".");
                            List<StudyFactor> factors = [.. parsed.GetValue(vary)!.Select(StudyFactor.Parse)];
                            var table = StudyTable.Of(
                                factors,
                                Designs[parsed.GetValue(design)!],
                                parsed.GetValue(runs),
                                parsed.GetValue(seed)
                            );
                            var options = arguments.OptionsOf(parsed, model);
                            if (options.Problem() is { } problem)
                                throw new CommandException(problem);
                            var set = CommandParts.Settings(parsed.GetValue(arguments.Set));
                            // What is wrong in all rows is told at once.
                            model.PrepareToRun(set);
                            var study = new StudyRun(model, set, table, measures, _ => options);
                            var results = new StudyResult?[table.Rows.Count];
                            using var journal = Journal(parsed.GetValue(resume), File.ReadAllText(given.FullName) + Told(parsed, given));
                            foreach (var (row, earlier) in journal?.Earlier ?? new Dictionary<int, StudyResult>())
                                if (row < results.Length && earlier.Problem is null)
                                    results[row] = earlier;
                            study.Run(
                                Enumerable.Range(0, results.Length).Where(i => results[i] is null).ToList(),
                                Math.Max(1, parsed.GetValue(jobs) ?? Environment.ProcessorCount),
                                result =>
                                {
                                    results[result.Index] = result;
                                    journal?.Add(result);
                                },
                                cancellation
                            );
                            Write(parsed.GetValue(csv), Table(study, factors, measures, results));
                            var failed = results.Count(r => r?.Problem is not null);
                            if (failed > 0)
                                Console.Error.WriteLine(
                                    $"error: {failed} of {results.Length} runs have a problem; the last column says which."
                                );
                            return failed > 0 ? 1 : 0;
                        }
                        catch (ExplorationException e)
                        {
                            throw new CommandException($"{e.Message} {e.Advice}");
                        }
                        catch (InvalidDataException e)
                        {
                            throw new CommandException(e.Message);
                        }
                    })
                )
        );
        return command;
    }

    static StudyMeasure Measure(string text)
    {
        var equal = text.IndexOf('=', StringComparison.Ordinal);
        // A comparison or a named argument is no name of a measure.
        var name = equal > 0 ? text[..equal].Trim() : "";
        return equal > 0 && equal + 1 < text.Length && text[equal + 1] != '=' && name.All(c => c is not ('(' or '<' or '>' or '!' or ':'))
            ? new StudyMeasure(name, text[(equal + 1)..].Trim())
            : new StudyMeasure(text.Trim(), text);
    }

    /// <summary>What was asked for, without where and how fast.</summary>
    static string Told(ParseResult parsed, FileInfo given)
    {
        var told = new List<string>();
        var tokens = parsed.Tokens.Select(t => t.Value).ToList();
        for (var i = 0; i < tokens.Count; i++)
            if (tokens[i] is "--csv" or "--jobs" or "--resume")
                i++;
            else if (tokens[i] != given.ToString())
                told.Add(tokens[i]);
        return string.Join('\n', told);
    }

    static StudyJournal? Journal(DirectoryInfo? folder, string study)
    {
        if (folder is null)
            return null;
        folder.Create();
        return new StudyJournal(Path.Combine(folder.FullName, "results.jsonl"), study);
    }

    static string Table(
        StudyRun study,
        IReadOnlyList<StudyFactor> factors,
        IReadOnlyList<StudyMeasure> measures,
        IReadOnlyList<StudyResult?> results
    )
    {
        static string Cell(string text) =>
            text.IndexOfAny([',', '"', '\n', '\r']) < 0 ? text : $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
        static string Line(IEnumerable<string> cells) => string.Join(',', cells.Select(Cell));
        var table = new StringBuilder();
        table.AppendLine(Line(["run", .. factors.Select(f => f.Path), .. measures.Select(m => m.Name), "problem"]));
        foreach (var result in results.OfType<StudyResult>())
            table.AppendLine(
                Line([
                    (result.Index + 1).ToString(CultureInfo.InvariantCulture),
                    .. study.Table.Rows[result.Index].Select(c => c.Number?.ToString("R", CultureInfo.InvariantCulture) ?? c.Text),
                    .. result.Measures.Select(m => m?.ToString("R", CultureInfo.InvariantCulture) ?? ""),
                    result.Problem?.ReplaceLineEndings(" ") ?? "",
                ])
            );
        return table.ToString();
    }

    static void Write(FileInfo? target, string table)
    {
        if (target is null || target.Name == "-")
            Console.Write(table);
        else
            File.WriteAllText(target.FullName, table);
    }
}
