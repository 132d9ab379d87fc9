namespace AnchorBend.Verification.Temporal;

/// <summary>What a rule came to from one instant on.</summary>
/// <param name="At">From when it was asked; s.</param>
/// <param name="Margin">In the unit that the model computes the deciding signal in; null where it has no size.</param>
/// <param name="Decides">The instant that decides; null where none does.</param>
/// <param name="Variable">Whose unit the margin has; −1 where nothing tells.</param>
/// <param name="Late">How much later than allowed something was reached, s; below zero where it was earlier; null for what has no limit of
/// time, and for what was never reached.</param>
public sealed record RuleOutcome(
    double At,
    VerdictKind Kind,
    double? Margin,
    double? Decides,
    int Variable,
    double? Late,
    string Explanation
)
{
    /// <summary>For "whenever": each time that it happened, with what came of it.</summary>
    public IReadOnlyList<RuleOutcome> Occasions { get; init; } = [];

    /// <summary>Where the rule wants signals to be.</summary>
    public IReadOnlyList<LimitLine> Lines { get; init; } = [];
}
