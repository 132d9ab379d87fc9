using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Tuning;

/// <summary>What a signal is to be; texts are as typed, with a unit if wanted.</summary>
/// <param name="Signal">By identity or by path.</param>
/// <param name="Value">Just this; null for bounds.</param>
/// <param name="Low">At least; null for any.</param>
public sealed record FixedSignal(string Signal, string? Value, string? Low, string? High);

/// <param name="Parameter">By identity or by path, as in Part.name.</param>
/// <param name="Low">As typed; null for no bound.</param>
public sealed record FreedParameter(string Parameter, string? Low, string? High);

/// <param name="Value">As typed.</param>
public sealed record SetParameter(string Parameter, string Value);

/// <summary>What an operating point is to be.</summary>
/// <param name="Point">Id of a saved one whose values hold and from which it is searched; null for the model as it is.</param>
/// <param name="At">Instant in s whose values sources have, and from whose state it is searched; null for the start of runs.</param>
/// <param name="IsInstant">Whether it is the state at that instant itself, which need not rest.</param>
/// <param name="Moving">States that need not rest.</param>
/// <param name="Set">Parameters with other values than the model's.</param>
public sealed record SteadyRequest(
    string? Point,
    double? At,
    bool IsInstant,
    IReadOnlyList<FixedSignal>? Fixed,
    IReadOnlyList<FreedParameter>? Free,
    IReadOnlyList<string>? Moving,
    IReadOnlyList<SetParameter>? Set
);

/// <summary>Operating points over a quantity, each searched from the one before it.</summary>
/// <param name="Over">A parameter, or a signal that is to have the values; null for the instants of the run.</param>
/// <param name="From">As typed, with a unit if wanted; instants in s.</param>
public sealed record SeriesRequest(SteadyRequest Each, string? Over, string From, string To, int Count);

/// <param name="Low">What it was to be, in the unit of the model; null for any.</param>
public sealed record ReachedView(string Signal, double? Low, double? High, double Reached, string Unit, bool IsAtBound);

/// <param name="Text">What sets it in the document; null where it is no parameter of a drawn part.</param>
/// <param name="Pointer">Where it stands in the document.</param>
public sealed record FoundParameterView(string Parameter, double Value, string Unit, bool IsAtBound, string? Text, string? Pointer);

/// <summary>A signal or state at rest.</summary>
/// <param name="Rate">How fast a state changes, in its unit per second; null for what is none.</param>
public sealed record RestView(string Signal, double Value, string Unit, double? Rate);

/// <param name="Node">The point as the document keeps it.</param>
public sealed record SteadyAnswer(
    bool IsMet,
    IReadOnlyList<ReachedView> Fixed,
    IReadOnlyList<FoundParameterView> Free,
    IReadOnlyList<RestView> Values,
    OperatingPointNode Node
);

/// <param name="Problem">Why there is no such point; null where there is one.</param>
public sealed record SeriesPoint(double Value, SteadyAnswer? Found, string? Problem);

public sealed record SeriesAnswer(string Over, string Unit, IReadOnlyList<SeriesPoint> Points);
