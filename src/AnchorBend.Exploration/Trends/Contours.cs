namespace AnchorBend.Exploration.Trends;

/// <summary>A line on which a map has one value.</summary>
/// <param name="Points">Places in the grid: 1.5 lies between the second and the third column or row.</param>
public sealed record Contour(double Level, IReadOnlyList<(double X, double Y)> Points);

/// <summary>
/// Lines of one value on a grid, by marching squares: within a square the course along an edge is taken as straight, and where two
/// opposite corners lie above, the mean of the four says whether they belong together (Lorensen and Cline, Computer Graphics 21, 1987, in
/// the plane).
/// </summary>
public static class Contours
{
    const int MostLevels = 8;

    /// <summary>Round levels between the least and the largest value.</summary>
    public static IReadOnlyList<double> Levels(double low, double high)
    {
        if (!(high > low) || !double.IsFinite(high - low))
            return [];
        var rough = (high - low) / (MostLevels - 1);
        var power = Math.Pow(10, Math.Floor(Math.Log10(rough)));
        var step = power * new[] { 1.0, 2, 2.5, 5, 10 }.First(s => s * power >= rough * (1 - 1e-12));
        var first = Math.Ceiling(low / step - 1e-9);
        return
        [
            .. Enumerable
                .Range(0, MostLevels + 1)
                .Select(i => (first + i) * step)
                .Where(l => l > low + 1e-9 * (high - low) && l < high - 1e-9 * (high - low)),
        ];
    }

    /// <param name="values">By column and row of the grid; NaN where there is none.</param>
    public static IReadOnlyList<Contour> Of(double[,] values, IEnumerable<double> levels) =>
        [.. levels.SelectMany(l => Joined(Pieces(values, l)).Select(points => new Contour(l, points)))];

    /// <summary>An edge of the grid: from a corner to the right, or upwards.</summary>
    readonly record struct Edge(int X, int Y, bool IsUpright);

    static IEnumerable<(Edge From, (double X, double Y) A, Edge To, (double X, double Y) B)> Pieces(double[,] v, double level)
    {
        for (var i = 0; i + 1 < v.GetLength(0); i++)
        for (var k = 0; k + 1 < v.GetLength(1); k++)
        {
            double a = v[i, k],
                b = v[i + 1, k],
                c = v[i + 1, k + 1],
                d = v[i, k + 1];
            if (!double.IsFinite(a + b + c + d))
                continue;
            var crossed = new List<(Edge Edge, (double X, double Y) At)>(4);
            void Cross(double from, double to, Edge edge, double x, double y, double dx, double dy)
            {
                if (from >= level == to >= level)
                    return;
                var part = (level - from) / (to - from);
                crossed.Add((edge, (x + part * dx, y + part * dy)));
            }

            Cross(a, b, new Edge(i, k, false), i, k, 1, 0);
            Cross(b, c, new Edge(i + 1, k, true), i + 1, k, 0, 1);
            Cross(d, c, new Edge(i, k + 1, false), i, k + 1, 1, 0);
            Cross(a, d, new Edge(i, k, true), i, k, 0, 1);
            if (crossed.Count == 2)
                yield return (crossed[0].Edge, crossed[0].At, crossed[1].Edge, crossed[1].At);
            else if (crossed.Count == 4)
            {
                // Lower, right, upper, left. Where the middle is as a, the lines cut off b and d; else a and c.
                var (one, other) = (a + b + c + d) / 4 >= level == a >= level ? ((0, 1), (2, 3)) : ((3, 0), (1, 2));
                yield return (crossed[one.Item1].Edge, crossed[one.Item1].At, crossed[one.Item2].Edge, crossed[one.Item2].At);
                yield return (crossed[other.Item1].Edge, crossed[other.Item1].At, crossed[other.Item2].Edge, crossed[other.Item2].At);
            }
        }
    }

    /// <summary>Pieces that meet on an edge become lines.</summary>
    static IEnumerable<IReadOnlyList<(double X, double Y)>> Joined(
        IEnumerable<(Edge From, (double X, double Y) A, Edge To, (double X, double Y) B)> pieces
    )
    {
        var ends = new Dictionary<Edge, LinkedList<(Edge Edge, (double X, double Y) At)>>();
        var lines = new HashSet<LinkedList<(Edge Edge, (double X, double Y) At)>>();
        foreach (var (from, a, to, b) in pieces)
        {
            var (left, right) = (ends.GetValueOrDefault(from), ends.GetValueOrDefault(to));
            if (left is null && right is null)
            {
                var line = new LinkedList<(Edge, (double X, double Y))>([(from, a), (to, b)]);
                (ends[from], ends[to]) = (line, line);
                lines.Add(line);
            }
            else if (left is not null && right is not null)
            {
                ends.Remove(from);
                ends.Remove(to);
                if (left == right)
                    // It closes.
                    left.AddLast(left.First!.Value);
                else
                {
                    if (left.Last!.Value.Edge != from)
                        Turn(left);
                    if (right.First!.Value.Edge != to)
                        Turn(right);
                    foreach (var point in right)
                        left.AddLast(point);
                    lines.Remove(right);
                    if (ends.ContainsKey(right.Last!.Value.Edge))
                        ends[right.Last.Value.Edge] = left;
                }
            }
            else
            {
                var (line, at, next, point) = left is not null ? (left, from, to, b) : (right!, to, from, a);
                ends.Remove(at);
                if (line.Last!.Value.Edge == at)
                    line.AddLast((next, point));
                else
                    line.AddFirst((next, point));
                ends[next] = line;
            }
        }

        return lines.Select(l => (IReadOnlyList<(double X, double Y)>)[.. l.Select(p => p.At)]);
    }

    static void Turn(LinkedList<(Edge Edge, (double X, double Y) At)> line)
    {
        var points = line.Reverse().ToList();
        line.Clear();
        foreach (var point in points)
            line.AddLast(point);
    }
}
