using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>
/// Gives a member of a bundle another name wherever the bundle goes: along its wires, through ports of levels, into and out of bundles
/// that it is a member of itself.
/// </summary>
public sealed record RenameMember : Restructuring
{
    /// <summary>A part that joins or picks the member.</summary>
    public required string Part { get; init; }

    /// <summary>The member as the part names it; with dots for one of a bundle within.</summary>
    public required string Member { get; init; }

    /// <summary>The new name of its last step.</summary>
    public required string To { get; init; }

    internal override Restructured On(LevelAt level)
    {
        var (part, to) = (level.Part(Part), To.Trim());
        if (level.Catalog.Find(part.Type) is not { } bundle || !BundlePart.Is(bundle))
            throw new DocumentException($"'{part.Name}' neither joins nor picks members of a bundle.");
        var types = new BundleTypes(level.Document, level.Catalog);
        var isDeclared = BundlePart.TypeOf(part, level.Catalog) is { } own && types.Declaring(own, Member) is not null;
        if (!isDeclared && !BundlePart.Members(part, bundle).Contains(Member))
            throw new DocumentException($"'{part.Name}' has no member '{DocumentLimits.Short(Member)}'.");
        if (!Lexer.IsPlainIdentifier(to) || to == BundlePart.Whole)
            throw new DocumentException(
                $"'{DocumentLimits.Short(to)}' cannot be the name of a member: take letters, digits and underscores, a letter first."
            );
        var places = new MemberPlaces(level);
        var touched = places.Of(Part, Member);
        foreach (var (definition, id, name) in touched)
        {
            var node = ((DiagramDefinition)level.Document.Definitions[definition]).Parts[id];
            var renamed = Renamed(name, to);
            if (
                BundlePart
                    .Members(node, level.Catalog.Find(node.Type)!)
                    .Any(m => m == renamed || m.StartsWith(renamed + ".", StringComparison.Ordinal))
            )
                throw new DocumentException($"'{node.Name}' has a member '{renamed}' already; the two would become one.");
        }

        var document = level.Document;
        foreach (var (type, from) in places.Declarations)
            document = types.WithMember(document, type, from, to);
        foreach (var (definition, id, name) in touched)
            document = document.With(definition, In((DiagramDefinition)document.Definitions[definition], id, name, Renamed(name, to)));
        return new Restructured($"Rename the member {Member}", SignalIdentities.Changed(level.Document, document, Signal), [Part]);

        string Signal(string reference)
        {
            if (!SignalReference.TryParse(reference, out var signal) || level.Document.Part(signal.Part) is not { } at)
                return reference;
            foreach (var (definition, id, name) in touched)
                if (
                    at.Definition == definition
                    && signal.Part.Id == id
                    && Now(signal.Port, name, Renamed(name, to)) is var port
                    && port != signal.Port
                )
                    return new SignalReference(signal.Part, port).ToString();
            return reference;
        }
    }

    static string Renamed(string name, string to) =>
        name.Contains('.', StringComparison.Ordinal) ? name[..(name.LastIndexOf('.') + 1)] + to : to;

    /// <summary>A member's name with the beginning exchanged where it is the renamed one or lies within it.</summary>
    static string Now(string member, string from, string to) =>
        member == from ? to
        : member.StartsWith(from + ".", StringComparison.Ordinal) || member.StartsWith(from + "[", StringComparison.Ordinal)
            ? to + member[from.Length..]
        : member;

    static DiagramDefinition In(DiagramDefinition diagram, string id, string from, string to)
    {
        var node = diagram.Parts[id];
        PortReference End(PortReference end) => end.Part == id ? end with { Port = Now(end.Port, from, to) } : end;
        return diagram with
        {
            Parts = new Dictionary<string, PartNode>(diagram.Parts)
            {
                [id] = node.Parameters.TryGetValue(BundlePart.List, out var list)
                    ? node with
                    {
                        Parameters = new Dictionary<string, string>(node.Parameters)
                        {
                            [BundlePart.List] = string.Join(
                                ", ",
                                list.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                                    .Select(m => Now(m, from, to))
                            ),
                        },
                    }
                    : node,
            },
            Wires = diagram.Wires.ToDictionary(w => w.Key, w => w.Value with { From = End(w.Value.From), To = End(w.Value.To) }),
            Signals = diagram.Signals.ToDictionary(
                s => s.Key.StartsWith(id + ".", StringComparison.Ordinal) ? $"{id}.{Now(s.Key[(id.Length + 1)..], from, to)}" : s.Key,
                s => s.Value
            ),
        };
    }
}

/// <summary>Where a member of a bundle is named, as far as wires and ports of levels carry the bundle.</summary>
sealed class MemberPlaces(LevelAt level)
{
    /// <summary>Ends that are looked at; more would be no model that anybody draws.</summary>
    const int MostEnds = 20_000;

    readonly HashSet<(string Definition, string Part, string Port, string Path)> seen = [];
    readonly Queue<(string Definition, string Part, string Port, string Path)> open = new();
    readonly Dictionary<(string, string), string> found = [];

    readonly BundleTypes types = new(level.Document, level.Catalog);

    /// <summary>Types that declare the member, each with its name there.</summary>
    public HashSet<(string Type, string Member)> Declarations { get; } = [];

    /// <summary>Parts by definition and id, each with the member as it names it.</summary>
    public IReadOnlyList<(string Definition, string Part, string Name)> Of(string part, string member)
    {
        Reach(level.Id, part, BundlePart.Whole, member);
        while (open.TryDequeue(out var end) && seen.Count < MostEnds)
            Follow(end.Definition, end.Part, end.Port, end.Path);
        return [.. found.Select(f => (f.Key.Item1, f.Key.Item2, f.Value))];
    }

    void Reach(string definition, string part, string port, string path)
    {
        if (seen.Add((definition, part, port, path)))
            open.Enqueue((definition, part, port, path));
    }

    /// <param name="path">The member from the bundle at this port down.</param>
    void Follow(string definition, string id, string port, string path)
    {
        if (
            level.Document.Definitions.GetValueOrDefault(definition) is not DiagramDefinition diagram
            || !diagram.Parts.TryGetValue(id, out var node)
            || level.Catalog.Find(node.Type) is not { } type
        )
            return;
        foreach (var wire in diagram.Wires.Values)
        {
            if (wire.From == new PortReference(id, port))
                Reach(definition, wire.To.Part, wire.To.Port, path);
            if (wire.To == new PortReference(id, port))
                Reach(definition, wire.From.Part, wire.From.Port, path);
        }

        var isPort = PortPart.KindOf(type) is not null;
        var isWhole = port == BundlePart.Whole || isPort && port == PortPart.Whole;
        if (BundlePart.Is(type))
        {
            var whole = isWhole ? path : $"{port}.{path}";
            Reach(definition, id, BundlePart.Whole, whole);
            if (isPort)
                Reach(definition, id, PortPart.Whole, whole);
            Declared(node, whole);
            foreach (var member in BundlePart.Members(node, type))
            {
                if (member == whole || member.StartsWith(whole + ".", StringComparison.Ordinal))
                    found[(definition, id)] = whole;
                if (whole.StartsWith(member + ".", StringComparison.Ordinal))
                    Reach(definition, id, member, whole[(member.Length + 1)..]);
            }
        }

        if (isPort && isWhole)
        {
            var own = DefinitionReference.OfOwn(definition);
            foreach (var (outer, other) in level.Document.Definitions)
            foreach (var (use, part) in (other as DiagramDefinition)?.Parts ?? [])
                if (part.Type == own)
                    Reach(outer, use, node.Name, path);
        }
        if (level.Document.DiagramOf(node) is { } inner)
            foreach (var (inside, part) in inner.Parts)
                if (part.Name == port && level.IsPort(part))
                    Reach(DefinitionReference.Parse(node.Type).Key, inside, PortPart.Whole, path);
    }

    /// <summary>A member that a type declares is that of all bundles of the type.</summary>
    void Declared(PartNode node, string path)
    {
        if (BundlePart.TypeOf(node, level.Catalog) is not { } type || types.Declaring(type, path) is not { } declaring)
            return;
        var member = path[(path.LastIndexOf('.') + 1)..];
        if (!Declarations.Add((declaring, member)))
            return;
        foreach (var (definition, other) in level.Document.Definitions)
        foreach (var (id, part) in (other as DiagramDefinition)?.Parts ?? [])
            if (BundlePart.Is(level.Catalog.Find(part.Type)) && BundlePart.TypeOf(part, level.Catalog) is { } own)
                foreach (var within in types.PathsTo(declaring, own))
                    Reach(definition, id, BundlePart.Whole, within.Length == 0 ? member : $"{within}.{member}");
    }
}
