using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Valves;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Workbench.Views;

/// <summary>What the interface needs to draw a valve besides its document.</summary>
/// <param name="Words">By position, what it joins and closes.</param>
/// <param name="Places">By position, where the spool is in it, −1 to 1.</param>
/// <param name="Along">By port, where it stands along the side of a square, 0 to 1.</param>
/// <param name="Paths">By path.</param>
/// <param name="Between">What is open between two positions, where the valve says so as a whole.</param>
/// <param name="Stroke">Key of the signal of the stroke.</param>
public sealed record ValveView(
    IReadOnlyDictionary<string, string> Words,
    IReadOnlyDictionary<string, double> Places,
    IReadOnlyDictionary<string, double> Along,
    IReadOnlyDictionary<string, ValvePathView> Paths,
    string? Between,
    string Stroke
);

/// <param name="Way">What it is called.</param>
/// <param name="Opening">Over the stroke; nothing where what is typed gives none.</param>
/// <param name="Flow">Key of the signal of its flow.</param>
/// <param name="Problem">What cannot be read in it.</param>
public sealed record ValvePathView(string Way, CurveView? Opening, string Flow, string? Problem);

static class ValveViews
{
    /// <returns>Null for what is no valve.</returns>
    public static ValveView? Of(WrittenDefinition definition)
    {
        if (definition is not ValveDefinition valve)
            return null;
        var places = valve.OrderedPositions.Select((p, i) => (p.Key, At: i)).ToDictionary(p => p.Key, p => valve.PlaceOf(p.At));
        var told = valve.Tells();
        return new ValveView(
            valve.Positions.ToDictionary(p => p.Key, p => ValveWords.Of(valve, p.Value)),
            places,
            valve.Ports.Keys.ToDictionary(p => p, p => ValveSymbol.Along(valve, p)),
            valve.Paths().ToDictionary(p => p.Id, p => Path(valve, p.Id, p.Path, p.At, told)),
            ValveWords.Between(valve),
            "stroke"
        );
    }

    static ValvePathView Path(ValveDefinition valve, string id, ValvePathNode path, int at, IReadOnlyDictionary<string, string> told)
    {
        var (way, flow) = (ValveWords.Way(valve, path), told.GetValueOrDefault(id, ""));
        try
        {
            return new ValvePathView(way, Opening(valve, path, at), flow, null);
        }
        catch (DocumentException e)
        {
            return new ValvePathView(way, null, flow, e.Message);
        }
    }

    /// <summary>The corners of the opening over the stroke.</summary>
    static CurveView Opening(ValveDefinition valve, ValvePathNode path, int at)
    {
        var (first, last) = (valve.PlaceOf(0), valve.PlaceOf(valve.Positions.Count - 1));
        var (place, step) = (valve.PlaceOf(at), valve.Step);
        var shape = ValveNumbers.Opening(path, valve.Transition);
        double Open(double stroke)
        {
            var near = 1 - Math.Abs(stroke - place) / step;
            if (near <= shape[0].X)
                return shape[0].Y;
            for (var k = 1; k < shape.Count; k++)
                if (near <= shape[k].X)
                    return shape[k - 1].Y + (shape[k].Y - shape[k - 1].Y) * (near - shape[k - 1].X) / (shape[k].X - shape[k - 1].X);
            return shape[^1].Y;
        }

        double[] strokes =
        [
            .. shape
                .SelectMany(p => new[] { place - (1 - p.X) * step, place + (1 - p.X) * step })
                .Concat([first, place, last])
                .Where(s => s >= first && s <= last)
                .Distinct()
                .Order(),
        ];
        return new CurveView(strokes, [.. strokes.Select(Open)]);
    }
}
