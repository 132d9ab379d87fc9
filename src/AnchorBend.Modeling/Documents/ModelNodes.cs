namespace AnchorBend.Modeling.Documents;

public enum RequirementKind
{
    UpperLimit,
    LowerLimit,
    Overshoot,
    RiseTime,
    SettlingTime,
    SteadyStateError,
}

/// <summary>A requirement on one signal, or on a measure.</summary>
public sealed record RequirementNode
{
    public required string Name { get; init; }

    public string? Text { get; init; }

    public RequirementKind Kind { get; init; }

    /// <summary>The signal (<see cref="SignalReference"/>), or the name of something that is no port; empty for a requirement on a
    /// measure.</summary>
    public required string Signal { get; init; }

    /// <summary>Id of the measure that is held to the limit, for requirements on one.</summary>
    public string? Measure { get; init; }

    /// <summary>The set-point likewise, for responses; null takes the final value.</summary>
    public string? Reference { get; init; }

    /// <summary>The limit as typed: in the unit of the signal or measure, seconds, or per cent.</summary>
    public string Limit { get; init; } = "0";

    /// <summary>Start and end of the window as typed; null for the whole run.</summary>
    public string? From { get; init; }

    public string? To { get; init; }

    /// <summary>Half width of the settling band, as a fraction of the step, as typed.</summary>
    public string? Band { get; init; }

    /// <summary>A temporal rule over signals as people read them, in the place of a limit; null for the other kinds.</summary>
    public string? Rule { get; init; }

    /// <summary>As it is called where it comes from.</summary>
    public string? Identifier { get; init; }

    /// <summary>Where it comes from: a document with its section.</summary>
    public string? Source { get; init; }

    /// <summary>Why it is wanted.</summary>
    public string? Rationale { get; init; }

    /// <summary>Parts that it is about beside those whose signals it speaks of, by ids from the root down.</summary>
    public IReadOnlyList<string>? Parts { get; init; }

    /// <summary>must, should or may; null where nobody says.</summary>
    public string? Priority { get; init; }

    /// <summary>The heading it stands under.</summary>
    public string? Group { get; init; }
}

public sealed record RunSettings
{
    public string End { get; init; } = "10 s";

    /// <summary>Short name of an integration method; auto chooses.</summary>
    public string Method { get; init; } = "auto";

    public double RelativeTolerance { get; init; } = 1e-6;

    public double AbsoluteTolerance { get; init; } = 1e-9;

    /// <summary>Step of a fixed-step method, as typed.</summary>
    public string Step { get; init; } = "1 ms";

    /// <summary>No step of an adaptive method is longer than this, as typed; empty leaves it to the method.</summary>
    public string LargestStep { get; init; } = "";

    /// <summary>Distance of output points, as typed; empty for a two-thousandth of the run.</summary>
    public string Output { get; init; } = "";

    /// <summary>given: from the start values; steady: at rest, with the start values as guesses.</summary>
    public string Start { get; init; } = "given";

    /// <summary>Parts that start at rest, where the whole model does not (<see cref="PartPath"/>).</summary>
    public IReadOnlyList<string> SteadyParts { get; init; } = [];

    /// <summary>Id of the stimulus that drives the run; empty for none.</summary>
    public string Stimulus { get; init; } = "";

    /// <summary>Id of the operating point at which runs begin; empty for none.</summary>
    public string Point { get; init; } = "";

    public bool Live { get; init; } = true;
}
