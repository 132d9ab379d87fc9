using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Catalog;

public enum PortKind
{
    Input,
    Output,
    Bundle,
    Physical,
}

/// <summary>
/// Parts that are the ports of the level they stand on: inputs, outputs, bundles, and the connectors of the physical domains themselves.
/// In the class of the level each is a component of that name; a wire to one ends at the component, not at something inside it.
/// </summary>
public static class PortPart
{
    /// <summary>Name of the one port that such a part shows on its own diagram.</summary>
    public const string Whole = "port";

    /// <summary>What kind of port a part of this class is; null for other parts.</summary>
    public static PortKind? KindOf(ClassDefinition? definition) =>
        Text(definition, "port") switch
        {
            "input" => PortKind.Input,
            "output" => PortKind.Output,
            "bundle" => PortKind.Bundle,
            _ => definition is { Kind: ClassKind.Connector } && Text(definition, "domain") is not null ? PortKind.Physical : null,
        };

    static string? Text(ClassDefinition? definition, string name) =>
        (definition?.Annotation?.Argument("__AnchorBend")?.Value.Argument(name)?.Value.Binding as StringLiteral)?.Value;

    /// <summary>The component that a port is in the class of its level.</summary>
    public static ComponentDeclaration Declaration(PartNode part, PortKind kind, double middle)
    {
        var side = part.Parameters.GetValueOrDefault("side")?.Split('.')[^1]
            ?? kind switch
            {
                PortKind.Input => "left",
                PortKind.Output => "right",
                _ => part.X < middle ? "left" : "right",
            };
        var type = kind is not (PortKind.Input or PortKind.Output)
            ? part.Type
            : part.Parameters.GetValueOrDefault("kind")?.Split('.')[^1] switch
            {
                "whole" => "Integer",
                "truth" => "Boolean",
                _ => "Real",
            };
        return new ComponentDeclaration(type, part.Name, default)
        {
            Causality = kind switch
            {
                PortKind.Input => Causality.Input,
                PortKind.Output => Causality.Output,
                _ => Causality.None,
            },
            Description = part.Parameters.GetValueOrDefault("description"),
            Modification = part.Parameters.GetValueOrDefault("unit") is { Length: > 0 } unit ? Said(("unit", unit)) : null,
            Annotation = Said(("__AnchorBend", "side", side)),
        };
    }

    static Modification Said((string Name, string Value) one) =>
        new([new ModificationArgument(one.Name, Modification.Of(new StringLiteral(one.Value, default)), false, false, default)], null);

    static Modification Said((string Outer, string Name, string Value) one) =>
        new([new ModificationArgument(one.Outer, Said((one.Name, one.Value)), false, false, default)], null);
}
