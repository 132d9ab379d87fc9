namespace AnchorBend.Modeling.Documents;

public enum FaultKind
{
    /// <summary>Keeps the value that it has when the fault comes.</summary>
    Stuck,

    /// <summary>Has a given value.</summary>
    Given,

    /// <summary>Nothing comes any more: the last value is held, and a signal that tells of it says so.</summary>
    Lost,

    /// <summary>A value is added.</summary>
    Bias,

    /// <summary>More and more is added: so much a second.</summary>
    Drift,

    /// <summary>Multiplied by a value.</summary>
    Gain,

    /// <summary>Random values of a standard deviation are added.</summary>
    Noise,

    /// <summary>Comes later by a time.</summary>
    Delay,

    /// <summary>Comes and goes: for half of each period the last value is held.</summary>
    Intermittent,
}

/// <summary>Something that goes wrong with a signal, switched on and off while a run goes on.</summary>
public sealed record FaultNode
{
    public required string Name { get; init; }

    public FaultKind Kind { get; init; }

    /// <summary>The output that it falsifies (<see cref="SignalReference"/>).</summary>
    public required string Signal { get; init; }

    /// <summary>The Boolean output that says whether the signal is valid; false while the fault is there. Null for none.</summary>
    public string? Validity { get; init; }

    /// <summary>What the kind asks for, as typed: a value, a rate, a factor, a time.</summary>
    public string? Value { get; init; }

    /// <summary>Whether it is there from the start.</summary>
    public bool IsActive { get; init; }

    /// <summary>Times at which it comes and goes in turn, as typed, with commas; null for none.</summary>
    public string? Times { get; init; }
}
