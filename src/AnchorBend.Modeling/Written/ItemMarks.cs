using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Written;

/// <summary>
/// Comments in the class of a definition with a form of its own that say of which item, such as a transition or a rule, the lines below
/// them are. So whatever is told with a line of the class can be told of the item.
/// </summary>
static class ItemMarks
{
    const string Mark = "// of ";

    /// <summary>Text of an item, on lines of its own.</summary>
    public static string Of(string item, string text) => $"\n{Mark}{item}\n{text}\n{Mark}\n";

    /// <summary>Id of the item of which a line is; null for what is of none.</summary>
    public static string? ItemAt(string text, Position at)
    {
        var lines = text.Split('\n');
        for (var i = Math.Min(at.Line, lines.Length) - 1; i >= 0; i--)
            if (lines[i].StartsWith(Mark, StringComparison.Ordinal))
                return lines[i][Mark.Length..] is { Length: > 0 } item ? item : null;
        return null;
    }
}
