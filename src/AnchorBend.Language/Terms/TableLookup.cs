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
            if (span > 0)
                x = xs[0] + TermEvaluator.Modulo(x - xs[0], span);
        }

        if (double.IsNaN(x))
            return double.NaN;
        if (x < xs[0])
            return slope ? 0 : ys[0];
        if (x >= xs[n - 1])
            return slope ? 0 : ys[n - 1];
        return Within(Stretch(x, xs), x, xs, ys, kind, slope);
    }

    /// <summary>
    /// The same on the stretch that holds an earlier abscissa, also beyond its end: so a method of integration that looks as far as the
    /// next knot does not see what begins there.
    /// </summary>
    /// <param name="held">The abscissa that tells the stretch; no number where <paramref name="x"/> itself does.</param>
    public static double EvaluateHeld(double x, double held, ReadOnlySpan<double> xs, ReadOnlySpan<double> ys, TableKind kind, bool slope)
    {
        if (double.IsNaN(held))
            return Evaluate(x, xs, ys, kind, slope);
        var n = xs.Length;
        var at = held + Reached * Math.Abs(held);
        if (kind is TableKind.RepeatingLinear or TableKind.RepeatingSteps && xs[n - 1] - xs[0] is var span and > 0)
        {
            var offset = Math.Floor((at - xs[0]) / span) * span;
            if (at - offset >= xs[n - 1])
                offset += span;
            (x, at) = (x - offset, Math.Max(xs[0], at - offset));
        }

        if (at < xs[0])
            return slope ? 0 : ys[0];
        if (at >= xs[n - 1])
            return slope ? 0 : ys[n - 1];
        return Within(Stretch(at, xs), x, xs, ys, kind, slope);
    }

    /// <summary>Within this part of itself an abscissa has reached a knot: sums and products of times round.</summary>
    public const double Reached = 1e-13;

    /// <summary>The last knot of several that is not beyond an abscissa.</summary>
    static int Stretch(double x, ReadOnlySpan<double> xs)
    {
        int low = 0,
            high = xs.Length - 1;
        while (high - low > 1)
        {
            var middle = (low + high) >>> 1;
            if (xs[middle] <= x)
                low = middle;
            else
                high = middle;
        }

        return low;
    }

    static double Within(int low, double x, ReadOnlySpan<double> xs, ReadOnlySpan<double> ys, TableKind kind, bool slope)
    {
        if (kind is TableKind.Steps or TableKind.RepeatingSteps)
            return slope ? 0 : ys[low];
        var gradient = (ys[low + 1] - ys[low]) / (xs[low + 1] - xs[low]);
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
            if (!(span > 0))
                return double.PositiveInfinity;
            offset = Math.Floor((x - xs[0]) / span) * span;
            // The product may round to just behind x; the next turn then holds the answer.
            for (var turn = 0; turn < 2; turn++, offset += span)
            for (var i = 0; i < n; i++)
                if (xs[i] + offset > x + Reached * Math.Abs(x))
                    return xs[i] + offset;
            return double.PositiveInfinity;
        }

        foreach (var knot in xs)
            if (knot > x + Reached * Math.Abs(x))
                return knot;
        return double.PositiveInfinity;
    }
}
