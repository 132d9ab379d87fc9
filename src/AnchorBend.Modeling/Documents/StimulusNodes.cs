namespace AnchorBend.Modeling.Documents;

/// <summary>Courses of inputs and sources over time, which a run can be given in place of what these do of themselves.</summary>
public sealed record StimulusNode
{
    /// <summary>Points that a track takes.</summary>
    public const int MostPoints = 50_000;

    public required string Name { get; init; }

    public string? Description { get; init; }

    public Dictionary<string, TrackNode> Tracks { get; init; } = [];

    /// <summary>Where steps ended in the run that it was made of, so that one by it has the same bits.</summary>
    public IReadOnlyList<StopsNode> Stops { get; init; } = [];
}

/// <summary>From a time on, steps end at instants of one distance and at one more; times in s.</summary>
public sealed record StopsNode(double From, double? Every, double? Until);

public enum TrackShape
{
    /// <summary>A value holds until the next point.</summary>
    Steps,

    Lines,

    /// <summary>A smooth curve through the points that does not overshoot them.</summary>
    Smooth,

    /// <summary>The parameter that is the target is given each value at its time, as by hand during a run.</summary>
    Set,
}

/// <summary>One course: points of time and value, rising in time; before the first and behind the last it keeps their values.</summary>
public sealed record TrackNode
{
    /// <summary>The signal that it drives: an output of a source, or an input that nothing else drives
    /// (<see cref="SignalReference"/>); of set values, a parameter.</summary>
    public required string Target { get; init; }

    /// <summary>Unit of the values; without one that in which the model computes.</summary>
    public string? Unit { get; init; }

    public TrackShape Shape { get; init; } = TrackShape.Lines;

    /// <summary>Times in s.</summary>
    public IReadOnlyList<double> Times { get; init; } = [];

    public IReadOnlyList<double> Values { get; init; } = [];
}
