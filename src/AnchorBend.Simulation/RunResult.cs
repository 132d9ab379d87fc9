namespace AnchorBend.Simulation;

/// <summary>A finished run: the traces, the statistics, and why it ended early if it did.</summary>
public sealed record RunResult(Recording.Trace Trace, RunStatistics Statistics, IReadOnlyList<RunEvent> Events, SimulationFailure? Failure)
{
    /// <summary>Where the states began.</summary>
    public IReadOnlyList<StartEntry> Start { get; init; } = [];

    /// <summary>What was done to the run from outside; null where nothing was.</summary>
    public RunScript? Script { get; init; }
}

/// <summary>How a state got its start.</summary>
public enum StartKind
{
    /// <summary>The model fixes it.</summary>
    Fixed,

    /// <summary>The start value holds as nothing else determined it.</summary>
    Given,

    /// <summary>It was solved for; the start value was the guess.</summary>
    Solved,
}

/// <summary>The start of one state.</summary>
public sealed record StartEntry(string Name, double Guess, double Value, StartKind Kind);
