using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using AnchorBend.Exploration.Trends;
using AnchorBend.Workbench.Studies;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend montecarlo</c>: what share of runs with drawn tolerances meets the requirements.</summary>
static class MonteCarloCommand
{
    sealed record Yield(string Name, int Met, int Of, ShareInterval? Share);

    sealed record Spread(string Name, string Unit, Distribution? Values);

    sealed record Answer(int Runs, int Failed, string? Ended, Yield All, IReadOnlyList<Yield> Requirements, IReadOnlyList<Spread> Measures);

    public static Command Create()
    {
        var arguments = new StudyArguments();
        var runs = new Option<int>("--runs") { Description = "How many runs are drawn at most", DefaultValueFactory = _ => 1000 };
        var until = new Option<double?>("--until")
        {
            Description = "Ends when the interval of the share that meets all is no wider than this to either side, such as 0.02",
        };
        var wanted = new Option<double?>("--wanted")
        {
            Description = "Ends when it is decided whether this share meets all, such as 0.95; the code is 1 where fewer do",
        };
        var confidence = new Option<double>("--confidence") { Description = "Of the intervals", DefaultValueFactory = _ => 0.95 };
        var csv = new Option<FileInfo?>("--csv") { Description = "File for the table of all runs" };
        var json = new Option<bool>("--json") { Description = "The answer as JSON" };
        var command = new Command("montecarlo", "Draw tolerances and tell what share of the runs meets the requirements")
        {
            runs,
            until,
            wanted,
            confidence,
            csv,
            json,
        };
        arguments.AddTo(command);
        command.SetAction(
            (parsed, cancellation) =>
                StudyArguments.Guarded(() =>
                {
                    var asked = arguments.Read(parsed, false);
                    if (asked.Model.Document is not { Requirements.Count: > 0 } document)
                        throw new CommandException("The model has no requirements; a document with some is needed.");
                    if (parsed.GetValue(confidence) is not (> 0.5 and < 1) || parsed.GetValue(wanted) is <= 0 or >= 1)
                        throw new CommandException("A confidence lies between 0.5 and 1, a wanted share between 0 and 1.");
                    List<StudyFactor> factors = [.. asked.Factors.Select(f => f with { IsDrawn = true })];
                    var table = StudyTable.Of(factors, null, 1, parsed.GetValue(arguments.Seed), parsed.GetValue(runs));
                    var study = asked.Of(table);
                    var results = new List<StudyResult>();
                    string? ended = null;
                    var ending = new ShareEnding(parsed.GetValue(wanted), parsed.GetValue(until));
                    while (results.Count < table.Rows.Count && ended is null)
                    {
                        var round = new StudyResult[Math.Min(ShareEnding.Round, table.Rows.Count - results.Count)];
                        var first = results.Count;
                        study.Run(Enumerable.Range(first, round.Length), asked.Jobs, r => round[r.Index - first] = r, cancellation);
                        results.AddRange(round);
                        ended = ending.Enough(StudyYield.All(results, parsed.GetValue(confidence)).Share);
                    }

                    var names = document.Requirements.Values.Select(r => r.Name).ToList();
                    var answer = new Answer(
                        results.Count,
                        results.Count(r => r.IsFailed),
                        ended,
                        Of("all requirements", StudyYield.All(results, parsed.GetValue(confidence))),
                        [.. names.Select((n, i) => Of(n, StudyYield.By(results, r => r.Verdicts[i].IsMet, parsed.GetValue(confidence))))],
                        [
                            .. asked.Measures.Select(
                                (m, i) =>
                                    new Spread(
                                        m.Name,
                                        study.Units[i] ?? "",
                                        Distribution.Of(results.Select(r => r.Measures[i]).OfType<double>())
                                    )
                            ),
                        ]
                    );
                    if (parsed.GetValue(csv) is { } file)
                        StudyFile.Of(table.Factors, asked.Measures, table.Rows, results).Write(file, null, cancellation);
                    Console.WriteLine(parsed.GetValue(json) ? JsonSerializer.Serialize(answer, CommandParts.Json) : Told(answer));
                    return parsed.GetValue(wanted) is { } share && !(answer.All.Share?.Low >= share) ? 1 : 0;
                })
        );
        return command;
    }

    static Yield Of(string name, StudyYield yield) => new(name, yield.Met, yield.Of, yield.Share);

    static string Told(Answer answer)
    {
        static string Percent(double share) => (100 * share).ToString("F2", CultureInfo.InvariantCulture) + " %";
        static string Line(Yield y) =>
            y.Share is { } s
                ? $"{y.Name, -32} {Percent(s.Share), 9}   {Percent(s.Low)} to {Percent(s.High)}   {y.Met} of {y.Of}"
                : $"{y.Name, -32} not decided";
        return string.Join(
            '\n',
            [
                $"{answer.Runs} runs, {answer.Failed} failed. {answer.Ended}".TrimEnd(),
                Line(answer.All),
                .. answer.Requirements.Select(Line),
                .. answer.Measures.Where(m => m.Values is not null).Select(Values),
            ]
        );
    }

    static string Values(Spread m)
    {
        static string N(double v) => v.ToString("G6", CultureInfo.InvariantCulture);
        return $"{m.Name, -32} mean {N(m.Values!.Mean)}, 5 % below {N(m.Values.Low)}, 95 % below {N(m.Values.High)} {m.Unit}".TrimEnd();
    }
}
