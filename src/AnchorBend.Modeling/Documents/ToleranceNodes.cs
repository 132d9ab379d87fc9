namespace AnchorBend.Modeling.Documents;

/// <summary>How far a value of the model may lie from what is written down.</summary>
public sealed record ToleranceNode
{
    /// <summary>A parameter by identity (<see cref="SignalReference"/>), or one of the model itself or of a sheet by name.</summary>
    public required string Target { get; init; }

    /// <summary>As typed, such as <c>± 5 %</c>, or <c>limits</c> for those that the sheet or the parameter has.</summary>
    public required string Values { get; init; }

    /// <summary>The group that it varies with (<see cref="ModelDocument.ToleranceGroups"/>); null where it varies by itself.</summary>
    public string? Group { get; init; }

    /// <summary>Its place among the tolerances.</summary>
    public double Order { get; init; }
}

/// <summary>Tolerances that vary together, as of parts from one batch.</summary>
public sealed record ToleranceGroupNode
{
    public required string Name { get; init; }

    /// <summary>Of any two of the group, from −1 to 1.</summary>
    public double Correlation { get; init; } = 0.8;
}
