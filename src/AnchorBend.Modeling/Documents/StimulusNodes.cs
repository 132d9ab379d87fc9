namespace AnchorBend.Modeling.Documents;

/// <summary>Courses of inputs and sources over time, which a run can be given in place of what these do of themselves.</summary>
public sealed record StimulusNode
{
    /// <summary>Points that a track takes.</summary>
    public const int MostPoints = 50_000;

    public required string Name { get; init; }

    public string? Description { get; init; }

    public Dictionary<string, TrackNode> Tracks { get; init; } = [];
}

public enum TrackShape
{
    /// <summary>A value holds until the next point.</summary>
    Steps,

    Lines,

    /// <summary>A smooth curve through the points that does not overshoot them.</summary>
    Smooth,
}

/// <summary>One course: points of time and value, rising in time; before the first and behind the last it keeps their values.</summary>
public sealed record TrackNode
{
    /// <summary>The signal that it drives: an output of a source, or an input that nothing else drives
    /// (<see cref="SignalReference"/>).</summary>
    public required string Target { get; init; }

    /// <summary>Unit of the values; that of the signal without one.</summary>
    public string? Unit { get; init; }

    public TrackShape Shape { get; init; } = TrackShape.Lines;

    /// <summary>Times in s.</summary>
    public IReadOnlyList<double> Times { get; init; } = [];

    public IReadOnlyList<double> Values { get; init; } = [];
}
