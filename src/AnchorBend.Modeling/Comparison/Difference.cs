using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Comparison;

/// <summary>What became of something between two states of a model.</summary>
public enum Change
{
    Added,
    Removed,
    Changed,

    /// <summary>It only stands elsewhere on the diagram.</summary>
    Moved,
}

/// <summary>A field that differs, as texts.</summary>
/// <param name="Field">Its name; for a value that of the parameter.</param>
/// <param name="IsValue">Whether it is a value that the model computes with.</param>
public sealed record FieldDifference(string Field, string? Left, string? Right, bool IsValue);

/// <summary>One thing that differs.</summary>
/// <param name="What">part, wire, signal, parameter, area, note, face, text, sheet, row, column, requirement or settings.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Left">Its id on the left; null where it is not there.</param>
/// <param name="Right">Its id on the right; null where it is not there.</param>
/// <param name="Take">Operations that make the left as the right in this; nothing where that cannot be done alone.</param>
public sealed record Difference(
    string What,
    string Name,
    Change Change,
    string? Left,
    string? Right,
    IReadOnlyList<FieldDifference> Fields,
    IReadOnlyList<PatchOperation> Take
);

/// <summary>All that differs on one level, or in what belongs to no level.</summary>
/// <param name="Name">The definition's name; empty for what belongs to no level.</param>
/// <param name="Left">The level's first use on the left, by part ids from the root down; null where it is not there.</param>
/// <param name="Right">Likewise on the right.</param>
public sealed record LevelDifference(string Name, string? Left, string? Right, IReadOnlyList<Difference> Differences);
