using Apache.Arrow;
using Apache.Arrow.Ipc;
using Apache.Arrow.Types;
using Parquet;
using Parquet.Schema;
using ArrowSchema = Apache.Arrow.Schema;

namespace AnchorBend.Interchange.Traces;

/// <summary>
/// Tables of runs as files of columns: Apache Parquet, and the Arrow IPC file format. Columns are 64-bit floating-point numbers, the time
/// first; units stand in the metadata of the Arrow fields and, for Parquet, in the file's own (`unit:NAME`).
/// </summary>
public static class ColumnFiles
{
    /// <summary>Rows that Parquet keeps together.</summary>
    const int RowsOfGroup = 1 << 20;

    public static async Task WriteParquet(RunTable table, Stream target, CancellationToken wanted = default)
    {
        var columns = WithTime(table);
        var fields = columns.Select(c => new DataField<double>(c.Name)).ToArray();
        await using var writer = await ParquetWriter.CreateAsync(
            new ParquetSchema([.. fields.Cast<Parquet.Schema.Field>()]),
            target,
            cancellationToken: wanted
        );
        writer.CustomMetadata = columns.Where(c => c.Unit.Length > 0).ToDictionary(c => $"unit:{c.Name}", c => c.Unit);
        for (var start = 0; start == 0 || start < table.Times.Length; start += RowsOfGroup)
        {
            using var group = writer.CreateRowGroup();
            var count = Math.Min(RowsOfGroup, table.Times.Length - start);
            foreach (var (column, field) in columns.Zip(fields))
                await group.WriteAsync<double>(field, column.Values.AsMemory(start, count), cancellationToken: wanted);
        }
    }

    public static async Task WriteArrow(RunTable table, Stream target, CancellationToken wanted = default)
    {
        var columns = WithTime(table);
        var schema = new ArrowSchema.Builder();
        foreach (var column in columns)
            schema.Field(f =>
            {
                f.Name(column.Name).DataType(DoubleType.Default).Nullable(false);
                if (column.Unit.Length > 0)
                    f.Metadata("unit", column.Unit);
            });
        using var batch = new RecordBatch(
            schema.Build(),
            columns.Select(c => new DoubleArray.Builder().Reserve(c.Values.Length).Append(c.Values.AsSpan()).Build()),
            table.Times.Length
        );
        using var writer = new ArrowFileWriter(target, batch.Schema, leaveOpen: true);
        await writer.WriteRecordBatchAsync(batch, wanted);
        await writer.WriteEndAsync(wanted);
    }

    /// <summary>The columns with the time first, each name once.</summary>
    static List<RunColumn> WithTime(RunTable table) =>
        [.. table.Columns.Prepend(new RunColumn(RunTable.TimeTitle, "s", table.Times)).DistinctBy(c => c.Name)];
}
