using System.Text.Json.Serialization;

namespace AnchorBend.Modeling.Documents;

/// <summary>A part on the diagram; position is its upper left corner in grid pixels.</summary>
public sealed record PartNode
{
    /// <summary>A definition of the model (<c>#id</c>) or a part of the package or the catalog (<see
    /// cref="DefinitionReference"/>).</summary>
    public required string Type { get; init; }

    public required string Name { get; init; }

    public double X { get; init; }

    public double Y { get; init; }

    /// <summary>Mirrored: inputs at the right.</summary>
    public bool Flip { get; init; }

    /// <summary>Quarter turns clockwise, made after mirroring: 0 to 3. Bundles do not turn.</summary>
    public int Turn { get; init; }

    /// <summary>A size as it is once the part is turned.</summary>
    public (double Width, double Height) Turned((double Width, double Height) size) => Turn % 2 == 0 ? size : (size.Height, size.Width);

    /// <summary>Parameter values as typed: expressions, perhaps with a unit; absent ones have their default.</summary>
    public Dictionary<string, string> Parameters { get; init; } = [];

    /// <summary>The condition on which the part is in the model, over parameters of its level; null for always.</summary>
    public string? OnlyWhen { get; init; }

    /// <summary>What its outputs are while it is left out, by port, as typed; those not named are zero or false.</summary>
    public Dictionary<string, string>? Otherwise { get; init; }

    /// <summary>What it looks like in the scene, by id; null for the simple shape of its kind.</summary>
    public Dictionary<string, ShapeNode>? Shapes { get; init; }

    /// <summary>All that is typed as an expression, with the field it stands in.</summary>
    [JsonIgnore]
    public IEnumerable<(string Field, string Text)> Texts =>
        Parameters
            .Select(p => (p.Key, p.Value))
            .Concat(OnlyWhen is { Length: > 0 } condition ? [(ConditionField, condition)] : [])
            .Concat(Otherwise?.Select(o => (o.Key, o.Value)) ?? []);

    /// <summary>What the condition is called where fields are named.</summary>
    public const string ConditionField = "only when";
}

public sealed record PortReference(string Part, string Port);

/// <summary>A wire from an output to an input; bends are corner points the user set.</summary>
public sealed record WireNode
{
    public required PortReference From { get; init; }

    public required PortReference To { get; init; }

    public List<Point> Bends { get; init; } = [];

    /// <summary>Whether it is drawn as its name at both ends instead of a line; null for a line.</summary>
    public bool? ByName { get; init; }
}

public sealed record Point(double X, double Y);

public sealed record SignalNode
{
    public string? Name { get; init; }

    public string? Unit { get; init; }

    /// <summary>Number of the strip the signal is plotted in; null when it is not plotted.</summary>
    public int? Probe { get; init; }

    /// <summary>The inputs that it fed, where its source has gone: the next source of one of them takes over what is said here.</summary>
    public List<PortReference>? Feeds { get; init; }
}

/// <summary>
/// A named parameter of a level, for use in expressions; those of a definition are its face, which every use may set.
/// </summary>
public sealed record ParameterNode
{
    /// <summary>The value as typed; where the level is used as a part, its default.</summary>
    public required string Value { get; init; }

    public string? Description { get; init; }

    /// <summary>The unit that every value has; null where it comes with the value.</summary>
    public string? Unit { get; init; }

    /// <summary>Limits as typed.</summary>
    public string? Minimum { get; init; }

    public string? Maximum { get; init; }

    /// <summary>The heading it stands under on the face.</summary>
    public string? Group { get; init; }

    /// <summary>Whether it follows from others and no use may set it.</summary>
    public bool IsDerived { get; init; }

    /// <summary>The values that a use chooses from; null where any may be typed.</summary>
    public List<ChoiceNode>? Choices { get; init; }

    /// <summary>When a use is asked for it, as a condition on parameters of this level; null for always.</summary>
    public string? ShownWhen { get; init; }

    /// <summary>All that is typed as an expression.</summary>
    [JsonIgnore]
    public IEnumerable<string> Texts =>
        ((string?[])[Value, Minimum, Maximum, ShownWhen]).OfType<string>().Concat(Choices?.Select(c => c.Value) ?? []);
}

/// <summary>A value that can be chosen, and what it is called.</summary>
public sealed record ChoiceNode(string Name, string Value);

/// <summary>The soft tones that areas are told apart by.</summary>
public enum AreaTone
{
    Plain,
    Sea,
    Kelp,
    Sand,
    Shell,
}

/// <summary>A marked area of the diagram with a caption.</summary>
public sealed record AreaNode
{
    public string Text { get; init; } = "";

    public double X { get; init; }

    public double Y { get; init; }

    public double Width { get; init; }

    public double Height { get; init; }

    public AreaTone Tone { get; init; }
}

/// <summary>A text on the diagram; what stands between dollar signs is mathematics markup.</summary>
public sealed record NoteNode
{
    public string Text { get; init; } = "";

    public double X { get; init; }

    public double Y { get; init; }
}
