using System.CommandLine;
using System.Text.Json;
using AnchorBend.Delivery;
using AnchorBend.Delivery.Exchange;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend unit</c>: exchange units of the open standard FMI.</summary>
static class UnitCommand
{
    public static Command Create() => new("unit", "Exchange units of the open standard FMI") { Export() };

    static Command Export()
    {
        var file = CommandParts.File();
        var arguments = new UnitArguments("rk4");
        var version = new Option<string>("--version") { Description = "Of the standard: 2.0 or 3.0", DefaultValueFactory = _ => "3.0" };
        version.AcceptOnlyFromAmong("2.0", "3.0");
        var target = new Option<FileInfo?>("--out") { Description = "The archive; called as the part where it is left out" };
        var json = new Option<bool>("--json") { Description = "Print what was written as JSON" };
        var command = new Command("export", "Write a part of a model document, or all of it, as an exchange unit for co-simulation")
        {
            file,
            version,
            target,
            json,
        };
        arguments.AddTo(command);
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        if (ModelFile.Read(parsed.GetValue(file)!).Document is not { } document)
                            throw new CommandException("Exchange units are made from model documents (.json).");
                        try
                        {
                            var unit = CodeUnit.Of(document, PartCatalog.Of(document), arguments.Request(parsed));
                            var end = TypedValue.Number(document.Settings.End, Language.Units.Unit.Parse("s"));
                            var (name, bytes) = ExchangeUnit.Pack(unit, parsed.GetValue(version)!, end, cancellation);
                            var path = parsed.GetValue(target)?.FullName ?? Path.GetFullPath(name);
                            File.WriteAllBytes(path, bytes);
                            var (inputs, outputs) = (unit.Inputs.Select(i => i.Name), unit.Outputs.Select(o => o.Name));
                            Console.WriteLine(
                                parsed.GetValue(json)
                                    ? JsonSerializer.Serialize(
                                        new
                                        {
                                            file = path,
                                            bytes = bytes.Length,
                                            inputs,
                                            outputs,
                                            parameters = unit.Tunable.Select(t => t.Name),
                                        },
                                        CommandParts.Json
                                    )
                                    : $"{path}: {bytes.Length} bytes, inputs {Listed(inputs)}, outputs {Listed(outputs)}"
                            );
                            return 0;
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

    static string Listed(IEnumerable<string> names) => names.Any() ? string.Join(", ", names) : "none";
}
