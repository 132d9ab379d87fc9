namespace AnchorBend.Media;

/// <summary>A function of one number on a regular grid of its values and slopes (Hermite's cubics); beyond it the last cubics go
/// on.</summary>
sealed class CubicLine
{
    readonly double x0,
        dx;
    readonly double[] values,
        slopes;

    public CubicLine(double x0, double x1, int count, Func<double, double> value)
    {
        (this.x0, dx) = (x0, (x1 - x0) / (count - 1));
        double At(int i) => value(x0 + i * dx);
        values = [.. Enumerable.Range(0, count).Select(At)];
        slopes = [.. Enumerable.Range(0, count).Select(i => (At(i - 2) - 8 * At(i - 1) + 8 * At(i + 1) - At(i + 2)) / 12)];
    }

    public (double Value, double Slope) At(double x)
    {
        var u = (x - x0) / dx;
        var i = Math.Clamp((int)u, 0, values.Length - 2);
        u -= i;
        var (a, da, b, db) = (values[i], slopes[i], values[i + 1], slopes[i + 1]);
        var c = 3 * (b - a) - 2 * da - db;
        var d = 2 * (a - b) + da + db;
        return (a + u * (da + u * (c + u * d)), (da + u * (2 * c + 3 * u * d)) / dx);
    }
}
