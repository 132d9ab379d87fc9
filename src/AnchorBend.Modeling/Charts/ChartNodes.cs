using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Charts;

/// <summary>
/// A class drawn as a state chart: states in states, regions side by side, transitions between them (docs/state-charts.md says what they
/// mean). Guards and actions are written in the equation language.
/// </summary>
public sealed record ChartDefinition : WrittenDefinition
{
    /// <summary>Time between two looks at the inputs, as typed; null where the chart runs with the continuous model, at exact
    /// instants.</summary>
    public string? Period { get; init; } = "0.1 s";

    public Dictionary<string, ChartStateNode> States { get; init; } = [];

    public Dictionary<string, ChartTransitionNode> Transitions { get; init; } = [];

    internal override string Noun => "chart";

    internal override string Write() => new ChartWriter(this).Write();

    public override string? NameOf(string item)
    {
        var signals = ChartSignals.Of(this);
        return signals.Transitions.GetValueOrDefault(item) is { } taken ? taken["taken ".Length..] : signals.Paths.GetValueOrDefault(item);
    }

    internal override ChartDefinition WithTexts(Func<string?, string?> text, Func<string?, string?> name) =>
        this with
        {
            States = States.ToDictionary(
                s => s.Key,
                s => s.Value with { Entry = text(s.Value.Entry), While = text(s.Value.While), Exit = text(s.Value.Exit) }
            ),
            Transitions = Transitions.ToDictionary(
                t => t.Key,
                t =>
                    t.Value with
                    {
                        Event = name(t.Value.Event),
                        Guard = text(t.Value.Guard),
                        Action = text(t.Value.Action),
                        After = text(t.Value.After),
                        Every = text(t.Value.Every),
                        HeldFor = text(t.Value.HeldFor),
                    }
            ),
        };

    internal override void Check() => ChartLimits.Check(this);

    private protected override IReadOnlyList<WrittenFinding> Reviewed() => ChartReview.Of(this);

    private protected override IReadOnlyDictionary<string, string> Told()
    {
        var signals = ChartSignals.Of(this);
        return signals.States.Concat(signals.Transitions).ToDictionary();
    }
}

public enum ChartStateKind
{
    /// <summary>With states in it, one of them is active while it is.</summary>
    State,

    /// <summary>All states in it are active while it is: regions.</summary>
    Parallel,

    /// <summary>A transition goes on through it without a stop.</summary>
    Junction,

    Final,

    /// <summary>Stands for the state beside it that was active last, or with <see cref="DeepHistory"/> for all that was active in
    /// it.</summary>
    History,

    DeepHistory,
}

/// <summary>A state, or what a transition can lead to in the place of one.</summary>
public sealed record ChartStateNode
{
    public required string Name { get; init; }

    public ChartStateKind Kind { get; init; }

    /// <summary>Id of the state it stands in; null for the chart itself.</summary>
    public string? Parent { get; init; }

    /// <summary>Id of the state in it that is entered first; the first of them without one. Of a history what it stands for before
    /// anything was active.</summary>
    public string? Initial { get; init; }

    /// <summary>Statements on entry, at each look while it is active, and on exit.</summary>
    public string? Entry { get; init; }

    public string? While { get; init; }

    public string? Exit { get; init; }

    /// <summary>Its place among its neighbours; smaller goes first.</summary>
    public double Order { get; init; }

    public double X { get; init; }

    public double Y { get; init; }

    public double Width { get; init; } = 120;

    public double Height { get; init; } = 60;
}

/// <summary>A way from a state to another, or to itself.</summary>
public sealed record ChartTransitionNode
{
    public required string From { get; init; }

    /// <summary>Null where only its action is done and no state is left.</summary>
    public string? To { get; init; }

    /// <summary>Name of the event that it waits for; null for none. <c>done</c> is that of a state whose final state was
    /// reached.</summary>
    public string? Event { get; init; }

    public string? Guard { get; init; }

    /// <summary>Statements between exit and entry.</summary>
    public string? Action { get; init; }

    /// <summary>How long its state must have been active, as typed.</summary>
    public string? After { get; init; }

    /// <summary>The distance at which it is taken again and again, as typed; for transitions that leave no state.</summary>
    public string? Every { get; init; }

    /// <summary>How long the guard must have held without a break, as typed.</summary>
    public string? HeldFor { get; init; }

    /// <summary>Whether the state it comes from is not left where it leads into it.</summary>
    public bool IsLocal { get; init; }

    /// <summary>Its place among those of its state; smaller goes first.</summary>
    public double Priority { get; init; }

    /// <summary>Points that the line is bent through; none for the way that it finds itself.</summary>
    public IReadOnlyList<Point> Bends { get; init; } = [];
}
