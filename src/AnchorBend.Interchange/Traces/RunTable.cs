namespace AnchorBend.Interchange.Traces;

/// <summary>One quantity of a table: a value for each of its times.</summary>
/// <param name="Unit">As written; empty where none is.</param>
public sealed record RunColumn(string Name, string Unit, double[] Values)
{
    /// <summary>The title of the column: the name with its unit in brackets.</summary>
    public string Title => Unit.Length == 0 ? Name : $"{Name} [{Unit}]";

    /// <summary>Reads a title back.</summary>
    public static (string Name, string Unit) Parse(string title)
    {
        title = title.Trim();
        var open = title.LastIndexOf('[');
        // A number in brackets is the place of an element, not a unit.
        if (open <= 0 || !title.EndsWith(']') || title[(open + 1)..^1].All(c => char.IsAsciiDigit(c) || c == ','))
            return (title, "");
        return (title[..open].TrimEnd(), title[(open + 1)..^1].Trim());
    }
}

/// <summary>
/// Signals of a run as a table: times that do not fall (equal neighbours are the sides of an event), s, and columns of the same length.
/// A value that is missing is NaN.
/// </summary>
public sealed record RunTable(double[] Times, IReadOnlyList<RunColumn> Columns)
{
    public const string TimeTitle = "time";

    public RunColumn? Find(string name) => Columns.FirstOrDefault(c => c.Name == name);
}
