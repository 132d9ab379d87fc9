using AnchorBend.Language;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>Wires that end at a part or a port that is not there, as after a part was taken away or a port of an own part was renamed.</summary>
static class LooseWires
{
    /// <summary>What is wrong with a wire, by the names of its ends, with the port it most likely means; null where both ends are there.</summary>
    public static Finding? Problem(ModelDocument document, PartCatalog catalog, string id, WireNode wire)
    {
        foreach (var (end, other, side) in ((PortReference, PortReference, string)[])[(wire.From, wire.To, "from"), (wire.To, wire.From, "to")])
        {
            var beyond = document.Parts.TryGetValue(other.Part, out var across) ? $" {(side == "from" ? "to" : "from")} '{other.Port}' of '{across.Name}'" : "";
            if (!document.Parts.TryGetValue(end.Part, out var part))
                return new Finding(Severity.Error, "loose-wire", $"The wire{beyond} has lost its other end: the part is not there any more.", across?.Name ?? "", id, Suggestion: "Take it to another port, or remove it.")
                { Fix = new FindingFix("Remove the wire", [new PatchOperation("remove", $"/wires/{JsonPatch.Escape(id)}")]) };
            var isUnreadable = DocumentElaboration.End(document, catalog, end) is null;
            if (!isUnreadable && HasPort(part, end, catalog)) continue;
            var finding = new Finding(Severity.Error, "loose-wire", $"The wire{beyond} ends at '{end.Port}' of '{part.Name}', which has no such port (any more).", part.Name, id, Suggestion: "Take it to another port, or remove it.");
            if (catalog.Find(part.Type) is null || BundlePart.Is(catalog.Find(part.Type))) return finding;
            // An own part whose port was renamed has one port that no wire ends at.
            var wired = document.Wires.Values.SelectMany(w => (PortReference[])[w.From, w.To]).Where(e => e.Part == end.Part).Select(e => e.Port).ToHashSet();
            var free = catalog.Describe(part.Type).Ports.Where(p => !wired.Contains(p.Name) && (p.Domain is not null || p.Causality == (side == "from" ? Language.Syntax.Causality.Output : Language.Syntax.Causality.Input))).Select(p => p.Name).ToList();
            var likely = Nearest.Of(end.Port, free) ?? (free.Count == 1 ? free[0] : null);
            return likely is null ? finding : finding with { Fix = new FindingFix($"Connect it to '{likely}'", [new PatchOperation("replace", $"/wires/{JsonPatch.Escape(id)}/{side}/port", likely)]) };
        }

        return null;
    }

    static bool HasPort(PartNode part, PortReference end, PartCatalog catalog)
    {
        // What a part of an unknown type has is told with the type; a bundle's ports are its members.
        if (catalog.Find(part.Type) is not { } definition || BundlePart.Is(definition)) return true;
        var name = end.Port.Split('[', '.')[0];
        return catalog.Describe(part.Type).Ports.Any(p => p.Name == name);
    }
}
