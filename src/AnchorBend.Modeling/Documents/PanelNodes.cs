namespace AnchorBend.Modeling.Documents;

/// <summary>A panel to play a model by hand: controls and instruments on a grid of twelve columns.</summary>
public sealed record PanelNode
{
    public required string Name { get; init; }

    /// <summary>Its place among the panels; smaller stands further left.</summary>
    public double Order { get; init; }

    public Dictionary<string, PanelItemNode> Items { get; init; } = [];
}

public enum PanelItemKind
{
    Switch,

    /// <summary>Stays pressed until it is pressed again.</summary>
    Button,

    /// <summary>Is pressed for as long as somebody holds it.</summary>
    PushButton,

    /// <summary>One of several, in a list that opens.</summary>
    List,

    /// <summary>One of several, all in view.</summary>
    Choice,
    Slider,
    Knob,
    NumberField,

    /// <summary>Two axes that spring back to the middle.</summary>
    Stick,
    Dial,
    Bar,
    Number,
    Lamp,

    /// <summary>The word that a value stands for, or the names of what is active.</summary>
    Text,
    Trend,
    Alerts,
    Compass,

    /// <summary>Roll, and pitch by a second signal.</summary>
    Horizon,
    Level,

    /// <summary>The faults of the model with their switches.</summary>
    Faults,
}

/// <summary>One thing on a panel.</summary>
public sealed record PanelItemNode
{
    public PanelItemKind Kind { get; init; }

    public string? Label { get; init; }

    /// <summary>Left edge and width in columns of the grid, top edge and height in its rows.</summary>
    public int X { get; init; }

    public int Y { get; init; }

    public int Width { get; init; } = 3;

    public int Height { get; init; } = 2;

    /// <summary>What a control sets: a parameter, written as that of a part by its ids (<c>p1/p2.k</c>). What an instrument shows: a
    /// signal (<see cref="SignalReference"/>), or a name.</summary>
    public string? Target { get; init; }

    /// <summary>The second axis of a stick, the pitch of a horizon, what a compass should read.</summary>
    public string? Second { get; init; }

    /// <summary>Unit that a value is set and read in; that of the target without one.</summary>
    public string? Unit { get; init; }

    /// <summary>The ends of its scale.</summary>
    public double? From { get; init; }

    public double? To { get; init; }

    /// <summary>What a choice offers, or what a text says for a value.</summary>
    public IReadOnlyList<PanelChoiceNode> Choices { get; init; } = [];
}

/// <param name="Value">As typed for a control; for a text the number that the label stands for.</param>
public sealed record PanelChoiceNode(string Label, string Value);

public enum AlertGrade
{
    /// <summary>Something must be done at once.</summary>
    Warning,

    /// <summary>Something must be done soon.</summary>
    Caution,

    /// <summary>Good to know.</summary>
    Advisory,
}

/// <summary>Something that the operator is told when a condition comes to hold.</summary>
public sealed record AlertNode
{
    public required string Text { get; init; }

    public AlertGrade Grade { get; init; } = AlertGrade.Caution;

    /// <summary>A condition over signals, as where a run is to pause.</summary>
    public required string Condition { get; init; }

    /// <summary>Whether it stays until it is acknowledged, also when its condition has ceased to hold.</summary>
    public bool IsLatched { get; init; }

    /// <summary>A condition under which it is not raised; null for none.</summary>
    public string? Inhibit { get; init; }
}
