using System.Globalization;
using System.IO.Compression;
using System.Text;
using AnchorBend.Language;
using AnchorBend.Modeling.Documents;
using MiniExcelLibs;

namespace AnchorBend.Interchange.Sheets;

/// <summary>The forms that a table goes out in.</summary>
public enum SpreadsheetForm
{
    /// <summary>Office Open XML workbook (ECMA-376), one sheet.</summary>
    Workbook,

    /// <summary>Values separated by commas (RFC 4180), in UTF-8.</summary>
    Text,
}

/// <summary>Tables of cells as files that spreadsheets read and write. Cells are texts and numbers.</summary>
public static class SpreadsheetFile
{
    const int MostRows = 60_000,
        MostColumns = 100,
        LongestCell = 4000;

    /// <summary>What a workbook may take once it is unpacked.</summary>
    const long MostUnpacked = 256L << 20;

    /// <param name="rows">The header first.</param>
    public static byte[] Write(IReadOnlyList<IReadOnlyList<object?>> rows, SpreadsheetForm form)
    {
        using var stream = new MemoryStream();
        var table = rows.Select(r => r.Select((cell, i) => (Key: $"c{i}", Value: form == SpreadsheetForm.Text ? Guarded(cell) : cell)))
            .Select(r => r.ToDictionary(c => c.Key, c => c.Value))
            .ToList();
        if (form == SpreadsheetForm.Workbook)
            stream.SaveAs(table, printHeader: false);
        else
        {
            // Spreadsheets take a text for UTF-8 where it begins with a byte order mark.
            stream.Write(Encoding.UTF8.Preamble);
            using var text = new MemoryStream();
            text.SaveAs(table, printHeader: false, excelType: ExcelType.CSV);
            var bytes = text.ToArray().AsSpan();
            stream.Write(bytes.StartsWith(Encoding.UTF8.Preamble) ? bytes[3..] : bytes);
        }

        return stream.ToArray();
    }

    /// <summary>A text that a spreadsheet would compute when it reads it stands behind an apostrophe.</summary>
    static object? Guarded(object? cell) => cell is string { Length: > 0 } text && text[0] is '=' or '+' or '-' or '@' ? "'" + cell : cell;

    /// <summary>Reads a workbook's first sheet, or a text whose cells are separated by commas, semicolons or tabs.</summary>
    /// <exception cref="DocumentException">It is neither, or too large.</exception>
    public static IReadOnlyList<IReadOnlyList<object?>> Read(byte[] file)
    {
        var isWorkbook = file.AsSpan().StartsWith("PK"u8);
        if (isWorkbook)
            CheckSize(file);
        try
        {
            var rows = new List<IReadOnlyList<object?>>();
            foreach (var cells in isWorkbook ? Sheet(file) : Text(file))
            {
                WorkBudget.Current.Check();
                if (rows.Count >= MostRows || cells.Count > MostColumns)
                    throw new DocumentException($"The table is too large: at most {MostRows} rows and {MostColumns} columns are read.");
                rows.Add(cells);
            }

            return rows;
        }
        catch (Exception e) when (e is not (DocumentException or OperationCanceledException or BudgetException))
        {
            throw new DocumentException(
                isWorkbook
                    ? "The workbook cannot be read. Save it as .xlsx once more, or as text with commas."
                    : "The text cannot be read as a table of cells."
            );
        }
    }

    static IEnumerable<IReadOnlyList<object?>> Sheet(byte[] file)
    {
        using var stream = new MemoryStream(file);
        foreach (var row in stream.Query(useHeaderRow: false, excelType: ExcelType.XLSX))
            yield return [.. ((IDictionary<string, object?>)row).Values.Select(c => Cell(c, ','))];
    }

    /// <summary>Rows of a text; those that are too wide are cut off behind what is too wide.</summary>
    static IEnumerable<IReadOnlyList<object?>> Text(byte[] file)
    {
        var (separator, hasDecimalCommas) = Kind(file);
        using var text = new StreamReader(new MemoryStream(file), Encoding.UTF8);
        using var reader = SeparatedText.Rows(text, separator);
        foreach (var row in reader)
        {
            var cells = new List<object?>();
            for (var i = 0; i < Math.Min(row.ColCount, MostColumns + 1); i++)
            {
                var cell = row[i].ToString().Trim();
                // Left as a text, it is told to whoever takes the table; read one way or the other it could be a thousand times off.
                cells.Add(!hasDecimalCommas && SeparatedText.MayPartThousands(cell) ? cell : Cell(cell, separator));
            }

            yield return cells;
        }
    }

    /// <summary>What parts the cells of a text, and whether some number in it has a comma that can only be a decimal sign.</summary>
    static (char Separator, bool HasDecimalCommas) Kind(byte[] file)
    {
        using var text = new StreamReader(new MemoryStream(file), Encoding.UTF8);
        var separator = SeparatedText.SeparatorOf(text.ReadLine() ?? "");
        text.BaseStream.Position = 0;
        text.DiscardBufferedData();
        if (separator == ',')
            return (separator, false);
        using var reader = SeparatedText.Rows(text, separator);
        foreach (var row in reader)
        {
            WorkBudget.Current.Check();
            for (var i = 0; i < Math.Min(row.ColCount, MostColumns + 1); i++)
                if (
                    row[i].Span.Contains(',')
                    && SeparatedText.Number(row[i].Span, separator) is not null
                    && !SeparatedText.MayPartThousands(row[i].ToString().Trim())
                )
                    return (separator, true);
        }

        return (separator, false);
    }

    static void CheckSize(byte[] file)
    {
        try
        {
            using var archive = new ZipArchive(new MemoryStream(file));
            if (archive.Entries.Sum(e => e.Length) > MostUnpacked)
                throw new DocumentException("The workbook is too large once it is unpacked.");
        }
        catch (InvalidDataException)
        {
            throw new DocumentException("The workbook is damaged.");
        }
    }

    /// <summary>A cell as a number where it is one, else as a text without spaces around it.</summary>
    /// <param name="separator">Between cells; where it is no comma, a number may have one as its decimal sign.</param>
    static object? Cell(object? cell, char separator)
    {
        switch (cell)
        {
            case null:
                return null;
            case double or int or long or decimal or float:
                return Convert.ToDouble(cell, CultureInfo.InvariantCulture);
            case bool truth:
                return truth ? "true" : "false";
        }

        var text = Convert.ToString(cell, CultureInfo.InvariantCulture)!.Trim();
        if (text.StartsWith('\'') && text.Length > 1)
            text = text[1..];
        if (text.Length > LongestCell)
            throw new DocumentException($"A cell has {text.Length} characters; at most {LongestCell} are read.");
        return text.Length == 0 ? null
            : SeparatedText.Number(text, separator) is { } number ? number
            : text;
    }
}
