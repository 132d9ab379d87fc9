using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Studies;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend optimise</c>: searches the values of parameters for which an expression is least.</summary>
static class OptimiseCommand
{
    static readonly string[] Methods = ["auto", "simplex", "covariance", "differential", "newton"];

    sealed record Attempt(int Run, IReadOnlyDictionary<string, string> Values, double? Goal, bool MeetsRequirements, string? Problem);

    sealed record Answer(string Why, string? Ended, int Runs, Attempt? Best, IReadOnlyList<Attempt>? Attempts);

    public static Command Create()
    {
        var arguments = new StudyArguments();
        var goal = new Option<string>("--minimise")
        {
            Description = "The expression that is made least, as for 'measure'",
            Required = true,
        };
        var kept = new Option<bool>("--subject-to-requirements") { Description = "Keeps the requirements of the document" };
        var method = new Option<string>("--method") { Description = string.Join(", ", Methods), DefaultValueFactory = _ => "auto" };
        method.AcceptOnlyFromAmong(Methods);
        var runs = new Option<int>("--runs") { Description = "How many runs it may take", DefaultValueFactory = _ => 200 };
        var under = new Option<string>("--under")
        {
            Description = "What each attempt stands: nominal, or corners or draws of the --vary that are tolerances",
            DefaultValueFactory = _ => "nominal",
        };
        under.AcceptOnlyFromAmong("nominal", "corners", "draws");
        var draws = new Option<int>("--draws") { Description = "How many, with '--under draws'", DefaultValueFactory = _ => 10 };
        var all = new Option<bool>("--attempts") { Description = "All runs in the answer, not only the best" };
        var json = new Option<bool>("--json") { Description = "The answer as JSON" };
        var command = new Command("optimise", "Search the values of parameters for which an expression is least")
        {
            goal,
            kept,
            method,
            runs,
            under,
            draws,
            all,
            json,
        };
        arguments.AddTo(command);
        command.SetAction(
            (parsed, cancellation) =>
                StudyArguments.Guarded(() =>
                {
                    var asked = arguments.Read(parsed, false);
                    if (parsed.GetValue(kept) && asked.Model.Document is not { Requirements.Count: > 0 })
                        throw new CommandException("The model has no requirements that could be kept.");
                    var wanted = new StudySearchNode
                    {
                        Goal = parsed.GetValue(goal)!,
                        KeepsRequirements = parsed.GetValue(kept),
                        Method = parsed.GetValue(method)!,
                        Runs = parsed.GetValue(runs),
                        Under = parsed.GetValue(under)!,
                        Seed = parsed.GetValue(arguments.Seed),
                    };
                    var search = new StudySearch(wanted, asked.Factors, asked.Model.Document, asked.Present, parsed.GetValue(draws));
                    var study = asked.Of(new StudyTable(asked.Factors, []), [new StudyMeasure("goal", wanted.Goal)]);
                    var made = search.Run(study, asked.Jobs, cancellation);
                    Attempt Told((StudyCell[] Row, StudyResult Result) a) =>
                        new(
                            a.Result.Index + 1,
                            asked
                                .Factors.Select((f, i) => (f, a.Row[i].Text))
                                .Where(f => search.IsSearched(f.f))
                                .ToDictionary(f => f.f.Path, f => f.Text),
                            a.Result.Measures[^1],
                            a.Result.Verdicts.All(v => v.IsMet == true),
                            a.Result.Problem
                        );
                    var best = made.Chunk(search.Size)
                        .Select(a => a.MaxBy(r => search.OutcomeOf(r.Result)))
                        .Where(a => !a.Result.IsFailed && a.Result.Measures[^1] is not null)
                        .OrderBy(a => search.OutcomeOf(a.Result))
                        .Select(Told)
                        .FirstOrDefault();
                    var answer = new Answer(
                        search.Why,
                        search.Ended,
                        made.Count,
                        best,
                        parsed.GetValue(all) ? [.. made.Select(Told)] : null
                    );
                    if (parsed.GetValue(json))
                        Console.WriteLine(JsonSerializer.Serialize(answer, CommandParts.Json));
                    else
                        Write(answer, parsed.GetValue(kept));
                    return best is null || parsed.GetValue(kept) && !best.MeetsRequirements ? 1 : 0;
                })
        );
        return command;
    }

    static void Write(Answer answer, bool isKept)
    {
        Console.WriteLine($"{answer.Why} {answer.Ended}".TrimEnd());
        if (answer.Best is not { } best)
        {
            Console.Error.WriteLine($"error: none of {answer.Runs} runs has a value.");
            return;
        }

        foreach (var (name, text) in best.Values)
            Console.WriteLine($"{name} = {text}");
        Console.WriteLine($"least: {best.Goal?.ToString("G8", CultureInfo.InvariantCulture)} in run {best.Run} of {answer.Runs}");
        if (isKept && !best.MeetsRequirements)
            Console.Error.WriteLine("error: no run meets all requirements; this one misses least.");
    }
}
