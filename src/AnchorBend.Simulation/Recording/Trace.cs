using System.Collections;

namespace AnchorBend.Simulation.Recording;

/// <summary>
/// Recorded values of one run, row by row in blocks; two rows of one time are the sides of an event. The last blocks stay in memory, older
/// ones of a long run go to a temporary file that disappears with the trace.
/// </summary>
public sealed class Trace : IDisposable
{
    // Below the size from which on the runtime keeps arrays in a heap of their own and clears them at a cost.
    const int BlockValues = 1 << 13;

    /// <summary>Rows that the first block begins with.</summary>
    const int FirstRows = 16;

    /// <summary>Blocks of one trace that stay in memory: 32 MiB.</summary>
    const int ResidentBlocks = 512;

    readonly List<double[]?> blocks = [];
    readonly Dictionary<int, int> columnOf = [];
    readonly int rowsPerBlock,
        width;
    readonly TimeColumn times;
    BlockFile? file;
    int firstResident;

    /// <summary>The block that is being filled, and where its next row begins.</summary>
    double[] last = [];
    int place;

    /// <param name="variables">Recorded variables, each a column.</param>
    public Trace(IReadOnlyList<int> variables)
    {
        Variables = variables;
        for (var i = 0; i < variables.Count; i++)
            columnOf[variables[i]] = i;
        width = variables.Count + 1;
        rowsPerBlock = Math.Max(1, BlockValues / width);
        times = new TimeColumn(this);
    }

    public IReadOnlyList<int> Variables { get; }

    public int Rows { get; private set; }

    public IReadOnlyList<double> Times => times;

    /// <summary>Size of everything recorded, in memory or not.</summary>
    public long Bytes => (long)blocks.Count * rowsPerBlock * width * sizeof(double);

    /// <summary>Size of what is in memory.</summary>
    public long ResidentBytes => (long)(blocks.Count - firstResident) * rowsPerBlock * width * sizeof(double);

    public bool Has(int variable) => columnOf.ContainsKey(variable);

    /// <summary>A new row to fill in, in the order of <see cref="Variables"/>.</summary>
    internal Span<double> NewRow(double time)
    {
        if (place == last.Length)
            MakeRoom();
        Rows++;
        var row = last.AsSpan(place, width);
        place += width;
        row[0] = time;
        return row[1..];
    }

    void MakeRoom()
    {
        if (place > 0 && place < rowsPerBlock * width)
        {
            GrowFirst();
        }
        else
        {
            AddBlock();
            place = 0;
        }

        last = blocks[^1]!;
    }

    void AddBlock()
    {
        if (blocks.Count - firstResident < ResidentBlocks)
        {
            // Every number is written before it is read. Short runs, which are many, need little of their only block.
            blocks.Add(
                GC.AllocateUninitializedArray<double>((blocks.Count == 0 ? Math.Min(FirstRows, rowsPerBlock) : rowsPerBlock) * width)
            );
            return;
        }

        file ??= new BlockFile(rowsPerBlock * width);
        var oldest = blocks[firstResident]!;
        var free = file.Write(firstResident, oldest);
        blocks[firstResident++] = null;
        blocks.Add(free ?? GC.AllocateUninitializedArray<double>(rowsPerBlock * width));
    }

    /// <summary>Gives the temporary file back.</summary>
    public void Dispose() => file?.Dispose();

    /// <summary>Waits until what does not stay in memory is on disk.</summary>
    /// <exception cref="IOException">It could not be written.</exception>
    internal void Finish() => file?.Finish();

    void GrowFirst()
    {
        var full = blocks[^1]!;
        var grown = GC.AllocateUninitializedArray<double>(Math.Min(full.Length * 4, rowsPerBlock * width));
        full.CopyTo(grown, 0);
        blocks[^1] = grown;
    }

    double[] Block(int index) => blocks[index] ?? file!.Read(index);

    double At(int row, int column) => Block(row / rowsPerBlock)[row % rowsPerBlock * width + column];

    public double this[int row, int variable] => At(row, columnOf[variable] + 1);

    /// <summary>All values of one variable.</summary>
    /// <exception cref="KeyNotFoundException">The variable was not recorded.</exception>
    public double[] Column(int variable) => Column(columnOf[variable] + 1, Rows);

    double[] Column(int column, int count)
    {
        var values = new double[count];
        for (var r = 0; r < count; )
        {
            var block = Block(r / rowsPerBlock);
            var end = Math.Min(count, r + rowsPerBlock);
            for (var place = column; r < end; r++, place += width)
                values[r] = block[place];
        }

        return values;
    }

    /// <summary>The times of all rows, read where they lie.</summary>
    sealed class TimeColumn(Trace trace) : IReadOnlyList<double>
    {
        public double this[int row] => trace.At(row, 0);

        public int Count => trace.Rows;

        public IEnumerator<double> GetEnumerator() => ((IEnumerable<double>)trace.Column(0, trace.Rows)).GetEnumerator();

        IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
    }

    /// <summary>The last row at or before a time: the right side of an event.</summary>
    public int RowAt(double time)
    {
        int low = 0,
            high = Rows;
        while (low < high)
        {
            var middle = (low + high) >>> 1;
            if (times[middle] <= time)
                low = middle + 1;
            else
                high = middle;
        }

        return Math.Max(0, low - 1);
    }

    /// <summary>The value of a variable at any time within the run, linear between rows.</summary>
    public double At(int variable, double time)
    {
        if (Rows == 0)
            return double.NaN;
        var row = RowAt(time);
        var value = this[row, variable];
        if (row + 1 >= Rows || times[row] >= time)
            return value;
        var next = this[row + 1, variable];
        return value + (next - value) * (time - times[row]) / (times[row + 1] - times[row]);
    }
}
