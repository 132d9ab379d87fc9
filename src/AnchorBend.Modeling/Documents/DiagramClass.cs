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
    readonly SheetNames sheets;
    readonly List<Finding> findings = [];
    readonly List<Element> elements = [];

    readonly ParameterUnits units;
    readonly BundleParts bundles;
    readonly bool isRoot;

    ILookup<string, string> portNames = Enumerable.Empty<string>().ToLookup(n => n);

    DiagramClass(
        string id,
        DiagramDefinition diagram,
        bool isRoot,
        PartCatalog catalog,
        DefinitionCycles cycles,
        NamesFromAbove above,
        SheetNames sheets
    ) =>
        (this.id, this.diagram, this.isRoot, this.catalog, this.cycles, this.above, this.sheets, units, bundles) = (
            id,
            diagram,
            isRoot,
            catalog,
            cycles,
            above,
            sheets,
            new ParameterUnits(above),
            new BundleParts(diagram, catalog, findings)
        );

    /// <summary>What was found; <see cref="Finding.Part"/> is a part's name, <see cref="Finding.Place"/> its path, in this
    /// diagram.</summary>
    public static (ClassDefinition Definition, IReadOnlyList<Finding> Findings) Of(
        string id,
        DiagramDefinition diagram,
        bool isRoot,
        PartCatalog catalog,
        DefinitionCycles cycles,
        NamesFromAbove above,
        SheetNames sheets
    )
    {
        var made = new DiagramClass(id, diagram, isRoot, catalog, cycles, above, sheets);
        return (made.Make(), made.findings);
    }

    /// <summary>Marks a parameter that parts are handed from the level they stand on, and nobody sets.</summary>
    public const string FromAbove = "above";

    /// <summary>The middle of a diagram: physical ports left of it stand at the left of the part that the level is.</summary>
    public static double Middle(DiagramDefinition diagram) =>
        diagram.Parts.Count == 0 ? 0 : (diagram.Parts.Values.Min(p => p.X) + diagram.Parts.Values.Max(p => p.X)) / 2;

    /// <summary>The parts of a diagram, its ports first and in the order that they have on the edge of the level's part: that of their
    /// places.</summary>
    public static IEnumerable<KeyValuePair<string, PartNode>> InPortOrder(DiagramDefinition diagram, PartCatalog catalog)
    {
        bool IsPort(PartNode part) => PortPart.KindOf(catalog.Find(part.Type)) is not null;
        return diagram
            .Parts.Where(p => IsPort(p.Value))
            .OrderBy(p => p.Value.Y)
            .ThenBy(p => p.Value.X)
            .Concat(diagram.Parts.Where(p => !IsPort(p.Value)));
    }

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
                new ComponentDeclaration(above.TypeOf(id, name), name, default)
                {
                    Variability = Variability.Parameter,
                    Annotation = DiagramAnnotations.Ours((FromAbove, "true")),
                }
            );
        if (isRoot && sheets is { IsEmpty: false })
            elements.AddRange(new SheetParameters(sheets, above, id, findings).All);
        var ports = new List<(PartNode Part, ComponentDeclaration Declaration)>();
        var first = elements.Count;
        var middle = Middle(diagram);
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
                ports.Add((part, PortPart.Declaration(part, kind, middle, bundles.ClassOf(part, type))));
            else
            {
                AddPart(part, type);
                bundles.FindUnwired(partId, part, type);
            }
        }

        if (diagram.Slot is not null)
            findings.AddRange(new SlotFit(id, diagram, catalog, above).Findings());
        if (!isRoot)
            FindUnwired(ports.Select(p => p.Part));
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

    /// <summary>A port that nothing is wired to inside says nothing, whatever is wired to it outside.</summary>
    void FindUnwired(IEnumerable<PartNode> ports)
    {
        var wired = diagram.Wires.Values.SelectMany(w => (string[])[w.From.Part, w.To.Part]).ToHashSet();
        var unwired = ports.ToHashSet(ReferenceEqualityComparer.Instance);
        foreach (var (partId, part) in diagram.Parts)
            if (unwired.Contains(part) && !wired.Contains(partId))
                findings.Add(
                    new Finding(
                        Severity.Warning,
                        "unwired-port",
                        $"Nothing is wired to the port '{part.Name}' on this level.",
                        part.Name,
                        null,
                        Suggestion: "Wire it to what it is for, or delete it."
                    )
                    {
                        Place = PartPath.Root.Then(partId),
                    }
                );
    }

    void Find(string partId, PartNode part, string code, string message, string? suggestion) =>
        findings.Add(
            new Finding(Severity.Error, code, message, part.Name, null, Suggestion: suggestion) { Place = PartPath.Root.Then(partId) }
        );

    void AddParameter(string name, ParameterNode parameter)
    {
        var type = above.TypeOf(id, name);
        var own = type == ParameterTypes.Real ? parameter.Unit : null;
        if (Field(parameter.Value, "", name, own) is not { } value)
            return;
        var attributes = new List<ModificationArgument>();
        if (type == ParameterTypes.Real && parameter.Unit is { Length: > 0 } unit)
            attributes.Add(new ModificationArgument("unit", Modification.Of(new StringLiteral(unit, default)), false, false, default));
        foreach (var (attribute, text) in ((string, string?)[])[("min", parameter.Minimum), ("max", parameter.Maximum)])
            if (type == ParameterTypes.Real && text is { Length: > 0 } && Field(text, "", name, own) is { } limit)
                attributes.Add(new ModificationArgument(attribute, Modification.Of(limit), false, false, default));
        var shown = parameter.ShownWhen is { Length: > 0 } condition && Field(condition, "", name) is { } when ? Asked(name, when) : null;
        elements.Add(
            new ComponentDeclaration(type, name, default)
            {
                Variability = Variability.Parameter,
                Description = parameter.Description,
                IsFinal = parameter.IsDerived,
                Modification = new Modification(attributes, value),
                Annotation = DiagramAnnotations.OfParameter(parameter, shown),
            }
        );
    }

    /// <summary>The hidden parameter that says whether another is asked for; the model itself computes it.</summary>
    string Asked(string name, Expression condition)
    {
        var asked = DiagramAnnotations.Asked(name);
        elements.Add(
            new ComponentDeclaration("Boolean", asked, default)
            {
                Variability = Variability.Parameter,
                IsProtected = true,
                IsFinal = true,
                Modification = Modification.Of(condition),
            }
        );
        return asked;
    }

    void AddPart(PartNode part, ClassDefinition type)
    {
        var arguments = new List<ModificationArgument>();
        var isBundle = BundlePart.Is(type);
        if (isBundle)
            bundles.FindUnusable(part, type);
        foreach (var (name, text) in isBundle ? [] : part.Parameters)
            if (Field(text, part.Name, name, UnitOf(part, name)) is { } value)
                arguments.Add(new ModificationArgument(name, Modification.Of(value), false, false, value.At));
        if (DefinitionReference.Parse(part.Type) is { IsOwn: true, Key: var inner })
            foreach (var name in above.Of(inner).Order(StringComparer.Ordinal))
                if (above.Knows(id, name) && !part.Parameters.ContainsKey(name))
                    arguments.Add(new ModificationArgument(name, Modification.Of(new Reference(name)), false, false, default));
        elements.Add(
            new ComponentDeclaration(bundles.ClassOf(part, type), part.Name, default)
            {
                Modification = new Modification(arguments, null),
                // A bundle within a level is no port of it.
                IsProtected = isBundle && !isRoot,
                Condition = Condition(part),
            }
        );
    }

    /// <summary>The condition of an option; null for a part that is always there.</summary>
    Expression? Condition(PartNode part) => part.OnlyWhen is { Length: > 0 } text ? Field(text, part.Name, PartNode.ConditionField) : null;

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

        foreach (var standIn in new StandIns(diagram, catalog).All)
            if (Field(standIn.Value, standIn.Part, standIn.Port, standIn.Unit) is { } value)
            {
                elements.Add(standIn.Declaration(value, standIn.Options.Select(o => Condition(o)!)));
                equations.AddRange(standIn.Connections(diagram, catalog));
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

    /// <summary>The unit that a parameter of a part is declared in; looked up only for what is computed from others.</summary>
    string? UnitOf(PartNode part, string parameter) =>
        ParameterUses.Names(part.Parameters[parameter]).Count == 0
            ? null
            : catalog.Describe(part.Type).Parameters.FirstOrDefault(p => p.Name == parameter)?.Unit;

    /// <param name="unit">The unit that the field is declared in.</param>
    Expression? Field(string text, string part, string item, string? unit = null)
    {
        try
        {
            return units.Meant(id, Parser.ParseField(text), unit);
        }
        catch (LanguageException e)
        {
            findings.Add(new Finding(Severity.Error, e.Error.Code, e.Error.Message, part, item, e.Error.At, e.Error.Suggestion));
            return null;
        }
    }

    static string SideOf(ComponentDeclaration port) =>
        (port.Annotation?.Argument("__AnchorBend")?.Value.Argument("side")?.Value.Binding as StringLiteral)?.Value ?? "left";

    /// <summary>What the interface shows of parts of this definition.</summary>
    Modification? Annotation()
    {
        if (isRoot && diagram.Face is null)
            return null;
        var (width, height) = PlateSize.Of(diagram.Face, portNames);
        return DiagramAnnotations.OfLevel(diagram.Face, width, height);
    }
}
