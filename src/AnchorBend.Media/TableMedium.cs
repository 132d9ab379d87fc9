using System.Globalization;

namespace AnchorBend.Media;

/// <summary>
/// A fluid from a table over pressure and temperature that somebody brings: density and viscosity are interpolated by their logarithms,
/// enthalpy and conductivity as they are. What is read off is as right as the table.
/// </summary>
public sealed class TableMedium : Medium
{
    readonly double[] ps,
        Ts;
    readonly GridSurface density,
        enthalpy,
        viscosity,
        conductivity;

    /// <summary>Points of a table at most: all tables at hand together then take some 160 MB.</summary>
    public const int MostPoints = 5_000;

    /// <summary>Places within a cell at which the table's shape is looked at.</summary>
    const int Looks = 4;

    TableMedium(double[] ps, double[] Ts, double[,] d, double[,] h, double[,] mu, double[,] k)
    {
        (this.ps, this.Ts) = (ps, Ts);
        density = new GridSurface(ps, Ts, Each(d, Math.Log));
        enthalpy = new GridSurface(ps, Ts, h);
        viscosity = new GridSurface(ps, Ts, Each(mu, Math.Log));
        conductivity = new GridSurface(ps, Ts, k);
    }

    static double[,] Each(double[,] values, Func<double, double> of)
    {
        var result = new double[values.GetLength(0), values.GetLength(1)];
        for (var i = 0; i < values.GetLength(0); i++)
        for (var j = 0; j < values.GetLength(1); j++)
            result[i, j] = of(values[i, j]);
        return result;
    }

    /// <summary>A fluid from columns of equal length, a row for each point of the grid, in any order.</summary>
    /// <param name="p">Pressures, Pa.</param>
    /// <param name="T">Temperatures, K.</param>
    /// <param name="d">Densities, kg/m3.</param>
    /// <param name="h">Specific enthalpies, J/kg.</param>
    /// <param name="mu">Viscosities, Pa·s.</param>
    /// <param name="k">Conductivities, W/(m·K).</param>
    /// <exception cref="FormatException">The columns are no table of a fluid; the message says where.</exception>
    public static TableMedium Of(double[] p, double[] T, double[] d, double[] h, double[] mu, double[] k)
    {
        static string Number(double x) => x.ToString("G6", CultureInfo.InvariantCulture);
        var rows = p.Length;
        if (((double[][])[T, d, h, mu, k]).Any(c => c.Length != rows))
            throw new FormatException("Its six columns are not equally long.");
        if (rows > MostPoints)
            throw new FormatException($"It has {rows} points; at most {MostPoints} are taken.");
        var (ps, Ts) = (p.Distinct().Order().ToArray(), T.Distinct().Order().ToArray());
        if (ps.Length < 2 || Ts.Length < 2)
            throw new FormatException("It needs two pressures and two temperatures at least.");
        if (rows != ps.Length * Ts.Length)
            throw new FormatException(
                $"It has {rows} points; {ps.Length} pressures and {Ts.Length} temperatures make {ps.Length * Ts.Length}: "
                    + "each pressure needs every temperature once."
            );
        double[,] Empty() => new double[ps.Length, Ts.Length];
        var (ds, hs, mus, ks, seen) = (Empty(), Empty(), Empty(), Empty(), new bool[ps.Length, Ts.Length]);
        for (var row = 0; row < rows; row++)
        {
            var where = $"at {Number(p[row])} Pa and {Number(T[row])} K";
            if (((double[])[p[row], T[row], d[row], h[row], mu[row], k[row]]).Any(x => !double.IsFinite(x)))
                throw new FormatException($"Row {row + 1} holds what is no number.");
            var (i, j) = (Array.BinarySearch(ps, p[row]), Array.BinarySearch(Ts, T[row]));
            if (seen[i, j])
                throw new FormatException($"There are two rows {where}.");
            if (!(p[row] > 0 && T[row] > 0 && d[row] > 0 && mu[row] > 0 && k[row] > 0))
                throw new FormatException($"Pressure, temperature, density, viscosity and conductivity must be above 0 {where}.");
            (ds[i, j], hs[i, j], mus[i, j], ks[i, j], seen[i, j]) = (d[row], h[row], mu[row], k[row], true);
        }

        var made = new TableMedium(ps, Ts, ds, hs, mus, ks);
        made.Look(Number);
        return made;
    }

    /// <summary>
    /// What a fluid cannot be: one whose enthalpy falls with temperature, or whose density falls with pressure, be it at the same
    /// temperature or at the same energy: no pressure would follow from density and energy.
    /// </summary>
    void Look(Func<double, string> number)
    {
        string Near((double P, double T) at) => $"near {number(at.P)} Pa and {number(at.T)} K";
        foreach (var at in Between())
        {
            if (!(enthalpy.At(at.P, at.T).AlongY > 0))
                throw new FormatException($"Enthalpy does not rise with temperature {Near(at)}.");
            if (!(density.At(at.P, at.T).AlongX > 0))
                throw new FormatException($"Density does not rise with pressure {Near(at)}.");
        }

        foreach (var at in Between())
        {
            var state = At(at.P, enthalpy.At(at.P, at.T).Value);
            if (!(state.VolumeAlongPressure + state.VolumeAlongEnthalpy * state.Volume < 0))
                throw new FormatException(
                    $"Density does not rise with pressure at the same energy {Near(at)}: "
                        + "it rises too little with pressure for how it falls with temperature."
                );
        }
    }

    IEnumerable<(double P, double T)> Between()
    {
        static double Place(double[] at, int k) => at[k / Looks] + (k % Looks + 0.5) / Looks * (at[k / Looks + 1] - at[k / Looks]);
        for (var i = 0; i < Looks * (ps.Length - 1); i++)
        for (var j = 0; j < Looks * (Ts.Length - 1); j++)
            yield return (Place(ps, i), Place(Ts, j));
    }

    /// <summary>A number that tells this table from others: it follows from what the table holds.</summary>
    public static long Print(params double[][] columns)
    {
        var print = 14695981039346656037UL;
        foreach (var column in columns)
        foreach (var value in column)
            print = (print ^ (ulong)BitConverter.DoubleToInt64Bits(value)) * 1099511628211UL ^ print >> 29;
        // A double holds whole numbers of 53 bits.
        return (long)(print >> 14);
    }

    public override double Enthalpy(double p, double T) => enthalpy.At(p, T).Value;

    double Temperature(double p, double h)
    {
        // The enthalpy rises with temperature all over, straight on beyond the table.
        var (low, high) = (double.NegativeInfinity, double.PositiveInfinity);
        var T = (Ts[0] + Ts[^1]) / 2;
        for (var k = 0; k < 100; k++)
        {
            var (value, _, slope) = enthalpy.At(p, T);
            var gap = value - h;
            if (gap > 0)
                high = Math.Min(high, T);
            else
                low = Math.Max(low, T);
            var next = T - gap / slope;
            if (!(next > low && next < high) && double.IsFinite(low) && double.IsFinite(high))
                next = (low + high) / 2;
            if (Math.Abs(next - T) <= 1e-13 * Math.Abs(T) || !double.IsFinite(next))
                return next;
            T = next;
        }

        return T;
    }

    public override FluidState At(double p, double h)
    {
        var T = Temperature(p, h);
        var (log, alongP, alongT) = density.At(p, T);
        var (_, hp, hT) = enthalpy.At(p, T);
        var volume = Math.Exp(-log);
        var (Tp, Th) = (-hp / hT, 1 / hT);
        return new FluidState(T, Tp, Th, volume, -volume * (alongP + alongT * Tp), -volume * alongT * Th);
    }

    public override double Viscosity(double p, double h) => Math.Exp(viscosity.At(p, Temperature(p, h)).Value);

    public override double Conductivity(double p, double h) => conductivity.At(p, Temperature(p, h)).Value;

    public override Beyond Validity(double p, double h)
    {
        var T = Temperature(p, h);
        return T < Ts[0] ? Beyond.TooCold
            : T > Ts[^1] ? Beyond.TooHot
            : p < ps[0] ? Beyond.TooLow
            : p > ps[^1] ? Beyond.TooHigh
            : Beyond.Nothing;
    }

    protected override double LeastPressure => ps[0] - 10 * (ps[^1] - ps[0]);

    protected override double Guess(double density, double energy) => (ps[0] + ps[^1]) / 2;
}
