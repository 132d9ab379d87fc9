using System.Globalization;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// A document with its faults put in: behind each output that one falsifies comes a part that does it, and beside that one which says
/// whether it is there. Without faults it is the same document; while none is there, every such part hands its input on.
/// </summary>
public static class FaultyParts
{
    /// <summary>Parts that are put in, by what they are for.</summary>
    static string PartOf(string fault) => $"fault-{fault}";

    static string ValidityOf(string fault) => $"fault-{fault}-valid";

    static string SwitchOf(string fault) => $"fault-{fault}-on";

    /// <summary>The part that says whether a fault is there, by its path; null where the fault was not put in.</summary>
    public static PartPath? Switch(ModelDocument document, string fault) =>
        document.Faults.TryGetValue(fault, out var node) && SignalReference.TryParse(node.Signal, out var signal)
            ? signal.Part.Above.Then(SwitchOf(fault))
            : null;

    /// <summary>The path of that part by names, in the flat model; null likewise.</summary>
    public static string? SwitchName(ModelDocument document, string fault)
    {
        if (Switch(document, fault) is not { } path || document.NamePath(path.Above) is not { } above)
            return null;
        var name = $"{document.Faults[fault].Name} switch";
        return above.Length == 0 ? name : $"{above}.{name}";
    }

    /// <param name="findings">Is told what cannot be put in.</param>
    public static ModelDocument Of(ModelDocument document, PartCatalog catalog, List<Finding> findings)
    {
        if (document.Faults.Count == 0)
            return document;
        foreach (var (id, fault) in document.Faults)
        {
            try
            {
                document = With(document, catalog, id, fault);
            }
            catch (DocumentException e)
            {
                findings.Add(
                    new Finding(
                        Severity.Warning,
                        "fault",
                        $"The fault '{fault.Name}' is not put in: {e.Message}",
                        "",
                        fault.Name,
                        Suggestion: "Change it in the list of faults."
                    )
                );
            }
        }

        return document;
    }

    static ModelDocument With(ModelDocument document, PartCatalog catalog, string id, FaultNode fault)
    {
        var (signal, type) = Output(document, catalog, fault.Signal);
        var level = document.Level(signal.Part.Above)!.Value;
        var at = level.Diagram.Parts[signal.Part.Id];
        var isReal = type == "Real";
        if (!isReal && fault.Kind is FaultKind.Drift or FaultKind.Gain or FaultKind.Noise or FaultKind.Delay or FaultKind.Bias)
            throw new DocumentException($"a {fault.Kind.ToString().ToLowerInvariant()} is one of real signals only.");
        var diagram = Inserted(
            level.Diagram,
            id,
            PartOf(id),
            signal,
            Part(isReal ? ClassOf(fault.Kind) : Discrete(type, fault.Kind), fault, at, Parameters(fault, type), "fault"),
            Switched(fault, at)
        );
        if (fault.Validity is { Length: > 0 } validity)
        {
            var (valid, kind) = Output(document, catalog, validity);
            if (kind != "Boolean")
                throw new DocumentException("what says whether the signal is valid must be true or false.");
            if (valid.Part.Above != signal.Part.Above)
                throw new DocumentException("what says whether the signal is valid must stand on the same level.");
            var place = diagram.Parts[valid.Part.Id];
            diagram = Inserted(
                diagram,
                id,
                ValidityOf(id),
                valid,
                Part("FaultTruth", fault, place, new() { ["value"] = "false" }, "validity"),
                null
            );
        }

        return document.With(level.Id, diagram);
    }

    /// <exception cref="DocumentException">It is no output that can be falsified.</exception>
    static (SignalReference Signal, string Type) Output(ModelDocument document, PartCatalog catalog, string text)
    {
        if (
            !SignalReference.TryParse(text, out var signal)
            || document.Level(signal.Part.Above) is not { } level
            || !level.Diagram.Parts.TryGetValue(signal.Part.Id, out var part)
            || catalog.Find(part.Type) is null
        )
            throw new DocumentException("its signal is not in the model any more.");
        if (document.UsesOf(level.Id).Take(2).Count() > 1)
            throw new DocumentException($"'{part.Name}' stands in a definition that is used several times.");
        var name = signal.Port.Split('[')[0];
        var port =
            PortPart.KindOf(catalog.Find(part.Type)) == PortKind.Input
                ? catalog.Describe(part.Type).Ports.FirstOrDefault()
                : catalog.Describe(part.Type).Ports.FirstOrDefault(p => p.Name == name && p.Causality == Causality.Output);
        if (port is not { Domain: null, IsVector: false } || port.Type is not ("Real" or "Boolean" or "Integer"))
            throw new DocumentException($"'{part.Name}' has no single output '{DocumentLimits.Short(signal.Port)}'.");
        return (signal, port.Type);
    }

    /// <summary>All wires from the output come from the part instead, which has one to it.</summary>
    static DiagramDefinition Inserted(
        DiagramDefinition diagram,
        string fault,
        string id,
        SignalReference signal,
        PartNode part,
        PartNode? switching
    )
    {
        var source = new PortReference(signal.Part.Id, signal.Port);
        var parts = new Dictionary<string, PartNode>(diagram.Parts) { [id] = part };
        var wires = diagram.Wires.ToDictionary(
            w => w.Key,
            w => w.Value.From == source ? w.Value with { From = new PortReference(id, "y") } : w.Value
        );
        wires[id] = new WireNode { From = source, To = new PortReference(id, "u") };
        if (switching is not null)
            parts[SwitchOf(fault)] = switching;
        wires[$"{id}-on"] = new WireNode { From = new PortReference(SwitchOf(fault), "y"), To = new PortReference(id, "active") };
        return diagram with { Parts = parts, Wires = wires };
    }

    static PartNode Part(string type, FaultNode fault, PartNode at, Dictionary<string, string> parameters, string what) =>
        new()
        {
            Type = type,
            Name = $"{fault.Name} {what}",
            X = at.X,
            Y = at.Y,
            Parameters = parameters,
        };

    static PartNode Switched(FaultNode fault, PartNode at)
    {
        if (fault.Times is not { Length: > 0 } times)
            return Part("BooleanConstant", fault, at, new() { ["k"] = fault.IsActive ? "true" : "false" }, "switch");
        var read = times
            .Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
            .Select(t => Seconds(t).ToString("R", CultureInfo.InvariantCulture));
        return Part(
            "BooleanTable",
            fault,
            at,
            new() { ["t"] = $"{{{string.Join(", ", read)}}}", ["first"] = fault.IsActive ? "true" : "false" },
            "switch"
        );
    }

    static double Seconds(string text)
    {
        try
        {
            return Parser.ParseField(text) switch
            {
                NumberLiteral n => n.Value,
                Quantity { Value: NumberLiteral n } q when q.Unit.Fits(Language.Units.Unit.Parse("s")) => n.Value * q.Unit.Factor,
                _ => throw new DocumentException($"'{DocumentLimits.Short(text)}' is no time."),
            };
        }
        catch (LanguageException)
        {
            throw new DocumentException($"'{DocumentLimits.Short(text)}' is no time.");
        }
    }

    static string ClassOf(FaultKind kind) =>
        kind switch
        {
            FaultKind.Given => "FaultGiven",
            FaultKind.Bias => "FaultBias",
            FaultKind.Drift => "FaultDrift",
            FaultKind.Gain => "FaultGain",
            FaultKind.Noise => "FaultNoise",
            FaultKind.Delay => "FaultDelay",
            FaultKind.Intermittent => "FaultIntermittent",
            _ => "FaultHeld",
        };

    static string Discrete(string type, FaultKind kind) =>
        (type, kind) switch
        {
            ("Boolean", FaultKind.Given) => "FaultTruth",
            ("Boolean", FaultKind.Intermittent) => "FaultTruthIntermittent",
            ("Boolean", _) => "FaultTruthHeld",
            (_, FaultKind.Given) => "FaultWhole",
            (_, FaultKind.Intermittent) => "FaultWholeIntermittent",
            _ => "FaultWholeHeld",
        };

    static Dictionary<string, string> Parameters(FaultNode fault, string type) =>
        fault.Kind is FaultKind.Stuck or FaultKind.Lost || fault.Value is not { Length: > 0 } value
            ? []
            : new() { [fault.Kind is FaultKind.Delay or FaultKind.Intermittent ? "T" : "value"] = value };
}
