using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>What a name of a chart becomes when a state is moved to a chart of its own.</summary>
/// <param name="Old">Its kind in the chart; null where that no longer has it.</param>
/// <param name="New">Its kind in the new chart; null where that does not have it.</param>
sealed record NameShare(string Name, NameKind? Old, NameKind? New)
{
    /// <summary>Whether a wire goes from the chart to the new one.</summary>
    public bool FromOld => Old == NameKind.Output && New == NameKind.Input;

    /// <summary>Whether a wire goes from the new chart back.</summary>
    public bool FromNew => New == NameKind.Output && Old == NameKind.Input;

    /// <param name="left">What the texts that stay read and set.</param>
    /// <param name="moved">What the texts that go read and set.</param>
    /// <exception cref="DocumentException">Both set it, or a signal would go between them.</exception>
    public static NameShare Of(NameNode name, WrittenTexts left, WrittenTexts moved)
    {
        var n = name.Name;
        var (setsLeft, setsMoved) = (left.Sets.Contains(n), moved.Sets.Contains(n));
        var (usesLeft, usesMoved) = (setsLeft || left.Reads.Contains(n), setsMoved || moved.Reads.Contains(n));
        if (!usesMoved)
            return new NameShare(n, name.Kind, null);
        if (name.Kind is NameKind.Input or NameKind.Event or NameKind.Parameter)
            return new NameShare(n, usesLeft ? name.Kind : null, name.Kind);
        if (!usesLeft)
            return new NameShare(n, null, name.Kind);
        if (name.Kind == NameKind.Signal)
            throw new DocumentException($"The signal '{n}' goes between the state and the rest of the chart; a part would not hear it.");
        if (setsLeft && setsMoved)
            throw new DocumentException($"'{n}' is set in the state and in the rest of the chart; let one of them set it.");
        return setsMoved ? new NameShare(n, NameKind.Input, NameKind.Output) : new NameShare(n, NameKind.Output, NameKind.Input);
    }
}

/// <summary>The diagram around a chart that becomes two parts.</summary>
/// <param name="old">Id of the chart's part.</param>
/// <param name="part">Id of the new one.</param>
/// <param name="switching">Name of what switches the new one on; null where it always is.</param>
sealed class ChartParting(
    DiagramDefinition diagram,
    PartCatalog catalog,
    string old,
    string part,
    IReadOnlyDictionary<string, NameShare> shares,
    string? switching
)
{
    /// <summary>Room between parts on the diagram, and of the new one before its ports are known.</summary>
    const double Gap = 40,
        Height = 120;

    /// <param name="signals">What variables of the chart's part are called at the new one, of those that it has now.</param>
    public DiagramDefinition On(string type, string name, IReadOnlyDictionary<string, string> signals)
    {
        var was = diagram.Parts[old];
        var byName = shares.Values.ToDictionary(s => s.Name);
        var placed = new PartNode
        {
            Type = type,
            Name = diagram.FreeName(name),
            X = was.X,
            Y = Free(was),
            Parameters = was.Parameters.Where(p => byName.GetValueOrDefault(p.Key)?.New is not null).ToDictionary(),
        };
        var wires = new Dictionary<string, WireNode>();
        foreach (var (id, drawn) in diagram.Wires)
        {
            var wire =
                drawn.From.Part == old && byName.GetValueOrDefault(drawn.From.Port)?.New == NameKind.Output
                    ? drawn with
                    {
                        From = drawn.From with { Part = part },
                    }
                    : drawn;
            var share = wire.To.Part == old ? byName.GetValueOrDefault(wire.To.Port) : null;
            // What comes from outside may be needed by both.
            if (share is not { New: not null } || share.Old is not null)
                wires[id] = wire;
            if (share is { New: not null })
                wires[share.Old is null ? id : NewIds.In(diagram.Wires, $"{id}b")] = wire with { To = wire.To with { Part = part } };
        }

        foreach (var share in shares.Values)
            if (share.FromOld || share.FromNew)
                Add(share.Name, share.FromOld ? old : part, share.FromOld ? part : old);
        if (switching is not null)
            Add(switching, old, part);
        return diagram with
        {
            Parts = new Dictionary<string, PartNode>(diagram.Parts) { [old] = Without(was, byName), [part] = placed },
            Wires = wires,
            Signals = diagram.Signals.ToDictionary(s => Moved(s.Key, signals), s => s.Value),
        };

        void Add(string port, string from, string to) =>
            wires[NewIds.In(wires, "w")] = new WireNode { From = new PortReference(from, port), To = new PortReference(to, port) };
    }

    /// <summary>The first height below the chart where nothing lies.</summary>
    double Free(PartNode was)
    {
        var sizes = new PartSizes(diagram, catalog);
        var (width, height) = sizes.Of(old);
        var y = was.Y + height + Gap;
        foreach (var (id, part) in diagram.Parts.OrderBy(p => p.Value.Y))
        {
            var (w, h) = sizes.Of(id);
            if (id != old && part.X < was.X + width + Gap && was.X < part.X + w + Gap && part.Y < y + Height && y < part.Y + h + Gap)
                y = part.Y + h + Gap;
        }

        return Math.Ceiling(y / 8) * 8;
    }

    static PartNode Without(PartNode was, Dictionary<string, NameShare> byName) =>
        was with
        {
            Parameters = was.Parameters.Where(p => !byName.TryGetValue(p.Key, out var share) || share.Old is not null).ToDictionary(),
        };

    string Moved(string key, IReadOnlyDictionary<string, string> signals) =>
        key.StartsWith(old + ".", StringComparison.Ordinal) && signals.TryGetValue(key[(old.Length + 1)..], out var name)
            ? $"{part}.{name}"
            : key;
}
