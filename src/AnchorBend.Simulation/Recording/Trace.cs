using System.Collections;

namespace AnchorBend.Simulation.Recording;

/// <summary>
/// Recorded values of one run, row by row in blocks; two rows of one time are the sides of an event. The last blocks stay in memory, older
/// ones of a long run go to a temporary file that disappears with the trace. One thread writes; others may read the rows that are complete
/// at any time.
/// </summary>
public sealed class Trace : IDisposable
{
    // Below the size from which on the runtime keeps arrays in a heap of their own and clears them at a cost.
    const int BlockValues = 1 << 13;

    /// <summary>Rows that the first block begins with.</summary>
    const int FirstRows = 16;

    /// <summary>Blocks of one trace that stay in memory: 32 MiB.</summary>
    const int ResidentBlocks = 512;

    /// <summary>Fewer rows are read faster than what is known of them.</summary>
    const int LeastRowsOfSummary = 16;

    readonly Dictionary<int, int> columnOf = [];
    readonly int rowsPerBlock,
        width;
    readonly TimeColumn times;

    /// <summary>Blocks in order; null where a block lies in the file. Readers take what they find: a block never changes its
    /// place.</summary>
    volatile double[]?[] blocks = new double[]?[4];

    /// <summary>Lowest and highest value of each column in a complete block.</summary>
    volatile double[]?[] extremes = new double[]?[4];
    volatile BlockFile? file;

    /// <summary>Whether somebody has read while the run went on.</summary>
    volatile bool isRead;
    int blockCount,
        firstResident,
        complete,
        begun;

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

    /// <summary>A trace whose blocks lie in a file that is kept.</summary>
    internal Trace(IReadOnlyList<int> variables, int rows, double[]?[] extremes, BlockFile file)
        : this(variables)
    {
        blockCount = firstResident = BlocksOf(rows);
        (blocks, this.extremes, this.file) = (new double[]?[blockCount], extremes, file);
        (complete, begun) = (rows, rows);
    }

    /// <summary>A trace of values that come from elsewhere.</summary>
    /// <param name="times">Times that do not fall, s.</param>
    /// <param name="columns">As many values as times for each variable.</param>
    public static Trace Of(IReadOnlyList<int> variables, double[] times, IReadOnlyList<double[]> columns)
    {
        var trace = new Trace(variables);
        for (var row = 0; row < times.Length; row++)
        {
            var values = trace.NewRow(times[row]);
            for (var c = 0; c < columns.Count; c++)
                values[c] = columns[c][row];
        }

        trace.Finish();
        return trace;
    }

    public IReadOnlyList<int> Variables { get; }

    /// <summary>Rows that are complete.</summary>
    public int Rows => Volatile.Read(ref complete);

    /// <summary>Rows with the one that is being filled; for the writer.</summary>
    internal int Begun => begun;

    /// <summary>The time of the last row, complete or not; for the writer.</summary>
    internal double LastTime => begun == 0 ? double.NegativeInfinity : last[place - width];

    public IReadOnlyList<double> Times => times;

    /// <summary>What the parameters were; null where they stayed as at the start. Exchanged as a whole, as others read meanwhile.</summary>
    public RunConstants? Constants
    {
        get => constants;
        set => constants = value;
    }

    volatile RunConstants? constants;

    /// <summary>Size of everything recorded, in memory or not.</summary>
    public long Bytes => (long)blockCount * rowsPerBlock * width * sizeof(double);

    /// <summary>Size of what is in memory.</summary>
    public long ResidentBytes => (long)(blockCount - firstResident) * rowsPerBlock * width * sizeof(double);

    internal int RowsPerBlock => rowsPerBlock;

    internal int BlocksOf(int rows) => (rows + rowsPerBlock - 1) / rowsPerBlock;

    public bool Has(int variable) => columnOf.ContainsKey(variable);

    /// <summary>The column of a variable in a row; the time is column 0.</summary>
    internal int ColumnOf(int variable) => columnOf[variable] + 1;

    internal int Width => width;

    /// <summary>A new row to fill in, in the order of <see cref="Variables"/>. Rows before it are complete.</summary>
    internal Span<double> NewRow(double time)
    {
        Volatile.Write(ref complete, begun);
        if (place == last.Length)
            MakeRoom();
        begun++;
        var row = last.AsSpan(place, width);
        place += width;
        row[0] = time;
        return row[1..];
    }

    /// <summary>Adds a row of another trace with the same variables.</summary>
    internal void Copy(Trace from, int row)
    {
        var block = from.Block(row / rowsPerBlock);
        var values = block.AsSpan(row % rowsPerBlock * width, width);
        values[1..].CopyTo(NewRow(values[0]));
    }

    /// <summary>Makes the last row readable: the run pauses.</summary>
    internal void Publish() => Volatile.Write(ref complete, begun);

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

        last = blocks[blockCount - 1]!;
    }

    void AddBlock()
    {
        if (blockCount > 0)
            extremes = With(extremes, blockCount - 1, Summary(last));
        double[]? free = null;
        if (blockCount - firstResident >= ResidentBlocks)
        {
            file ??= new BlockFile(rowsPerBlock * width);
            free = file.Write(firstResident, blocks[firstResident]!);
            blocks[firstResident++] = null;
        }

        // Every number is written before it is read. Short runs, which are many, need little of their only block.
        var rows = blockCount == 0 ? Math.Min(FirstRows, rowsPerBlock) : rowsPerBlock;
        // Who reads may still hold a block; where nobody has read, it serves again.
        blocks = With(blocks, blockCount, free is not null && !isRead ? free : GC.AllocateUninitializedArray<double>(rows * width));
        blockCount++;
    }

    /// <summary>A list with one more entry: the same one where it has room, which readers of it do not notice.</summary>
    static double[]?[] With(double[]?[] list, int index, double[]? value)
    {
        if (index >= list.Length)
        {
            var grown = new double[]?[Math.Max(index + 1, 2 * list.Length)];
            list.CopyTo(grown, 0);
            list = grown;
        }

        list[index] = value;
        return list;
    }

    /// <summary>Lowest and highest value of each column; null where a block has few rows.</summary>
    double[]? Summary(double[] block)
    {
        if (rowsPerBlock < LeastRowsOfSummary)
            return null;
        var found = new double[2 * width];
        for (var c = 0; c < width; c++)
        {
            double low = block[c],
                high = low;
            for (var at = c + width; at < block.Length; at += width)
            {
                var value = block[at];
                low = value < low || double.IsNaN(low) ? value : low;
                high = value > high || double.IsNaN(high) ? value : high;
            }

            (found[2 * c], found[2 * c + 1]) = (low, high);
        }

        return found;
    }

    /// <summary>Lowest and highest value of a column in a block; null where they are not known.</summary>
    internal (double Low, double High)? Extremes(int block, int column) =>
        extremes is var known && block < known.Length && known[block] is { } found ? (found[2 * column], found[2 * column + 1]) : null;

    /// <summary>What is known of the blocks, for a file.</summary>
    internal double[]? SummaryOf(int block) => extremes is var known && block < known.Length ? known[block] : null;

    /// <summary>Gives the file back.</summary>
    public void Dispose() => file?.Dispose();

    /// <summary>Makes all rows readable and waits until what does not stay in memory is on disk.</summary>
    /// <exception cref="IOException">It could not be written.</exception>
    internal void Finish()
    {
        Publish();
        file?.Finish();
    }

    void GrowFirst()
    {
        var full = blocks[blockCount - 1]!;
        var grown = GC.AllocateUninitializedArray<double>(Math.Min(full.Length * 4, rowsPerBlock * width));
        full.CopyTo(grown, 0);
        blocks[blockCount - 1] = grown;
    }

    /// <summary>The numbers of a block, row by row; not to be changed. The last one may be longer than what is recorded.</summary>
    internal double[] Block(int index)
    {
        if (!isRead)
        {
            isRead = true;
            // Said before a block is taken, so that the writer sees it before it uses one again.
            Interlocked.MemoryBarrier();
        }

        return Volatile.Read(ref blocks[index]) ?? file!.Read(index);
    }

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
            for (var at = column; r < end; r++, at += width)
                values[r] = block[at];
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
    public int RowAt(double time) => Math.Max(0, RowsUpTo(time) - 1);

    /// <summary>How many rows are at or before a time.</summary>
    public int RowsUpTo(double time)
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

        return low;
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
