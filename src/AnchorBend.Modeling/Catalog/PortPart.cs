using AnchorBend.Language;
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

    /// <summary>The name that the port as a whole has on its own diagram.</summary>
    public static string OwnPort(string type) => type == OfBundle ? BundlePart.Whole : Whole;

    /// <summary>The part that is a port for a bundle.</summary>
    public const string OfBundle = "BundlePort";

    /// <summary>Name of the parameter that makes a port one for a vector.</summary>
    public const string Size = "size";

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
    /// <param name="bundle">The class of a port for a bundle, where that has a type.</param>
    public static ComponentDeclaration Declaration(PartNode part, PortKind kind, double middle, string? bundle = null)
    {
        var side = part.Parameters.GetValueOrDefault("side") is { Length: > 0 } said
            ? said.Split('.')[^1]
            : kind switch
            {
                PortKind.Input => "left",
                PortKind.Output => "right",
                _ => part.X < middle ? "left" : "right",
            };
        var type = kind is PortKind.Input or PortKind.Output ? SignalType(part) : bundle ?? part.Type;
        var size = SizeOf(part);
        return new ComponentDeclaration(type, part.Name, default)
        {
            Dimensions = size is null ? [] : [size],
            Causality = kind switch
            {
                PortKind.Input => Causality.Input,
                PortKind.Output => Causality.Output,
                _ => Causality.None,
            },
            Description = part.Parameters.GetValueOrDefault("description"),
            Modification = part.Parameters.GetValueOrDefault("unit") is { Length: > 0 } unit ? Said(("unit", unit)) : null,
            Annotation = new Modification(
                [
                    new ModificationArgument(
                        "__AnchorBend",
                        new Modification(
                            [
                                new ModificationArgument("side", Modification.Of(new StringLiteral(side, default)), false, false, default),
                                new ModificationArgument(
                                    "vector",
                                    Modification.Of(new BooleanLiteral(size is not null, default)),
                                    false,
                                    false,
                                    default
                                ),
                            ],
                            null
                        ),
                        false,
                        false,
                        default
                    ),
                ],
                null
            ),
        };
    }

    /// <summary>
    /// What is set of a port: of signals the kind, size, side and unit, of others the side; of all what they are. The parameters that a
    /// connector itself declares belong to the network.
    /// </summary>
    internal static List<ParameterDescription> Parameters(PortKind kind, List<ParameterDescription> declared)
    {
        static ParameterDescription Text(string name, string description) =>
            new(name, description, "Text", "", null, null, null, null, false, null, null, null);
        static ParameterDescription Side() =>
            Text("side", "Side of the part that the level is") with
            {
                Default = "",
                Choices =
                [
                    new ChoiceDescription("where it stands", "", null),
                    .. ((string[])["left", "right", "top", "bottom"]).Select(s => new ChoiceDescription(s, s, null)),
                ],
            };
        return kind switch
        {
            PortKind.Physical =>
            [
                Side(),
                new(
                    Size,
                    "Ports in one, as of cells; 0 for a single one",
                    "Integer",
                    "0",
                    null,
                    null,
                    "0",
                    "1000",
                    false,
                    null,
                    null,
                    null
                ),
                Text("description", "What it is"),
            ],
            PortKind.Bundle => [.. declared, Side(), Text("description", "What it is")],
            _ => [.. declared, Text("unit", "Unit"), Text("description", "What it is")],
        };
    }

    /// <summary>How many elements the port's vector has; null for one signal.</summary>
    static Expression? SizeOf(PartNode part)
    {
        if (part.Parameters.GetValueOrDefault(Size) is not { } text)
            return null;
        try
        {
            return Parser.ParseField(text) is var size and not NumberLiteral { Value: <= 0 } ? size : null;
        }
        catch (LanguageException)
        {
            return null;
        }
    }

    /// <summary>What is shown of a placed part: its kind and size, where it is a port.</summary>
    public static PartDescription Placed(PartDescription description, PartNode part)
    {
        if (description.Ports is not [{ Name: Whole } port] || port.Type is OfBundle)
            return description;
        var placed = port with
        {
            Type = port.Domain is null ? SignalType(part) : port.Type,
            Size = SizeOf(part) is { } size ? ExpressionText.Print(size) : null,
            IsVector = SizeOf(part) is not null,
        };
        return description with { Ports = [placed] };
    }

    static string SignalType(PartNode part) =>
        part.Parameters.GetValueOrDefault("kind")?.Split('.')[^1] switch
        {
            "whole" => "Integer",
            "truth" => "Boolean",
            _ => "Real",
        };

    static Modification Said((string Name, string Value) one) =>
        new([new ModificationArgument(one.Name, Modification.Of(new StringLiteral(one.Value, default)), false, false, default)], null);
}
