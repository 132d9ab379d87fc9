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

    /// <summary>When this comes to hold; a condition that holds already has to be given up first.</summary>
    public Term? Condition { get; init; }
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
