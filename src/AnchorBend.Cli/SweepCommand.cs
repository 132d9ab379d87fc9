using System.CommandLine;
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
        var arguments = new StudyArguments();
        var design = new Option<string>("--design")
        {
            Description = "grid: all combinations; one: one at a time; random, lhs (Latin hypercube), sobol: drawn",
            DefaultValueFactory = _ => "grid",
        };
        design.AcceptOnlyFromAmong([.. Designs.Keys]);
        var runs = new Option<int>("--runs") { Description = "How many runs are drawn", DefaultValueFactory = _ => 100 };
        var csv = new Option<FileInfo?>("--csv") { Description = "File to write; '-' or nothing writes to standard output" };
        var parquet = new Option<FileInfo?>("--parquet") { Description = "The table as an Apache Parquet file" };
        var resume = new Option<DirectoryInfo?>("--resume")
        {
            Description = "Folder that results are kept in as they come; the same command goes on there after a break",
        };
        var command = new Command("sweep", "Run a model over values of its parameters and write a table of measures")
        {
            design,
            runs,
            csv,
            parquet,
            resume,
        };
        arguments.AddTo(command);
        command.SetAction(
            (parsed, cancellation) =>
                StudyArguments.Guarded(() =>
                {
                    var given = parsed.GetValue(arguments.File)!;
                    var asked = arguments.Read(parsed, true);
                    var table = StudyTable.Of(
                        asked.Factors,
                        Designs[parsed.GetValue(design)!],
                        parsed.GetValue(runs),
                        parsed.GetValue(arguments.Seed)
                    );
                    var study = asked.Of(table);
                    var results = new StudyResult?[table.Rows.Count];
                    using var journal = Journal(parsed.GetValue(resume), File.ReadAllText(given.FullName) + Told(parsed, given));
                    foreach (var (row, earlier) in journal?.Earlier ?? new Dictionary<int, StudyResult>())
                        if (row < results.Length && earlier.Problem is null)
                            results[row] = earlier;
                    study.Run(
                        Enumerable.Range(0, results.Length).Where(i => results[i] is null).ToList(),
                        asked.Jobs,
                        result =>
                        {
                            results[result.Index] = result;
                            journal?.Add(result);
                        },
                        cancellation
                    );
                    var written = StudyFile.Of(table.Factors, asked.Measures, study.Units, table.Rows, [.. results.OfType<StudyResult>()]);
                    written.Write(parsed.GetValue(csv), parsed.GetValue(parquet), cancellation);
                    return StudyFile.Failed(results);
                })
        );
        return command;
    }

    /// <summary>What was asked for, without where and how fast.</summary>
    static string Told(ParseResult parsed, FileInfo given)
    {
        var told = new List<string>();
        var tokens = parsed.Tokens.Select(t => t.Value).ToList();
        for (var i = 0; i < tokens.Count; i++)
            if (tokens[i] is "--csv" or "--parquet" or "--jobs" or "--resume")
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
}
