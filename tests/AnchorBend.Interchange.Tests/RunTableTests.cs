using System.Text;
using AnchorBend.Interchange.Traces;
using AnchorBend.Modeling.Documents;
using AnchorBend.Verification.Comparing;
using Apache.Arrow;
using Apache.Arrow.Ipc;
using CsCheck;
using Parquet;
using Parquet.Schema;

namespace AnchorBend.Interchange.Tests;

public class RunTableTests
{
    static RunTable Read(string text) => CsvRunTable.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)));

    [Theory]
    [InlineData("time [s],depth [m],\"a[1,2]\"\r\n0,1.5,7\r\n0.5,,8\r\n")]
    [InlineData("\uFEFF# logged on 14 Nov\ntime [ms];depth [m];a[1,2]\n0;1,5;7\n500;;8\n")]
    [InlineData("depth [m]\tt\ta[1,2]\n1.5\t0\t7\n\t0.5\t8\n")]
    public void Tables_of_other_programs_are_read(string text)
    {
        var table = Read(text);
        Assert.Equal([0, 0.5], table.Times);
        Assert.Equal(["depth", "a[1,2]"], table.Columns.Select(c => c.Name));
        Assert.Equal(["m", ""], table.Columns.Select(c => c.Unit));
        Assert.Equal([1.5, double.NaN], table.Columns[0].Values);
        Assert.Equal([7.0, 8], table.Columns[1].Values);
    }

    [Fact]
    public void A_title_without_end_is_refused_by_its_place()
    {
        var table = Encoding.UTF8.GetBytes($"time,{new string('x', 4000)}\n0,1\n");
        var refused = Assert.Throws<DocumentException>(() => CsvRunTable.Read(new MemoryStream(table)));
        Assert.StartsWith("The title of column 2 has 4000 characters", refused.Message);
    }

    [Theory]
    [InlineData("", "The file is empty.")]
    [InlineData("time,depth\n", "The table has a header but no rows.")]
    [InlineData("0,1\n1,2\n", "It must name the columns")]
    [InlineData("time,depth\n0,1\n1\n", "Line 3 has 1 cells, the header names 2 columns.")]
    [InlineData("time,depth\n0,1\n1,deep\n", "Line 3, column depth: 'deep' is no number.")]
    [InlineData("time,depth\n1,1\n0.5,2\n", "Line 3: the time falls from 1 s to 0.5 s.")]
    [InlineData("time [m],depth\n1,1\n", "The column of times has the unit 'm', which is none of time.")]
    [InlineData("time,depth\n,1\n", "Line 2 has no time.")]
    public void What_is_no_table_is_told_with_its_line(string text, string told) =>
        Assert.Contains(told, Assert.Throws<DocumentException>(() => Read(text)).Message, StringComparison.Ordinal);

    [Fact]
    public void Any_bytes_give_a_table_or_a_reason() =>
        Gen.String[Gen.Char["0123456789,;.\n\r\t\"-e[] timedepth#\u0000é"], 0, 80]
            .Sample(text =>
            {
                try
                {
                    var table = Read(text);
                    Assert.All(table.Columns, c => Assert.Equal(table.Times.Length, c.Values.Length));
                }
                catch (DocumentException e)
                {
                    Assert.NotEmpty(e.Message);
                }
            });

    static readonly RunTable Table = new(
        [0, 0.1, 0.1, 1 / 3.0],
        [new RunColumn("depth", "m", [0, 1e-300, -5, Math.PI]), new RunColumn("late", "", [0, 0, 1, 1])]
    );

    [Fact]
    public async Task Parquet_holds_every_bit_and_the_units()
    {
        using var file = new MemoryStream();
        await ColumnFiles.WriteParquet(Table, file, TestContext());
        file.Position = 0;
        await using var reader = await ParquetReader.CreateAsync(file, cancellationToken: TestContext());
        Assert.Equal("m", reader.CustomMetadata["unit:depth"]);
        using var group = reader.OpenRowGroupReader(0);
        var read = new Dictionary<string, double[]>();
        foreach (var field in reader.Schema.GetDataFields())
        {
            var values = new double[group.RowCount];
            await group.ReadAsync<double>(field, values, cancellationToken: TestContext());
            read[field.Name] = values;
        }

        Assert.Equal(["time", "depth", "late"], read.Keys);
        Assert.Equal(Table.Times, read["time"]);
        Assert.Equal(Table.Columns[0].Values, read["depth"]);
    }

    [Fact]
    public async Task Arrow_holds_every_bit_and_the_units()
    {
        using var file = new MemoryStream();
        await ColumnFiles.WriteArrow(Table, file, TestContext());
        file.Position = 0;
        using var reader = new ArrowFileReader(file);
        using var batch = await reader.ReadNextRecordBatchAsync(TestContext());
        Assert.Equal(["time", "depth", "late"], batch.Schema.FieldsList.Select(f => f.Name));
        Assert.Equal("m", batch.Schema.GetFieldByName("depth").Metadata["unit"]);
        Assert.Equal(Table.Columns[0].Values, ((DoubleArray)batch.Column("depth")).Values.ToArray());
    }

    static CancellationToken TestContext() => CancellationToken.None;

    [Fact]
    public void Tables_are_compared_by_name_and_the_first_to_part_is_named()
    {
        var b = Table with
        {
            Columns =
            [
                new RunColumn("late", "", [0, 0, 1, 0.5]),
                new RunColumn("depth", "m", [0, 0, -5.5, Math.PI]),
                new RunColumn("speed", "m/s", [0, 0, 0, 0]),
            ],
        };
        var comparison = TableComparison.Of(Table, b, new Tolerance(1e-9, 1e-6));
        Assert.Equal("depth", comparison.First!.Name);
        Assert.Equal(0.1, comparison.First.Parts);
        Assert.Equal(0.5, comparison.First.Largest);
        Assert.Equal(["late", "depth"], comparison.Quantities.Select(q => q.Name));
        Assert.Equal(["speed is in the second only."], comparison.Problems);
        Assert.True(TableComparison.Of(Table, Table, new Tolerance(0, 0)).IsSame);
        Assert.True(TableComparison.Of(Table, Table with { Columns = [b.Columns[1]] }, new Tolerance(1, 0)).Quantities[0].Parts is null);
    }
}
