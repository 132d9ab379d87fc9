using System.Globalization;
using System.Text;
using AnchorBend.Language;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using nietras.SeparatedValues;

namespace AnchorBend.Interchange.Traces;

/// <summary>Tables of runs as text with separators (RFC 4180): a header, then one row an instant, the time first.</summary>
public static class CsvRunTable
{
    /// <summary>The most numbers that are read.</summary>
    public const long MostValues = 60_000_000;

    const int MostColumns = 10_000,
        LongestTitle = 300;

    /// <summary>Names that the column of times goes by, without its unit.</summary>
    static readonly string[] TimeNames = ["time", "t", "zeit", "temps"];

    /// <summary>
    /// Reads a table. Separators are commas, semicolons or tabs; with semicolons or tabs numbers may have a decimal comma. The column of
    /// times is the one named time or t, else the first; it may have a unit.
    /// </summary>
    /// <exception cref="DocumentException">It is no such table; the message says in which line.</exception>
    public static RunTable Read(Stream source)
    {
        using var reader = new StreamReader(source, Encoding.UTF8);
        var first = reader.ReadLine() ?? throw new DocumentException("The file is empty.");
        // An empty line or a remark may stand before the header.
        var line = 1;
        while (first.Trim().Length == 0 || first.StartsWith('#'))
        {
            first = reader.ReadLine() ?? throw new DocumentException("The file holds no table.");
            line++;
        }

        var separator = SeparatedText.SeparatorOf(first);
        var header = Cells(first, separator);
        if (header.Count > MostColumns)
            throw new DocumentException($"The table has {header.Count} columns; at most {MostColumns} are read.");
        if (header.FindIndex(h => h.Length > LongestTitle) is >= 0 and var longest)
            throw new DocumentException(
                $"The title of column {longest + 1} has {header[longest].Length} characters; at most {LongestTitle} are read. "
                    + "Is there a line break or a quotation mark missing?"
            );
        if (header.All(h => Number(h, separator) is not null))
            throw new DocumentException("The first line holds numbers. It must name the columns, such as: time [s],depth [m].");
        var titles = header.Select(RunColumn.Parse).ToList();
        var timeColumn = Math.Max(0, titles.FindIndex(t => TimeNames.Contains(t.Name.ToLowerInvariant())));
        var scale = TimeScale(titles[timeColumn].Unit);
        var values = header.Select(_ => new List<double>()).ToArray();
        using var rows = SeparatedText.Rows(reader, separator);
        foreach (var row in rows)
        {
            line++;
            if ((line & 0xFFF) == 0)
                WorkBudget.Current.Check();
            if (row.Span.IsWhiteSpace())
                continue;
            if (row.ColCount != header.Count && !(row.ColCount == header.Count + 1 && row[header.Count].Span.IsEmpty))
                throw new DocumentException($"Line {line} has {row.ColCount} cells, the header names {header.Count} columns.");
            for (var c = 0; c < values.Length; c++)
                values[c].Add(Cell(row[c].Span, separator, line, header[c]));
            var times = values[timeColumn];
            times[^1] *= scale;
            if (!double.IsFinite(times[^1]))
                throw new DocumentException($"Line {line} has no time.");
            if (times.Count > 1 && times[^1] < times[^2])
                throw new DocumentException(
                    $"Line {line}: the time falls from {times[^2]:R} s to {times[^1]:R} s. Sort the rows by time first."
                );
            if ((long)times.Count * values.Length > MostValues)
                throw new DocumentException($"The table is too large: at most {MostValues} numbers are read.");
        }

        if (values[timeColumn].Count == 0)
            throw new DocumentException("The table has a header but no rows.");
        return new RunTable(
            [.. values[timeColumn]],
            [
                .. titles
                    .Select((t, i) => (t, i))
                    .Where(c => c.i != timeColumn)
                    .Select(c => new RunColumn(c.t.Name, c.t.Unit, [.. values[c.i]])),
            ]
        );
    }

    static double TimeScale(string unit)
    {
        if (unit.Length == 0)
            return 1;
        if (Unit.TryParse(unit, out var read, out _) && read.Fits(Unit.Parse("s")))
            return read.Factor;
        throw new DocumentException($"The column of times has the unit '{unit}', which is none of time.");
    }

    static List<string> Cells(string line, char separator)
    {
        using var reader = SeparatedText.Rows(new StringReader(line), separator);
        var cells = new List<string>();
        foreach (var row in reader)
            for (var i = 0; i < row.ColCount; i++)
                cells.Add(row[i].ToString());
        return cells;
    }

    static double Cell(ReadOnlySpan<char> text, char separator, int line, string column)
    {
        text = text.Trim();
        return text.IsEmpty
            ? double.NaN
            : Number(text, separator)
                ?? throw new DocumentException($"Line {line}, column {column}: '{(text.Length > 40 ? text[..40] : text)}' is no number.");
    }

    static double? Number(ReadOnlySpan<char> text, char separator) =>
        SeparatedText.Number(text, separator)
        ?? text switch
        {
            "true" or "True" or "TRUE" => 1,
            "false" or "False" or "FALSE" => 0,
            "inf" or "Inf" => double.PositiveInfinity,
            "-inf" or "-Inf" => double.NegativeInfinity,
            "NA" or "nan" => double.NaN,
            _ => null,
        };

    /// <summary>Letters that are written at once.</summary>
    const int Chunk = 1 << 16;

    /// <summary>Writes a table (RFC 4180) with numbers in full precision; with tabs as spreadsheets take it from the clipboard.</summary>
    public static async Task Write(RunTable table, Stream target, CancellationToken wanted, char separator = ',')
    {
        await using var writer = new StreamWriter(target, new UTF8Encoding(false), leaveOpen: true);
        var text = new StringBuilder("time [s]");
        foreach (var column in table.Columns)
            text.Append(separator).Append(Quoted(column.Title, separator));
        text.Append("\r\n");
        for (var row = 0; row < table.Times.Length; row++)
        {
            text.Append(table.Times[row].ToString("R", CultureInfo.InvariantCulture));
            foreach (var column in table.Columns)
                text.Append(separator).Append(column.Values[row].ToString("R", CultureInfo.InvariantCulture));
            text.Append("\r\n");
            if (text.Length < Chunk)
                continue;
            await writer.WriteAsync(text, wanted);
            text.Clear();
        }

        await writer.WriteAsync(text, wanted);
    }

    static string Quoted(string text, char separator) =>
        text.AsSpan().IndexOfAny(separator, '"', '\n') < 0 ? text : $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
}
