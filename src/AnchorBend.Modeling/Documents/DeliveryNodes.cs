namespace AnchorBend.Modeling.Documents;

public enum DeliveryKind
{
    /// <summary>C code of a part.</summary>
    Code,

    /// <summary>An exchange unit by the open standard FMI, with its code inside.</summary>
    ExchangeUnit,
}

/// <summary>A part of the model that is handed on, and how.</summary>
public sealed record DeliveryNode
{
    public required string Name { get; init; }

    /// <summary>Where it stands among the others.</summary>
    public double Order { get; init; }

    public DeliveryKind Kind { get; init; }

    /// <summary>The part, by ids from the root (<see cref="PartPath"/>).</summary>
    public required string Part { get; init; }

    /// <summary>The alternative of a slot that is meant; null for the one that is chosen.</summary>
    public string? Alternative { get; init; }

    /// <summary>Time from step to step, as typed.</summary>
    public required string Step { get; init; }

    /// <summary>How states are integrated: euler, heun or rk4.</summary>
    public required string Method { get; init; }

    /// <summary>Whether numbers have 32 bits instead of 64.</summary>
    public bool IsFloat { get; init; }

    /// <summary>Version of the standard of an exchange unit: 2.0 or 3.0.</summary>
    public string? Version { get; init; }

    /// <summary>Whether who has an exchange unit integrates it (model exchange); otherwise it steps by itself (co-simulation).</summary>
    public bool IsSolvedOutside { get; init; }

    /// <summary>Names of parameters that can be changed while it runs; null for all that are given as numbers.</summary>
    public IReadOnlyList<string>? Tunable { get; init; }

    /// <summary>When it was handed on last; null for never.</summary>
    public DeliveredNode? Delivered { get; init; }
}

/// <summary>What was handed on.</summary>
/// <param name="Revision">Of the model.</param>
/// <param name="At">When, in universal time.</param>
/// <param name="Hash">Of all that it was made of.</param>
public sealed record DeliveredNode(long Revision, DateTime At, string Hash);
