using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// The class of the equation language that a diagram stands for: its parameters, its parts as components, its wires as connections, its
/// port parts as ports. What cannot be expressed becomes a finding, told with names as they are in this diagram.
/// </summary>
public sealed class DiagramClass
{
    readonly DiagramDefinition diagram;
    readonly string id;
    readonly PartCatalog catalog;
    readonly DefinitionCycles cycles;
    readonly NamesFromAbove above;
    readonly List<Finding> findings = [];
    readonly List<Element> elements = [];

    readonly bool isRoot;

    ILookup<string, string> portNames = Enumerable.Empty<string>().ToLookup(n => n);

    DiagramClass(string id, DiagramDefinition diagram, bool isRoot, PartCatalog catalog, DefinitionCycles cycles, NamesFromAbove above) =>
        (this.id, this.diagram, this.isRoot, this.catalog, this.cycles, this.above) = (id, diagram, isRoot, catalog, cycles, above);

    /// <summary>What was found; <see cref="Finding.Part"/> is a part's name, <see cref="Finding.Place"/> its path, in this
    /// diagram.</summary>
    public static (ClassDefinition Definition, IReadOnlyList<Finding> Findings) Of(
        string id,
        DiagramDefinition diagram,
        bool isRoot,
        PartCatalog catalog,
        DefinitionCycles cycles,
        NamesFromAbove above
    )
    {
        var made = new DiagramClass(id, diagram, isRoot, catalog, cycles, above);
        return (made.Make(), made.findings);
    }

    /// <summary>Marks a parameter that parts are handed from the level they stand on, and nobody sets.</summary>
    public const string FromAbove = "above";

    ClassDefinition Make()
    {
        var names = new HashSet<string>();
        foreach (var (name, parameter) in diagram.Parameters)
        {
            names.Add(name);
            AddParameter(name, parameter);
        }

        foreach (var name in above.Of(id).Order(StringComparer.Ordinal))
            elements.Add(
                new ComponentDeclaration("Real", name, default)
                {
                    Variability = Variability.Parameter,
                    Annotation = Ours((FromAbove, "true")),
                }
            );
        var ports = new List<(PartNode Part, ComponentDeclaration Declaration)>();
        var first = elements.Count;
        var middle = diagram.Parts.Count == 0 ? 0 : (diagram.Parts.Values.Min(p => p.X) + diagram.Parts.Values.Max(p => p.X)) / 2;
        foreach (var (partId, part) in diagram.Parts)
        {
            if (!names.Add(part.Name))
                Find(partId, part, "duplicate-name", $"The name '{part.Name}' is used twice.", "Rename one of them.");
            else if (cycles.Chain(id, partId) is { } chain)
                Find(
                    partId,
                    part,
                    "recursion",
                    $"A level cannot hold itself: {string.Join(" ▸ ", chain)}.",
                    "Take this part away, or make its definition independent of the others."
                );
            else if (catalog.Find(part.Type) is not { } type)
                Find(
                    partId,
                    part,
                    "unknown-class",
                    DefinitionReference.Parse(part.Type).IsOwn
                        ? $"The definition of '{part.Name}' is not in the model."
                        : $"There is no part of type '{part.Type}' in the catalog or the model.",
                    null
                );
            else if (PortPart.KindOf(type) is { } kind)
                ports.Add((part, PortPart.Declaration(part, kind, middle)));
            else
                AddPart(part, type);
        }

        portNames = ports.ToLookup(p => SideOf(p.Declaration), p => p.Part.Name);
        // The order of ports on the part's edge is that of their places on the diagram.
        elements.InsertRange(first, ports.OrderBy(p => p.Part.Y).ThenBy(p => p.Part.X).Select(p => p.Declaration));
        return new ClassDefinition(
            ClassKind.Model,
            diagram.Name,
            diagram.Description,
            false,
            elements,
            Connections(),
            [],
            Annotation(),
            default
        );
    }

    void Find(string partId, PartNode part, string code, string message, string? suggestion) =>
        findings.Add(
            new Finding(Severity.Error, code, message, part.Name, null, Suggestion: suggestion) { Place = PartPath.Root.Then(partId) }
        );

    void AddParameter(string name, ParameterNode parameter)
    {
        if (Field(parameter.Value, "", name) is not { } value)
            return;
        var attributes = new List<ModificationArgument>();
        if (parameter.Unit is { Length: > 0 } unit)
            attributes.Add(new ModificationArgument("unit", Modification.Of(new StringLiteral(unit, default)), false, false, default));
        foreach (var (attribute, text) in ((string, string?)[])[("min", parameter.Minimum), ("max", parameter.Maximum)])
            if (text is { Length: > 0 } && Field(text, "", name) is { } limit)
                attributes.Add(new ModificationArgument(attribute, Modification.Of(limit), false, false, default));
        elements.Add(
            new ComponentDeclaration("Real", name, default)
            {
                Variability = Variability.Parameter,
                Description = parameter.Description,
                IsFinal = parameter.IsDerived,
                Modification = new Modification(attributes, value),
                Annotation = parameter.Group is { Length: > 0 } group ? Ours(("group", group)) : null,
            }
        );
    }

    void AddPart(PartNode part, ClassDefinition type)
    {
        var arguments = new List<ModificationArgument>();
        var isBundle = BundlePart.Is(type);
        if (isBundle && BundlePart.Unusable(part, type) is { } wrong)
        {
            var isWord = Lexer.ReservedWords.Contains(wrong);
            findings.Add(
                new Finding(
                    Severity.Error,
                    "bundle-member",
                    isWord
                        ? $"'{wrong}' is a word of the equation language, so it cannot be the name of a member."
                        : $"'{wrong}' cannot be the name of a member.",
                    part.Name,
                    BundlePart.List,
                    Suggestion: isWord ? $"Try {wrong}_1." : "Take letters, digits and underscores, and a letter first."
                )
            );
        }

        foreach (var (name, text) in isBundle ? [] : part.Parameters)
            if (Field(text, part.Name, name) is { } value)
                arguments.Add(new ModificationArgument(name, Modification.Of(value), false, false, value.At));
        if (DefinitionReference.Parse(part.Type) is { IsOwn: true, Key: var inner })
            foreach (var name in above.Of(inner).Order(StringComparer.Ordinal))
                if (above.Knows(id, name) && !part.Parameters.ContainsKey(name))
                    arguments.Add(new ModificationArgument(name, Modification.Of(new Reference(name)), false, false, default));
        elements.Add(
            new ComponentDeclaration(part.Type, part.Name, default)
            {
                Modification = new Modification(arguments, null),
                // A bundle within a level is no port of it.
                IsProtected = isBundle && !isRoot,
            }
        );
    }

    List<Equation> Connections()
    {
        var equations = new List<Equation>();
        var wires = new LooseWires(id, diagram, catalog);
        foreach (var (wireId, wire) in diagram.Wires)
        {
            if (wires.Problem(wireId, wire) is { } problem)
                findings.Add(problem);
            else
                equations.Add(new ConnectEquation(End(diagram, catalog, wire.From)!, End(diagram, catalog, wire.To)!, default));
        }

        return equations;
    }

    /// <summary>A port as the text of a connection names it; null where there is none.</summary>
    public static Reference? End(DiagramDefinition diagram, PartCatalog catalog, PortReference port)
    {
        if (!diagram.Parts.TryGetValue(port.Part, out var part))
            return null;
        var type = catalog.Find(part.Type);
        if (port.Port == BundlePart.Whole && BundlePart.Is(type) || port.Port == PortPart.Whole && PortPart.KindOf(type) is not null)
            return new Reference([new ReferencePart(part.Name, [])], default);
        try
        {
            if (Parser.ParseExpression(port.Port) is Reference inner)
                return new Reference([new ReferencePart(part.Name, []), .. inner.Parts], default);
        }
        catch (LanguageException)
        {
            // A port of a level may be called by several words.
        }

        return type is not null && !BundlePart.Is(type) && catalog.Describe(part.Type).Ports.Any(p => p.Name == port.Port)
            ? new Reference([new ReferencePart(part.Name, []), new ReferencePart(port.Port, [])], default)
            : null;
    }

    Expression? Field(string text, string part, string item)
    {
        try
        {
            return Parser.ParseField(text);
        }
        catch (LanguageException e)
        {
            findings.Add(new Finding(Severity.Error, e.Error.Code, e.Error.Message, part, item, e.Error.At, e.Error.Suggestion));
            return null;
        }
    }

    static string SideOf(ComponentDeclaration port) =>
        (port.Annotation?.Argument("__AnchorBend")?.Value.Argument("side")?.Value.Binding as StringLiteral)?.Value ?? "left";

    /// <summary>What a letter of a port's name takes of the width, what stands between names, and the least width.</summary>
    const double LetterWidth = 5.4,
        Middle = 56,
        LeastWidth = 80,
        Grid = 8;

    /// <summary>Ports are named on the plate, beside the picture in its middle.</summary>
    double Width()
    {
        double Longest(string side) => portNames[side].Select(n => n.Length).DefaultIfEmpty(0).Max() * LetterWidth;
        // The picture stays in the middle, so both sides have the room of the longer one.
        return Math.Max(LeastWidth, Grid * Math.Ceiling((2 * Math.Max(Longest("left"), Longest("right")) + Middle) / Grid));
    }

    /// <summary>What the interface shows of parts of this definition.</summary>
    Modification? Annotation()
    {
        if (isRoot && diagram.Face is null)
            return null;
        var ours = Ours([.. Given([("face", diagram.Face?.Formula), ("help", diagram.Face?.Help)])]);
        var width = new ModificationArgument("width", Modification.Of(new NumberLiteral(Width(), false, default)), false, false, default);
        return new Modification(
            [ours.Arguments[0] with { Value = new Modification([.. ours.Arguments[0].Value.Arguments, width], null) }],
            null
        );
    }

    static IEnumerable<(string, string)> Given((string Name, string? Value)[] said) =>
        said.Where(s => s.Value is { Length: > 0 }).Select(s => (s.Name, s.Value!));

    static Modification Ours(params (string Name, string Value)[] said) =>
        new(
            [
                new ModificationArgument(
                    "__AnchorBend",
                    new Modification(
                        [
                            .. said.Select(s => new ModificationArgument(
                                s.Name,
                                Modification.Of(new StringLiteral(s.Value, default)),
                                false,
                                false,
                                default
                            )),
                        ],
                        null
                    ),
                    false,
                    false,
                    default
                ),
            ],
            null
        );
}
