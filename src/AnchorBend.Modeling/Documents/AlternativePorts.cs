using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>Which port of a realisation stands for which port of its slot.</summary>
static class AlternativePorts
{
    /// <summary>
    /// By name first; what is left takes the next port of its kind. Ports of the slot by the ids of their parts; null where none is left.
    /// </summary>
    public static IReadOnlyDictionary<string, string?> Match(DiagramDefinition slot, PartCatalog catalog, string part)
    {
        var node = slot.Parts[part];
        var result = new Dictionary<string, string?>();
        var wanted = slot
            .Parts.Where(p => PortPart.KindOf(catalog.Find(p.Value.Type)) is not null)
            .OrderBy(p => p.Value.Y)
            .ThenBy(p => p.Value.X)
            .ToList();
        if (catalog.Find(node.Type) is not { } type || BundlePart.Is(type))
            return result;
        var free = catalog
            .Describe(node.Type)
            .Ports.Where(p => !slot.Wires.Values.Any(w => IsAt(w.From, part, p.Name) || IsAt(w.To, part, p.Name)))
            .ToList();
        foreach (var byName in (bool[])[true, false])
        foreach (var (id, port) in wanted)
        {
            if (result.GetValueOrDefault(id) is not null || slot.Wires.Values.Any(w => Between(w, id, part)))
                continue;
            var fits = free.Find(p => IsLike(p, port, catalog) && (!byName || p.Name == port.Name));
            if (fits is not null)
                free.Remove(fits);
            result[id] = fits is { IsArray: true, IsVector: false } ? fits.Name + "[1]" : fits?.Name;
        }

        return result;
    }

    static bool IsAt(PortReference end, string part, string port) => end.Part == part && end.Port.Split('[', '.')[0] == port;

    static bool Between(WireNode wire, string a, string b) =>
        wire.From.Part == a && wire.To.Part == b || wire.From.Part == b && wire.To.Part == a;

    /// <summary>A port of the level leads in what comes to it, and out what goes.</summary>
    static bool IsLike(PortDescription port, PartNode slot, PartCatalog catalog) =>
        PortPart.KindOf(catalog.Find(slot.Type)) switch
        {
            PortKind.Input => port.Domain is null && port.Causality == Causality.Input,
            PortKind.Output => port.Domain is null && port.Causality == Causality.Output,
            PortKind.Bundle => port.Type is "Bundle",
            _ => port.Type == slot.Type,
        };

    /// <summary>The wire between a port of the slot and one of a realisation, from where it comes.</summary>
    /// <param name="port">The slot's port part.</param>
    /// <param name="id">Its id.</param>
    public static WireNode Wire(PartCatalog catalog, PartNode port, string id, PortReference inner)
    {
        var own = new PortReference(id, PortPart.OwnPort(port.Type));
        return PortPart.KindOf(catalog.Find(port.Type)) == PortKind.Output
            ? new WireNode { From = inner, To = own }
            : new WireNode { From = own, To = inner };
    }
}
