using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Declares what bundles hold, under a name that any bundle of the model can be of; or changes such a type.</summary>
public sealed record DeclareBundle : Restructuring
{
    /// <summary>The id of the type to be changed; null for a new one.</summary>
    public string? Definition { get; init; }

    public required string Name { get; init; }

    public string? Description { get; init; }

    public required IReadOnlyList<DeclaredMember> Members { get; init; }

    /// <summary>A bundle of the level that becomes one of a new type.</summary>
    public string? Part { get; init; }

    internal override Restructured On(LevelAt level)
    {
        var name = Name.Trim();
        var (document, catalog) = (level.Document, level.Catalog);
        var types = new BundleTypes(document, catalog);
        var old = Definition is null ? null : types.Editable(Definition);
        if (old?.Name != name && catalog.Find(name) is not null)
            throw new DocumentException($"There is a part or a type called '{name}' already.");
        foreach (var member in Members)
            if (member is { Kind: "" })
                throw new DocumentException(
                    $"'{DocumentLimits.Short(member.Name ?? "")}' is a bundle with free members: declare its type first."
                );
            else if (member?.Kind is not ("Real" or "Integer" or "Boolean") && !types.IsType(member?.Kind))
                throw new DocumentException($"There is no bundle type '{DocumentLimits.Short(member?.Kind ?? "")}' in this model.");
        var text = BundleTypeText.Write(name, Description, Members);
        var id = Definition ?? NewIds.Definition(document);
        if (old is not null && old.Name != name)
            document = types.Renamed(old.Name, name);
        document = document.With(id, new TextDefinition { Name = name, Text = text });
        if (new BundleTypes(document, PartCatalog.Of(document, catalog)).HoldsItself(name))
            throw new DocumentException($"A bundle of the type {name} cannot hold one of the same type.");
        if (Definition is not null || Part is null)
            return new Restructured(Definition is null ? $"Declare {name}" : $"Change {name}", document, []);
        var changed = document.Definitions[level.Id] is DiagramDefinition diagram
            ? SetBundleType.Typed(diagram, Part, name, [.. Members.Select(m => m.Name)], level)
            : level.Diagram;
        return new Restructured($"Declare {name}", document.With(level.Id, changed), [Part]);
    }
}

/// <summary>Makes a bundle one of a type, or one with free members.</summary>
public sealed record SetBundleType : Restructuring
{
    public required string Part { get; init; }

    /// <summary>The name of the type; null for free members.</summary>
    public string? Type { get; init; }

    internal override Restructured On(LevelAt level)
    {
        var part = level.Part(Part);
        if (Type is null)
            return new Restructured($"Free members of {part.Name}", level.With(Typed(level.Diagram, Part, null, [], level)), [Part]);
        if (!new BundleTypes(level.Document, level.Catalog).IsType(Type))
            throw new DocumentException($"There is no bundle type '{DocumentLimits.Short(Type)}' in this model.");
        var declared = level.Catalog.Find(Type)!.Components.Select(c => c.Name).ToList();
        return new Restructured($"{part.Name} is {Type}", level.With(Typed(level.Diagram, Part, Type, declared, level)), [Part]);
    }

    /// <summary>The diagram with a bundle of another type: one that joins has the declared members, and those that are wired.</summary>
    internal static DiagramDefinition Typed(
        DiagramDefinition diagram,
        string id,
        string? name,
        IReadOnlyList<string> declared,
        LevelAt level
    )
    {
        var part = level.Part(id);
        if (level.Catalog.Find(part.Type) is not { } type || !BundlePart.Is(type))
            throw new DocumentException($"'{part.Name}' neither joins nor picks members of a bundle.");
        var parameters = new Dictionary<string, string>(part.Parameters);
        parameters.Remove(BundlePart.Declared);
        if (name is not null)
            parameters[BundlePart.Declared] = name;
        var wired = diagram
            .Wires.Values.SelectMany(w => (PortReference[])[w.From, w.To])
            .Where(e => e.Part == id && e.Port != BundlePart.Whole)
            .Select(e => e.Port)
            .ToHashSet();
        var joins = BundlePart.Joins(type) && PortPart.KindOf(type) is null;
        if (name is not null && joins)
            parameters[BundlePart.List] = string.Join(
                ", ",
                declared.Concat(BundlePart.Members(part, type).Where(m => wired.Contains(m) && !declared.Contains(m)))
            );
        var own = DefinitionReference.Parse(part.Type).IsOwn;
        if (own)
            parameters[BundlePart.List] = string.Join(", ", BundlePart.Members(part, type));
        return diagram with
        {
            Parts = new Dictionary<string, PartNode>(diagram.Parts)
            {
                // A type placed as a part is a bundle of it.
                [id] = part with
                {
                    Type = own ? BundlePart.Join : part.Type,
                    Parameters = parameters,
                },
            },
        };
    }
}

/// <summary>The bundle types that a model declares.</summary>
sealed class BundleTypes(ModelDocument document, PartCatalog catalog)
{
    public bool IsType(string? name) =>
        name is not null
        && document.Definitions.Values.Any(d => d is TextDefinition && d.Name == name)
        && BundlePart.Is(catalog.Find(name));

    /// <exception cref="DocumentException">There is no such type, or its text says more than a table can.</exception>
    public TextDefinition Editable(string id)
    {
        if (document.Definitions.GetValueOrDefault(id) is not TextDefinition text || !IsType(text.Name))
            throw new DocumentException($"There is no bundle type '{DocumentLimits.Short(id)}' in this model.");
        var found = catalog.Find(text.Name)!;
        return BundleTypeText.Members(found) is null
            ? throw new DocumentException($"The text of {text.Name} says more than a table of members can; change it in its text.")
            : text;
    }

    /// <summary>Whether a bundle of this type would hold one of the same type, at whatever depth.</summary>
    public bool HoldsItself(string name)
    {
        var seen = new HashSet<string>();
        var open = new Stack<string>([name]);
        while (open.TryPop(out var at))
            foreach (var component in catalog.Find(at)?.Components ?? [])
            {
                if (component.TypeName == name)
                    return true;
                if (BundlePart.Is(catalog.Find(component.TypeName)) && seen.Add(component.TypeName))
                    open.Push(component.TypeName);
            }

        return false;
    }

    /// <summary>The type that declares the last step of a member's path; null where none does.</summary>
    public string? Declaring(string type, string member)
    {
        var at = type;
        var steps = member.Split('.');
        for (var i = 0; ; i++)
        {
            if (!IsType(at) || catalog.Find(at)!.Components.FirstOrDefault(c => c.Name == steps[i]) is not { } component)
                return null;
            if (i == steps.Length - 1)
                return at;
            at = component.TypeName;
        }
    }

    /// <summary>The paths by which members of a type are reached in bundles of another: empty for the type itself.</summary>
    public IEnumerable<string> PathsTo(string wanted, string from) => Paths(wanted, from, [], []).Take(MostPaths);

    const int MostPaths = 1_000;

    IEnumerable<string> Paths(string wanted, string from, HashSet<string> around, Dictionary<string, bool> leads)
    {
        if (from == wanted)
            yield return "";
        if (!Leads(from) || !around.Add(from))
            yield break;
        foreach (var component in catalog.Find(from)!.Components)
            if (IsType(component.TypeName))
                foreach (var path in Paths(wanted, component.TypeName, around, leads))
                    yield return path.Length == 0 ? component.Name : $"{component.Name}.{path}";
        around.Remove(from);

        // Only where there is something to be found: types can hold each other in very many ways.
        bool Leads(string type)
        {
            if (leads.TryGetValue(type, out var known))
                return known;
            leads[type] = type == wanted;
            return leads[type] = type == wanted || (catalog.Find(type)?.Components ?? []).Any(c => IsType(c.TypeName) && Leads(c.TypeName));
        }
    }

    /// <summary>The document with a member of a type under another name in the type's text.</summary>
    public ModelDocument WithMember(ModelDocument changed, string type, string from, string to)
    {
        var (id, _) = document.Definitions.First(d => d.Value is TextDefinition && d.Value.Name == type);
        Editable(id);
        var definition = catalog.Find(type)!;
        var members = BundleTypeText.Members(definition)!;
        if (members.Any(m => m.Name == to))
            throw new DocumentException($"The type {type} has a member '{to}' already; the two would become one.");
        var text = BundleTypeText.Write(type, definition.Description, [.. members.Select(m => m.Name == from ? m with { Name = to } : m)]);
        return changed.With(id, new TextDefinition { Name = type, Text = text });
    }

    /// <summary>The document with a type under another name wherever it is spoken of.</summary>
    public ModelDocument Renamed(string from, string to)
    {
        var changed = document;
        foreach (var (id, definition) in document.Definitions)
            if (definition is DiagramDefinition diagram && diagram.Parts.Values.Any(IsOf))
                changed = changed.With(
                    id,
                    diagram with
                    {
                        Parts = diagram.Parts.ToDictionary(
                            p => p.Key,
                            p =>
                                IsOf(p.Value)
                                    ? p.Value with
                                    {
                                        Parameters = new Dictionary<string, string>(p.Value.Parameters) { [BundlePart.Declared] = to },
                                    }
                                    : p.Value
                        ),
                    }
                );
            else if (
                definition is TextDefinition text
                && text.Name != from
                && IsType(text.Name)
                && catalog.Find(text.Name) is { } other
                && other.Components.Any(c => c.TypeName == from)
            )
            {
                Editable(id);
                var members = BundleTypeText.Members(other)!.Select(m => m.Kind == from ? m with { Kind = to } : m);
                changed = changed.With(
                    id,
                    new TextDefinition { Name = text.Name, Text = BundleTypeText.Write(text.Name, other.Description, [.. members]) }
                );
            }

        return changed;

        bool IsOf(PartNode part) => part.Parameters.GetValueOrDefault(BundlePart.Declared) == from;
    }
}
