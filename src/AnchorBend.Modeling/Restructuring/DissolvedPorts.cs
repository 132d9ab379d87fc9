using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Wires that met at the ports of a subsystem, joined without it.</summary>
sealed class DissolvedPorts
{
    readonly string partId;
    readonly DiagramDefinition outside,
        inside;

    readonly IReadOnlyDictionary<string, string> ids;

    /// <summary>Ids of port parts by the names of the ports.</summary>
    readonly Dictionary<string, string> ports = [];

    readonly Dictionary<string, PortKind> kinds = [];

    /// <param name="ids">Ids on the level by those inside.</param>
    public DissolvedPorts(LevelAt level, string partId, DiagramDefinition inside, IReadOnlyDictionary<string, string> ids)
    {
        (this.partId, outside, this.inside, this.ids) = (partId, level.Diagram, inside, ids);
        foreach (var (id, node) in inside.Parts)
            if (PortPart.KindOf(level.Catalog.Find(node.Type)) is { } kind && ports.TryAdd(node.Name, id))
                kinds[node.Name] = kind;
        Wires = [.. ports.Keys.SelectMany(Joined)];
    }

    public IReadOnlyList<WireNode> Wires { get; }

    /// <summary>Where the signal of a port comes from on the level; null where nothing leads to it.</summary>
    public PortReference? SourceOf(string port) => SourceOf(port, []);

    PortReference? SourceOf(string port, HashSet<string> seen)
    {
        if (!seen.Add(port) || !ports.TryGetValue(port, out var id))
            return null;
        return kinds[port] switch
        {
            PortKind.Input => outside
                .Wires.Values.Where(w => w.To == new PortReference(partId, port))
                .Select(w => w.From.Part == partId ? SourceOf(w.From.Port, seen) : w.From)
                .FirstOrDefault(),
            PortKind.Output => inside
                .Wires.Values.Where(w => w.To.Part == id)
                .Select(w =>
                    OnLevel(w.From) ?? (inside.Parts.GetValueOrDefault(w.From.Part) is { } node ? SourceOf(node.Name, seen) : null)
                )
                .FirstOrDefault(),
            _ => Ends(port).FirstOrDefault(),
        };
    }

    IEnumerable<WireNode> Joined(string port)
    {
        if (kinds[port] is PortKind.Physical or PortKind.Bundle)
        {
            var ends = Ends(port).ToList();
            return ends.Skip(1).Select(e => new WireNode { From = ends[0], To = e });
        }

        if (SourceOf(port) is not { } source)
            return [];
        // What an output leads to inside as well as outside has its own wire inside already.
        var targets =
            kinds[port] == PortKind.Input
                ? inside.Wires.Values.Where(w => w.From.Part == ports[port]).Select(w => OnLevel(w.To))
                : outside.Wires.Values.Where(w => w.From == new PortReference(partId, port) && w.To.Part != partId).Select(w => w.To);
        return targets.OfType<PortReference>().Select(t => new WireNode { From = source, To = t });
    }

    /// <summary>What a network's port joins, outside first.</summary>
    IEnumerable<PortReference> Ends(string port)
    {
        var mine = new PortReference(partId, port);
        return outside
            .Wires.Values.Where(w => (w.From == mine) != (w.To == mine))
            .Select(w => w.From == mine ? w.To : w.From)
            .Concat(
                inside
                    .Wires.Values.Where(w => (w.From.Part == ports[port]) != (w.To.Part == ports[port]))
                    .Select(w => OnLevel(w.From.Part == ports[port] ? w.To : w.From))
                    .OfType<PortReference>()
            )
            .Distinct();
    }

    PortReference? OnLevel(PortReference end) => ids.TryGetValue(end.Part, out var id) ? end with { Part = id } : null;
}
