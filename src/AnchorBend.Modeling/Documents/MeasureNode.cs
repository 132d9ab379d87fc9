namespace AnchorBend.Modeling.Documents;

/// <summary>A named expression over the traces of a run; docs/measures.md has its grammar.</summary>
public sealed record MeasureNode
{
    public required string Name { get; init; }

    public required string Expression { get; init; }

    public string? Description { get; init; }
}
