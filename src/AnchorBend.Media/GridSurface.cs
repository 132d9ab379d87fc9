namespace AnchorBend.Media;

/// <summary>
/// A function of two numbers through points of a grid whose lines may stand unevenly: bicubic Hermite interpolation with slopes from
/// parabolas through neighbours (de Boor, A Practical Guide to Splines, ch. IV and XVII), continuous with its slopes and exact for
/// parabolas. Beyond the grid it goes straight on.
/// </summary>
sealed class GridSurface
{
    readonly double[] xs,
        ys;

    /// <summary>By node: value, slopes along x, along y, and along both.</summary>
    readonly double[,] values,
        alongX,
        alongY,
        twist;

    /// <param name="xs">Rising, two or more.</param>
    /// <param name="ys">Rising, two or more.</param>
    public GridSurface(double[] xs, double[] ys, double[,] values)
    {
        (this.xs, this.ys, this.values) = (xs, ys, values);
        alongX = Slopes(values, true);
        alongY = Slopes(values, false);
        twist = Slopes(alongX, false);
    }

    double[,] Slopes(double[,] of, bool isAlongX)
    {
        var result = new double[xs.Length, ys.Length];
        var at = isAlongX ? xs : ys;
        for (var i = 0; i < xs.Length; i++)
        for (var j = 0; j < ys.Length; j++)
            result[i, j] = isAlongX ? Slope(at, i, k => of[k, j]) : Slope(at, j, k => of[i, k]);
        return result;
    }

    /// <summary>Slope of the parabola through a point and both neighbours; at an end through the two next.</summary>
    static double Slope(double[] at, int k, Func<int, double> value)
    {
        if (at.Length == 2)
            return (value(1) - value(0)) / (at[1] - at[0]);
        var middle = Math.Clamp(k, 1, at.Length - 2);
        var (left, right) = (at[middle] - at[middle - 1], at[middle + 1] - at[middle]);
        var (before, behind) = ((value(middle) - value(middle - 1)) / left, (value(middle + 1) - value(middle)) / right);
        var bend = (behind - before) / (left + right);
        return (before * right + behind * left) / (left + right) + 2 * bend * (at[k] - at[middle]);
    }

    static int Cell(double[] at, double x)
    {
        var found = Array.BinarySearch(at, x);
        return Math.Clamp(found < 0 ? ~found - 1 : found, 0, at.Length - 2);
    }

    /// <summary>The value with its slopes along x and y.</summary>
    public (double Value, double AlongX, double AlongY) At(double x, double y)
    {
        var (px, py) = (Math.Clamp(x, xs[0], xs[^1]), Math.Clamp(y, ys[0], ys[^1]));
        var (i, j) = (Cell(xs, px), Cell(ys, py));
        var (dx, dy) = (xs[i + 1] - xs[i], ys[j + 1] - ys[j]);
        var (u, v) = ((px - xs[i]) / dx, (py - ys[j]) / dy);
        // Along y at both columns: values and slopes along x, each with its own slope along y.
        var (p, dp) = Cubic(v, values[i, j], dy * alongY[i, j], values[i, j + 1], dy * alongY[i, j + 1]);
        var (q, dq) = Cubic(v, alongX[i, j], dy * twist[i, j], alongX[i, j + 1], dy * twist[i, j + 1]);
        var (r, dr) = Cubic(v, values[i + 1, j], dy * alongY[i + 1, j], values[i + 1, j + 1], dy * alongY[i + 1, j + 1]);
        var (s, ds) = Cubic(v, alongX[i + 1, j], dy * twist[i + 1, j], alongX[i + 1, j + 1], dy * twist[i + 1, j + 1]);
        var (value, slope) = Cubic(u, p, dx * q, r, dx * s);
        var (sx, sy) = (slope / dx, Cubic(u, dp, dx * dq, dr, dx * ds).Value / dy);
        return (value + sx * (x - px) + sy * (y - py), sx, sy);
    }

    /// <summary>Hermite's cubic between two values with slopes, and its slope.</summary>
    static (double Value, double Slope) Cubic(double t, double a, double da, double b, double db)
    {
        var c = 3 * (b - a) - 2 * da - db;
        var d = 2 * (a - b) + da + db;
        return (a + t * (da + t * (c + t * d)), da + t * (2 * c + 3 * t * d));
    }
}
