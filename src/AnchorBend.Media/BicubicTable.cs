namespace AnchorBend.Media;

/// <summary>
/// A function of two numbers on a regular grid of its values and slopes (bicubic Hermite interpolation; de Boor, A Practical Guide to
/// Splines, ch. XVII): continuous with its slopes, and exact for cubics. Beyond the grid the outermost cell goes on.
/// </summary>
sealed class BicubicTable
{
    readonly double x0,
        y0,
        dx,
        dy;
    readonly int columns,
        rows;

    /// <summary>By node: value, slopes along x, along y and along both, for a cell of size 1.</summary>
    readonly double[] nodes;

    /// <param name="value">Value at a node; slopes are differences of the fourth order of it.</param>
    public BicubicTable(double x0, double x1, int columns, double y0, double y1, int rows, Func<double, double, double> value)
    {
        (this.x0, this.y0, this.columns, this.rows) = (x0, y0, columns, rows);
        (dx, dy) = ((x1 - x0) / (columns - 1), (y1 - y0) / (rows - 1));
        nodes = new double[4 * columns * rows];
        // Two more nodes on each side, so that all slopes are central differences; beyond the grid nothing is asked for, polynomials of the
        // fourth order go on.
        var all = new double[columns + 4, rows + 4];
        for (var i = 0; i < columns; i++)
        {
            for (var j = 0; j < rows; j++)
                all[i + 2, j + 2] = value(x0 + i * dx, y0 + j * dy);
            Extend(rows, j => all[i + 2, j + 2], (j, v) => all[i + 2, j + 2] = v);
        }

        for (var j = 0; j < rows + 4; j++)
            Extend(columns, i => all[i + 2, j], (i, v) => all[i + 2, j] = v);
        for (var i = 0; i < columns; i++)
        for (var j = 0; j < rows; j++)
        {
            var at = 4 * (i * rows + j);
            double AlongX(int row) => Slope(all[i, row], all[i + 1, row], all[i + 3, row], all[i + 4, row]);
            nodes[at] = all[i + 2, j + 2];
            nodes[at + 1] = AlongX(j + 2);
            nodes[at + 2] = Slope(all[i + 2, j], all[i + 2, j + 1], all[i + 2, j + 3], all[i + 2, j + 4]);
            nodes[at + 3] = Slope(AlongX(j), AlongX(j + 1), AlongX(j + 3), AlongX(j + 4));
        }
    }

    /// <summary>Puts two values before a row of them and two behind it.</summary>
    static void Extend(int count, Func<int, double> at, Action<int, double> put)
    {
        foreach (var (first, step) in ((int, int)[])[(0, 1), (count - 1, -1)])
        {
            double Inner(int k) => at(first + k * step);
            put(first - step, 5 * Inner(0) - 10 * Inner(1) + 10 * Inner(2) - 5 * Inner(3) + Inner(4));
            put(first - 2 * step, 15 * Inner(0) - 40 * Inner(1) + 45 * Inner(2) - 24 * Inner(3) + 5 * Inner(4));
        }
    }

    static double Slope(double a, double b, double d, double e) => (a - 8 * b + 8 * d - e) / 12;

    /// <summary>The value with its slopes along x and y.</summary>
    public (double Value, double AlongX, double AlongY) At(double x, double y)
    {
        var (u, v) = ((x - x0) / dx, (y - y0) / dy);
        var i = Math.Clamp((int)u, 0, columns - 2);
        var j = Math.Clamp((int)v, 0, rows - 2);
        (u, v) = (u - i, v - j);
        var first = 4 * (i * rows + j);
        var near = nodes.AsSpan(first, 8);
        var far = nodes.AsSpan(first + 4 * rows, 8);
        // Hermite's cubics along y at both columns: values and slopes along x, each with its own slope along y.
        var (p, dp) = Cubic(v, near[0], near[2], near[4], near[6]);
        var (q, dq) = Cubic(v, near[1], near[3], near[5], near[7]);
        var (r, dr) = Cubic(v, far[0], far[2], far[4], far[6]);
        var (s, ds) = Cubic(v, far[1], far[3], far[5], far[7]);
        var (value, along) = Cubic(u, p, q, r, s);
        return (value, along / dx, Cubic(u, dp, dq, dr, ds).Value / dy);
    }

    /// <summary>Hermite's cubic between two values with slopes, and its slope.</summary>
    static (double Value, double Slope) Cubic(double t, double a, double da, double b, double db)
    {
        var c = 3 * (b - a) - 2 * da - db;
        var d = 2 * (a - b) + da + db;
        return (a + t * (da + t * (c + t * d)), da + t * (2 * c + 3 * t * d));
    }
}
