namespace AnchorBend.Simulation;

/// <summary>An event of a run, for the marks on the time bar.</summary>
public sealed record RunEvent(double Time, string Part, string What)
{
    /// <summary>Whether somebody set a value then.</summary>
    public bool IsChange { get; init; }
}

/// <summary>How often something happened.</summary>
public sealed record EventCount(string Part, string What, long Count);

/// <summary>A part's share in something, 0 to 1.</summary>
public sealed record PartShare(string Part, string Name, double Share);

/// <summary>What a run did.</summary>
public sealed record RunStatistics
{
    public string Method { get; init; } = "";
    public long Steps { get; init; }
    public long Rejected { get; init; }
    public long Evaluations { get; init; }
    public long Jacobians { get; init; }
    public long Factorizations { get; init; }
    public long NewtonFailures { get; init; }

    /// <summary>Steps of an automatic run made by the implicit method.</summary>
    public long ImplicitSteps { get; init; }

    /// <summary>When an automatic run changed its method.</summary>
    public IReadOnlyList<Numerics.Integration.MethodSwitch> Switches { get; init; } = [];

    /// <summary>States that never became larger than what the absolute tolerance leaves open, so that their digits are not
    /// controlled.</summary>
    public IReadOnlyList<string> SmallStates { get; init; } = [];

    /// <summary>How often a model of high index changed its states.</summary>
    public long StateChanges { get; init; }
    public long Events { get; init; }
    public long StateEvents { get; init; }
    public long TimeEvents { get; init; }

    /// <summary>Events by part and reason, most frequent first.</summary>
    public IReadOnlyList<EventCount> EventsByPart { get; init; } = [];

    /// <summary>States whose errors kept the steps short, in what share of the steps looked at.</summary>
    public IReadOnlyList<PartShare> Limits { get; init; } = [];

    /// <summary>Share of each part in the arithmetic of one evaluation; a loop counts as often as it was iterated.</summary>
    public IReadOnlyList<PartShare> Work => work ??= WorkSource?.Invoke() ?? [];

    /// <summary>Computes <see cref="Work"/> when somebody asks: a run should not wait for it.</summary>
    internal Func<IReadOnlyList<PartShare>>? WorkSource { get; init; }

    IReadOnlyList<PartShare>? work;

    public int States { get; init; }
    public int Equations { get; init; }
    public double CompileSeconds { get; init; }
    public double RunSeconds { get; init; }
}
