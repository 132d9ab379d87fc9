using System.CommandLine;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Verification;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend verify</c>: runs a document and checks its requirements.</summary>
static class VerifyCommand
{
    public static Command Create()
    {
        var file = CommandParts.File();
        var set = CommandParts.Set();
        var json = new Option<bool>("--json") { Description = "Print verdicts as JSON" };
        var command = new Command("verify", "Run a model document and check its requirements; exit code 1 when one is missed")
        {
            file,
            set,
            json,
        };
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        var model = ModelFile.Read(parsed.GetValue(file)!);
                        if (model.Document is not { } document)
                            throw new CommandException("Requirements belong to model documents (.json); text models have none.");
                        var prepared = model.PrepareToRun(CommandParts.Settings(parsed.GetValue(set)));
                        var parameters = new ParameterSet(prepared.Model);
                        var options = RunOptionsOf(document);
                        var (result, verdicts) = VerifiedRun.Of(prepared, parameters, options, document, cancellation);
                        if (parsed.GetValue(json))
                            Console.WriteLine(
                                JsonSerializer.Serialize(
                                    new
                                    {
                                        met = verdicts.Count(v => v.Kind == VerdictKind.Met),
                                        missed = verdicts.Count(v => v.Kind == VerdictKind.Missed),
                                        verdicts,
                                        failure = result.Failure,
                                    },
                                    CommandParts.Json
                                )
                            );
                        else
                            foreach (var v in verdicts)
                                Console.WriteLine(
                                    $"{v.Kind.ToString().ToLowerInvariant(), -7} {v.Name}: {Figures(v)}{v.Explanation}"
                                        + (v.Decides is { } t ? $" ({t:G5} s)" : "")
                                );
                        if (result.Failure is { } failure)
                            Console.Error.WriteLine($"error: {failure.Message} {failure.Advice}");
                        return result.Failure is not null || verdicts.Any(v => v.Kind != VerdictKind.Met) ? 1 : 0;
                    })
                )
        );
        return command;
    }

    static string Figures(Verdict v) =>
        v.Actual is { } actual ? $"{actual:G4} {v.Unit} of {v.Limit:G4} {v.Unit}, "
        : v.Margin is { } margin ? $"{margin:G4} {v.Unit} left, "
        : "";

    static RunOptions RunOptionsOf(ModelDocument document)
    {
        try
        {
            return DocumentRun.OptionsOf(document);
        }
        catch (DocumentException e)
        {
            throw new CommandException(e.Message);
        }
    }
}
