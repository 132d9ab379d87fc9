using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Emission;

/// <summary>Entry for generated code into table lookup.</summary>
public static unsafe class TableCall
{
    /// <param name="data">n knots, then n values.</param>
    public static double Evaluate(double x, double* data, int n, int kind, bool slope) =>
        TableLookup.Evaluate(x, new ReadOnlySpan<double>(data, n), new ReadOnlySpan<double>(data + n, n), (TableKind)kind, slope);

    /// <summary>Counts the interval that an abscissa lies in.</summary>
    /// <param name="knots">Rising.</param>
    /// <param name="counts">For what lies before the first knot, for each interval, for what lies behind the last.</param>
    public static void Count(double x, double* knots, int n, double* counts)
    {
        if (double.IsNaN(x))
            return;
        int low = 0,
            high = n;
        while (low < high)
        {
            var middle = (low + high) >>> 1;
            if (knots[middle] <= x)
                low = middle + 1;
            else
                high = middle;
        }

        // The last knot itself belongs to the last interval.
        counts[low == n && x == knots[n - 1] ? n - 1 : low]++;
    }

    /// <param name="held">The abscissa of the last event.</param>
    /// <param name="data">n knots, then n values.</param>
    public static double EvaluateHeld(double x, double held, double* data, int n, int kind, bool slope) =>
        TableLookup.EvaluateHeld(x, held, new ReadOnlySpan<double>(data, n), new ReadOnlySpan<double>(data + n, n), (TableKind)kind, slope);
}
