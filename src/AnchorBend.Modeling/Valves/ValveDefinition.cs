using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Valves;

public enum ValveMedium
{
    Hydraulic,

    /// <summary>A gas in a fluid loop.</summary>
    Pneumatic,
}

public enum PortSide
{
    Bottom,
    Top,
}

public enum PathKind
{
    Plain,

    /// <summary>Only from its first port to its second.</summary>
    Check,

    /// <summary>Through a fixed orifice in series.</summary>
    Orifice,
}

public enum Actuation
{
    /// <summary>By a signal from −1 to 1.</summary>
    Solenoid,

    /// <summary>By hand: a signal from −1 to 1 as well.</summary>
    Lever,

    /// <summary>By pressures at both of its ends.</summary>
    Pilot,

    /// <summary>By pressure at one end, against its spring.</summary>
    PilotOneSide,
}

public enum ValveDynamics
{
    None,
    Lag,
    SecondOrder,

    /// <summary>The mass of the spool between springs, with the force of the jets.</summary>
    Mass,
}

/// <summary>What is open while the spool is between two positions.</summary>
public enum Transition
{
    /// <summary>What the overlaps of the paths leave open.</summary>
    AsOverlapped,

    /// <summary>Nothing: what closes is closed half way, where what opens begins to.</summary>
    Closed,

    /// <summary>The paths of both positions: none is closed before the spool is there.</summary>
    Open,
}

/// <summary>
/// A directional valve drawn as its symbol (ISO 1219-1): positions, and in each of them the ports that it joins. What it comes to is a
/// class whose spool goes from position to position and opens the paths of each the nearer it is.
/// </summary>
public sealed record ValveDefinition : WrittenDefinition
{
    public ValveMedium Medium { get; init; }

    public Dictionary<string, ValvePortNode> Ports { get; init; } = [];

    public Dictionary<string, ValvePositionNode> Positions { get; init; } = [];

    /// <summary>Id of the position without a command.</summary>
    public required string Neutral { get; init; }

    public Actuation Actuation { get; init; }

    /// <summary>Pilot pressure for the full stroke, as typed.</summary>
    public string FullPressure { get; init; } = "20 bar";

    /// <summary>How far the spool goes from the neutral to the outermost position, as typed.</summary>
    public string Stroke { get; init; } = "1 mm";

    public Transition Transition { get; init; }

    public ValveDynamics Dynamics { get; init; }

    public string Lag { get; init; } = "20 ms";

    public string Frequency { get; init; } = "40 Hz";

    /// <summary>Damping ratio.</summary>
    public string Damping { get; init; } = "0.8";

    public string Mass { get; init; } = "0.15 kg";

    /// <summary>Stiffness of all springs together.</summary>
    public string Spring { get; init; } = "80 kN/m";

    /// <summary>Viscous friction of the spool.</summary>
    public string Friction { get; init; } = "120 N.s/m";

    /// <summary>Whether jets pull at the spool.</summary>
    public bool HasJets { get; init; }

    /// <summary>Angle of the jets to the axis of the spool.</summary>
    public string JetAngle { get; init; } = "69 deg";

    /// <summary>What flows through a path that is closed, and at which drop.</summary>
    public string Leakage { get; init; } = "0.05 l/min";

    public string LeakageDrop { get; init; } = "100 bar";

    /// <summary>Discharge coefficient of edges and orifices.</summary>
    public string Discharge { get; init; } = "0.65";

    internal override string Noun => "valve";

    internal override string Write() => new ValveWriter(this).Write();

    internal override void Check() => ValveLimits.Check(this);

    internal override ValveDefinition WithTexts(Func<string?, string?> text, Func<string?, string?> name) => this;

    private protected override IReadOnlyList<WrittenFinding> Reviewed() => new ValveReview(this).All();

    private protected override IReadOnlyDictionary<string, string> Told() =>
        Paths().Select((p, i) => (p.Id, Name: $"flow {i + 1}")).ToDictionary(p => p.Id, p => p.Name);

    private protected override IEnumerable<string> ToldBesides => ["stroke"];

    public override string? NameOf(string item) =>
        Positions.GetValueOrDefault(item)?.Name
        ?? Ports.GetValueOrDefault(item)?.Name
        ?? (Paths().FirstOrDefault(p => p.Id == item) is { Path: { } path } ? ValveWords.Way(this, path) : null);

    internal IEnumerable<KeyValuePair<string, ValvePortNode>> OrderedPorts => Ports.OrderBy(p => p.Value.Order);

    public IReadOnlyList<KeyValuePair<string, ValvePositionNode>> OrderedPositions => [.. Positions.OrderBy(p => p.Value.Order)];

    /// <summary>All paths, position by position.</summary>
    public IEnumerable<(string Id, ValvePathNode Path, string Position, int At)> Paths() =>
        OrderedPositions.SelectMany((p, at) => p.Value.Paths.OrderBy(q => q.Value.Order).Select(q => (q.Key, q.Value, p.Key, at)));

    internal int NeutralAt => Math.Max(0, OrderedPositions.Select(p => p.Key).ToList().IndexOf(Neutral));

    /// <summary>Where the spool is in a position, −1 to 1: the outermost one further from the neutral is at the full stroke.</summary>
    public double PlaceOf(int position) => (position - NeutralAt) * Step;

    /// <summary>From one position to the next.</summary>
    public double Step => 1.0 / Math.Max(1, Math.Max(NeutralAt, Positions.Count - 1 - NeutralAt));
}

/// <summary>A port of a valve.</summary>
public sealed record ValvePortNode
{
    public required string Name { get; init; }

    public string? Description { get; init; }

    public PortSide Side { get; init; }

    public double Order { get; init; }
}

/// <summary>A position of a valve, with what it joins.</summary>
public sealed record ValvePositionNode
{
    public required string Name { get; init; }

    public double Order { get; init; }

    public Dictionary<string, ValvePathNode> Paths { get; init; } = [];
}

/// <summary>A path between two ports in one position.</summary>
public sealed record ValvePathNode
{
    /// <summary>Ids of ports.</summary>
    public required string From { get; init; }

    public required string To { get; init; }

    public PathKind Kind { get; init; }

    public double Order { get; init; }

    /// <summary>Nominal flow when it is open, as typed, and the drop that it is measured at.</summary>
    public string Flow { get; init; } = "40 l/min";

    public string Drop { get; init; } = "35 bar";

    /// <summary>Share of the way from the neighbouring position on which it is still closed; negative where it opens before.</summary>
    public string Overlap { get; init; } = "0.06";

    /// <summary>Opening over that way as pairs of numbers, both from 0 to 1; null for a straight line.</summary>
    public string? Curve { get; init; }

    /// <summary>Pressure at which a check valve opens.</summary>
    public string Cracking { get; init; } = "0.4 bar";

    /// <summary>Of an orifice.</summary>
    public string Diameter { get; init; } = "2.5 mm";
}
