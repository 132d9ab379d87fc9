using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Interchange;

/// <summary>Reads classes as diagrams.</summary>
/// <param name="typeOf">The type of a part from the name of its class in the text.</param>
sealed class DiagramReader(ClassList classes, Func<string, string> typeOf)
{
    const double Grid = 8;

    readonly List<DiagramDefinition> unplaced = [];
    readonly Dictionary<PartNode, ClassDefinition?> types = new(ReferenceEqualityComparer.Instance);

    /// <summary>Diagrams whose text does not say where everything stands.</summary>
    public IReadOnlyList<DiagramDefinition> Unplaced => unplaced;

    public DiagramDefinition Read(ClassDefinition model)
    {
        var ours = Annotations.Ours(model.Annotation);
        var diagram = new DiagramDefinition
        {
            Name = Annotations.Text(ours, "name") ?? model.Name,
            Description = model.Description,
            Slot = Annotations.Text(ours, DiagramAnnotations.Slot),
            Face = Annotations.Strings(ours, "face") is [var face, ..] ? Annotations.Parsed<FaceNode>(face) : null,
        };
        var ids = new Dictionary<string, string>();
        var placed = true;
        foreach (var component in model.Components)
        {
            if (IsFromAbove(component) || IsCondition(component) || StandsIn(component.Annotation) || IsOfSheet(component))
                continue;
            if (component is { TypeName: "Real" or "Boolean" or "String", Variability: Variability.Parameter })
            {
                diagram.Parameters[component.Name] = Parameter(component);
                continue;
            }

            var own = Annotations.Ours(component.Annotation);
            var id = Annotations.Text(own, "id") is { } given && !diagram.Parts.ContainsKey(given) ? given : $"p{diagram.Parts.Count + 1}";
            ids[component.Name] = id;
            var part = diagram.Parts[id] = Part(component, model);
            types[part] = classes.Find(component.Causality == Causality.None ? component.TypeName : part.Type);
            placed &= Extent(component.Annotation) is not null;
        }

        ReadWires(model, diagram, ids, placed);
        foreach (var (key, value) in Annotations.Entries<WireNode>(ours, "looseWires"))
            diagram.Wires[key] = value;
        foreach (var (key, value) in Annotations.Entries<SignalNode>(ours, "signals"))
            diagram.Signals[key] = value;
        foreach (var (key, value) in Annotations.Entries<AreaNode>(ours, "areas"))
            diagram.Areas[key] = value;
        foreach (var (key, value) in Annotations.Entries<NoteNode>(ours, "notes"))
            diagram.Notes[key] = value;
        if (!placed)
            unplaced.Add(diagram);
        return diagram;
    }

    /// <summary>What a level hands down follows from the names that are spoken of; documents do not hold it.</summary>
    public static bool IsFromAbove(ComponentDeclaration component) =>
        Annotations.Ours(component.Annotation)?.Argument(DiagramClass.FromAbove) is not null;

    /// <summary>Whether a component only says when a parameter is asked for, which that parameter says too.</summary>
    public static bool IsCondition(ComponentDeclaration component) =>
        Annotations.Ours(component.Annotation)?.Argument(DiagramAnnotations.Condition) is not null;

    /// <summary>Whether a parameter follows from a sheet.</summary>
    static bool IsOfSheet(ComponentDeclaration component) =>
        Annotations.Ours(component.Annotation)?.Argument(DiagramAnnotations.Sheet) is not null;

    /// <summary>Whether something is there for an option that is left out, which that option says too.</summary>
    public static bool StandsIn(Modification? annotation) => Annotations.Ours(annotation)?.Argument(DiagramAnnotations.StandIn) is not null;

    static ParameterNode Parameter(ComponentDeclaration component)
    {
        var own = Annotations.Ours(component.Annotation);
        if (Annotations.Text(own, "given") is { } given)
            return Annotations.Parsed<ParameterNode>(given);
        return new ParameterNode
        {
            Value = Annotations.Strings(own, "typed") is [var typed, ..] ? typed : ValueOf(component),
            Description = component.Description,
        };
    }

    PartNode Part(ComponentDeclaration component, ClassDefinition model)
    {
        var own = Annotations.Ours(component.Annotation);
        var type = classes.Find(component.TypeName);
        var isPort = component.Causality != Causality.None || PortPart.KindOf(type) is not null;
        var parameters = new Dictionary<string, string>();
        if (isPort && own is null)
            foreach (var (name, value) in PortParameters(component))
                parameters[name] = value;
        var handed = (type?.Components ?? []).Where(IsFromAbove).Select(c => c.Name).ToHashSet();
        foreach (var (name, value) in isPort ? [] : Flattened("", component.Modification?.Arguments ?? []))
            if (!handed.Contains(name))
                parameters[name] = ExpressionText.Print(value);
        foreach (var entry in Annotations.Strings(own, "typed"))
            if (entry.IndexOf('=') is > 0 and var cut)
                parameters[entry[..cut]] = entry[(cut + 1)..];
        if (BundlePart.Is(type) && !isPort && own is null)
            parameters[BundlePart.List] = string.Join(", ", MembersOf(component.Name, model));
        var extent = Extent(component.Annotation);
        return new PartNode
        {
            Type = component.Causality switch
            {
                Causality.Input => "InputPort",
                Causality.Output => "OutputPort",
                _ when Annotations.Text(own, "bundle") is { } bundle && BundlePart.Is(type) => bundle,
                _ => typeOf(component.TypeName),
            },
            Name = component.Name,
            Parameters = parameters,
            Flip = extent is { Flip: true },
            Turn = Turn(component.Annotation),
            OnlyWhen = Annotations.Text(own, "onlyWhen") ?? (component.Condition is { } condition ? ExpressionText.Print(condition) : null),
            Otherwise = own?.Argument("otherwise") is null ? null : Stated(own),
            Shapes = own?.Argument("shapes") is null
                ? null
                : Annotations.Entries<ShapeNode>(own, "shapes").ToDictionary(s => s.Key, s => s.Value),
            X = extent?.X ?? 0,
            Y = extent?.Y ?? 0,
        };
    }

    static Dictionary<string, string> Stated(Modification own)
    {
        var stated = new Dictionary<string, string>();
        foreach (var entry in Annotations.Strings(own, "otherwise"))
            if (entry.IndexOf('=') is > 0 and var cut)
                stated[entry[..cut]] = entry[(cut + 1)..];
        return stated;
    }

    static IEnumerable<(string Name, string Value)> PortParameters(ComponentDeclaration component)
    {
        if (component.TypeName is "Integer" or "Boolean")
            yield return ("kind", component.TypeName == "Integer" ? "Kind.whole" : "Kind.truth");
        if (component.Dimensions is [var size])
            yield return (PortPart.Size, ExpressionText.Print(size));
        if (component.Modification?.Argument("unit")?.Value.Binding is StringLiteral { Value: { Length: > 0 } unit })
            yield return ("unit", unit);
        if (component.Description is { Length: > 0 } description)
            yield return ("description", description);
    }

    void ReadWires(ClassDefinition model, DiagramDefinition diagram, Dictionary<string, string> ids, bool placed)
    {
        foreach (var connect in model.Equations.Cast<ConnectEquation>())
        {
            if (StandsIn(connect.Annotation))
                continue;
            if (Port(connect.First, ids, diagram) is not { } from || Port(connect.Second, ids, diagram) is not { } to)
                throw new DocumentException($"Line {connect.At.Line}: a connection must join ports of parts, as in connect(a.y, b.u).");
            var own = Annotations.Ours(connect.Annotation);
            var id = Annotations.Text(own, "id") is { } given && !diagram.Wires.ContainsKey(given) ? given : $"w{diagram.Wires.Count + 1}";
            var points = Points(connect.Annotation?.Argument("Line")?.Value.Argument("points")?.Value.Binding);
            diagram.Wires[id] = new WireNode
            {
                From = from,
                To = to,
                Bends =
                    placed && own is not null && points.Count > 2
                        ? [.. points.Skip(1).SkipLast(1).Select(p => new Point(p.X, Down(p.Y)))]
                        : [],
                ByName = own?.Argument("byName")?.Value.Binding is BooleanLiteral { Value: true } ? true : null,
            };
        }
    }

    /// <summary>The end of a wire: a part's port, or a part that is a port or a bundle as a whole.</summary>
    PortReference? Port(Reference reference, Dictionary<string, string> ids, DiagramDefinition diagram)
    {
        if (reference.Parts is not [{ Subscripts.Count: 0 } first, ..] || !ids.TryGetValue(first.Name, out var id))
            return null;
        var type = types[diagram.Parts[id]];
        if (reference.Parts is [_, { Subscripts.Count: 0 } only] && !BundlePart.Is(type))
            return new PortReference(id, only.Name);
        if (reference.Parts.Count > 1)
            return new PortReference(id, ExpressionText.Print(reference with { Parts = [.. reference.Parts.Skip(1)] }));
        return BundlePart.Is(type) ? new PortReference(id, BundlePart.Whole)
            : PortPart.KindOf(type) is not null ? new PortReference(id, PortPart.Whole)
            : null;
    }

    static string ValueOf(ComponentDeclaration parameter)
    {
        var value = ExpressionText.Print(parameter.Modification!.Binding!);
        return parameter.Modification.Argument("unit")?.Value.Binding is StringLiteral { Value.Length: > 0 } unit
            ? $"{value} {unit.Value}"
            : value;
    }

    static IEnumerable<(string Name, Expression Value)> Flattened(string prefix, IEnumerable<ModificationArgument> arguments)
    {
        foreach (var argument in arguments)
        {
            if (argument.Value.Binding is { } binding)
                yield return (prefix + argument.Name, binding);
            foreach (var inner in Flattened(prefix + argument.Name + ".", argument.Value.Arguments))
                yield return inner;
        }
    }

    /// <summary>The members of a bundle that a foreign text connects.</summary>
    static IEnumerable<string> MembersOf(string bundle, ClassDefinition model) =>
        model
            .Equations.OfType<ConnectEquation>()
            .SelectMany(c => new[] { c.First, c.Second })
            .Where(r => r.Parts.Count > 1 && r.Parts[0].Name == bundle)
            .Select(r => ExpressionText.Print(r with { Parts = [.. r.Parts.Skip(1)] }))
            .Distinct();

    static (double X, double Y, bool Flip)? Extent(Modification? annotation)
    {
        var points = Points(annotation?.Argument("Placement")?.Value.Argument("transformation")?.Value.Argument("extent")?.Value.Binding);
        if (points is not [var a, var b])
            return null;
        // Foreign diagrams need not lie on our grid.
        return Annotations.Ours(annotation) is not null
            ? (Math.Min(a.X, b.X), Down(Math.Max(a.Y, b.Y)), a.X > b.X)
            : (Grid * Math.Round(2 * Math.Min(a.X, b.X) / Grid), Grid * Math.Round(-2 * Math.Max(a.Y, b.Y) / Grid), a.X > b.X);
    }

    /// <summary>Quarter turns clockwise; other rotations are taken to the nearest.</summary>
    static int Turn(Modification? annotation)
    {
        var transformation = annotation?.Argument("Placement")?.Value.Argument("transformation")?.Value;
        var degrees = transformation?.Argument("rotation")?.Value.Binding is { } written ? Value(written) : 0;
        return Math.Abs(degrees) <= 360 ? ((int)Math.Round(-degrees / 90) % 4 + 4) % 4 : 0;
    }

    static List<(double X, double Y)> Points(Expression? expression) =>
        expression is ArrayLiteral list
            ?
            [
                .. list
                    .Elements.OfType<ArrayLiteral>()
                    .Where(p => p.Elements.Count == 2)
                    .Select(p => (Value(p.Elements[0]), Value(p.Elements[1]))),
            ]
            : [];

    static double Value(Expression expression) =>
        expression switch
        {
            NumberLiteral n => n.Value,
            Unary { Kind: UnaryKind.Minus, Operand: NumberLiteral n } => -n.Value,
            _ => 0,
        };

    /// <summary>Turned over, without a negative zero.</summary>
    static double Down(double y) => y == 0 ? 0 : -y;
}
