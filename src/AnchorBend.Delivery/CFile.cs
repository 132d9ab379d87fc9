using System.Text;

namespace AnchorBend.Delivery;

/// <summary>A file of code.</summary>
/// <param name="Origins">Of lines, by number from 1, the part that they come from.</param>
public sealed record CodeFile(string Name, string Text, IReadOnlyDictionary<int, string> Origins);

/// <summary>Lines of C with their indents, and which part each comes from.</summary>
/// <param name="depth">Indents that it begins with.</param>
sealed class CFile(int depth = 0)
{
    /// <summary>Characters of a line at most.</summary>
    const int Width = 80;

    const int Indent = 4;

    readonly StringBuilder text = new();
    readonly Dictionary<int, string> origins = [];
    int depth = depth,
        lines;

    /// <summary>The part that what is written now comes from; null for none.</summary>
    public string? Origin { get; set; }

    public void Open(string line)
    {
        Line(line);
        depth++;
    }

    /// <param name="line">What closes it; null where what follows does.</param>
    public void Close(string? line = "}")
    {
        depth--;
        if (line is not null)
            Line(line);
    }

    /// <summary>Goes on with another part of what was just closed.</summary>
    public void Reopen() => depth++;

    public bool IsEmpty => text.Length == 0;

    public void Blank() => Raw("");

    /// <summary>Adds what was written apart, with its origins.</summary>
    public void Append(CodeFile other)
    {
        foreach (var (from, origin) in other.Origins)
            origins[lines + from] = origin;
        text.Append(other.Text);
        lines += other.Text.Count(c => c == '\n');
    }

    /// <summary>Words of a model within a comment: whatever they hold, they neither end it nor begin anything.</summary>
    public static string Said(string words)
    {
        var plain = new StringBuilder(words.Length);
        foreach (var c in words)
            // A trigraph could be a backslash, and a backslash at the end of a line goes on with the next one.
            plain.Append(char.IsControl(c) || c is '\\' or '\u2028' or '\u2029' ? ' ' : c);
        return plain.Replace("*/", "* /").Replace("/*", "/ *").Replace("??", "? ?").Replace("??", "? ?").ToString();
    }

    public void Comment(string words)
    {
        var said = Said(words);
        var room = Width - depth * Indent - 6;
        var line = new StringBuilder();
        var first = true;
        foreach (var word in said.Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            if (line.Length > 0 && line.Length + 1 + word.Length > room)
            {
                Raw(new string(' ', depth * Indent) + (first ? "/* " : "   ") + line);
                (first, line) = (false, new StringBuilder());
            }

            line.Append(line.Length > 0 ? " " : "").Append(word);
        }

        Raw(new string(' ', depth * Indent) + (first ? "/* " : "   ") + line + " */");
    }

    /// <summary>A line, broken behind commas or at spaces where it is too long.</summary>
    public void Line(string line)
    {
        var indent = depth * Indent;
        while (indent + line.Length > Width)
        {
            var room = Width - indent;
            var at =
                line.LastIndexOf(", ", room - 1, StringComparison.Ordinal) is var comma && comma > room / 2 ? comma + 1 : Break(line, room);
            if (at <= 0)
                break;
            Raw(new string(' ', indent) + line[..at]);
            line = line[(at + 1)..];
            indent = (depth + 1) * Indent;
        }

        Raw(new string(' ', indent) + line);
    }

    /// <summary>The last space that fits; a pointer's sign stays with its type.</summary>
    static int Break(string line, int room)
    {
        for (var at = Math.Min(room, line.Length - 1); at > Indent; at--)
            if (line[at] == ' ' && !(line[at + 1] == '*' && at + 2 < line.Length && line[at + 2] != ' '))
                return at;
        return line.IndexOf(' ', Math.Min(room, line.Length - 1));
    }

    void Raw(string line)
    {
        text.Append(line).Append('\n');
        lines++;
        if (Origin is { } origin && line.Length > 0)
            origins[lines] = origin;
    }

    public CodeFile Done(string name) => new(name, text.ToString(), origins);
}
