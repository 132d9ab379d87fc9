using System.Globalization;
using System.Text;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Valves;

/// <summary>
/// The symbol of a valve after ISO 1219-1: a square for each position, arrows for its paths, a T for what is closed, ports at the neutral
/// position, actuators and springs at its ends.
/// </summary>
public sealed class ValveSymbol(ValveDefinition valve)
{
    /// <summary>Side of a square, and the room that an actuator takes.</summary>
    const double Square = 36,
        End = 26,
        Air = 6;

    public double Width => 2 * End + Square * Math.Max(1, valve.Positions.Count) + 2 * 2;

    public double Height => Square + 2 * Air;

    static string N(double value) => value.ToString("0.##", CultureInfo.InvariantCulture);

    /// <summary>Where a port stands along a square, from 0 to 1.</summary>
    public static double Along(ValveDefinition valve, string port)
    {
        if (!valve.Ports.TryGetValue(port, out var node))
            return 0.5;
        var beside = valve.Ports.Where(p => p.Value.Side == node.Side).OrderBy(p => p.Value.Order).Select(p => p.Key).ToList();
        return (beside.IndexOf(port) + 1.0) / (beside.Count + 1);
    }

    public string Picture()
    {
        var lines = new StringBuilder();
        var fills = new StringBuilder();
        var positions = valve.OrderedPositions;
        for (var i = 0; i < positions.Count; i++)
        {
            var x = 2 + End + i * Square;
            lines.Append($"M{N(x)} {N(Air)}h{N(Square)}v{N(Square)}h{N(-Square)}z");
            var used = new HashSet<string>();
            foreach (var path in positions[i].Value.Paths.Values)
            {
                used.Add(path.From);
                used.Add(path.To);
                Path(lines, fills, x, path);
            }

            foreach (var (id, port) in valve.OrderedPorts)
                if (!used.Contains(id))
                {
                    var (px, up) = (x + Square * Along(valve, id), port.Side == PortSide.Top ? 1 : -1);
                    var edge = port.Side == PortSide.Top ? Air : Air + Square;
                    lines.Append($"M{N(px)} {N(edge)}v{N(up * 7)}M{N(px - 3.5)} {N(edge + up * 7)}h7");
                }
        }

        var neutral = 2 + End + valve.NeutralAt * Square;
        foreach (var (id, port) in valve.OrderedPorts)
            lines.Append(
                $"M{N(neutral + Square * Along(valve, id))} "
                    + (port.Side == PortSide.Top ? $"{N(Air)}V0" : $"{N(Air + Square)}V{N(Height)}")
            );
        Ends(lines, fills, positions.Count);
        var svg =
            $"<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{N(Width)}\" height=\"{N(Height)}\" viewBox=\"0 0 {N(Width)} {N(Height)}\">"
            + $"<path d=\"{lines}\" fill=\"none\" stroke=\"#17324d\" stroke-width=\"1.3\" />"
            + $"<path d=\"{fills}\" fill=\"#17324d\" /></svg>";
        return FacePicture.Imported(Encoding.UTF8.GetBytes(svg));
    }

    (double X, double Y) Place(double x, string port) =>
        (x + Square * Along(valve, port), valve.Ports.TryGetValue(port, out var p) && p.Side == PortSide.Top ? Air : Air + Square);

    void Path(StringBuilder lines, StringBuilder fills, double x, ValvePathNode path)
    {
        var (a, b) = (Place(x, path.From), Place(x, path.To));
        if (a.Y == b.Y)
        {
            // Between ports of one side: round through the middle of the square.
            var middle = a.Y == Air ? Air + 0.45 * Square : Air + 0.55 * Square;
            lines.Append($"M{N(a.X)} {N(a.Y)}V{N(middle)}H{N(b.X)}V{N(b.Y)}");
            Arrow(fills, (b.X, middle), b);
            return;
        }

        lines.Append($"M{N(a.X)} {N(a.Y)}L{N(b.X)} {N(b.Y)}");
        Arrow(fills, a, b);
        var (mx, my) = ((a.X + b.X) / 2, (a.Y + b.Y) / 2);
        if (path.Kind == PathKind.Check)
            lines.Append($"M{N(mx - 2.6)} {N(my)}a2.6 2.6 0 1 0 5.2 0a2.6 2.6 0 1 0 -5.2 0");
        if (path.Kind == PathKind.Orifice)
            lines.Append($"M{N(mx - 5)} {N(my - 4)}q3 4 0 8M{N(mx + 5)} {N(my - 4)}q-3 4 0 8");
    }

    static void Arrow(StringBuilder fills, (double X, double Y) from, (double X, double Y) to)
    {
        var (dx, dy) = (to.X - from.X, to.Y - from.Y);
        var length = Math.Max(1e-6, Math.Sqrt(dx * dx + dy * dy));
        (dx, dy) = (dx / length, dy / length);
        fills.Append(
            $"M{N(to.X)} {N(to.Y)}L{N(to.X - 6 * dx - 2.4 * dy)} {N(to.Y - 6 * dy + 2.4 * dx)}"
                + $"L{N(to.X - 6 * dx + 2.4 * dy)} {N(to.Y - 6 * dy - 2.4 * dx)}z"
        );
    }

    void Ends(StringBuilder lines, StringBuilder fills, int positions)
    {
        var (top, low) = (Air + 3.0, Air + Square - 12);
        double[] edges = [2 + End, 2 + End + positions * Square];
        for (var side = 0; side < 2; side++)
        {
            var (edge, way) = (edges[side], side == 0 ? -1 : 1);
            // A spring brings it back wherever there is a position on the other side of the neutral one.
            lines.Append($"M{N(edge)} {N(low + 5)}");
            for (var k = 1; k <= 6; k++)
                lines.Append($"L{N(edge + way * k * 2.6)} {N(low + (k % 2 == 0 ? 1 : 9))}");
            switch (valve.Actuation)
            {
                case Actuation.Solenoid:
                    lines.Append($"M{N(edge)} {N(top)}h{N(way * 16)}v11h{N(-way * 16)}zM{N(edge + way * 5)} {N(top + 9)}l{N(way * 6)} -7");
                    break;
                case Actuation.Lever:
                    if (side == 0)
                        lines.Append($"M{N(edge)} {N(top + 2)}h-14v8h14M{N(edge - 14)} {N(top + 6)}l-6 -10");
                    break;
                case Actuation.Pilot:
                case Actuation.PilotOneSide when side == 0:
                    lines.Append($"M{N(edge)} {N(top)}h{N(way * 14)}v11h{N(-way * 14)}zM{N(edge + way * 14)} {N(top + 5.5)}h{N(way * 9)}");
                    if (valve.Medium == ValveMedium.Hydraulic)
                        fills.Append($"M{N(edge + way * 3)} {N(top + 5.5)}l{N(way * 7)} -4v8z");
                    else
                        lines.Append($"M{N(edge + way * 3)} {N(top + 5.5)}l{N(way * 7)} -4v8z");
                    break;
            }
        }
    }
}
