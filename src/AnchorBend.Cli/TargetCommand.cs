using System.CommandLine;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Delivery;
using AnchorBend.Delivery.Targets;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Verification;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend target</c>: code on a target, with the plant of its model.</summary>
static class TargetCommand
{
    public static Command Create() => new("target", "Code on a target, with the plant of its model") { Run() };

    static Command Run()
    {
        var file = CommandParts.File();
        var names = new Option<string[]>("--delivery")
        {
            Description = "A delivery of the model by its name; the first one has the plant, others can take over",
            Required = true,
            AllowMultipleArgumentsPerToken = false,
        };
        var switches = new Option<string[]>("--hand-over")
        {
            Description = "NAME@TIME: the delivery that gets the plant from then on; may be repeated",
            AllowMultipleArgumentsPerToken = false,
        };
        var board = new Option<bool>("--board") { Description = "On a simulated board with a Cortex-M4, which counts instructions" };
        var json = new Option<bool>("--json") { Description = "Print what came out as JSON" };
        var command = new Command("run", "Run a model with the code of deliveries in the place of their part")
        {
            file,
            names,
            switches,
            board,
            json,
        };
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        var source = ModelFile.Read(parsed.GetValue(file)!);
                        if (source.Document is not { } document)
                            throw new CommandException("Deliveries are in model documents (.json).");
                        var whole = source.PrepareToRun(new Dictionary<string, string>());
                        var deliveries = parsed.GetValue(names)!.Select(n => Delivery(document, n)).ToList();
                        var overs = (parsed.GetValue(switches) ?? []).Select(s => HandOver(document, s, deliveries)).ToList();
                        try
                        {
                            using var target = TargetRun.Start(
                                whole,
                                document,
                                PartCatalog.Of(document),
                                deliveries,
                                parsed.GetValue(board) ? TargetKind.Board : TargetKind.Process,
                                cancellation
                            );
                            return Report(target, Made(target, overs, cancellation), parsed.GetValue(json));
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

    static string Delivery(ModelDocument document, string name) =>
        document.Deliveries.FirstOrDefault(d => d.Value.Name == name).Key
        ?? throw new CommandException(
            $"The model has no delivery '{name}'. It has {string.Join(", ", document.Deliveries.Select(d => d.Value.Name).Order())}."
        );

    static (double Time, int Unit) HandOver(ModelDocument document, string text, List<string> deliveries)
    {
        var at = text.LastIndexOf('@');
        if (at <= 0)
            throw new CommandException($"--hand-over needs NAME@TIME, not '{text}'.");
        var unit = deliveries.IndexOf(Delivery(document, text[..at]));
        if (unit < 0)
            throw new CommandException($"'{text[..at]}' is not on the target: name it by --delivery too.");
        return (CommandParts.Seconds(text[(at + 1)..], "--hand-over"), unit + 1);
    }

    static VerifiedRun Made(TargetRun target, List<(double Time, int Unit)> overs, CancellationToken cancellation)
    {
        var (document, prepared, _) = target.Joined;
        using var session = new RunSession(
            prepared,
            new ParameterSet(prepared.Model),
            DocumentRun.OptionsOf(document) with
            {
                Given = target.Given,
            }
        );
        var part = PartPath.TryParse(target.View().Part, out var path) ? prepared.Map.NameOf(path) : null;
        foreach (var (time, unit) in overs.OrderBy(o => o.Time))
        {
            session.Advance(new PauseAt { Time = time }, cancellation);
            if (!session.IsOver)
                session.Set($"{part}.{TargetDocument.Active}", unit);
        }

        session.Advance(new PauseAt(), cancellation);
        return VerifiedRun.Of(session, document);
    }

    static int Report(TargetRun target, VerifiedRun run, bool asJson)
    {
        var view = target.View();
        var failure = run.Result.Failure;
        var met = run.Verdicts.All(v => v.Kind == VerdictKind.Met);
        if (asJson)
            Console.WriteLine(
                JsonSerializer.Serialize(
                    new
                    {
                        target = view,
                        failure,
                        requirements = run.Verdicts,
                    },
                    CommandParts.Json
                )
            );
        else
            Print(view, run);
        if (failure is not null)
            Console.Error.WriteLine($"error: {failure.Message} {failure.Advice}");
        return failure is null && met ? 0 : 1;
    }

    static void Print(TargetView view, VerifiedRun run)
    {
        foreach (var unit in view.Units)
        {
            var cost = unit.Cost;
            var measure = view.Kind == TargetKind.Board ? "instructions" : "ns";
            var told = FormattableString.Invariant($"{cost.Least:F0} at least, {cost.Median:F0} typically, {cost.Most:F0} at most");
            Console.WriteLine($"{unit.Name}: {cost.Steps} steps; {measure}: {told}");
        }

        foreach (var (unit, size) in view.Units.Where(u => u.Size is not null).Select(u => (u, u.Size!)))
            Console.WriteLine($"{unit.Name}: {size.Flash} bytes of code and constants, {size.Memory} of data, {size.Stack} of stack");
        foreach (var over in view.HandOvers)
        {
            var (from, to) = (view.Units[over.From].Name, view.Units[over.To].Name);
            Console.WriteLine(
                FormattableString.Invariant($"{from} to {to} at {over.Time:G6} s: {over.Output} {over.Before:G6} to {over.After:G6}")
            );
        }

        foreach (var verdict in run.Verdicts)
            Console.WriteLine($"{verdict.Name}: {verdict.Kind}, {verdict.Explanation}");
    }
}
