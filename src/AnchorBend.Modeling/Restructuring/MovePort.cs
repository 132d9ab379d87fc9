using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Moves a port of a level along the edge of the part that the level is, or to another edge. The order there is that of the places
/// on the level's diagram, so these change.</summary>
public sealed record MovePort : Restructuring
{
    /// <summary>Id of the port among the parts of the level.</summary>
    public required string Port { get; init; }

    /// <summary>left, right, top or bottom.</summary>
    public required string Side { get; init; }

    /// <summary>How many of the edge's other ports stand before it.</summary>
    public required int Index { get; init; }

    const double Row = 48,
        Margin = 96;

    internal override Restructured On(LevelAt level)
    {
        var moved = level.Part(Port);
        if (!level.IsPort(moved))
            throw new DocumentException($"'{moved.Name}' is no port of this level.");
        if (Side is not ("left" or "right" or "top" or "bottom"))
            throw new DocumentException($"A port stands at the left, right, top or bottom, not at '{DocumentLimits.Short(Side)}'.");
        var middle = DiagramClass.Middle(level.Diagram);
        string EdgeOf(PartNode part) =>
            (
                PortPart
                    .Declaration(part, PortPart.KindOf(level.Catalog.Find(part.Type))!.Value, middle)
                    .Annotation!.Argument("__AnchorBend")!
                    .Value.Argument("side")!
                    .Value.Binding as StringLiteral
            )!.Value;
        var parts = new Dictionary<string, PartNode>(level.Diagram.Parts);
        // Physical ports stand where they are drawn; that must not change with the places of others.
        foreach (var (id, part) in DiagramClass.InPortOrder(level.Diagram, level.Catalog).TakeWhile(p => level.IsPort(p.Value)))
            parts[id] = Standing(part, id == Port ? Side : EdgeOf(part));
        var others = DiagramClass
            .InPortOrder(level.Diagram, level.Catalog)
            .TakeWhile(p => level.IsPort(p.Value))
            .Where(p => p.Key != Port && EdgeOf(p.Value) == Side)
            .Select(p => p.Key)
            .ToList();
        var order = others.ToList();
        order.Insert(Math.Clamp(Index, 0, order.Count), Port);
        if (EdgeOf(moved) != Side)
            parts[Port] = parts[Port] with { X = Column(level.Diagram, others, moved) };
        // The places are dealt out anew in the wanted order, and told apart where some are the same.
        var rows = order.Select(id => parts[id].Y).Order().ToList();
        for (var i = 0; i < order.Count; i++)
        {
            if (i > 0 && rows[i] <= rows[i - 1])
                rows[i] = rows[i - 1] + Row;
            parts[order[i]] = parts[order[i]] with { Y = rows[i] };
        }

        return new Restructured($"Move port {moved.Name}", level.With(level.Diagram with { Parts = parts }), [Port]);
    }

    PartNode Standing(PartNode part, string side)
    {
        var said = part.Type is "InputPort" or "OutputPort" ? $"Side.{side}" : side;
        return part.Parameters.GetValueOrDefault("side") == said
            ? part
            : part with
            {
                Parameters = new Dictionary<string, string>(part.Parameters) { ["side"] = said },
            };
    }

    /// <summary>Where on the diagram a port comes to stand that changes its edge: with the others of that edge, or beyond all
    /// parts.</summary>
    double Column(DiagramDefinition diagram, List<string> others, PartNode moved) =>
        others.Count > 0
            ? diagram.Parts[others[0]].X
            : Side switch
            {
                "left" => diagram.Parts.Values.Min(p => p.X) - Margin,
                "right" => diagram.Parts.Values.Max(p => p.X) + Margin,
                _ => moved.X,
            };
}
