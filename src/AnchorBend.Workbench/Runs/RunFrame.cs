using AnchorBend.Verification;

namespace AnchorBend.Workbench.Runs;

/// <summary>New points of one signal, in the unit that the model computes in.</summary>
public sealed record FrameCurve(string Signal, double[] Times, double[] Values);

/// <summary>What a window is told of a run that is played: where it is, and what is new since the frame before.</summary>
/// <param name="Pace">Simulated over real time as it is wanted; null for as fast as it goes.</param>
/// <param name="TruePace">As it is.</param>
/// <param name="Reason">Why it paused, where it has just done so.</param>
/// <param name="Values">Of all signals of the level that the window shows, by identity.</param>
/// <param name="Readings">Of the signals that its panels show, likewise.</param>
public sealed record RunFrame(
    string Run,
    string State,
    double Time,
    double? Pace,
    double TruePace,
    string? Reason,
    IReadOnlyList<FrameCurve> Curves,
    IReadOnlyDictionary<string, double> Values,
    IReadOnlyDictionary<string, double> Readings,
    IReadOnlyList<RaisedAlert> Alerts
)
{
    /// <summary>The verdicts so far; null where they are those of the frame before.</summary>
    public IReadOnlyList<Verdict>? Verdicts { get; init; }
}

/// <summary>What a window wants to be told of a run.</summary>
/// <param name="Level">The level whose values it shows, by ids.</param>
/// <param name="After">It has the curves up to this time.</param>
/// <param name="Readings">Signals whose present values it shows.</param>
public sealed record RunWatchRequest(string Level, IReadOnlyList<string> Signals, double After, IReadOnlyList<string>? Readings = null);
