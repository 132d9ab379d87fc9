using System.Globalization;
using System.Text;

namespace AnchorBend.Delivery;

/// <summary>Code as people get it: its files, and the table of lines and parts.</summary>
public static class CodeFiles
{
    /// <summary>All files of a unit.</summary>
    public static IReadOnlyList<(string Name, string Text)> Of(CodeUnit unit, IReadOnlyList<CodeFile> files) =>
        [.. files.Select(f => (f.Name, f.Text)), (Path.GetFileNameWithoutExtension(files[0].Name) + "_lines.csv", Lines(unit, files))];

    /// <summary>Which line comes from which part, by names from the unit on, as CSV.</summary>
    static string Lines(CodeUnit unit, IReadOnlyList<CodeFile> files)
    {
        var text = new StringBuilder("file,line,part\n");
        foreach (var file in files)
        foreach (var (line, owner) in file.Origins.OrderBy(o => o.Key))
        {
            var part = CodeUnit.PathWithin(owner) is { Length: > 0 } path ? $"{unit.Name}.{path}" : unit.Name;
            text.Append(CultureInfo.InvariantCulture, $"{file.Name},{line},\"{part.Replace("\"", "\"\"", StringComparison.Ordinal)}\"\n");
        }

        return text.ToString();
    }
}
