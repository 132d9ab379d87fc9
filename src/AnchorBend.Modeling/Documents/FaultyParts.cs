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
        var output = Output(document, catalog, fault.Signal);
        var (signal, type) = (output.Signal, output.Type);
        var level = document.Level(signal.Part.Above)!.Value;
        var at = level.Diagram.Parts[signal.Part.Id];
        var isReal = type == "Real";
        if (!isReal && fault.Kind is FaultKind.Drift or FaultKind.Gain or FaultKind.Noise or FaultKind.Delay or FaultKind.Bias)
            throw new DocumentException($"a {fault.Kind.ToString().ToLowerInvariant()} is one of real signals only.");
        var kind = isReal ? ClassOf(fault.Kind) : Discrete(type, fault.Kind);
        var diagram = level.Diagram with
        {
            Parts = new Dictionary<string, PartNode>(level.Diagram.Parts) { [SwitchOf(id)] = Switched(fault, at) },
        };
        diagram = output.Elements is { } size
            ? InsertedIntoVector(diagram, id, output, size, kind, fault, at)
            : Inserted(diagram, id, PartOf(id), signal, Part(kind, fault, at, Parameters(fault, type), "fault"));
        if (fault.Validity is { Length: > 0 } validity)
        {
            var valid = Output(document, catalog, validity);
            if (valid.Type != "Boolean")
                throw new DocumentException("what says whether the signal is valid must be true or false.");
            if (valid.Signal.Part.Above != signal.Part.Above)
                throw new DocumentException("what says whether the signal is valid must stand on the same level.");
            var place = diagram.Parts[valid.Signal.Part.Id];
            diagram = Inserted(
                diagram,
                id,
                ValidityOf(id),
                valid.Signal,
                Part("FaultTruth", fault, place, new() { ["value"] = "false" }, "validity")
            );
        }

        return document.With(level.Id, diagram);
    }

    /// <summary>An output that can be falsified.</summary>
    /// <param name="Type">Real, Boolean or Integer.</param>
    /// <param name="Elements">How many signals its one wire carries; null for one that is a signal itself.</param>
    /// <param name="Element">Which of them alone is meant; null for all.</param>
    sealed record FaultyOutput(SignalReference Signal, string Type, int? Elements = null, int? Element = null);

    /// <exception cref="DocumentException">It is no output that can be falsified.</exception>
    static FaultyOutput Output(ModelDocument document, PartCatalog catalog, string text)
    {
        if (
            !SignalReference.TryParse(text, out var signal)
            || document.Level(signal.Part.Above) is not { } level
            || !level.Diagram.Parts.TryGetValue(signal.Part.Id, out var part)
            || catalog.Find(part.Type) is not { } definition
        )
            throw new DocumentException("its signal is not in the model any more.");
        if (document.UsesOf(level.Id).Take(2).Count() > 1)
            throw new DocumentException($"'{part.Name}' stands in a definition that is used several times.");
        if (BundlePart.Is(definition))
            return BundlePart.Joins(definition) || !BundlePart.Members(part, definition).Contains(signal.Port)
                ? throw new DocumentException(
                    $"'{part.Name}' is a bundle; give the fault to a signal before it or to one picked out of it."
                )
                : new FaultyOutput(signal, MemberTypes.Of(document, catalog, signal.Port));
        var name = signal.Port.Split('[')[0];
        var described = catalog.Describe(part.Type);
        var port =
            PortPart.KindOf(definition) == PortKind.Input
                ? PortPart.Placed(described, part).Ports.FirstOrDefault()
                : PortPart.Placed(described, part).Ports.FirstOrDefault(p => p.Name == name && p.Causality == Causality.Output);
        if (port is not { Domain: null } || port.Type is not ("Real" or "Boolean" or "Integer"))
            throw new DocumentException($"'{part.Name}' has no output '{DocumentLimits.Short(signal.Port)}'.");
        if (!port.IsVector)
            return new FaultyOutput(signal, port.Type);
        if (port.Type != "Real")
            throw new DocumentException("vectors of truths or whole numbers take no faults; give it to a signal before the vector.");
        var size = PortCount.Known(port, n =>
            part.Parameters.GetValueOrDefault(n) ?? described.Parameters.FirstOrDefault(p => p.Name == n)?.Default ?? ""
        ) ?? throw new DocumentException($"how many signals '{part.Name}' gives does not stand in its parameters as a number.");
        if (size is < 1 or > MostElements)
            throw new DocumentException($"a vector with a fault has at most {MostElements} signals.");
        var whole = signal with { Port = name };
        if (name == signal.Port)
            return new FaultyOutput(whole, port.Type, size);
        return
            int.TryParse(signal.Port[(name.Length + 1)..^1], CultureInfo.InvariantCulture, out var element)
            && element >= 1
            && element <= size
            ? new FaultyOutput(whole, port.Type, size, element)
            : throw new DocumentException($"'{part.Name}' gives {size} signals; there is no {DocumentLimits.Short(text)}.");
    }

    /// <summary>What the parts that take vectors apart and put them together can have.</summary>
    const int MostElements = 50;

    /// <summary>The vector is taken apart, signals are falsified one by one, and put together again.</summary>
    static DiagramDefinition InsertedIntoVector(
        DiagramDefinition diagram,
        string id,
        FaultyOutput output,
        int size,
        string kind,
        FaultNode fault,
        PartNode at
    )
    {
        var (apart, joined) = ($"{PartOf(id)}-apart", $"{PartOf(id)}-joined");
        var count = new Dictionary<string, string> { ["n"] = size.ToString(CultureInfo.InvariantCulture) };
        var parts = new Dictionary<string, PartNode>(diagram.Parts)
        {
            [apart] = Part("Unstack", fault, at, count, "apart"),
            [joined] = Part("Stack", fault, at, count, "fault"),
        };
        var source = new PortReference(output.Signal.Part.Id, output.Signal.Port);
        var wires = diagram.Wires.ToDictionary(
            w => w.Key,
            w => w.Value.From == source ? w.Value with { From = new PortReference(joined, "y") } : w.Value
        );
        wires[apart] = new WireNode { From = source, To = new PortReference(apart, "u") };
        for (var e = 1; e <= size; e++)
        {
            var one = $"{PartOf(id)}-{e}";
            var (taken, put) = (new PortReference(apart, $"y[{e}]"), new PortReference(joined, $"u[{e}]"));
            if (output.Element is { } only && only != e)
            {
                wires[one] = new WireNode { From = taken, To = put };
                continue;
            }

            var parameters = Parameters(fault, "Real");
            if (fault.Kind == FaultKind.Noise)
                parameters["seed"] = e.ToString(CultureInfo.InvariantCulture);
            parts[one] = Part(kind, fault, at, parameters, $"fault {e}");
            wires[$"{one}-in"] = new WireNode { From = taken, To = new PortReference(one, "u") };
            wires[$"{one}-out"] = new WireNode { From = new PortReference(one, "y"), To = put };
            wires[$"{one}-on"] = new WireNode { From = new PortReference(SwitchOf(id), "y"), To = new PortReference(one, "active") };
        }

        return diagram with
        {
            Parts = parts,
            Wires = wires,
        };
    }

    /// <summary>All wires from the output come from the part instead, which has one to it.</summary>
    static DiagramDefinition Inserted(DiagramDefinition diagram, string fault, string id, SignalReference signal, PartNode part)
    {
        var source = new PortReference(signal.Part.Id, signal.Port);
        var parts = new Dictionary<string, PartNode>(diagram.Parts) { [id] = part };
        var wires = diagram.Wires.ToDictionary(
            w => w.Key,
            w => w.Value.From == source ? w.Value with { From = new PortReference(id, "y") } : w.Value
        );
        wires[id] = new WireNode { From = source, To = new PortReference(id, "u") };
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
