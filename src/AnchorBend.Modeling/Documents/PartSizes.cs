using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// Width and height of the parts of a diagram before its model is put together: with the ports that always show, and the elements of array
/// ports counted as far as the wires or the part's own list say.
/// </summary>
public sealed class PartSizes(DiagramDefinition diagram, PartCatalog catalog)
{
    readonly ILookup<string, string> wired = diagram
        .Wires.Values.SelectMany(w => (PortReference[])[w.From, w.To])
        .Distinct()
        .ToLookup(e => e.Part, e => e.Port);

    public (double Width, double Height) Of(string id)
    {
        var part = diagram.Parts[id];
        if (catalog.Find(part.Type) is not { } definition)
            return (64, 48);
        if (BundlePart.Is(definition))
            return BundlePart.Size(part, definition);
        var description = catalog.Describe(part.Type);
        var ports = wired[id].ToHashSet();
        int Count(string side) =>
            description
                .Ports.Where(p => p.Side == side)
                .Sum(p =>
                {
                    if (p.Optional is { } flag && !ports.Contains(p.Name) && part.Parameters.GetValueOrDefault(flag) != "true")
                        return 0;
                    return p.IsArray && !p.IsVector
                        ? Math.Max(ports.Count(w => w.StartsWith(p.Name + "[", StringComparison.Ordinal)), ListLength(part, description))
                        : 1;
                });
        return (description.Width, description.HeightWith(Count("left"), Count("right")));
    }

    /// <summary>How many elements the first list among the parameters has: what sizes a part's array of ports; 1 where it is no plain
    /// list.</summary>
    static int ListLength(PartNode part, PartDescription description)
    {
        if (description.Parameters.FirstOrDefault(p => p.IsArray) is not { } list)
            return 1;
        try
        {
            return Parser.ParseField(part.Parameters.GetValueOrDefault(list.Name, list.Default)) is ArrayLiteral a
                ? Math.Max(1, a.Elements.Count)
                : 1;
        }
        catch (LanguageException)
        {
            return 1;
        }
    }
}
