using System.Diagnostics.CodeAnalysis;
using System.Text.Json.Serialization;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// A model as the user made it: definitions by id, of which one is the root, requirements, run settings. Stored and exported as JSON; ids
/// are stable, so edits are small patches and text differences stay local.
/// </summary>
public sealed record ModelDocument
{
    /// <summary>The id that the root's definition has where nobody gave it another.</summary>
    public const string MainId = "main";

    public static readonly string CurrentFormat = FormatUpgrade.Name(FormatUpgrade.Present);

    public string Format { get; init; } = CurrentFormat;

    /// <summary>The definition that the model is an instance of: a diagram.</summary>
    public string Root { get; init; } = MainId;

    public required Dictionary<string, Definition> Definitions { get; init; }

    [SetsRequiredMembers]
    public ModelDocument() => Definitions = [];

    /// <summary>Tables of named values that every level knows, by id.</summary>
    public Dictionary<string, SheetNode> Sheets { get; init; } = [];

    public Dictionary<string, RequirementNode> Requirements { get; init; } = [];

    public Dictionary<string, MeasureNode> Measures { get; init; } = [];

    /// <summary>Sheets of plots, by id.</summary>
    public Dictionary<string, PlotSheetNode> PlotSheets { get; init; } = [];

    public Dictionary<string, StimulusNode> Stimuli { get; init; } = [];

    public Dictionary<string, OperatingPointNode> OperatingPoints { get; init; } = [];

    public Dictionary<string, StudyNode> Studies { get; init; } = [];

    public Dictionary<string, ToleranceNode> Tolerances { get; init; } = [];

    public Dictionary<string, ToleranceGroupNode> ToleranceGroups { get; init; } = [];

    /// <summary>Test cases, by id.</summary>
    public Dictionary<string, CaseNode> Cases { get; init; } = [];

    public Dictionary<string, CaseGroupNode> CaseGroups { get; init; } = [];

    public Dictionary<string, JustificationNode> Justifications { get; init; } = [];

    public Dictionary<string, FaultTreeNode> FaultTrees { get; init; } = [];

    /// <summary>Panels to play the model by hand.</summary>
    public Dictionary<string, PanelNode> Panels { get; init; } = [];

    public Dictionary<string, AlertNode> Alerts { get; init; } = [];

    public Dictionary<string, FaultNode> Faults { get; init; } = [];

    /// <summary>Parts that are handed on.</summary>
    public Dictionary<string, DeliveryNode> Deliveries { get; init; } = [];

    /// <summary>Meshes that shapes show, packed, by their hash; only in files, null in a model that is open.</summary>
    public Dictionary<string, string>? Meshes { get; init; }

    /// <summary>Exchange units that compute parts, as they were packed, in base 64 by their hash; only in files, null in a model that is
    /// open.</summary>
    public Dictionary<string, string>? Units { get; init; }

    public RunSettings Settings { get; init; } = new();

    /// <summary>The root's diagram.</summary>
    [JsonIgnore]
    public DiagramDefinition Main => (DiagramDefinition)Definitions[Root];

    [JsonIgnore]
    public string Name => Main.Name;

    [JsonIgnore]
    public string? Description => Main.Description;

    /// <summary>The same model with another root diagram.</summary>
    public ModelDocument WithMain(DiagramDefinition main) => With(Root, main);

    /// <summary>The same model with one definition more, or another one in the place of an old one.</summary>
    public ModelDocument With(string id, Definition definition) =>
        this with
        {
            Definitions = new Dictionary<string, Definition>(Definitions) { [id] = definition },
        };

    /// <summary>The diagram definition that a part is an instance of; null for parts of other kinds.</summary>
    public DiagramDefinition? DiagramOf(PartNode part) =>
        DefinitionReference.Parse(part.Type) is { IsOwn: true, Key: var id }
            ? Definitions.GetValueOrDefault(id) as DiagramDefinition
            : null;

    /// <summary>The diagram at a level, with the id of its definition; null where the path leads to no diagram.</summary>
    public (string Id, DiagramDefinition Diagram)? Level(PartPath path)
    {
        var (id, diagram) = (Root, Main);
        foreach (var step in path.Steps)
        {
            if (!diagram.Parts.TryGetValue(step, out var part) || DiagramOf(part) is not { } inner)
                return null;
            (id, diagram) = (DefinitionReference.Parse(part.Type).Key, inner);
        }

        return (id, diagram);
    }

    /// <summary>Whether a path leads to something that is edited as a level of its own: a diagram, a chart or a table.</summary>
    public bool HasLevel(PartPath path) => Level(path) is not null || Written(path) is not null;

    /// <summary>The chart that a part is an instance of, with the id of its definition; null for parts of other kinds.</summary>
    public (string Id, Charts.ChartDefinition Chart)? Chart(PartPath path) =>
        Written(path) is (var id, Charts.ChartDefinition chart) ? (id, chart) : null;

    /// <summary>The chart or table that a part is an instance of, with the id of its definition; null for parts of other kinds.</summary>
    public (string Id, Written.WrittenDefinition Definition)? Written(PartPath path) =>
        Part(path) is { } found
        && DefinitionReference.Parse(found.Part.Type) is { IsOwn: true, Key: var id }
        && Definitions.GetValueOrDefault(id) is Written.WrittenDefinition written
            ? (id, written)
            : null;

    /// <summary>A part by its path, with the id of the definition whose diagram it stands in; null where there is none.</summary>
    public (string Definition, PartNode Part)? Part(PartPath path) =>
        !path.IsRoot && Level(path.Above) is { } level && level.Diagram.Parts.TryGetValue(path.Id, out var part) ? (level.Id, part) : null;

    /// <summary>The path of a part in the flat model, by the names of the parts on the way; null where there is no such part.</summary>
    public string? NamePath(PartPath path)
    {
        var diagram = Main;
        var names = new List<string>();
        foreach (var step in path.Steps)
        {
            if (diagram is null || !diagram.Parts.TryGetValue(step, out var part))
                return null;
            names.Add(part.Name);
            diagram = DiagramOf(part);
        }

        return string.Join('.', names);
    }

    /// <summary>The name in the flat model of what is meant by identity (<see cref="SignalReference"/>); null for what is none, or of a
    /// part that is not there.</summary>
    public string? NameOf(string identity) =>
        SignalReference.TryParse(identity, out var signal) && NamePath(signal.Part) is { Length: > 0 } part
            ? $"{part}.{signal.Port}"
            : null;

    /// <summary>
    /// The places where a definition is used, from the root down: its own path for the root's. Nothing where definitions hold each other.
    /// </summary>
    public IEnumerable<PartPath> UsesOf(string definition)
    {
        var most = MostUses;
        return Uses(Root, PartPath.Root, definition, [], () => most-- > 0);
    }

    /// <summary>Uses that are looked at: more are more than a model may have parts.</summary>
    const int MostUses = 100_000;

    IEnumerable<PartPath> Uses(string at, PartPath path, string wanted, HashSet<string> around, Func<bool> goesOn)
    {
        if (at == wanted)
            yield return path;
        if (!around.Add(at))
            yield break;
        foreach (var (id, part) in (Definitions.GetValueOrDefault(at) as DiagramDefinition)?.Parts ?? [])
            if (DefinitionReference.Parse(part.Type) is { IsOwn: true, Key: var inner })
                foreach (var use in goesOn() ? Uses(inner, path.Then(id), wanted, around, goesOn) : [])
                    yield return use;
        around.Remove(at);
    }

    /// <summary>A definition with all that it is made of: what its parts are instances of, and texts that those name.</summary>
    public IReadOnlySet<string> NeededBy(string definition)
    {
        var needed = new HashSet<string>();
        var open = new Stack<string>([definition]);
        while (open.TryPop(out var id))
        {
            if (!Definitions.TryGetValue(id, out var found) || !needed.Add(id))
                continue;
            if (found is DiagramDefinition diagram)
                foreach (var part in diagram.Parts.Values)
                {
                    if (DefinitionReference.Parse(part.Type) is { IsOwn: true, Key: var inner })
                        open.Push(inner);
                    if (part.Parameters.GetValueOrDefault(Catalog.BundlePart.Declared) is { Length: > 0 } type)
                        foreach (var (other, named) in Definitions)
                            if (named is TextDefinition && named.Name == type)
                                open.Push(other);
                }

            if (found is TextDefinition text)
                foreach (var (other, named) in Definitions)
                    if (named is TextDefinition && text.Text.Contains(named.Name, StringComparison.Ordinal))
                        open.Push(other);
        }

        return needed;
    }

    /// <summary>Reads a document of any format so far.</summary>
    /// <exception cref="DocumentException">The text is not a document, or one of a later format.</exception>
    public static ModelDocument FromJson(string json) => DocumentJson.Read(json);

    public string ToJson(bool indented = false) => DocumentJson.Write(this, indented);
}

/// <summary>The document cannot be read or an edit cannot be applied; the message says why.</summary>
public sealed class DocumentException(string message) : Exception(message);
