namespace AnchorBend.Modeling.Written;

public enum NameKind
{
    Input,
    Output,

    /// <summary>Of charts: what it keeps for itself.</summary>
    Local,
    Parameter,

    /// <summary>Of charts: an input whose rise is an event.</summary>
    Event,

    /// <summary>Of charts: an event that it raises for itself: an action sets it to true.</summary>
    Signal,
}

/// <summary>What the texts of a definition may name; most are its ports.</summary>
public sealed record NameNode
{
    public required string Name { get; init; }

    public NameKind Kind { get; init; }

    /// <summary>Real, Integer or Boolean, or words in braces for one of several: <c>{manual, track}</c>. Events are Boolean.</summary>
    public string Type { get; init; } = "Real";

    /// <summary>Unit of a Real.</summary>
    public string? Unit { get; init; }

    /// <summary>Value at the start, or of a parameter, as typed; 0, false or the first word without one.</summary>
    public string? Start { get; init; }

    public string? Description { get; init; }

    /// <summary>Its place among the others; smaller stands first.</summary>
    public double Order { get; init; }
}
