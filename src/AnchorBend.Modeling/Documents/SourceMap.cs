using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>Where a part of the flat model was drawn.</summary>
/// <param name="Path">The part by ids from the root.</param>
/// <param name="Definition">Id of the definition whose diagram it stands in.</param>
public sealed record PartPlace(PartPath Path, string Definition, PartNode Node);

/// <summary>
/// Leads from the flat model back to what was drawn, at any depth: a variable's or an equation's owner is the path of a part by names, to
/// which this knows the part by ids.
/// </summary>
public sealed class SourceMap
{
    /// <summary>Parts of all levels that are looked at: no larger model is put together.</summary>
    const int MostPlaces = 120_000;

    readonly Dictionary<string, PartPlace> byName = [];
    readonly Dictionary<PartPath, string> names = [];
    readonly HashSet<PartPath> ports = [];
    readonly List<(PartPath Path, string Name, DiagramDefinition Diagram)> levels = [];

    public static readonly SourceMap Empty = new();

    SourceMap() { }

    public SourceMap(ModelDocument document, PartCatalog catalog)
    {
        var cycles = new DefinitionCycles(document);
        void Walk(string id, DiagramDefinition diagram, PartPath path, string name)
        {
            levels.Add((path, name, diagram));
            foreach (var (partId, part) in diagram.Parts)
            {
                var inner = name.Length == 0 ? part.Name : $"{name}.{part.Name}";
                var place = new PartPlace(path.Then(partId), id, part);
                // Of parts with the same name the first one is in the model.
                if (names.Count >= MostPlaces || !byName.TryAdd(inner, place))
                    continue;
                names.Add(place.Path, inner);
                if (PortPart.KindOf(catalog.Find(part.Type)) is not null)
                    ports.Add(place.Path);
                if (document.DiagramOf(part) is { } below && !cycles.Closes(id, partId))
                    Walk(DefinitionReference.Parse(part.Type).Key, below, place.Path, inner);
            }
        }

        Walk(document.Root, document.Main, PartPath.Root, "");
    }

    /// <summary>The diagrams in use, each with its path by ids and by names.</summary>
    public IReadOnlyList<(PartPath Path, string Name, DiagramDefinition Diagram)> Levels => levels;

    public IReadOnlyCollection<PartPlace> Parts => byName.Values;

    /// <summary>The part of that path in the flat model; null where it is none of the drawn ones.</summary>
    public PartPlace? Find(string name) => byName.GetValueOrDefault(name);

    /// <summary>Whether a part is a port of the level it stands on.</summary>
    public bool IsPort(PartPath path) => ports.Contains(path);

    /// <summary>The drawn part that a path in the flat model leads to or into; null for the model itself.</summary>
    public PartPlace? Around(string name)
    {
        for (var part = name; part.Length > 0; part = part[..Math.Max(0, part.LastIndexOf('.'))])
            if (byName.TryGetValue(part, out var place))
                return place;
        return null;
    }

    /// <summary>A part by its ids; null where it is not in the flat model.</summary>
    public PartPlace? At(PartPath path) => NameOf(path) is { } name ? Find(name) : null;

    /// <summary>The path of a part in the flat model; null where it is not there.</summary>
    public string? NameOf(PartPath path) => path.IsRoot ? "" : names.GetValueOrDefault(path);

    /// <summary>A signal's name in the flat model; null where its part is not there.</summary>
    public string? NameOf(SignalReference signal) =>
        NameOf(signal.Part) is not { } part ? null
        : signal.Port == PortPart.Whole && ports.Contains(signal.Part) ? part
        : ports.Contains(signal.Part)
        && (
            signal.Port.StartsWith(PortPart.Whole + ".", StringComparison.Ordinal)
            || signal.Port.StartsWith(PortPart.Whole + "[", StringComparison.Ordinal)
        )
            ? part + signal.Port[PortPart.Whole.Length..]
        : $"{part}.{signal.Port}";

    /// <summary>The name in the flat model of what a text refers to: a signal by identity, or the text itself as a name.</summary>
    public string NameOf(string reference) =>
        SignalReference.TryParse(reference, out var signal) && NameOf(signal) is { } name ? name : reference;
}
