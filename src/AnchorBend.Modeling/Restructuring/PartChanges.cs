using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Gives a part another name, in the fields that speak of it and, for a port, in the wires of all uses of its level.</summary>
public sealed record RenamePart : Restructuring
{
    public required string Part { get; init; }

    public required string To { get; init; }

    internal override Restructured On(LevelAt level)
    {
        var (part, to) = (level.Part(Part), To.Trim());
        if (to.Length == 0)
            throw new DocumentException("A part needs a name.");
        var diagram = DiagramTexts.Renamed(level.Diagram, r =>
            r.Parts.Count > 1 && r.Parts[0].Name == part.Name ? ExpressionText.Name(to) : null
        );
        diagram = diagram with
        {
            Parts = new Dictionary<string, PartNode>(diagram.Parts) { [Part] = diagram.Parts[Part] with { Name = to } },
        };
        var document = level.With(diagram);
        // A definition that only this part uses, and that is called as it was, goes on being called as it.
        if (
            level.Document.DiagramOf(part) is { } own
            && own.Name == part.Name
            && level.Document.Definitions.Values.OfType<DiagramDefinition>().Sum(d => d.Parts.Values.Count(p => p.Type == part.Type)) == 1
        )
            document = document.With(
                DefinitionReference.Parse(part.Type).Key,
                own with
                {
                    Name = NewIds.DefinitionName(level.Document, to),
                }
            );
        if (level.IsPort(part))
            document = PortNames.Changed(level.Document, document, level.Id, part.Name, to);
        return new Restructured("Rename", document, [Part]);
    }
}

/// <summary>Puts a part of another type in a part's place: wires and fields that the new one has too are kept.</summary>
public sealed record ReplacePart : Restructuring
{
    public required string Part { get; init; }

    public required string Type { get; init; }

    internal override Restructured On(LevelAt level)
    {
        var part = level.Part(Part);
        if (level.Catalog.Find(Type) is null)
            throw new DocumentException($"There is no part of type '{DocumentLimits.Short(Type)}'.");
        var described = level.Catalog.Describe(Type);
        var fields = described.Parameters.Select(p => p.Name).ToHashSet();
        var ports = new Dictionary<string, string?>();
        foreach (var (id, wire) in level.Diagram.Wires)
        foreach (var end in (PortReference[])[wire.From, wire.To])
            if (end.Part == Part && !ports.ContainsKey(end.Port))
                ports[end.Port] = Port(level, part, described, end.Port, ports.Values);
        PortReference Now(PortReference end) => end.Part == Part ? end with { Port = ports[end.Port] ?? end.Port } : end;
        var diagram = level.Diagram with
        {
            Parts = new Dictionary<string, PartNode>(level.Diagram.Parts)
            {
                [Part] = part with { Type = Type, Parameters = part.Parameters.Where(f => fields.Contains(f.Key)).ToDictionary() },
            },
            Wires = level.Diagram.Wires.ToDictionary(w => w.Key, w => w.Value with { From = Now(w.Value.From), To = Now(w.Value.To) }),
            Signals = level.Diagram.Signals.ToDictionary(
                s =>
                    s.Key.StartsWith(Part + ".", StringComparison.Ordinal) && ports.GetValueOrDefault(s.Key[(Part.Length + 1)..]) is { } now
                        ? $"{Part}.{now}"
                        : s.Key,
                s => s.Value
            ),
        };
        return new Restructured($"Replace {part.Name}", level.With(diagram), [Part]);
    }

    /// <summary>The new part's port for a wire: of the same name, else the first that fits and is free; null where there is none.</summary>
    static string? Port(LevelAt level, PartNode part, PartDescription described, string port, IEnumerable<string?> taken)
    {
        var stem = port.Split('[', '.')[0];
        if (described.Ports.Any(p => p.Name == stem))
            return port;
        var old =
            level.Catalog.Find(part.Type) is { } type && !BundlePart.Is(type)
                ? level.Catalog.Describe(part.Type).Ports.FirstOrDefault(p => p.Name == stem)
                : null;
        return described
            .Ports.Where(p => old is null || (p.Domain, p.Causality) == (old.Domain, old.Causality))
            .Select(p => p.IsArray && !p.IsVector ? p.Name + "[1]" : p.Name)
            .FirstOrDefault(n => !taken.Contains(n));
    }
}

/// <summary>Wires outside that end at a port of a level, when the port gets another name.</summary>
static class PortNames
{
    public static ModelDocument Changed(ModelDocument before, ModelDocument document, string definition, string from, string to)
    {
        var type = DefinitionReference.OfOwn(definition);
        foreach (
            var (id, diagram) in document
                .Definitions.ToList()
                .Where(d => d.Value is DiagramDefinition)
                .Select(d => (d.Key, (DiagramDefinition)d.Value))
        )
        {
            var uses = diagram.Parts.Where(p => p.Value.Type == type).Select(p => p.Key).ToHashSet();
            if (uses.Count == 0)
                continue;
            PortReference Now(PortReference end) => uses.Contains(end.Part) && end.Port == from ? end with { Port = to } : end;
            string Key(string key) => uses.Any(u => key == $"{u}.{from}") ? $"{key.Split('.')[0]}.{to}" : key;
            document = document.With(
                id,
                diagram with
                {
                    Wires = diagram.Wires.ToDictionary(w => w.Key, w => w.Value with { From = Now(w.Value.From), To = Now(w.Value.To) }),
                    Signals = diagram.Signals.ToDictionary(s => Key(s.Key), s => s.Value),
                }
            );
        }

        return SignalIdentities.Changed(before, document, Signal);

        string Signal(string reference) =>
            SignalReference.TryParse(reference, out var signal) && signal.Port == from && document.Level(signal.Part)?.Id == definition
                ? new SignalReference(signal.Part, to).ToString()
                : reference;
    }
}
