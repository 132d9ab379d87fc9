using System.CommandLine;
using System.Text.Json;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend check</c>: says what is wrong with a model.</summary>
static class CheckCommand
{
    public static Command Create()
    {
        var file = CommandParts.File();
        var json = new Option<bool>("--json") { Description = "Print findings as JSON" };
        var command = new Command("check", "List a model's findings; exit code 1 when there are errors") { file, json };
        command.SetAction(parsed =>
            CommandParts.Guarded(() =>
            {
                var prepared = ModelFile.Read(parsed.GetValue(file)!).Prepare();
                var errors = prepared.Findings.Count(f => f.Severity == Severity.Error);
                var unknowns =
                    prepared.Model.Variables.Count(v => v.Role is VariableRole.Continuous or VariableRole.Discrete)
                    - prepared.Model.Variables.Count(v => v.Derivative >= 0);
                if (parsed.GetValue(json))
                {
                    Console.WriteLine(
                        JsonSerializer.Serialize(
                            new
                            {
                                model = prepared.Model.Name,
                                equations = prepared.Model.Equations.Count,
                                unknowns,
                                errors,
                                findings = prepared.Findings.Select(f => new
                                {
                                    f.Severity,
                                    f.Code,
                                    f.Message,
                                    f.Part,
                                    f.Item,
                                    line = f.At.Line,
                                    column = f.At.Column,
                                    f.Suggestion,
                                }),
                            },
                            CommandParts.Json
                        )
                    );
                    return errors > 0 ? 1 : 0;
                }

                foreach (var finding in prepared.Findings)
                    Console.WriteLine(FindingText.Print(finding));
                Console.WriteLine(
                    $"{prepared.Model.Equations.Count} equations, {unknowns} unknowns, {errors} error{(errors == 1 ? "" : "s")}, "
                        + $"{prepared.Findings.Count(f => f.Severity == Severity.Warning)} warnings"
                );
                return errors > 0 ? 1 : 0;
            })
        );
        return command;
    }
}
