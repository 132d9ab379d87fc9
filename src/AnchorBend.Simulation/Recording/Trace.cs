namespace AnchorBend.Simulation.Recording;

/// <summary>Recorded values of one run, row by row in blocks; two rows of one time are the sides of an event.</summary>
public sealed class Trace
{
    // Below the size from which on the runtime keeps arrays in a heap of their own and clears them at a cost.
    const int BlockValues = 1 << 13;

    readonly List<double[]> blocks = [];
    readonly List<double> times = [];
    readonly Dictionary<int, int> columnOf = [];
    readonly int rowsPerBlock;

    /// <param name="variables">Recorded variables, each a column.</param>
    public Trace(IReadOnlyList<int> variables)
    {
        Variables = variables;
        for (var i = 0; i < variables.Count; i++) columnOf[variables[i]] = i;
        rowsPerBlock = Math.Max(1, BlockValues / Math.Max(1, variables.Count));
    }

    public IReadOnlyList<int> Variables { get; }

    public int Rows => times.Count;

    public IReadOnlyList<double> Times => times;

    public long Bytes => (long)blocks.Count * rowsPerBlock * Variables.Count * sizeof(double) + times.Count * (long)sizeof(double);

    public bool Has(int variable) => columnOf.ContainsKey(variable);

    /// <summary>A new row to fill in, in the order of <see cref="Variables"/>.</summary>
    internal Span<double> NewRow(double time)
    {
        var index = times.Count;
        if (index % rowsPerBlock == 0) blocks.Add(new double[rowsPerBlock * Variables.Count]);
        times.Add(time);
        return blocks[^1].AsSpan(index % rowsPerBlock * Variables.Count, Variables.Count);
    }

    public double this[int row, int variable] => blocks[row / rowsPerBlock][row % rowsPerBlock * Variables.Count + columnOf[variable]];

    /// <summary>All values of one variable.</summary>
    /// <exception cref="KeyNotFoundException">The variable was not recorded.</exception>
    public double[] Column(int variable)
    {
        var column = columnOf[variable];
        var values = new double[times.Count];
        var width = Variables.Count;
        for (var r = 0; r < values.Length; r++) values[r] = blocks[r / rowsPerBlock][r % rowsPerBlock * width + column];
        return values;
    }

    /// <summary>The last row at or before a time: the right side of an event.</summary>
    public int RowAt(double time)
    {
        int low = 0, high = times.Count;
        while (low < high)
        {
            var middle = (low + high) >>> 1;
            if (times[middle] <= time) low = middle + 1;
            else high = middle;
        }

        return Math.Max(0, low - 1);
    }

    /// <summary>The value of a variable at any time within the run, linear between rows.</summary>
    public double At(int variable, double time)
    {
        if (times.Count == 0) return double.NaN;
        var row = RowAt(time);
        var value = this[row, variable];
        if (row + 1 >= times.Count || times[row] >= time) return value;
        var next = this[row + 1, variable];
        return value + (next - value) * (time - times[row]) / (times[row + 1] - times[row]);
    }
}
