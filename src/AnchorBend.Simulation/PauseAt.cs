using AnchorBend.Language.Terms;

namespace AnchorBend.Simulation;

/// <summary>Where a run pauses next: at the first of these that comes. Its end pauses it in any case.</summary>
public sealed record PauseAt
{
    /// <summary>At a time, exactly; s.</summary>
    public double Time { get; init; } = double.PositiveInfinity;

    /// <summary>Behind the next event.</summary>
    public bool Event { get; init; }

    /// <summary>Behind the next tick of a sample clock, by its number; −1 for any clock; null for none.</summary>
    public int? Clock { get; init; }

    /// <summary>When one of these comes to be.</summary>
    public IReadOnlyList<Stop> Stops { get; init; } = [];
}

/// <summary>Something that pauses a run.</summary>
/// <param name="Term">A condition that comes to hold; one that holds already has to be given up first.</param>
/// <param name="What">What is told of it.</param>
public sealed record Stop(Term Term, string What)
{
    /// <summary>Whether any other value than before pauses the run, as of something that is counted.</summary>
    public bool OnChange { get; init; }
}

/// <summary>Why a run paused.</summary>
public enum PauseReason
{
    /// <summary>The time was reached.</summary>
    Time,
    Event,
    Tick,
    Condition,

    /// <summary>Somebody asked for it.</summary>
    Asked,

    /// <summary>It is at its end.</summary>
    End,

    /// <summary>It cannot go on.</summary>
    Failure,
}
