namespace AnchorBend.Modeling.Documents;

/// <summary>How basic events bring about a top event (IEC 61025).</summary>
public sealed record FaultTreeNode
{
    public required string Name { get; init; }

    public string? Description { get; init; }

    /// <summary>Its place among the trees; smaller stands further up.</summary>
    public double Order { get; init; }

    /// <summary>Id of the gate, or the event, at the top; empty while there is none.</summary>
    public string Top { get; init; } = "";

    /// <summary>Id of the requirement whose miss is the top event; null for another one.</summary>
    public string? Requirement { get; init; }

    /// <summary>The time over which rates count, as typed.</summary>
    public string Duration { get; init; } = "8760 h";

    public Dictionary<string, TreeGateNode> Gates { get; init; } = [];

    public Dictionary<string, TreeEventNode> Events { get; init; } = [];
}

/// <summary>It comes about where enough of its inputs do.</summary>
public sealed record TreeGateNode
{
    public required string Name { get; init; }

    /// <summary>and, or, or vote for at least <see cref="Least"/> of them.</summary>
    public string Kind { get; init; } = "or";

    public int Least { get; init; } = 2;

    /// <summary>Ids of gates and events.</summary>
    public IReadOnlyList<string> Inputs { get; init; } = [];
}

/// <summary>A basic event.</summary>
public sealed record TreeEventNode
{
    public required string Name { get; init; }

    /// <summary>Id of the fault of the model that it is; null for another one.</summary>
    public string? Fault { get; init; }

    /// <summary>A failure rate such as 2e-6 1/h, a probability such as 1e-4, or the name of a row of a sheet; as typed.</summary>
    public string Value { get; init; } = "";
}
