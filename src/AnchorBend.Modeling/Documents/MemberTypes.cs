using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>What members of bundles are, before anything is put together: as the type of a bundle declares them, or as what is wired to
/// them.</summary>
static class MemberTypes
{
    /// <summary>Real, Boolean or Integer; Real where nothing says otherwise.</summary>
    /// <exception cref="DocumentException">Bundles of the model have members of different kinds by that name.</exception>
    public static string Of(ModelDocument document, PartCatalog catalog, string member)
    {
        var found = new HashSet<string>();
        foreach (var diagram in document.Definitions.Values.OfType<DiagramDefinition>())
        foreach (var (id, part) in diagram.Parts)
        {
            if (!BundlePart.Is(catalog.Find(part.Type)))
                continue;
            var declared = catalog.Find(BundlePart.ClassOf(part, catalog))!.Components.FirstOrDefault(c => c.Name == member)?.TypeName;
            if ((declared ?? Wired(diagram, catalog, new PortReference(id, member))) is { } type)
                found.Add(type is "Boolean" or "Integer" ? type : "Real");
        }

        return found.Count <= 1
            ? found.FirstOrDefault("Real")
            : throw new DocumentException(
                $"'{member}' is of different kinds in different bundles; give the fault to the signal before its bundle."
            );
    }

    static string? Wired(DiagramDefinition diagram, PartCatalog catalog, PortReference to) =>
        diagram.Wires.Values.FirstOrDefault(w => w.To == to) is { From: var from }
        && diagram.Parts.TryGetValue(from.Part, out var source)
        && catalog.Find(source.Type) is not null
            ? PortPart
                .Placed(catalog.Describe(source.Type), source)
                .Ports.FirstOrDefault(p => p.Name == from.Port.Split('[')[0] && p.Causality != Causality.Input)
                ?.Type
            : null;
}
