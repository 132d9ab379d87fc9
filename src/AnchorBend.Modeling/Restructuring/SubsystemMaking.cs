using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>
/// Parts become a definition with a diagram of its own, used once in their place. Every wire that led out of them gets a port: one for each
/// signal that comes in or goes out, one for each physical network.
/// </summary>
sealed class SubsystemMaking
{
    readonly LevelAt level;
    readonly DiagramDefinition outside;
    readonly HashSet<string> moved;
    readonly string name;
    readonly string partId,
        definitionId;
    readonly Frame frame;

    public SubsystemMaking(LevelAt level, IReadOnlyList<string> chosen, string? name)
    {
        (this.level, outside) = (level, level.Diagram);
        moved = [.. chosen.Where(id => !level.IsPort(level.Part(id)))];
        if (moved.Count == 0)
            throw new DocumentException("A subsystem is made of parts: select those it shall hold, without the ports of this level.");
        var wanted = string.IsNullOrWhiteSpace(name) ? "Subsystem" : name.Trim();
        this.name = NewIds.Name(
            wanted,
            outside.Parts.Where(p => !moved.Contains(p.Key)).Select(p => p.Value.Name).Concat(outside.Parameters.Keys).ToHashSet()
        );
        (partId, definitionId) = (NewIds.In(outside.Parts, "p"), NewIds.Definition(level.Document));
        var sizes = new PartSizes(outside, level.Catalog);
        frame = Frame.Around(moved.Select(id => Frame.Of(outside.Parts[id], sizes.Of(id))));
    }

    public Restructured Make()
    {
        var ports = new SubsystemPorts(level, moved, frame).Make();
        var names = outside.Parts.Where(p => moved.Contains(p.Key)).Select(p => p.Value.Name).ToHashSet();
        var inside = Inside(ports);
        var around = DiagramTexts.Renamed(Outside(ports), r =>
            r.Parts.Count > 1 && names.Contains(r.Parts[0].Name)
                ? $"{ExpressionText.Name(name)}.{ExpressionText.Name(r.Parts[0].Name)}"
                : null
        );
        var document = Placed(level.With(around).With(definitionId, inside));
        return new Restructured(
            $"Make subsystem {name}",
            MovedIdentities.Follow(document, level.Document, level.Id, (steps, port) => MovedTo(ports, steps, port)),
            [partId]
        );
    }

    (IReadOnlyList<string>, string?)? MovedTo(IReadOnlyList<CutPort> ports, IReadOnlyList<string> steps, string? port)
    {
        if (!moved.Contains(steps[0]))
            return null;
        // What goes out is known by the port now, as its name and curve are.
        var way = steps.Count == 1 ? ports.FirstOrDefault(p => p.IsOutput && p.Inner[0] == new PortReference(steps[0], port ?? "")) : null;
        return way is not null ? ([partId], way.Node.Name) : ([partId, .. steps], port);
    }

    bool IsInside(WireNode wire) => moved.Contains(wire.From.Part) && moved.Contains(wire.To.Part);

    bool Touches(WireNode wire) => moved.Contains(wire.From.Part) || moved.Contains(wire.To.Part);

    DiagramDefinition Inside(IReadOnlyList<CutPort> ports)
    {
        var parts = outside.Parts.Where(p => moved.Contains(p.Key)).ToDictionary();
        var wires = outside.Wires.Where(w => IsInside(w.Value)).ToDictionary();
        var signals = outside.Signals.Where(s => moved.Contains(PartOf(s.Key))).ToDictionary();
        foreach (var port in ports)
        {
            parts.Add(port.Id, port.Node);
            foreach (var end in port.Inner)
                wires.Add(
                    NewIds.In(wires, "w"),
                    port.IsOutput ? new WireNode { From = end, To = port.Own } : new WireNode { From = port.Own, To = end }
                );
            // The name and the curve are those of the signal that goes out; its unit stays known inside.
            if (port.IsOutput && signals.Remove(Key(port.Inner[0]), out var said) && said.Unit is not null)
                signals.Add(Key(port.Inner[0]), new SignalNode { Unit = said.Unit });
        }

        return new DiagramDefinition
        {
            Name = NewIds.DefinitionName(level.Document, name),
            Parts = parts,
            Wires = wires,
            Signals = signals,
            Areas = outside.Areas.Where(a => Encloses(a.Value)).ToDictionary(),
            Notes = outside.Notes.Where(n => frame.Holds(n.Value.X, n.Value.Y)).ToDictionary(),
        };
    }

    DiagramDefinition Outside(IReadOnlyList<CutPort> ports)
    {
        var parts = new Dictionary<string, PartNode>();
        foreach (var (id, part) in outside.Parts)
            if (!moved.Contains(id))
                parts.Add(id, part);
        parts.Add(partId, new PartNode { Type = DefinitionReference.OfOwn(definitionId), Name = name });
        var wires = outside.Wires.Where(w => !Touches(w.Value)).ToDictionary();
        var signals = outside.Signals.Where(s => !moved.Contains(PartOf(s.Key))).ToDictionary();
        foreach (var port in ports)
        {
            var mine = new PortReference(partId, port.Node.Name);
            foreach (var (end, wire) in port.Outer)
                wires.Add(
                    outside.Wires.ContainsKey(wire) && !wires.ContainsKey(wire) ? wire : NewIds.In(wires, "w"),
                    port.IsOutput || port.IsPhysical && outside.Wires[wire].To == end
                        ? new WireNode { From = mine, To = end }
                        : new WireNode { From = end, To = mine }
                );
            if (port.IsOutput && outside.Signals.GetValueOrDefault(Key(port.Inner[0])) is { } said)
                signals[Key(mine)] = said;
        }

        return outside with
        {
            Parts = parts,
            Wires = wires,
            Signals = signals,
            Areas = outside.Areas.Where(a => !Encloses(a.Value)).ToDictionary(),
            Notes = outside.Notes.Where(n => !frame.Holds(n.Value.X, n.Value.Y)).ToDictionary(),
        };
    }

    /// <summary>The new part where the old ones were, about the middle of them.</summary>
    ModelDocument Placed(ModelDocument document)
    {
        var diagram = (DiagramDefinition)document.Definitions[level.Id];
        var (width, height) = new PartSizes(diagram, level.Catalog.For(document)).Of(partId);
        var parts = new Dictionary<string, PartNode>(diagram.Parts);
        parts[partId] = parts[partId] with
        {
            X = Frame.Snapped((frame.Left + frame.Right - width) / 2),
            Y = Frame.Snapped((frame.Top + frame.Bottom - height) / 2),
        };
        return document.With(level.Id, diagram with { Parts = parts });
    }

    bool Encloses(AreaNode area)
    {
        var inside = outside.Parts.Where(p => Frame.Of(area).Holds(p.Value.X, p.Value.Y)).ToList();
        return inside.Count > 0 && inside.TrueForAll(p => moved.Contains(p.Key));
    }

    static string PartOf(string key) => key.Split('.')[0];

    static string Key(PortReference port) => $"{port.Part}.{port.Port}";
}
