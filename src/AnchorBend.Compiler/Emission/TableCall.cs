using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Emission;

/// <summary>Entry for generated code into table lookup.</summary>
public static unsafe class TableCall
{
    /// <param name="data">n knots, then n values.</param>
    public static double Evaluate(double x, double* data, int n, int kind, bool slope) =>
        TableLookup.Evaluate(x, new ReadOnlySpan<double>(data, n), new ReadOnlySpan<double>(data + n, n), (TableKind)kind, slope);

    /// <param name="held">The abscissa of the last event.</param>
    /// <param name="data">n knots, then n values.</param>
    public static double EvaluateHeld(double x, double held, double* data, int n, int kind, bool slope) =>
        TableLookup.EvaluateHeld(x, held, new ReadOnlySpan<double>(data, n), new ReadOnlySpan<double>(data + n, n), (TableKind)kind, slope);
}
