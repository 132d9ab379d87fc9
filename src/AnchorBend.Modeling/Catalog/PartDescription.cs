using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Modeling.Catalog;

/// <summary>A port as the catalog shows it.</summary>
/// <param name="Size">How many elements an array has, as written; null for a single port.</param>
/// <param name="IsVector">Whether an array is one port, with one wire, rather than a port for each element.</param>
/// <param name="Optional">Name of the Boolean parameter that shows the port; null for one that always shows.</param>
/// <param name="Side">left, right, top or bottom.</param>
/// <param name="Domain">Physical domain of the connector; null for a signal.</param>
/// <param name="Potential">Name of the connector's potential; null for a signal.</param>
/// <param name="Flow">Name of the connector's flow; null for a signal.</param>
public sealed record PortDescription(
    string Name,
    string? Description,
    Causality Causality,
    string Type,
    string? Size,
    bool IsVector,
    string? Optional,
    string Side,
    string? Domain,
    string? Potential,
    string? Flow
)
{
    public bool IsArray => Size is not null;
}

/// <summary>A parameter as the inspector offers it; limits and default as written.</summary>
public sealed record ParameterDescription(
    string Name,
    string? Description,
    string Type,
    string Default,
    string? Unit,
    string? DisplayUnit,
    string? Minimum,
    string? Maximum,
    bool IsArray,
    IReadOnlyList<ChoiceDescription>? Choices,
    string? ShownWhen,
    string? Group
)
{
    /// <summary>The unit as people write it: kg·m², °C.</summary>
    public string? UnitText => Unit is null ? null : Language.Units.Unit.Pretty(Unit);
}

public sealed record ChoiceDescription(string Name, string Value, string? Description);

/// <summary>A part as the catalog shows it.</summary>
/// <param name="Face">What stands on the plate, as mathematics markup; may hold {parameter} in double angle brackets.</param>
/// <param name="Formula">The part in one line of mathematics, where its equations are many.</param>
/// <param name="Plot">Names of two array parameters that are a curve: abscissas and ordinates; null for none.</param>
/// <param name="Equations">The part's own equations as mathematics markup.</param>
/// <param name="Validity">Within which limits the part says the truth.</param>
/// <param name="Drawn">The face with its drawn symbol or picture; null where it has neither.</param>
/// <param name="IsDiagram">Whether it was drawn as a level, whose text a model can take in as one.</param>
/// <param name="Operators">Functions and operators with names that the equations use, for searching.</param>
public record PartDescription(
    string Name,
    string Title,
    string Group,
    string Face,
    string? Formula,
    string? Shape,
    string? Symbol,
    string Keywords,
    string? Help,
    string? Article,
    double Width,
    double Height,
    IReadOnlyList<PortDescription> Ports,
    IReadOnlyList<ParameterDescription> Parameters,
    IReadOnlyList<string> Equations,
    IReadOnlyList<string>? Plot,
    string? Validity,
    IReadOnlyList<string> Operators,
    PartTraits Traits,
    FaceNode? Drawn = null,
    bool IsDiagram = false
)
{
    /// <summary>The default of a parameter as written; nothing for an unknown one.</summary>
    public string Default(string parameter) => Parameters.FirstOrDefault(p => p.Name == parameter)?.Default ?? "";

    /// <summary>The height on the diagram with so many ports on each side.</summary>
    public double HeightWith(int left, int right) => Shape == "circle" ? Height : Math.Max(Height, 16 * (Math.Max(left, right) + 1));

    /// <summary>The longest face, and how deep its braces may nest: what sets it recurses as deep.</summary>
    const int LongestFace = 600,
        DeepestFace = 24;

    const string TypesetterCharacters = "\\{}$%#&_^~";

    static bool IsShallow(string face)
    {
        var depth = 0;
        foreach (var c in face)
            if (
                (
                    depth += c switch
                    {
                        '{' => 1,
                        '}' => -1,
                        _ => 0,
                    }
                )
                is < 0
                    or > DeepestFace
            )
                return false;
        return depth == 0;
    }

    /// <param name="classes">Where bases and connectors are found.</param>
    public static PartDescription Of(ClassDefinition definition, IClassSource classes)
    {
        var ours = definition.Annotation?.Argument("__AnchorBend")?.Value;
        string? Text(string name) => (ours?.Argument(name)?.Value.Binding as StringLiteral)?.Value;
        double Number(string name, double otherwise) => ours?.Argument(name)?.Value.Binding is NumberLiteral n ? n.Value : otherwise;
        var ports = new List<PortDescription>();
        var parameters = new List<ParameterDescription>();
        var lineage = Lineage(definition, classes);
        foreach (var (component, writtenIn) in lineage.SelectMany(c => c.Components.Select(component => (component, c))))
        {
            var own = component.Annotation?.Argument("__AnchorBend")?.Value;
            string? Own(string name) => (own?.Argument(name)?.Value.Binding as StringLiteral)?.Value;
            var given = DiagramAnnotations.GivenOf(own);
            if (Port(component, Own("optional"), Own("side"), classes) is { } port)
                ports.Add(
                    port with
                    {
                        IsVector = port.IsArray && own?.Argument("vector")?.Value.Binding is BooleanLiteral { Value: true },
                    }
                );
            if (
                component.Variability == Variability.Parameter
                && !component.IsProtected
                && !component.IsFinal
                && Own(DiagramClass.FromAbove) is null
            )
                parameters.Add(
                    Parameter(
                        writtenIn,
                        component,
                        Own(DiagramAnnotations.Shown) ?? Asked(component, given, lineage),
                        Own(DiagramAnnotations.Group) ?? given?.Group
                    )
                );
            // A formula is set like a parameter, though it is the output's own equation.
            if (own?.Argument("formula") is not null)
                parameters.Add(
                    new ParameterDescription(
                        component.Name,
                        component.Description,
                        "Formula",
                        component.Modification?.Binding is { } b ? ExpressionText.Print(b) : "0",
                        null,
                        null,
                        null,
                        null,
                        false,
                        null,
                        null,
                        null
                    )
                );
        }

        if (PortPart.KindOf(definition) == PortKind.Physical && Terminal(definition) is { } terminal)
            ports.Add(terminal);
        if (BundlePart.Is(definition))
        {
            var joins = BundlePart.Joins(definition);
            ports.Add(
                new PortDescription(
                    BundlePart.Whole,
                    "All members",
                    joins ? Causality.Output : Causality.Input,
                    "Bundle",
                    null,
                    false,
                    null,
                    joins ? "right" : "left",
                    null,
                    null,
                    null
                )
            );
            parameters.Add(
                new ParameterDescription(
                    BundlePart.List,
                    "Members",
                    "Names",
                    BundlePart.DefaultMembers(definition),
                    null,
                    null,
                    null,
                    null,
                    false,
                    null,
                    null,
                    null
                )
            );
            parameters.Add(
                new ParameterDescription(BundlePart.Declared, "Type", "BundleType", "", null, null, null, null, false, null, null, null)
            );
        }

        if (PortPart.KindOf(definition) is { } kind)
            parameters = PortPart.Parameters(kind, parameters);
        var look = DiagramAnnotations.FaceOf(ours);
        return new PartDescription(
            definition.Name,
            Text("title") ?? Spaced(definition.Name),
            Text("group") ?? "",
            (look?.Formula ?? Text("face")) is { Length: > 0 and <= LongestFace } face && IsShallow(face)
                ? face
                : PlainFace(Text("title") ?? Spaced(definition.Name)),
            Text("formula"),
            Text("shape"),
            Text("symbol"),
            Text("keywords") ?? "",
            definition.Description,
            look?.Help ?? Text("help"),
            Number("width", 80),
            Number("height", 48),
            ports,
            parameters,
            [
                .. lineage.SelectMany(c => c.Equations).Where(e => e is not CallEquation).Select(e => EquationMath.Print(e)),
                .. lineage.SelectMany(c => c.Algorithms).SelectMany(a => EquationMath.Lines(a.Statements)),
            ],
            Text("plot")?.Split(',', StringSplitOptions.TrimEntries),
            Text("validity"),
            [],
            PartTraits.Of(ours),
            look is { Sketch: not null } or { Picture: not null } ? look : null,
            ours?.Argument("format") is not null
        );
    }

    /// <summary>The hidden parameter by which the text of a drawn part says whether another is asked for; null where it says
    /// nothing.</summary>
    static string? Asked(ComponentDeclaration component, ParameterNode? given, List<ClassDefinition> lineage) =>
        given?.ShownWhen is { Length: > 0 }
        && DiagramAnnotations.Asked(component.Name) is var asked
        && lineage.Exists(c => c.Components.Any(other => other.Name == asked))
            ? asked
            : null;

    /// <summary>The face of what declares none: its title as text, without the characters that mean something to a typesetter.</summary>
    static string PlainFace(string title) =>
        $"\\text{{{string.Concat(title.Take(LongestFace).Where(c => !TypesetterCharacters.Contains(c)))}}}";

    /// <summary>The class with its bases, these first and each once.</summary>
    static List<ClassDefinition> Lineage(ClassDefinition definition, IClassSource classes)
    {
        var lineage = new List<ClassDefinition>();
        var seen = new HashSet<ClassDefinition>(ReferenceEqualityComparer.Instance);
        void Add(ClassDefinition type)
        {
            if (seen.Count > MostBases || !seen.Add(type))
                return;
            foreach (var extends in type.Elements.OfType<ExtendsClause>())
                if (classes.Find(extends.Base) is { } ancestor)
                    Add(ancestor);
            lineage.Add(type);
        }

        Add(definition);
        return lineage;
    }

    /// <summary>Bases that are looked at; more would be no part that anybody reads.</summary>
    const int MostBases = 100;

    static string? SizeOf(ComponentDeclaration component) =>
        component.Dimensions.Count == 0 ? null : ExpressionText.Print(component.Dimensions[0]);

    static PortDescription? Port(ComponentDeclaration component, string? optional, string? side, IClassSource classes)
    {
        if (component.Causality != Causality.None)
            return new PortDescription(
                component.Name,
                component.Description,
                component.Causality,
                component.TypeName,
                SizeOf(component),
                false,
                optional,
                side ?? (component.Causality == Causality.Input ? "left" : "right"),
                null,
                null,
                null
            );
        if (component.IsProtected || classes.Find(component.TypeName) is not { Kind: ClassKind.Connector } connector)
            return null;
        if (BundlePart.Is(connector))
            return new PortDescription(
                component.Name,
                component.Description,
                side == "right" ? Causality.Output : Causality.Input,
                "Bundle",
                null,
                false,
                optional,
                side ?? "left",
                null,
                null,
                null
            );
        return Physical(component, connector, optional, side);
    }

    /// <summary>The port that a physical port of a level shows on the level's own diagram.</summary>
    static PortDescription? Terminal(ClassDefinition connector) =>
        Physical(new ComponentDeclaration(connector.Name, PortPart.Whole, default), connector, null, null);

    static PortDescription Physical(ComponentDeclaration component, ClassDefinition connector, string? optional, string? side)
    {
        var domain = connector.Annotation?.Argument("__AnchorBend")?.Value.Argument("domain")?.Value.Binding as StringLiteral;
        var members = connector.Components.Where(c => c.Variability == Variability.Continuous).ToList();
        return new PortDescription(
            component.Name,
            component.Description,
            Causality.None,
            component.TypeName,
            SizeOf(component),
            false,
            optional,
            side ?? "left",
            domain?.Value ?? connector.Name,
            members.Find(m => !m.IsFlow && !m.IsStream)?.Name,
            members.Find(m => m.IsFlow)?.Name
        );
    }

    static ParameterDescription Parameter(ClassDefinition definition, ComponentDeclaration component, string? shown, string? group)
    {
        Expression? Attribute(string name) => component.Modification?.Argument(name)?.Value.Binding;
        string? Printed(string name) => Attribute(name) is { } e ? ExpressionText.Print(e) : null;
        var type = definition.Classes.FirstOrDefault(c => c.Name == component.TypeName);
        var choices = type
            ?.Enumeration?.Select(l => new ChoiceDescription(l.Name, $"{type.Name}.{ExpressionText.Name(l.Name)}", l.Description))
            .ToList();
        if (
            component.Annotation?.Argument("__AnchorBend")?.Value is { } own
            && (DiagramAnnotations.ChoicesOf(own) ?? DiagramAnnotations.GivenOf(own)?.Choices) is { } offered
        )
            choices = [.. offered.Select(c => new ChoiceDescription(c.Name, c.Value, null))];
        if (component.TypeName == "Boolean" && component.Dimensions.Count == 0)
            choices = [new ChoiceDescription("no", "false", null), new ChoiceDescription("yes", "true", null)];
        return new ParameterDescription(
            component.Name,
            component.Description,
            choices is null || type is null ? component.TypeName : "Choice",
            component.Modification?.Binding is { } value ? ExpressionText.Print(value) : "0",
            (Attribute("unit") as StringLiteral)?.Value,
            (Attribute("displayUnit") as StringLiteral)?.Value,
            Printed("min"),
            Printed("max"),
            component.Dimensions.Count > 0,
            choices,
            shown,
            group
        );
    }

    static string Spaced(string name)
    {
        var text = new System.Text.StringBuilder();
        for (var i = 0; i < name.Length; i++)
        {
            var boundary = i > 0 && char.IsUpper(name[i]) && !char.IsUpper(name[i - 1]);
            if (boundary)
                text.Append(' ');
            text.Append(boundary && (i + 1 >= name.Length || !char.IsUpper(name[i + 1])) ? char.ToLowerInvariant(name[i]) : name[i]);
        }

        return text.ToString();
    }
}
