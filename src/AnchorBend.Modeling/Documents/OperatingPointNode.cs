namespace AnchorBend.Modeling.Documents;

/// <summary>A point about which the model is looked at, and at which runs can begin: what was asked for, and what was found.</summary>
public sealed record OperatingPointNode
{
    public required string Name { get; init; }

    public string? Description { get; init; }

    /// <summary>The instant in s whose values sources have there; runs from it begin then.</summary>
    public double At { get; init; }

    /// <summary>Whether nothing changes there; else it is what a run had come to.</summary>
    public bool Rests { get; init; } = true;

    /// <summary>States that need not rest, by identity.</summary>
    public IReadOnlyList<string> Moving { get; init; } = [];

    /// <summary>Values that the model's parameters have there in place of their own, as typed.</summary>
    public IReadOnlyList<PointValueNode> Parameters { get; init; } = [];

    /// <summary>Signals that were to have a value there, or one between two, as typed.</summary>
    public IReadOnlyList<PointWantedNode> Fixed { get; init; } = [];

    /// <summary>Parameters and start values that could change for it.</summary>
    public IReadOnlyList<PointFreeNode> Free { get; init; } = [];

    /// <summary>States and remembered values, in the units that the model computes in; of a state of rest they are where the search for
    /// it begins.</summary>
    public IReadOnlyList<PointStateNode> States { get; init; } = [];
}

/// <param name="Target">A signal or parameter by identity (<see cref="SignalReference"/>), or one of the model itself by name.</param>
/// <param name="Value">As typed.</param>
public sealed record PointValueNode(string Target, string Value);

/// <param name="Value">As typed; null where bounds are given.</param>
public sealed record PointWantedNode(string Target, string? Value, string? Low, string? High);

/// <param name="Low">As typed; null for none.</param>
public sealed record PointFreeNode(string Target, string? Low, string? High);

public sealed record PointStateNode(string Target, double Value);
