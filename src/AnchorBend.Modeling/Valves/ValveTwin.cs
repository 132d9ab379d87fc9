using System.Globalization;

namespace AnchorBend.Modeling.Valves;

/// <summary>What a valve lets through between its ports, over commands that rise evenly from −1 to 1.</summary>
/// <param name="Ports">Name and side of each.</param>
/// <param name="Commands">Where it was looked at; the places of positions are among them.</param>
/// <param name="Flows">From the first port to the second and over the commands, m3/s, with the drop between these two alone.</param>
/// <param name="Drop">Pa.</param>
/// <param name="Lag">Time after which the flow is where it would rest at 63 % of a step of the command, s.</param>
public sealed record ValveFlows(
    IReadOnlyList<(string Name, PortSide Side)> Ports,
    IReadOnlyList<double> Commands,
    IReadOnlyDictionary<(int From, int To), double[]> Flows,
    double Drop,
    double Lag
);

/// <summary>
/// A crude valve that lets through what a detailed one does when it rests: three positions, in each a path between the ports that are
/// joined there, with the opening over the stroke that the flows came to. Between two positions that both join the same ports, each has
/// its share by how near the spool is.
/// </summary>
public static class ValveTwin
{
    /// <summary>Flows below this share of the largest are leakage.</summary>
    const double Closed = 0.005;

    /// <summary>Less than this of what goes forth makes a path one with a check valve.</summary>
    const double Checked = 0.1;

    /// <summary>Shares of the whole opening that a curve may leave out between its points.</summary>
    const double Straight = 0.002;

    /// <summary>Lags below this, s, are none.</summary>
    const double AtOnce = 1e-4;

    static readonly (double Place, string Id, string Name)[] Positions = [(-1, "s1", "first"), (0, "s2", "neutral"), (1, "s3", "last")];

    /// <returns>The valve, and the most by which its flows differ from the given ones, as a share of the largest.</returns>
    /// <exception cref="ArgumentException">Nothing flows anywhere.</exception>
    public static (ValveDefinition Valve, double Error) Of(ValveFlows given, string name)
    {
        var largest = given.Flows.Values.Max(f => f.Max());
        if (!(largest > 0))
            throw new ArgumentException("Nothing flows through the valve at any command.", nameof(given));
        var at = given.Commands;
        var positions = Positions.ToDictionary(p => p.Id, p => new ValvePositionNode { Name = p.Name, Order = p.Place + 1 });
        var error = 0.0;
        var leak = 0.0;
        var paths = 0;
        foreach (var (from, to) in given.Flows.Keys.Where(k => given.Flows[k].Max() > Closed * largest))
        {
            var (forth, back) = (given.Flows[(from, to)], given.Flows.GetValueOrDefault((to, from)));
            var kind = back is null || back.Max() < Checked * forth.Max() ? PathKind.Check : PathKind.Plain;
            // What goes both ways is one path, from the port that comes first.
            if (kind == PathKind.Plain && (from > to || forth.Max() < Checked * back!.Max()))
                continue;
            var least = forth.Min();
            if (kind == PathKind.Plain && least < Closed * largest)
                leak = Math.Max(leak, least);
            var sum = new double[at.Count];
            var ends = Positions.Select(p => forth[Nearest(at, p.Place)]).ToArray();
            for (var k = 0; k < Positions.Length; k++)
            {
                if (ends[k] <= Closed * largest)
                    continue;
                var curve = Curve(at, forth, ends, k, Closed * largest);
                positions[Positions[k].Id].Paths[$"w{++paths}"] = new ValvePathNode
                {
                    From = $"p{from + 1}",
                    To = $"p{to + 1}",
                    Kind = kind,
                    Order = paths,
                    Flow = Typed(ends[k] * 6e4, "l/min"),
                    Drop = Typed(given.Drop / 1e5, "bar"),
                    Overlap = "0",
                    Curve = string.Join("; ", curve.Select(p => FormattableString.Invariant($"{p.X:G4} {p.Y:G4}"))),
                };
                for (var i = 0; i < at.Count; i++)
                    sum[i] += ends[k] * Read(curve, 1 - Math.Abs(at[i] - Positions[k].Place));
            }

            for (var i = 0; i < at.Count; i++)
                error = Math.Max(error, Math.Abs(sum[i] - forth[i]) / largest);
        }

        var valve = new ValveDefinition
        {
            Name = name,
            Neutral = "s2",
            Dynamics = given.Lag > AtOnce ? ValveDynamics.Lag : ValveDynamics.None,
            Lag = Typed(given.Lag * 1e3, "ms"),
            Leakage = Typed(leak * 6e4, "l/min"),
            LeakageDrop = Typed(given.Drop / 1e5, "bar"),
            Ports = given
                .Ports.Index()
                .ToDictionary(
                    p => $"p{p.Index + 1}",
                    p => new ValvePortNode
                    {
                        Name = p.Item.Name,
                        Side = p.Item.Side,
                        Order = p.Index,
                    }
                ),
            Positions = positions,
        };
        return (valve, error);
    }

    static string Typed(double value, string unit) => string.Create(CultureInfo.InvariantCulture, $"{value:G5} {unit}");

    static int Nearest(IReadOnlyList<double> at, double place) => Enumerable.Range(0, at.Count).MinBy(i => Math.Abs(at[i] - place));

    /// <summary>Opening of the path of one position over how near the spool is, as few points as show it.</summary>
    static List<(double X, double Y)> Curve(IReadOnlyList<double> at, double[] flow, double[] ends, int k, double closed)
    {
        var points = new SortedDictionary<double, (double Sum, int Count)>();
        for (var i = 0; i < at.Count; i++)
        {
            var near = Math.Round(1 - Math.Abs(at[i] - Positions[k].Place), 9);
            if (near < 0)
                continue;
            var next = at[i] < Positions[k].Place ? k - 1 : k + 1;
            var other = next >= 0 && next < ends.Length && ends[next] > closed ? ends[next] * (1 - near) : 0;
            var share = other > 0 ? ends[k] * near / (ends[k] * near + other) : 1;
            var (sum, count) = points.GetValueOrDefault(near);
            points[near] = (sum + Math.Clamp(flow[i] * share / ends[k], 0, 1), count + 1);
        }

        return Thinned([.. points.Select(p => (p.Key, p.Value.Sum / p.Value.Count))]);
    }

    /// <summary>The ends, and between them the point furthest off the line wherever one is off too far (Ramer 1972; Douglas and Peucker
    /// 1973).</summary>
    static List<(double X, double Y)> Thinned(List<(double X, double Y)> points)
    {
        if (points.Count <= 2)
            return points;
        var ((x0, y0), (x1, y1)) = (points[0], points[^1]);
        var (far, off) = (0, 0.0);
        for (var i = 1; i < points.Count - 1; i++)
            if (Math.Abs(points[i].Y - (y0 + (y1 - y0) * (points[i].X - x0) / (x1 - x0))) is var gap && gap > off)
                (far, off) = (i, gap);
        return off <= Straight ? [points[0], points[^1]] : [.. Thinned(points[..(far + 1)])[..^1], .. Thinned(points[far..])];
    }

    static double Read(List<(double X, double Y)> curve, double x)
    {
        if (x <= curve[0].X)
            return curve[0].Y;
        for (var i = 1; i < curve.Count; i++)
            if (x <= curve[i].X)
                return curve[i - 1].Y + (curve[i].Y - curve[i - 1].Y) * (x - curve[i - 1].X) / (curve[i].X - curve[i - 1].X);
        return curve[^1].Y;
    }
}
