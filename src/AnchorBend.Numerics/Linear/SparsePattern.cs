namespace AnchorBend.Numerics.Linear;

/// <summary>Places of a sparse matrix by compressed columns: column j holds the rows <c>Rows[Starts[j]..Starts[j+1]]</c>, rising.</summary>
public sealed class SparsePattern
{
    public SparsePattern(int rowCount, int[] starts, int[] rows) => (RowCount, Starts, Rows) = (rowCount, starts, rows);

    public int RowCount { get; }

    public int ColumnCount => Starts.Length - 1;

    public int[] Starts { get; }

    public int[] Rows { get; }

    /// <summary>How many places there are.</summary>
    public int Count => Rows.Length;

    public static SparsePattern Dense(int n)
    {
        var rows = new int[n * n];
        for (var i = 0; i < rows.Length; i++)
            rows[i] = i % n;
        return new SparsePattern(n, [.. Enumerable.Range(0, n + 1).Select(j => j * n)], rows);
    }
}
