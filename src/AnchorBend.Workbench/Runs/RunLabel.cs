namespace AnchorBend.Workbench.Runs;

/// <summary>What people say of a run.</summary>
/// <param name="IsPinned">Whether it is kept for good.</param>
public sealed record RunLabel(string Name, string Note, bool IsPinned)
{
    /// <summary>Longest name and note, in characters.</summary>
    public const int LongestName = 200,
        LongestNote = 4000;
}
