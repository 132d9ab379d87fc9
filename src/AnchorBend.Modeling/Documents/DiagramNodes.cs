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

    /// <summary>Parameter values as typed: expressions, perhaps with a unit; absent ones have their default.</summary>
    public Dictionary<string, string> Parameters { get; init; } = [];
}

public sealed record PortReference(string Part, string Port);

/// <summary>A wire from an output to an input; bends are corner points the user set.</summary>
public sealed record WireNode
{
    public required PortReference From { get; init; }

    public required PortReference To { get; init; }

    public List<Point> Bends { get; init; } = [];
}

public sealed record Point(double X, double Y);

public sealed record SignalNode
{
    public string? Name { get; init; }

    public string? Unit { get; init; }

    /// <summary>Number of the strip the signal is plotted in; null when it is not plotted.</summary>
    public int? Probe { get; init; }
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
}

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
