using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Tables;
using AnchorBend.Modeling.Valves;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Places a part whose definition is new and edited in a form of its own.</summary>
public abstract record PlaceWritten : Restructuring
{
    public string? Name { get; init; }

    public double X { get; init; }

    public double Y { get; init; }

    private protected abstract string Wanted { get; }

    private protected abstract WrittenDefinition Begun(string name);

    internal override Restructured On(LevelAt level)
    {
        if (!double.IsFinite(X + Y))
            throw new DocumentException("The part must be placed on the diagram.");
        var wanted = string.IsNullOrWhiteSpace(Name) ? Wanted : Name.Trim();
        var id = NewIds.Definition(level.Document);
        var part = NewIds.In(level.Diagram.Parts, "p");
        var begun = Begun(NewIds.DefinitionName(level.Document, wanted));
        var placed = new PartNode
        {
            Type = DefinitionReference.OfOwn(id),
            Name = level.Diagram.FreeName(wanted),
            X = X,
            Y = Y,
        };
        var parts = new Dictionary<string, PartNode>(level.Diagram.Parts) { [part] = placed };
        return new Restructured($"Place a {begun.Noun}", level.With(level.Diagram with { Parts = parts }).With(id, begun), [part]);
    }
}

/// <summary>Places a new state chart with one state in it.</summary>
public sealed record MakeChart : PlaceWritten
{
    private protected override string Wanted => "Chart";

    private protected override WrittenDefinition Begun(string name) =>
        new ChartDefinition
        {
            Name = name,
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
}

/// <summary>Places a new decision table with an input, an output, and a rule.</summary>
public sealed record MakeDecisionTable : PlaceWritten
{
    private protected override string Wanted => "Decisions";

    private protected override WrittenDefinition Begun(string name) =>
        new DecisionTable
        {
            Name = name,
            Names =
            {
                ["n1"] = new NameNode { Name = "u", Kind = NameKind.Input },
                ["n2"] = new NameNode
                {
                    Name = "y",
                    Kind = NameKind.Output,
                    Order = 1,
                },
            },
            Conditions = { ["c1"] = new ConditionNode { Text = "u" } },
            Rules =
            {
                ["r1"] = new RuleNode { When = { ["c1"] = "> 0" }, Then = { ["n2"] = "1" } },
            },
        };
}

/// <summary>Places a new schedule with one command and two phases.</summary>
public sealed record MakeSchedule : PlaceWritten
{
    private protected override string Wanted => "Schedule";

    private protected override WrittenDefinition Begun(string name) =>
        new ScheduleDefinition
        {
            Name = name,
            Names =
            {
                ["n1"] = new NameNode { Name = "y", Kind = NameKind.Output },
            },
            Phases =
            {
                ["f1"] = new PhaseNode { Name = "Wait", Lasts = "1 s" },
                ["f2"] = new PhaseNode
                {
                    Name = "Go",
                    Order = 1,
                    Lasts = "1 s",
                    Commands =
                    {
                        ["n1"] = new CommandNode { To = "1", Way = CommandWay.Ramp },
                    },
                },
            },
        };
}

/// <summary>Places a new directional valve with four ports and three positions, closed in the middle.</summary>
public sealed record MakeValve : PlaceWritten
{
    private protected override string Wanted => "Valve";

    private protected override WrittenDefinition Begun(string name)
    {
        static ValvePathNode From(string from, string to, double order) =>
            new()
            {
                From = from,
                To = to,
                Order = order,
            };
        return new ValveDefinition
        {
            Name = name,
            Neutral = "s2",
            Dynamics = ValveDynamics.SecondOrder,
            Ports =
            {
                ["p1"] = new ValvePortNode { Name = "P", Description = "Supply" },
                ["p2"] = new ValvePortNode
                {
                    Name = "T",
                    Description = "Return",
                    Order = 1,
                },
                ["p3"] = new ValvePortNode
                {
                    Name = "A",
                    Description = "First service port",
                    Side = PortSide.Top,
                },
                ["p4"] = new ValvePortNode
                {
                    Name = "B",
                    Description = "Second service port",
                    Side = PortSide.Top,
                    Order = 1,
                },
            },
            Positions =
            {
                ["s1"] = new ValvePositionNode { Name = "crossed", Paths = { ["w1"] = From("p1", "p4", 0), ["w2"] = From("p3", "p2", 1) } },
                ["s2"] = new ValvePositionNode { Name = "closed", Order = 1 },
                ["s3"] = new ValvePositionNode
                {
                    Name = "parallel",
                    Order = 2,
                    Paths = { ["w3"] = From("p1", "p3", 0), ["w4"] = From("p4", "p2", 1) },
                },
            },
        };
    }
}
