using Parquet;
using Parquet.Schema;

namespace AnchorBend.Interchange.Sheets;

/// <summary>A column of results: numbers, or texts.</summary>
/// <param name="Numbers">NaN for what has none; null for a column of texts.</param>
public sealed record ResultColumn(string Name, string Unit, double[]? Numbers, IReadOnlyList<string>? Texts)
{
    internal object? At(int row) =>
        Numbers is { } numbers
            ? double.IsFinite(numbers[row])
                ? numbers[row]
                : null
            : Texts![row];
}

/// <summary>Tables of results as files: workbooks, text, and Apache Parquet.</summary>
public static class ResultColumns
{
    /// <param name="columns">All of one length.</param>
    public static byte[] Spreadsheet(IReadOnlyList<ResultColumn> columns, int rows, SpreadsheetForm form) =>
        SpreadsheetFile.Write(
            [
                [.. columns.Select(c => (object?)(c.Unit.Length > 0 ? $"{c.Name} [{c.Unit}]" : c.Name))],
                .. Enumerable.Range(0, rows).Select(i => (IReadOnlyList<object?>)[.. columns.Select(c => c.At(i))]),
            ],
            form
        );

    /// <summary>Numbers are 64-bit floating-point, NaN for what has none; units stand in the file's metadata (<c>unit:NAME</c>).</summary>
    public static async Task WriteParquet(IReadOnlyList<ResultColumn> columns, Stream target, CancellationToken wanted = default)
    {
        List<ResultColumn> all = [.. columns.DistinctBy(c => c.Name)];
        DataField[] fields =
        [
            .. all.Select(c => c.Numbers is null ? (DataField)new DataField<string>(c.Name) : new DataField<double>(c.Name)),
        ];
        await using var writer = await ParquetWriter.CreateAsync(
            new ParquetSchema([.. fields.Cast<Field>()]),
            target,
            cancellationToken: wanted
        );
        writer.CustomMetadata = all.Where(c => c.Unit.Length > 0).ToDictionary(c => $"unit:{c.Name}", c => c.Unit);
        using var group = writer.CreateRowGroup();
        foreach (var (column, field) in all.Zip(fields))
            if (column.Numbers is { } numbers)
                await group.WriteAsync<double>(field, numbers.AsMemory(), cancellationToken: wanted);
            else
                await group.WriteAsync(field, (IReadOnlyCollection<string>)[.. column.Texts!]);
    }
}
