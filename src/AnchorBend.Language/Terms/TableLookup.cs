namespace AnchorBend.Language.Terms;

/// <summary>Interpolation in a table of knots with rising abscissas.</summary>
public static class TableLookup
{
    /// <param name="xs">n ≥ 1 knots, not falling; equal neighbours make a jump, right-continuous.</param>
    /// <param name="ys">n values.</param>
    /// <returns>The value, or with <paramref name="slope"/> the derivative, at <paramref name="x"/>.</returns>
    public static double Evaluate(double x, ReadOnlySpan<double> xs, ReadOnlySpan<double> ys, TableKind kind, bool slope)
    {
        var n = xs.Length;
        if (kind is TableKind.RepeatingLinear or TableKind.RepeatingSteps)
        {
            var span = xs[n - 1] - xs[0];
            if (span > 0) x = xs[0] + TermEvaluator.Modulo(x - xs[0], span);
        }

        if (double.IsNaN(x)) return double.NaN;
        if (x < xs[0]) return slope ? 0 : ys[0];
        if (x >= xs[n - 1]) return slope ? 0 : ys[n - 1];
        int low = 0, high = n - 1;
        while (high - low > 1)
        {
            var middle = (low + high) >>> 1;
            if (xs[middle] <= x) low = middle;
            else high = middle;
        }

        if (kind is TableKind.Steps or TableKind.RepeatingSteps) return slope ? 0 : ys[low];
        var gradient = (ys[high] - ys[low]) / (xs[high] - xs[low]);
        return slope ? gradient : ys[low] + gradient * (x - xs[low]);
    }

    /// <summary>The first knot later than <paramref name="x"/> as an abscissa (repeats counted on), or infinity.</summary>
    public static double NextKnot(double x, ReadOnlySpan<double> xs, TableKind kind)
    {
        var n = xs.Length;
        var offset = 0.0;
        if (kind is TableKind.RepeatingLinear or TableKind.RepeatingSteps)
        {
            var span = xs[n - 1] - xs[0];
            if (!(span > 0)) return double.PositiveInfinity;
            offset = Math.Floor((x - xs[0]) / span) * span;
            // The product may round to just behind x; the next turn then holds the answer.
            for (var turn = 0; turn < 2; turn++, offset += span)
                for (var i = 0; i < n; i++)
                    if (xs[i] + offset > x + 1e-13 * Math.Abs(x)) return xs[i] + offset;
            return double.PositiveInfinity;
        }

        foreach (var knot in xs)
            if (knot > x) return knot;
        return double.PositiveInfinity;
    }
}
