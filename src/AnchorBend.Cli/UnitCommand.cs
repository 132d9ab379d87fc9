using System.CommandLine;
using System.Text.Json;
using AnchorBend.Delivery;
using AnchorBend.Delivery.Exchange;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Code;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend unit</c>: exchange units of the open standard FMI.</summary>
static class UnitCommand
{
    public static Command Create() => new("unit", "Exchange units of the open standard FMI") { Export(), Check(), Import() };

    static Command Export()
    {
        var file = CommandParts.File();
        var arguments = new UnitArguments("rk4");
        var version = new Option<string>("--version") { Description = "Of the standard: 2.0 or 3.0", DefaultValueFactory = _ => "3.0" };
        version.AcceptOnlyFromAmong("2.0", "3.0");
        var kind = new Option<string>("--kind")
        {
            Description = "co-simulation: it steps by itself; model-exchange: who has it integrates it, whatever --step and --method",
            DefaultValueFactory = _ => "co-simulation",
        };
        kind.AcceptOnlyFromAmong("co-simulation", "model-exchange");
        var target = new Option<FileInfo?>("--out") { Description = "The archive; called as the part where it is left out" };
        var json = new Option<bool>("--json") { Description = "Print what was written as JSON" };
        var command = new Command("export", "Write a part of a model document, or all of it, as an exchange unit")
        {
            file,
            version,
            kind,
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
                            var request = arguments.Request(parsed) with { IsSolvedOutside = parsed.GetValue(kind) == "model-exchange" };
                            var unit = CodeUnit.Of(document, PartCatalog.Of(document), request);
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

    static string Kind(UnitDescription description) => description.Flow is null ? "co-simulation" : "model exchange";

    static Argument<FileInfo> Archive() => new Argument<FileInfo>("UNIT") { Description = "An exchange unit (.fmu)" }.AcceptExistingOnly();

    static Command Check()
    {
        var file = Archive();
        var json = new Option<bool>("--json") { Description = "Print what it says of itself as JSON" };
        var command = new Command("check", "Read an exchange unit of somebody else and try it for one step, in a process of its own")
        {
            file,
            json,
        };
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        var (unit, outputs) = Read(parsed.GetValue(file)!, cancellation);
                        var description = unit.Description;
                        if (parsed.GetValue(json))
                        {
                            var printed = JsonSerializer.Serialize(
                                new
                                {
                                    unit = description,
                                    hash = unit.Hash,
                                    after = outputs,
                                    walls = Sandbox.HasWalls,
                                },
                                CommandParts.Json
                            );
                            Console.WriteLine(printed);
                            return 0;
                        }

                        Console.WriteLine($"{description.Name}: FMI {(description.IsThird ? "3.0" : "2.0")}, {Kind(description)}");
                        foreach (var role in Enum.GetValues<UnitRole>())
                            Console.WriteLine($"{role.ToString().ToLowerInvariant()}s: {Listed(description.Of(role).Select(v => v.Name))}");
                        if (description.Left.Count > 0)
                            Console.WriteLine($"left out: {Listed(description.Left)}");
                        Console.WriteLine(
                            $"runs {(Sandbox.HasWalls ? "with walls around it" : "with limits alone: install bubblewrap for walls")}"
                        );
                        return 0;
                    })
                )
        );
        return command;
    }

    static Command Import()
    {
        var file = Archive();
        var model = new Argument<FileInfo>("MODEL") { Description = "A model document (.json)" }.AcceptExistingOnly();
        var name = new Option<string?>("--name") { Description = "What the part is called; as the unit without it" };
        var target = new Option<FileInfo?>("--out") { Description = "The changed document; MODEL itself without it" };
        var command = new Command("import", "Put an exchange unit into a model as a part, which brings it along")
        {
            file,
            model,
            name,
            target,
        };
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        var (unit, _) = Read(parsed.GetValue(file)!, cancellation);
                        if (ModelFile.Read(parsed.GetValue(model)!).Document is not { } document)
                            throw new CommandException("Exchange units become parts of model documents (.json).");
                        var label = parsed.GetValue(name) ?? unit.Description.Name;
                        var changed = UnitFiles.With(document, unit, label);
                        var path = (parsed.GetValue(target) ?? parsed.GetValue(model)!).FullName;
                        File.WriteAllText(path, changed.ToJson(true));
                        Console.WriteLine($"{path}: has the part {label} now");
                        return 0;
                    })
                )
        );
        return command;
    }

    static (UnitArchive Unit, IReadOnlyList<double> Outputs) Read(FileInfo file, CancellationToken cancellation)
    {
        try
        {
            if (file.Length > UnitArchive.MostPacked)
                throw new CommandException($"{file.Name} is larger than {UnitArchive.MostPacked >> 20} MiB.");
            var unit = UnitArchive.Read(File.ReadAllBytes(file.FullName), cancellation);
            UnitLibrary.Add(unit, cancellation);
            return (unit, UnitTrial.Of(unit));
        }
        catch (DeliveryException e)
        {
            throw new CommandException($"{file.Name}: {e.Message} {e.Advice}");
        }
    }

    static string Listed(IEnumerable<string> names) => names.Any() ? string.Join(", ", names) : "none";
}
