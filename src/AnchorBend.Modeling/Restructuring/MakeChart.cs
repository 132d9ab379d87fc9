using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Places a part whose definition is a new state chart with one state in it.</summary>
public sealed record MakeChart : Restructuring
{
    public string? Name { get; init; }

    public double X { get; init; }

    public double Y { get; init; }

    internal override Restructured On(LevelAt level)
    {
        if (!double.IsFinite(X + Y))
            throw new DocumentException("The chart must be placed on the diagram.");
        var wanted = string.IsNullOrWhiteSpace(Name) ? "Chart" : Name.Trim();
        var id = NewIds.Definition(level.Document);
        var part = NewIds.In(level.Diagram.Parts, "p");
        var chart = new ChartDefinition
        {
            Name = NewIds.DefinitionName(level.Document, wanted),
            States =
            {
                ["s1"] = new ChartStateNode
                {
                    Name = "First",
                    X = 80,
                    Y = 80,
                },
            },
        };
        var placed = new PartNode
        {
            Type = DefinitionReference.OfOwn(id),
            Name = level.Diagram.FreeName(wanted),
            X = X,
            Y = Y,
        };
        var parts = new Dictionary<string, PartNode>(level.Diagram.Parts) { [part] = placed };
        return new Restructured("Place a state chart", level.With(level.Diagram with { Parts = parts }).With(id, chart), [part]);
    }
}
