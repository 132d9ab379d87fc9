using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// Width and height of the parts of a diagram before its model is put together: with the ports that always show, and the elements of array
/// ports counted as far as the wires or the texts of the parameters say.
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
        string Text(string parameter) =>
            part.Parameters.GetValueOrDefault(parameter) ?? description.Parameters.FirstOrDefault(p => p.Name == parameter)?.Default ?? "";
        int Count(string side) =>
            description
                .Ports.Where(p => p.Side == side)
                .Sum(p =>
                {
                    if (p.Optional is { } flag && !ports.Contains(p.Name) && part.Parameters.GetValueOrDefault(flag) != "true")
                        return 0;
                    return p.IsArray && !p.IsVector
                        ? Math.Max(ports.Count(w => w.StartsWith(p.Name + "[", StringComparison.Ordinal)), PortCount.Of(p, Text))
                        : 1;
                });
        return part.Turned((description.Width, description.HeightWith(Count("left"), Count("right"))));
    }
}
