using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Verification.Measures;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend measure</c>: runs a model and evaluates measures on what it recorded.</summary>
static class MeasureCommand
{
    public static Command Create()
    {
        var file = CommandParts.File();
        var measures = new Argument<string[]>("MEASURE")
        {
            Description =
                "Measures such as \"minimum(depth, from = 5)\" or \"duration(speed > 0.2)\"; without any, those of the document. "
                + "Functions: "
                + string.Join(", ", MeasureFunction.All.Select(f => f.Name)),
            Arity = ArgumentArity.ZeroOrMore,
        };
        var arguments = new RunArguments();
        var json = new Option<bool>("--json") { Description = "Print a list with expression, value, unit and instant as JSON" };
        var command = new Command("measure", "Run a model and measure it; exit code 1 where a measure has no value")
        {
            file,
            measures,
            json,
        };
        arguments.AddTo(command);
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        var model = ModelFile.Read(parsed.GetValue(file)!);
                        var wanted = parsed.GetValue(measures) is { Length: > 0 } given
                            ? given.Select(m => (Name: m, Expression: m)).ToList()
                            : [.. (model.Document?.Measures ?? []).Values.Select(m => (m.Name, m.Expression))];
                        if (wanted.Count == 0)
                            throw new CommandException("Say what to measure, such as \"maximum(depth)\"; the model has no measures.");
                        var prepared = model.PrepareToRun(CommandParts.Settings(parsed.GetValue(arguments.Set)));
                        var parameters = new ParameterSet(prepared.Model);
                        var options = arguments.OptionsOf(parsed, model);
                        if (options.Problem() is { } problem)
                            throw new CommandException(problem);
                        using var session = new RunSession(prepared, parameters, options);
                        session.Advance(new PauseAt(), cancellation);
                        var run = session.Result();
                        using var trace = run.Trace;
                        var evaluation = new MeasureEvaluation(prepared, parameters.Values, trace, options.Start, options.End);
                        var results = wanted.Select(w => (w.Name, Result: evaluation.Evaluate(w.Expression))).ToList();
                        if (parsed.GetValue(json))
                            Console.WriteLine(JsonSerializer.Serialize(results.Select(r => Record(r.Name, r.Result)), CommandParts.Json));
                        else
                            foreach (var (name, result) in results)
                                Console.WriteLine($"{name}: {Told(result)}");
                        if (run.Failure is { } failure)
                            Console.Error.WriteLine(
                                $"error: {failure.Message} {failure.Advice} The measures are of the run up to {failure.Time:G6} s."
                            );
                        return run.Failure is not null || results.Any(r => r.Result.Value is null) ? 1 : 0;
                    })
                )
        );
        return command;
    }

    static object Record(string name, MeasureResult result) =>
        new
        {
            Name = name == result.Expression ? null : name,
            result.Expression,
            result.Value,
            result.Unit,
            result.Shown,
            result.ShownUnit,
            result.Instant,
            result.Problem,
        };

    static string Told(MeasureResult result) =>
        result.Value is not { } value
            ? result.Problem!
            : (result.Shown ?? value).ToString("G10", CultureInfo.InvariantCulture)
                + (result.ShownUnit.Length > 0 ? " " + result.ShownUnit : "")
                + (result.Instant is { } t && t != value ? $" at {t.ToString("G8", CultureInfo.InvariantCulture)} s" : "");
}
