using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>Wires that end at a part or a port that is not there, as after a part was taken away or a port of an own part was
/// renamed.</summary>
sealed class LooseWires(string definition, DiagramDefinition diagram, PartCatalog catalog)
{
    const string Advice = "Take it to another port, or remove it.";

    /// <summary>
    /// What is wrong with a wire, by the names of its ends, with the port it most likely means; null where both ends are there.
    /// </summary>
    public Finding? Problem(string id, WireNode wire) => Problem(id, wire.From, wire.To, "from") ?? Problem(id, wire.To, wire.From, "to");

    Finding? Problem(string id, PortReference end, PortReference other, string side)
    {
        var place = DocumentPath.Wire(definition, id);
        var across = diagram.Parts.GetValueOrDefault(other.Part);
        var beyond = across is null ? "" : $" {(side == "from" ? "to" : "from")} '{other.Port}' of '{across.Name}'";
        if (!diagram.Parts.TryGetValue(end.Part, out var part))
        {
            var lost = $"The wire{beyond} has lost its other end: the part is not there any more.";
            return new Finding(Severity.Error, "loose-wire", lost, across?.Name ?? "", id, Suggestion: Advice)
            {
                Fix = new FindingFix("Remove the wire", [new PatchOperation("remove", place)]),
            };
        }

        if (DiagramClass.End(diagram, catalog, end) is not null && HasPort(part, end))
            return null;
        var message = $"The wire{beyond} ends at '{end.Port}' of '{part.Name}', which has no such port.";
        var finding = new Finding(Severity.Error, "loose-wire", message, part.Name, id, Suggestion: Advice);
        return LikelyPort(part, end, side) is not { } likely
            ? finding
            : finding with
            {
                Fix = new FindingFix($"Connect it to '{likely}'", [new PatchOperation("replace", $"{place}/{side}/port", likely)]),
            };
    }

    /// <summary>Of the ports that no wire ends at, the one of a like name, or the only one: a port that was renamed.</summary>
    string? LikelyPort(PartNode part, PortReference end, string side)
    {
        if (catalog.Find(part.Type) is not { } definition || BundlePart.Is(definition))
            return null;
        var wanted = side == "from" ? Causality.Output : Causality.Input;
        var wired = diagram
            .Wires.Values.SelectMany(w => (PortReference[])[w.From, w.To])
            .Where(e => e.Part == end.Part)
            .Select(e => e.Port)
            .ToHashSet();
        var free = catalog
            .Describe(part.Type)
            .Ports.Where(p => !wired.Contains(p.Name) && (p.Domain is not null || p.Causality == wanted))
            .Select(p => p.Name)
            .ToList();
        return Nearest.Of(end.Port, free) ?? (free.Count == 1 ? free[0] : null);
    }

    bool HasPort(PartNode part, PortReference end)
    {
        // What a part of an unknown type has is told with the type; a bundle's ports are its members.
        if (catalog.Find(part.Type) is not { } definition || BundlePart.Is(definition))
            return true;
        var name = end.Port.Split('[', '.')[0];
        return catalog.Describe(part.Type).Ports.Any(p => p.Name == end.Port || p.Name == name);
    }
}
