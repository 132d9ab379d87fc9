using AnchorBend.Compiler.Preparation;

namespace AnchorBend.Verification;

public enum VerdictKind
{
    Met,
    Missed,

    /// <summary>The run did not show what is needed to decide.</summary>
    Open,
}

/// <summary>The outcome of one requirement after one run.</summary>
/// <param name="Margin">How much is left to the limit, in <paramref name="Unit"/>; negative when missed.</param>
/// <param name="Actual">The value compared with the limit.</param>
/// <param name="Decides">The instant that decides; null when there is none.</param>
public sealed record Verdict(
    string Id,
    string Name,
    VerdictKind Kind,
    double? Margin,
    double? Actual,
    double? Limit,
    string Unit,
    double? Decides,
    string Explanation
)
{
    /// <summary>What to draw into plots: where signals must stay, over which windows.</summary>
    public IReadOnlyList<LimitLine> Lines { get; init; } = [];

    /// <summary>For rules on what happens now and then, and for steps of a set-point: each time, with what came of it.</summary>
    public IReadOnlyList<Verdict> Occasions { get; init; } = [];

    /// <summary>When such an occasion was, s.</summary>
    public double? At { get; init; }

    /// <summary>Representative variable of the signal, −1 where it is unknown.</summary>
    public int Variable { get; init; } = -1;
}

/// <summary>A limit line of the plot; the value is in the signal's own unit.</summary>
/// <param name="IsUpper">Whether the signal must stay below it; else above.</param>
public sealed record LimitLine(double From, double To, double Value, bool IsUpper)
{
    /// <summary>Whether the signal need only be on the right side of it once in the window.</summary>
    public bool IsOnce { get; init; }

    /// <summary>The name of the variable that it limits, as <see cref="PreparedModel.RecordedName"/> has it.</summary>
    public string Signal { get; init; } = "";
}
