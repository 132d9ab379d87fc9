using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>
/// The inverse of making a subsystem: what is inside one use stands on the level again, wires that met at a port are joined, and what the
/// face said stands in the fields. Other uses of the definition stay as they are.
/// </summary>
sealed class SubsystemDissolving
{
    readonly LevelAt level;
    readonly string partId;
    readonly PartNode part;
    readonly DiagramDefinition outside,
        inside;

    /// <summary>Ids and names on the level of what is inside now.</summary>
    readonly Dictionary<string, string> ids = [],
        names = [];

    readonly FaceValues face;

    public SubsystemDissolving(LevelAt level, string id)
    {
        (this.level, partId, part, outside) = (level, id, level.Part(id), level.Diagram);
        inside = level.Document.DiagramOf(part)
            ?? throw new DocumentException($"'{part.Name}' is no subsystem of this model, so there is nothing to dissolve.");
        if (inside.Slot is not null)
            throw new DocumentException($"'{part.Name}' is a slot. Keep one of its alternatives first; what is left can be dissolved.");
        var takenIds = outside.Parts.ToDictionary(p => p.Key, _ => true);
        var takenNames = outside.Parts.Where(p => p.Key != id).Select(p => p.Value.Name).Concat(outside.Parameters.Keys).ToHashSet();
        takenNames.UnionWith(ParameterUses.In(outside));
        foreach (var (inner, node) in inside.Parts)
        {
            if (level.IsPort(node))
                continue;
            ids[inner] = takenIds.ContainsKey(inner) ? NewIds.In(takenIds, "p") : inner;
            takenIds.TryAdd(ids[inner], true);
            names[node.Name] = NewIds.Name(node.Name, takenNames);
            takenNames.Add(names[node.Name]);
        }

        face = new FaceValues(inside, part, takenNames);
    }

    public Restructured Make()
    {
        var joints = new DissolvedPorts(level, partId, inside, ids);
        var (dx, dy) = Shift();
        var parts = new Dictionary<string, PartNode>();
        foreach (var (id, node) in outside.Parts)
            if (id != partId)
                parts.Add(id, Outer(node));
        foreach (var (id, node) in inside.Parts)
            if (ids.TryGetValue(id, out var now))
                parts.Add(now, Inner(node) with { Name = names[node.Name], X = node.X + dx, Y = node.Y + dy });
        var wires = outside.Wires.Where(w => w.Value.From.Part != partId && w.Value.To.Part != partId).ToDictionary();
        foreach (var (id, wire) in inside.Wires)
            if (ids.TryGetValue(wire.From.Part, out var from) && ids.TryGetValue(wire.To.Part, out var to))
                wires.Add(
                    wires.ContainsKey(id) ? NewIds.In(wires, "w") : id,
                    new WireNode
                    {
                        From = wire.From with { Part = from },
                        To = wire.To with { Part = to },
                        Bends = [.. wire.Bends.Select(b => new Point(b.X + dx, b.Y + dy))],
                    }
                );
        foreach (var wire in joints.Wires)
            wires.Add(NewIds.In(wires, "w"), wire);
        var diagram = outside with
        {
            Parameters = outside.Parameters.Concat(face.Kept).ToDictionary(),
            Parts = parts,
            Wires = wires,
            Signals = Signals(joints),
            Areas = With(outside.Areas, inside.Areas, "a", a => a with { X = a.X + dx, Y = a.Y + dy }),
            Notes = With(outside.Notes, inside.Notes, "n", n => n with { X = n.X + dx, Y = n.Y + dy }),
        };
        var document = level.With(diagram);
        if (!document.Definitions.Values.OfType<DiagramDefinition>().SelectMany(d => d.Parts.Values).Any(p => p.Type == part.Type))
            document = document with
            {
                Definitions = document.Definitions.Where(d => DefinitionReference.OfOwn(d.Key) != part.Type).ToDictionary(),
            };
        return new Restructured(
            $"Dissolve {part.Name}",
            MovedIdentities.Follow(document, level.Document, level.Id, (steps, port) => Moved(joints, steps, port)),
            [.. ids.Values]
        );
    }

    (IReadOnlyList<string>, string?)? Moved(DissolvedPorts joints, IReadOnlyList<string> steps, string? port)
    {
        if (steps[0] != partId)
            return null;
        if (steps.Count == 1)
            return port is not null && joints.SourceOf(port) is { } source ? ([source.Part], source.Port) : null;
        if (ids.TryGetValue(steps[1], out var now))
            return ([now, .. steps.Skip(2)], port);
        return inside.Parts.GetValueOrDefault(steps[1]) is { } node && joints.SourceOf(node.Name) is { } at ? ([at.Part], at.Port) : null;
    }

    /// <summary>From places inside to those on the level: the middle of the parts comes where the middle of the part was.</summary>
    (double X, double Y) Shift()
    {
        if (ids.Count == 0)
            return (0, 0);
        var innerSizes = new PartSizes(inside, level.Catalog);
        var (x, y) = Frame.Around(ids.Keys.Select(id => Frame.Of(inside.Parts[id], innerSizes.Of(id)))).Middle;
        var (atX, atY) = Frame.Of(part, new PartSizes(outside, level.Catalog).Of(partId)).Middle;
        return (Frame.Snapped(atX - x), Frame.Snapped(atY - y));
    }

    /// <summary>A part of inside with its fields as they read on the level.</summary>
    PartNode Inner(PartNode node) =>
        DiagramTexts.WithFields(node, text => face.InPlace(text) ?? FieldText.Rewritten(text, r => r.Parts.Count > 1
                && names.TryGetValue(r.Parts[0].Name, out var now)
                    ? ExpressionText.Name(now)
                : r.Parts.Count == 1 ? face.NameOf(r.Parts[0].Name)
                : null));

    /// <summary>Fields beside it that spoke of something inside.</summary>
    PartNode Outer(PartNode node) =>
        DiagramTexts.WithFields(node, text =>
            part.Name is var whole && text.Contains(whole, StringComparison.Ordinal)
                ? names.Aggregate(text, (t, n) =>
                    t.Replace(
                        $"{ExpressionText.Name(whole)}.{ExpressionText.Name(n.Key)}.",
                        $"{ExpressionText.Name(n.Value)}.",
                        StringComparison.Ordinal
                    )
                )
                : text
        );

    Dictionary<string, SignalNode> Signals(DissolvedPorts joints)
    {
        var signals = new Dictionary<string, SignalNode>();
        foreach (var (key, said) in inside.Signals)
            if (SignalReference.TryParse(key, out var signal) && ids.TryGetValue(signal.Part.ToString(), out var now))
                signals[$"{now}.{signal.Port}"] = said;
        foreach (var (key, said) in outside.Signals)
        {
            if (!SignalReference.TryParse(key, out var signal) || signal.Part.ToString() != partId)
                signals[key] = said;
            else if (joints.SourceOf(signal.Port) is { } source)
                signals[$"{source.Part}.{source.Port}"] = signals.GetValueOrDefault($"{source.Part}.{source.Port}") is { } there
                    ? there with
                    {
                        Name = said.Name ?? there.Name,
                        Unit = said.Unit ?? there.Unit,
                        Probe = said.Probe ?? there.Probe,
                    }
                    : said;
        }

        return signals;
    }

    static Dictionary<string, T> With<T>(Dictionary<string, T> outside, Dictionary<string, T> inside, string letter, Func<T, T> moved)
    {
        var all = new Dictionary<string, T>(outside);
        foreach (var (id, value) in inside)
            all.Add(all.ContainsKey(id) ? NewIds.In(all, letter) : id, moved(value));
        return all;
    }
}
