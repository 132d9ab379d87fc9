using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Catalog;

/// <summary>A port as the catalog shows it.</summary>
/// <param name="Optional">Name of the Boolean parameter that shows the port; null for one that always shows.</param>
public sealed record PortDescription(string Name, string? Description, Causality Causality, string Type, bool IsArray, string? Optional, string? Side);

/// <summary>A parameter as the inspector offers it; limits and default as written.</summary>
public sealed record ParameterDescription(
    string Name, string? Description, string Type, string Default, string? Unit, string? DisplayUnit, string? Minimum, string? Maximum,
    bool IsArray, IReadOnlyList<ChoiceDescription>? Choices, string? ShownWhen, string? Group);

public sealed record ChoiceDescription(string Name, string Value, string? Description);

/// <summary>A part as the catalog shows it.</summary>
/// <param name="Face">What stands on the plate, as mathematics markup; may hold {parameter} in double angle brackets.</param>
/// <param name="Formula">The part in one line of mathematics, where its equations are many.</param>
/// <param name="Equations">The part's own equations as mathematics markup.</param>
public sealed record PartDescription(
    string Name, string Title, string Group, string Face, string? Formula, string? Shape, string? Symbol, string Keywords, string? Help, string? Article, double Width, double Height,
    IReadOnlyList<PortDescription> Ports, IReadOnlyList<ParameterDescription> Parameters, IReadOnlyList<string> Equations)
{
    public static PartDescription Of(ClassDefinition definition)
    {
        var ours = definition.Annotation?.Argument("__AnchorBend")?.Value;
        string? Text(string name) => (ours?.Argument(name)?.Value.Binding as StringLiteral)?.Value;
        double Number(string name, double otherwise) => ours?.Argument(name)?.Value.Binding is NumberLiteral n ? n.Value : otherwise;
        var ports = new List<PortDescription>();
        var parameters = new List<ParameterDescription>();
        foreach (var component in definition.Components)
        {
            var own = component.Annotation?.Argument("__AnchorBend")?.Value;
            string? Own(string name) => (own?.Argument(name)?.Value.Binding as StringLiteral)?.Value;
            if (component.Causality != Causality.None)
                ports.Add(new PortDescription(component.Name, component.Description, component.Causality, component.TypeName, component.Dimensions.Count > 0, Own("optional"), Own("side")));
            if (component.Variability == Variability.Parameter && !component.IsProtected && !component.IsFinal)
                parameters.Add(Parameter(definition, component, Own("shown"), Own("group")));
            // A formula is set like a parameter, though it is the output's own equation.
            if (own?.Argument("formula") is not null)
                parameters.Add(new ParameterDescription(component.Name, component.Description, "Formula",
                    component.Modification?.Binding is { } b ? ExpressionText.Print(b) : "0", null, null, null, null, false, null, null, null));
        }

        return new PartDescription(definition.Name, Text("title") ?? Spaced(definition.Name), Text("group") ?? "", Text("face") ?? $"\\mathrm{{{definition.Name}}}", Text("formula"),
            Text("shape"), Text("symbol"), Text("keywords") ?? "", definition.Description, Text("help"), Number("width", 80), Number("height", 48), ports, parameters,
            [.. definition.Equations.Select(e => EquationMath.Print(e))]);
    }

    static ParameterDescription Parameter(ClassDefinition definition, ComponentDeclaration component, string? shown, string? group)
    {
        Expression? Attribute(string name) => component.Modification?.Argument(name)?.Value.Binding;
        string? Printed(string name) => Attribute(name) is { } e ? ExpressionText.Print(e) : null;
        var type = definition.Classes.FirstOrDefault(c => c.Name == component.TypeName);
        var choices = type?.Enumeration?.Select(l => new ChoiceDescription(l.Name, $"{type.Name}.{l.Name}", l.Description)).ToList();
        if (component.TypeName == "Boolean" && component.Dimensions.Count == 0)
            choices = [new ChoiceDescription("no", "false", null), new ChoiceDescription("yes", "true", null)];
        return new ParameterDescription(component.Name, component.Description, choices is null || component.TypeName == "Boolean" ? component.TypeName : "Choice",
            component.Modification?.Binding is { } value ? ExpressionText.Print(value) : "0",
            (Attribute("unit") as StringLiteral)?.Value, (Attribute("displayUnit") as StringLiteral)?.Value, Printed("min"), Printed("max"),
            component.Dimensions.Count > 0, choices, shown, group);
    }

    static string Spaced(string name)
    {
        var text = new System.Text.StringBuilder();
        for (var i = 0; i < name.Length; i++)
        {
            var boundary = i > 0 && char.IsUpper(name[i]) && !char.IsUpper(name[i - 1]);
            if (boundary) text.Append(' ');
            text.Append(boundary && (i + 1 >= name.Length || !char.IsUpper(name[i + 1])) ? char.ToLowerInvariant(name[i]) : name[i]);
        }

        return text.ToString();
    }
}
