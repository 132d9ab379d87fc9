using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Makes a slot of a part: its ports stay, the part itself becomes the first of the realisations.</summary>
public sealed record MakeSlot : Restructuring
{
    public required string Part { get; init; }

    const double Left = 48,
        Inner = 192,
        Row = 48;

    internal override Restructured On(LevelAt level)
    {
        var part = level.Part(Part);
        if (level.Catalog.Find(part.Type) is not { } type)
            throw new DocumentException($"There is no part of type '{DocumentLimits.Short(part.Type)}'.");
        if (level.IsPort(part) || BundlePart.Is(type))
            throw new DocumentException($"'{part.Name}' is a port or a bundle; a slot is made of a part that does something.");
        if (level.Document.DiagramOf(part)?.Slot is not null)
            throw new DocumentException($"'{part.Name}' is a slot already; add an alternative to it.");
        var described = level.Catalog.Describe(part.Type);
        var name = level.Document.DiagramOf(part)?.Name ?? described.Title;
        if (name == part.Name)
            name += " 1";
        var ids = new Dictionary<string, string>();
        var slot = Slot(level, part, name, described, ids);
        var id = NewIds.Definition(level.Document);
        PortReference Now(PortReference end) => end.Part == Part ? end with { Port = PortName(end.Port) } : end;
        var diagram = level.Diagram with
        {
            Parts = new Dictionary<string, PartNode>(level.Diagram.Parts)
            {
                [Part] = part with { Type = DefinitionReference.OfOwn(id), Parameters = [] },
            },
            Wires = level.Diagram.Wires.ToDictionary(w => w.Key, w => w.Value with { From = Now(w.Value.From), To = Now(w.Value.To) }),
            Signals = level.Diagram.Signals.ToDictionary(
                s => s.Key.StartsWith(Part + ".", StringComparison.Ordinal) ? $"{Part}.{PortName(s.Key[(Part.Length + 1)..])}" : s.Key,
                s => s.Value
            ),
        };
        var document = level.With(diagram).With(id, slot);
        return new Restructured(
            $"Make {part.Name} a slot",
            MovedIdentities.Follow(document, level.Document, level.Id, (steps, port) => steps[0] != Part ? null
                : steps.Count == 1 && port is not null && ids.ContainsValue(port.Split('[', '.')[0]) ? ([Part], PortName(port))
                : ([Part, First, .. steps.Skip(1)], port)),
            [Part]
        );
    }

    /// <summary>The id of the first realisation on its level.</summary>
    const string First = "p1";

    /// <summary>A port of the slot for one of an array is called without brackets.</summary>
    static string PortName(string port) => port.Replace("[", "", StringComparison.Ordinal).Replace("]", "", StringComparison.Ordinal);

    /// <param name="ids">Gets the ports of the part by the ids of the slot's.</param>
    DiagramDefinition Slot(LevelAt level, PartNode part, string name, PartDescription described, Dictionary<string, string> ids)
    {
        var wired = level
            .Diagram.Wires.Values.SelectMany(w => (PortReference[])[w.From, w.To])
            .Where(e => e.Part == Part)
            .Select(e => e.Port)
            .ToHashSet();
        var parts = new Dictionary<string, PartNode>();
        var wires = new Dictionary<string, WireNode>();
        var rows = new Dictionary<string, double>();
        var (width, _) = new PartSizes(level.Diagram, level.Catalog).Of(Part);
        parts[First] = part with
        {
            Name = name,
            X = Inner,
            Y = Row,
            Flip = false,
            Turn = 0,
            OnlyWhen = Slots.Condition(Slots.Chooser, name),
            Otherwise = null,
        };
        foreach (var port in described.Ports)
        {
            IEnumerable<string> ends = port is { IsArray: true, IsVector: false }
                ? wired.Where(w => w.Split('[')[0] == port.Name).Order(StringComparer.Ordinal).DefaultIfEmpty($"{port.Name}[1]")
                : [port.Name];
            foreach (var end in ends)
            {
                if (port.Optional is not null && !wired.Contains(end))
                    continue;
                var id = NewIds.In(parts, "p");
                var isRight = port.Side is "right";
                var y = rows[port.Side] = rows.GetValueOrDefault(port.Side, 0) + Row;
                parts[id] = Port(port, end, described, isRight ? Inner + width + Row * 2 : Left, y);
                ids[id] = end.Split('[')[0];
                wires[NewIds.In(wires, "w")] = AlternativePorts.Wire(level.Catalog, parts[id], id, new PortReference(First, end));
            }
        }

        return new DiagramDefinition
        {
            Name = NewIds.DefinitionName(level.Document, part.Name),
            Slot = Slots.Chooser,
            Parameters =
            {
                [Slots.Chooser] = new ParameterNode
                {
                    Value = Slots.Words(name),
                    Description = "Which realisation is in",
                    Choices = [new ChoiceNode(name, Slots.Words(name))],
                },
            },
            Parts = parts,
            Wires = wires,
        };
    }

    static PartNode Port(PortDescription port, string end, PartDescription described, double x, double y)
    {
        var parameters = new Dictionary<string, string>();
        var isSignal = port is { Domain: null, Type: not "Bundle" };
        if (isSignal && port.Type is "Boolean" or "Integer")
            parameters["kind"] = port.Type == "Boolean" ? "Kind.truth" : "Kind.whole";
        if (isSignal && PortCount.Known(port, described.Default) is { } size && port.IsVector)
            parameters[PortPart.Size] = size.ToString(System.Globalization.CultureInfo.InvariantCulture);
        if (!isSignal || port.Side != (port.Causality == Causality.Output ? "right" : "left"))
            parameters["side"] = isSignal ? $"Side.{port.Side}" : port.Side;
        if (port.Description is { Length: > 0 } about)
            parameters["description"] = about;
        return new PartNode
        {
            Type =
                port.Domain is not null ? port.Type
                : port.Type == "Bundle" ? "BundlePort"
                : port.Causality == Causality.Output ? "OutputPort"
                : "InputPort",
            Name = PortName(end),
            X = x,
            Y = y,
            Flip = port.Domain is not null && port.Side == "right",
            Parameters = parameters,
        };
    }
}
