using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Valves;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Workbench.Views;

/// <summary>Something that can be done, as the edit that does it.</summary>
public sealed record ActionView(string Label, IReadOnlyList<PatchOperation> Operations);

/// <summary>A port of a placed part.</summary>
/// <param name="Kind">real, boolean, vector, bundle, or any for a member that a bundle is given.</param>
/// <param name="Plug">What the port is to others that a wire could join it to.</param>
/// <param name="Takes">Plugs of the ports that a wire can join it to.</param>
/// <param name="What">What it is, in words.</param>
/// <param name="Elements">Keys of the signals that the port carries, where these are several.</param>
/// <param name="Domain">Physical domain; null for a signal.</param>
/// <param name="Potential">Key of the potential among the signals; null for a signal.</param>
/// <param name="Flow">Key of the flow into the part; null for a signal.</param>
/// <param name="Action">What a click on the port's sign does; null where it has none.</param>
public sealed record PortView(
    string Name,
    string? Description,
    bool IsInput,
    string Side,
    string Kind,
    string Plug,
    IReadOnlyList<string> Takes,
    string What,
    string? Sign,
    string? Domain,
    string? Potential,
    string? Flow,
    IReadOnlyList<string>? Elements,
    ActionView? Action
)
{
    /// <summary>Whether the first wire says which way the signal goes.</summary>
    public bool IsEither { get; init; }
}

/// <summary>What is to be drawn of a placed part and offered for its parameters. The size is that of the turned part; the sides of ports
/// are
/// those before it is mirrored and turned.</summary>
/// <param name="Opens">Id of the diagram definition that the part is an instance of; null for other parts.</param>
/// <param name="Members">What the bundle that a part picks from holds; null for other parts.</param>
/// <param name="Actions">What can be done with this kind of part, such as adding an input.</param>
public sealed record PartView(
    string Face,
    double Width,
    double Height,
    string Shape,
    string? Symbol,
    DrawingView? Drawing,
    string? Opens,
    IReadOnlyList<PortView> Ports,
    IReadOnlyDictionary<string, ParameterView> Parameters,
    CurveView? Curve,
    IReadOnlyList<string>? Members,
    IReadOnlyList<ActionView> Actions
)
{
    internal const string Hydraulic = "hydraulic";

    /// <summary>Whether the part joins hydraulic ports as one command says; it may tell signals, and has nothing else.</summary>
    public bool IsValve =>
        Ports.Count(p => p.Domain == Hydraulic) is >= ValveLimits.LeastPorts and <= ValveLimits.MostPorts
        && Ports.All(p => p.Domain is null or Hydraulic)
        && Ports.Where(p => p is { Domain: null, IsInput: true }).ToList() is [{ Kind: "real" }];

    /// <summary>Whether a condition leaves the part out of the model as it is now.</summary>
    public bool LeftOut { get; init; }

    /// <summary>What follows from the typed parameters, each of one number or of several.</summary>
    public IReadOnlyList<DerivedView> Derived { get; init; } = [];

    /// <summary>What the part came to in a run.</summary>
    public IReadOnlyList<ResultView> Results { get; init; } = [];

    /// <summary>The realisations of a part that is a slot; null for other parts.</summary>
    public SlotView? Slot { get; init; }

    /// <summary>What the bundle of the part is declared to hold; null for parts of other kinds.</summary>
    public BundleTypeView? Bundle { get; init; }
}

/// <summary>A parameter that follows from others, as people read it.</summary>
/// <param name="Values">Null for what is no number.</param>
public sealed record DerivedView(string Name, string Label, string Unit, IReadOnlyList<double?> Values);

/// <summary>Signals that tell together what a part came to, such as a quantity of both of its sides.</summary>
/// <param name="Keys">Of signals of the level.</param>
public sealed record ResultView(string Name, string Label, IReadOnlyList<string> Keys);

/// <summary>The type of a bundle.</summary>
/// <param name="Type">Its name; null for free members.</param>
/// <param name="Definition">Its id, where a table can change it; null for free members and for texts that say more.</param>
/// <param name="Members">What it declares; for free members what the bundle holds now, as a type could declare it.</param>
/// <param name="Types">The names of all types of the model.</param>
public sealed record BundleTypeView(
    string? Type,
    string? Definition,
    string? Description,
    IReadOnlyList<DeclaredMember> Members,
    IReadOnlyList<string> Types
);

/// <summary>The realisations of a slot.</summary>
/// <param name="Parameter">The parameter of the part that chooses between them.</param>
/// <param name="Present">The name of the one that is in; null where that is not known.</param>
/// <param name="Names">All, in their order.</param>
/// <param name="Values">What each is as a value of the parameter, as typed.</param>
/// <param name="IsGiven">Whether the part chooses by a name, not by an expression.</param>
public sealed record SlotView(string Parameter, string? Present, IReadOnlyList<string> Names, IReadOnlyList<string> Values, bool IsGiven);

/// <summary>A face that somebody drew, its texts with the values of parameters, or a picture as a data URL.</summary>
public sealed record DrawingView(IReadOnlyList<StrokeNode>? Sketch, string? Picture);

/// <summary>A curve that two array parameters are.</summary>
public sealed record CurveView(IReadOnlyList<double> X, IReadOnlyList<double> Y);

/// <summary>A parameter's value now, in its own unit, and the unit it has.</summary>
/// <param name="Display">The value in the unit people read it in, where that is another one.</param>
public sealed record ParameterView(double? Value, string? Unit, bool Shown, string? Display);

/// <summary>A signal: its names, unit and factor for showing.</summary>
/// <param name="Reference">The signal by identity, from the root down.</param>
/// <param name="Scale">Shown value = value · scale + shift.</param>
/// <param name="Recorded">The variable that runs record for it: signals that equal each other share it.</param>
public sealed record SignalView(
    string Reference,
    string Path,
    string Label,
    string Unit,
    double Scale,
    double Shift,
    bool IsBoolean,
    string Recorded
);

/// <param name="Part">The part by its ids from the root down, where the finding is at one.</param>
/// <param name="Level">The level the part stands on.</param>
public sealed record FindingView(
    string Severity,
    string Code,
    string Message,
    string? Part,
    string? Level,
    string? PartName,
    string? Item,
    string? Suggestion,
    IReadOnlyList<FindingFix> Fixes,
    string? Help
);

/// <summary>What the interface needs to draw one level of a model besides its document.</summary>
/// <param name="ResultsRevision">The last revision that changed what a run shows; runs of earlier ones are out of date.</param>
/// <param name="Level">The level's part by ids from the root down; empty for the root.</param>
/// <param name="Definition">Id of the level's definition.</param>
/// <param name="Parts">By part id.</param>
/// <param name="Signals">By <c>partId.port</c>.</param>
/// <param name="Uses">What speaks of each parameter of the level, on it and below.</param>
/// <param name="Plotted">The plotted signals of all levels, by identity.</param>
/// <param name="Unknowns">Of the whole model, as are the equations.</param>
public sealed record ModelView(
    long Revision,
    long ResultsRevision,
    bool CanUndo,
    bool CanRedo,
    bool CanRun,
    string Level,
    string Definition,
    IReadOnlyDictionary<string, PartView> Parts,
    IReadOnlyDictionary<string, SignalView> Signals,
    IReadOnlyDictionary<string, ParameterView> Parameters,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Uses,
    IReadOnlyDictionary<string, SignalView> Plotted,
    IReadOnlyList<FindingView> Findings,
    int Equations,
    int Unknowns,
    IReadOnlyList<CatalogPart> OwnParts
)
{
    /// <summary>Of a level that is a chart; null for any other.</summary>
    public ChartView? Chart { get; init; }

    /// <summary>Of a level that is a table; null for any other.</summary>
    public TableView? Table { get; init; }

    /// <summary>Of a level that is a valve; null for any other.</summary>
    public ValveView? Valve { get; init; }
}

/// <summary>What the interface needs to show a decision table or a schedule besides its document.</summary>
/// <param name="Lit">By id of a rule or phase, the key of the signal that says whether it is the one that applies.</param>
/// <param name="Words">By name, the words that its values stand for, from 1 on; only for names of words.</param>
public sealed record TableView(IReadOnlyDictionary<string, string> Lit, IReadOnlyDictionary<string, IReadOnlyList<string>> Words);

/// <summary>What the interface needs to draw a chart besides its document.</summary>
/// <param name="First">The state that is entered first, by the state around it; under the empty name that of the chart.</param>
/// <param name="Paths">By id, the name of a state behind those of the states around it.</param>
/// <param name="States">By id of a state, the key of the signal that says whether it is active.</param>
/// <param name="Taken">By id of a transition, the key of the signal that says how often it was taken.</param>
/// <param name="Places">By id of a transition, its place among those of its state, from 1 on.</param>
/// <param name="Words">By name, the words that its values stand for, from 1 on; only for names of words.</param>
public sealed record ChartView(
    IReadOnlyDictionary<string, string> First,
    IReadOnlyDictionary<string, string> Paths,
    IReadOnlyDictionary<string, string> States,
    IReadOnlyDictionary<string, string> Taken,
    IReadOnlyDictionary<string, int> Places,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Words
);
