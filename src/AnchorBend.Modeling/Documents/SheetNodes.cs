using System.Text.Json.Serialization;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// A table of named values that every level knows, with several columns of which one is active: sizes, suppliers, loads. A level's own
/// parameter of the same name is meant before it.
/// </summary>
public sealed record SheetNode
{
    public required string Name { get; init; }

    public string? Description { get; init; }

    /// <summary>The parameter that chooses the active column by its name; any level can speak of it.</summary>
    public required string Chooser { get; init; }

    /// <summary>What it has: the name of a column in quotation marks, or an expression that gives one.</summary>
    public required string Active { get; init; }

    /// <summary>By id, in their order.</summary>
    public Dictionary<string, ColumnNode> Columns { get; init; } = [];

    /// <summary>By id, in their order.</summary>
    public Dictionary<string, RowNode> Rows { get; init; } = [];
}

/// <summary>One column of a sheet.</summary>
public sealed record ColumnNode
{
    public required string Name { get; init; }
}

/// <summary>One named value of a sheet.</summary>
public sealed record RowNode
{
    public required string Name { get; init; }

    public string? Description { get; init; }

    /// <summary>The unit that every value has; null where it comes with the value.</summary>
    public string? Unit { get; init; }

    /// <summary>Limits as typed.</summary>
    public string? Minimum { get; init; }

    public string? Maximum { get; init; }

    /// <summary>The heading it stands under.</summary>
    public string? Group { get; init; }

    /// <summary>Values as typed, by the id of the column; a column without one has what the first column has.</summary>
    public Dictionary<string, string> Values { get; init; } = [];

    /// <summary>All that is typed as an expression.</summary>
    [JsonIgnore]
    public IEnumerable<string> Texts => Values.Values.Concat(((string?[])[Minimum, Maximum]).OfType<string>());
}
