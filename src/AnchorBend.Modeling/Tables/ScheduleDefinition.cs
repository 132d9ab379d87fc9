using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Tables;

/// <summary>
/// A sequence of commands: phase after phase, each for a time or until a condition, gives the outputs values, at once or by degrees.
/// </summary>
public sealed record ScheduleDefinition : WrittenDefinition
{
    public Dictionary<string, PhaseNode> Phases { get; init; } = [];

    /// <summary>Whether the first phase follows on the last one.</summary>
    public bool Repeats { get; init; }

    internal override string Noun => "schedule";

    internal override string Write() => new ScheduleWriter(this).Write();

    internal override ScheduleDefinition WithTexts(Func<string?, string?> text, Func<string?, string?> name) =>
        this with
        {
            Phases = Phases.ToDictionary(
                p => p.Key,
                p =>
                    p.Value with
                    {
                        Lasts = text(p.Value.Lasts),
                        Until = text(p.Value.Until),
                        Commands = p.Value.Commands.ToDictionary(
                            c => c.Key,
                            c => c.Value with { To = text(c.Value.To)!, Over = text(c.Value.Over) }
                        ),
                    }
            ),
        };

    internal override void Check() => TableLimits.Check(this);

    private protected override IReadOnlyList<WrittenFinding> Reviewed() => new ScheduleReview(this).All();

    private protected override IReadOnlyDictionary<string, string> Told() => Active();

    private protected override IEnumerable<string> ToldBesides => ["elapsed"];

    public override string? NameOf(string item) => Phases.GetValueOrDefault(item)?.Name;

    internal IEnumerable<KeyValuePair<string, PhaseNode>> Ordered => Phases.OrderBy(p => p.Value.Order);

    internal IEnumerable<KeyValuePair<string, NameNode>> Commands =>
        Names.Where(n => n.Value.Kind == NameKind.Output).OrderBy(n => n.Value.Order);

    /// <summary>Of each phase the variable of the class that says whether it goes on.</summary>
    /// <exception cref="DocumentException">Two phases have one name.</exception>
    public IReadOnlyDictionary<string, string> Active()
    {
        var (active, taken) = (new Dictionary<string, string>(), new HashSet<string>());
        foreach (var (id, phase) in Ordered)
            if (!taken.Add(active[id] = $"in {phase.Name}"))
                throw new DocumentException($"The schedule '{Name}' has two phases '{phase.Name}'. Give one of them another name.");
        return active;
    }
}

/// <summary>A phase of a schedule: it ends when its time is over or its condition holds, whichever comes first.</summary>
public sealed record PhaseNode
{
    public required string Name { get; init; }

    /// <summary>Its place among the others; smaller goes first.</summary>
    public double Order { get; init; }

    /// <summary>How long it takes, as typed; null where only its condition ends it.</summary>
    public string? Lasts { get; init; }

    /// <summary>What ends it; null for its time alone.</summary>
    public string? Until { get; init; }

    /// <summary>What the commands do in it, by the ids of their names; they stay where they are without.</summary>
    public Dictionary<string, CommandNode> Commands { get; init; } = [];
}

public enum CommandWay
{
    /// <summary>At once; the value may change on the way.</summary>
    Step,

    /// <summary>In a straight line.</summary>
    Ramp,

    /// <summary>By a polynomial of fifth order, without a jerk at its ends.</summary>
    Smooth,
}

/// <summary>What a command does in a phase.</summary>
public sealed record CommandNode
{
    /// <summary>The value it goes to, as typed.</summary>
    public required string To { get; init; }

    public CommandWay Way { get; init; }

    /// <summary>How long it takes for it, as typed; the time of its phase without.</summary>
    public string? Over { get; init; }
}
