using System.Text.Json.Serialization;

namespace AnchorBend.Modeling.Documents;

/// <summary>What a part can be an instance of: each is a class of the equation language.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(DiagramDefinition), "diagram")]
[JsonDerivedType(typeof(TextDefinition), "text")]
[JsonDerivedType(typeof(Charts.ChartDefinition), "chart")]
[JsonDerivedType(typeof(Tables.DecisionTable), "decisions")]
[JsonDerivedType(typeof(Tables.ScheduleDefinition), "schedule")]
[JsonDerivedType(typeof(Valves.ValveDefinition), "valve")]
public abstract record Definition
{
    public required string Name { get; init; }

    public string? Description { get; init; }
}

/// <summary>A class as its text in the equation language, which defines <see cref="Definition.Name"/>.</summary>
public sealed record TextDefinition : Definition
{
    public required string Text { get; init; }

    /// <summary>Hash of the exchange unit that computes it, in hexadecimal digits; null where the text says all.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Unit { get; init; }
}

/// <summary>
/// A class as it was drawn: parts and wires by id, its named parameters, and what was said of its signals. Ids are those of this diagram.
/// </summary>
public sealed record DiagramDefinition : Definition
{
    public Dictionary<string, ParameterNode> Parameters { get; init; } = [];

    public Dictionary<string, PartNode> Parts { get; init; } = [];

    public Dictionary<string, WireNode> Wires { get; init; } = [];

    /// <summary>What the user said of a signal, by the port it comes from (<c>partId.port</c>); survives rewiring.</summary>
    public Dictionary<string, SignalNode> Signals { get; init; } = [];

    public Dictionary<string, AreaNode> Areas { get; init; } = [];

    public Dictionary<string, NoteNode> Notes { get; init; } = [];

    /// <summary>
    /// The parameter that chooses between alternatives, where this is the level of a slot: its choices are their names, and a part that is
    /// there only for one of them belongs to it. Null for any other level.
    /// </summary>
    public string? Slot { get; init; }

    /// <summary>How a part of this definition looks; null for its name on a plate.</summary>
    public FaceNode? Face { get; init; }

    /// <summary>A model whose root is this diagram.</summary>
    public ModelDocument AsModel() => new() { Definitions = { [ModelDocument.MainId] = this } };

    /// <summary>A name no part or parameter has yet: the wanted one, with a number if need be.</summary>
    public string FreeName(string wanted)
    {
        var taken = Parts.Values.Select(p => p.Name).Concat(Parameters.Keys).ToHashSet();
        if (!taken.Contains(wanted))
            return wanted;
        var stem = wanted.TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9', ' ');
        for (var n = 2; ; n++)
            if (!taken.Contains($"{stem} {n}"))
                return $"{stem} {n}";
    }
}

/// <summary>The look of a definition's parts.</summary>
public sealed record FaceNode
{
    /// <summary>What stands on the plate, as mathematics markup; may hold {parameter} in double angle brackets.</summary>
    public string? Formula { get; init; }

    /// <summary>What to know when using it; what stands between dollar signs is mathematics markup.</summary>
    public string? Help { get; init; }

    /// <summary>A drawn symbol, in a frame of 96 by 64; it stands in the place of the formula.</summary>
    public List<StrokeNode>? Sketch { get; init; }

    /// <summary>An imported picture as a data URL, of the kinds image/png and image/svg+xml; it stands in the place of the
    /// formula.</summary>
    public string? Picture { get; init; }
}

public enum StrokeKind
{
    Line,
    Rectangle,
    Ellipse,
    Arc,
    Text,
}

/// <summary>One stroke of a drawn symbol.</summary>
/// <remarks>A line goes through all its points; a rectangle and an ellipse lie between two corners; an arc goes from its first point
/// through
/// its second to its third; a text begins at its point.</remarks>
public sealed record StrokeNode
{
    public required StrokeKind Kind { get; init; }

    public required List<Point> Points { get; init; }

    /// <summary>What a text says; may hold {parameter} in double angle brackets.</summary>
    public string? Text { get; init; }

    public bool IsFilled { get; init; }
}
