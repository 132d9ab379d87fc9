using System.CommandLine;
using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Studies;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend falsify</c>: searches a run that misses a requirement.</summary>
static class FalsifyCommand
{
    static readonly string[] Methods = ["auto", "simplex", "covariance", "differential"];

    sealed record Answer(
        string Why,
        string? Ended,
        int Runs,
        bool IsMissed,
        double? LeastMargin,
        IReadOnlyDictionary<string, string>? Values
    );

    public static Command Create()
    {
        var arguments = new StudyArguments();
        var requirement = new Option<string>("--requirement") { Description = "Its name or identifier; all without it" };
        var method = new Option<string>("--method") { Description = string.Join(", ", Methods), DefaultValueFactory = _ => "auto" };
        method.AcceptOnlyFromAmong(Methods);
        var runs = new Option<int>("--runs") { Description = "How many runs it may take", DefaultValueFactory = _ => 300 };
        var goesOn = new Option<bool>("--least") { Description = "Goes on to the least margin, instead of ending with the first miss" };
        var save = new Option<FileInfo?>("--save") { Description = "Writes the document with what was found as a test case" };
        var json = new Option<bool>("--json") { Description = "The answer as JSON" };
        var command = new Command("falsify", "Search a run that misses a requirement; exit code 1 where one is found")
        {
            requirement,
            method,
            runs,
            goesOn,
            save,
            json,
        };
        arguments.AddTo(command);
        command.SetAction(
            (parsed, cancellation) =>
                StudyArguments.Guarded(() =>
                {
                    var asked = arguments.Read(parsed, false);
                    if (asked.Model.Document is not { Requirements.Count: > 0 } document)
                        throw new CommandException("The model has no requirement that could be missed.");
                    var wanted = new StudySearchNode
                    {
                        Worst = Named(document, parsed.GetValue(requirement)),
                        Method = parsed.GetValue(method)!,
                        Runs = parsed.GetValue(runs),
                        Seed = parsed.GetValue(arguments.Seed),
                        EndsWhenMissed = !parsed.GetValue(goesOn),
                    };
                    var search = new StudySearch(wanted, asked.Factors, document, asked.Present);
                    var study = asked.Of(new StudyTable(asked.Factors, []), []);
                    var made = search.Run(study, asked.Jobs, cancellation);
                    var ran = made.Where(m => !m.Result.IsFailed).ToList();
                    if (ran.Count == 0)
                        throw new CommandException($"None of {made.Count} runs came to its end: {made.FirstOrDefault().Result?.Problem}");
                    var worst = ran.MinBy(m => search.OutcomeOf(m.Result));
                    var isMissed = search.IsCounterexample(worst.Result);
                    var values = asked.Factors.Select((f, i) => (f, worst.Row[i].Text)).ToDictionary(f => f.f.Path, f => f.Text);
                    double? margin = search.OutcomeOf(worst.Result).Value is var least && double.IsFinite(least) ? least : null;
                    var answer = new Answer(search.Why, search.Ended, made.Count, isMissed, margin, values);
                    if (parsed.GetValue(json))
                        Console.WriteLine(JsonSerializer.Serialize(answer, CommandParts.Json));
                    else
                        Write(answer);
                    if (isMissed && parsed.GetValue(save) is { } file)
                        File.WriteAllText(file.FullName, With(document, asked.Factors, worst.Row, wanted.Worst).ToJson(true));
                    return isMissed ? 1 : 0;
                })
        );
        return command;
    }

    static string Named(ModelDocument document, string? name) =>
        name is null
            ? ""
            : document.Requirements.FirstOrDefault(r => r.Value.Name == name || r.Value.Identifier == name).Key
                ?? throw new CommandException($"There is no requirement '{name}'.");

    static ModelDocument With(ModelDocument document, IReadOnlyList<StudyFactor> factors, StudyCell[] row, string? requirement)
    {
        var name = "Found by search";
        for (var n = 2; document.Cases.Values.Any(c => c.Name == name); n++)
            name = $"Found by search {n}";
        List<(string, string)> set = [.. factors.Select((f, i) => (f.Target.Length > 0 ? f.Target : f.Path, row[i].Text))];
        var json = JsonNode.Parse(document.ToJson())!;
        var action = FoundCase.Of(document, name, set, requirement is { Length: > 0 } ? requirement : null);
        JsonPatch.ApplyInPlace(json.AsObject(), action.Operations);
        return ModelDocument.FromJson(json.ToJsonString());
    }

    static void Write(Answer answer)
    {
        Console.WriteLine($"{answer.Why} {answer.Ended}".TrimEnd());
        Console.WriteLine(answer.IsMissed ? $"missed, after {answer.Runs} runs:" : $"not missed in {answer.Runs} runs; nearest:");
        foreach (var (name, text) in answer.Values ?? new Dictionary<string, string>())
            Console.WriteLine($"  {name} = {text}");
        if (answer.LeastMargin is { } margin)
            Console.WriteLine(FormattableString.Invariant($"  margin {margin:G5}"));
    }
}
