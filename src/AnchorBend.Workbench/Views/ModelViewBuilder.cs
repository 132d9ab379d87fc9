using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Modeling.Written;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Views;

/// <summary>Makes the view of a level from the prepared model, out of what was shown before where only values have changed.</summary>
sealed partial class ModelViewBuilder
{
    readonly ModelDocument document;
    readonly PartCatalog catalog;
    readonly string definition;
    readonly DiagramDefinition diagram;
    readonly (string Id, Modeling.Written.WrittenDefinition Definition)? written;

    /// <summary>What stands in the place of the diagram where the level is a chart or table.</summary>
    static readonly DiagramDefinition Drawn = new() { Name = "" };

    ModelViewBuilder? before;
    readonly string name;
    readonly double[] values;
    readonly VariableViews variables;
    readonly ILookup<string, string> wired;
    readonly Dictionary<string, Entry> entries;

    /// <summary>A part's view with the signals it shows, by their keys.</summary>
    sealed record Entry(PartView View, IReadOnlyList<KeyValuePair<string, SignalView>> Signals);

    /// <param name="earlier">What was shown of this level before; null where that is not known.</param>
    /// <exception cref="NotFoundException">The path leads to no level.</exception>
    public ModelViewBuilder(PreparedModel prepared, ModelDocument document, PartCatalog catalog, PartPath level, ModelViewBuilder? earlier)
    {
        (Prepared, this.document, this.catalog, Level) = (prepared, document, catalog, level);
        written = document.Written(level);
        (definition, diagram) = document.Level(level)
            ?? (written is { } form ? (form.Id, Drawn) : ((string, DiagramDefinition)?)null)
            ?? throw new NotFoundException($"There is no level at '{level}' in this model any more.");
        // Of a part that could not be put together nothing is known but its definition.
        name = prepared.Map.NameOf(level) ?? "";
        Before = earlier?.View;
        before = earlier is { View: not null } && ReferenceEquals(earlier.Prepared.Map, prepared.Map) ? earlier : null;
        values = before is not null && ReferenceEquals(before.Prepared, prepared) ? before.values : prepared.Model.ParameterValues();
        variables = new VariableViews(prepared, values);
        wired =
            before is not null && ReferenceEquals(before.diagram.Wires, diagram.Wires)
                ? before.wired
                : diagram.Wires.Values.SelectMany(w => (PortReference[])[w.From, w.To]).ToLookup(e => e.Part, e => e.Port);
        entries = new Dictionary<string, Entry>(diagram.Parts.Count);
    }

    public PreparedModel Prepared { get; }

    public PartPath Level { get; }

    /// <summary>What was made; null until then.</summary>
    public ModelView? View { get; private set; }

    /// <summary>What was shown of this level before.</summary>
    public ModelView? Before { get; }

    public ModelView Build(long revision, long resultsRevision, bool canUndo, bool canRedo)
    {
        var changed = before is null ? null : ChangedOwners(before);
        var renamed = before is null ? null : PartsOfChangedSignals(before.diagram.Signals, diagram.Signals);
        foreach (var (id, part) in diagram.Parts)
        {
            var path = PathOf(id);
            if (changed is not null && path is not null && !changed.Contains(path) && !renamed!.Contains(id) && Kept(id, part) is { } kept)
            {
                entries[id] = kept;
                continue;
            }

            var view = Part(id, part, path) with { LeftOut = path is not null && Prepared.Model.IsLeftOut(path), Slot = Slot(part, path) };
            var own = new List<KeyValuePair<string, SignalView>>();
            AddSignals(id, part, path, view, own);
            entries[id] = new Entry(view, own);
        }

        var parts = entries.ToDictionary(e => e.Key, e => e.Value.View);
        var signals = new Dictionary<string, SignalView>();
        foreach (var (key, signal) in entries.Values.SelectMany(e => e.Signals).Concat(FormSignalViews()))
            signals[key] = signal;
        var findings = Prepared.Findings.Select(Finding).Concat(unused ??= Unused()).ToList();
        findings.AddRange(AlertProblems());
        findings.AddRange(RequirementProblems());
        var settings = SettingsProblem();
        if (settings is not null)
            findings.Insert(0, settings);
        var unknowns = Prepared.Model.Variables.Count(v => v.Role is VariableRole.Continuous or VariableRole.Discrete && v.Derivative < 0);
        View = new ModelView(
            revision,
            resultsRevision,
            canUndo,
            canRedo,
            Prepared.CanRun && settings is null,
            Level.ToString(),
            definition,
            parts,
            signals,
            Parameters(),
            before is not null && ReferenceEquals(before.document.Definitions, document.Definitions) && before.View is { } last
                ? last.Uses
                : ParameterUses.Of(document, definition),
            Plotted(),
            findings,
            Prepared.Model.Equations.Count,
            unknowns,
            [.. catalog.OwnParts.Select(p => CatalogPart.Of(p, catalog))]
        )
        {
            Chart = written?.Definition is ChartDefinition chart ? ChartViews.Of(chart) : null,
            Table = written is { } form ? TableViews.Of(form.Definition) : null,
            Valve = written is { } drawn ? ValveViews.Of(drawn.Definition) : null,
        };
        // Each would else hold all that were made before it, for as long as only values change.
        before = null;
        return View;
    }

    /// <summary>Parameters of all levels that nothing speaks of.</summary>
    List<FindingView> Unused()
    {
        if (before is not null && ReferenceEquals(before.document.Definitions, document.Definitions) && before.unused is { } known)
            return known;
        var told = new HashSet<string>();
        var found = new List<FindingView>();
        foreach (var (path, _, _) in Prepared.Map.Levels)
            if (document.Level(path)?.Id is { } id && told.Add(id))
                foreach (var name in ParameterUses.Unused(document, id))
                {
                    var at = path.IsRoot ? null : path.ToString();
                    var part = path.IsRoot ? null : document.Part(path)?.Part.Name;
                    const string advice = "Use it in a field, or remove it.";
                    var message = $"Nothing uses the parameter '{name}'{(part is null ? "" : $" of {part}")}.";
                    found.Add(new FindingView("information", "unused-parameter", message, at, at, part, name, advice, [], null));
                }
        return found;
    }

    List<FindingView>? unused;

    /// <summary>The part's path in the flat model; null where it is not there, as of two parts with one name the second.</summary>
    string? PathOf(string id) => Prepared.Map.NameOf(Level.Then(id));

    Dictionary<string, ParameterView> Parameters() =>
        Prepared
            .OwnedBy(name)
            .Where(v => v.Role == VariableRole.Parameter && (written is not null || diagram.Parameters.ContainsKey(Local(v))))
            .ToDictionary(Local, v => variables.Parameter(v, true));

    /// <summary>What can be seen of a chart or table over time.</summary>
    IEnumerable<KeyValuePair<string, SignalView>> FormSignalViews()
    {
        if (written is not { } form)
            yield break;
        var shown = form.Definition.Shown();
        foreach (var variable in Prepared.OwnedBy(name).Where(v => v.Role != VariableRole.Parameter && shown.Contains(Local(v))))
            yield return new(
                Local(variable),
                variables.Signal(variable, new SignalReference(Level, Local(variable)).ToString(), null) with
                {
                    Label = Local(variable),
                }
            );
    }

    /// <summary>The plotted signals of all levels; those further in are named with the parts that lead there.</summary>
    Dictionary<string, SignalView> Plotted()
    {
        var plotted = new Dictionary<string, SignalView>();
        foreach (var (path, level, _) in Prepared.Map.Levels)
        foreach (var (key, node) in document.Level(path)?.Diagram.Signals ?? [])
        {
            if (node.Probe is null || !SignalReference.TryParse(key, out var port))
                continue;
            var reference = new SignalReference(path.Then(port.Part.ToString()), port.Port);
            if (Prepared.Find(reference) is not { } variable)
                continue;
            var signal = variables.Signal(variable, reference.ToString(), node);
            plotted[reference.ToString()] =
                level.Length > 0 && node.Name is { Length: > 0 } name ? signal with { Label = $"{level}.{name}" } : signal;
        }

        return plotted;
    }

    string Local(FlatVariable variable) => name.Length == 0 ? variable.Name : variable.Name[(name.Length + 1)..];

    /// <summary>Paths of the parts whose parameters have other values than in the view before.</summary>
    HashSet<string> ChangedOwners(ModelViewBuilder earlier)
    {
        var owners = new HashSet<string>();
        for (var i = 0; i < values.Length; i++)
            if (!values[i].Equals(earlier.values[i]))
                owners.Add(Prepared.Model.Variables[i].Owner);
        return owners;
    }

    /// <summary>Parts whose signals are named or measured otherwise than before.</summary>
    static HashSet<string> PartsOfChangedSignals(Dictionary<string, SignalNode> old, Dictionary<string, SignalNode> now)
    {
        if (ReferenceEquals(old, now))
            return [];
        var keys = now.Where(s => !ReferenceEquals(old.GetValueOrDefault(s.Key), s.Value)).Select(s => s.Key);
        return [.. keys.Concat(old.Keys.Where(k => !now.ContainsKey(k))).Select(k => k[..Math.Max(0, k.IndexOf('.'))])];
    }

    /// <summary>What was made of a part before, where nothing of it but its place has changed.</summary>
    Entry? Kept(string id, PartNode part) =>
        before!.diagram.Parts.TryGetValue(id, out var old)
        && ReferenceEquals(before.document.DiagramOf(part)?.Face, document.DiagramOf(part)?.Face)
        && (
            ReferenceEquals(old, part)
            || old with { X = part.X, Y = part.Y, Flip = part.Flip, Parameters = part.Parameters } == part && SameTexts(old, part)
        )
        && before.entries.TryGetValue(id, out var entry)
            ? entry
            : null;

    static bool SameTexts(PartNode a, PartNode b) =>
        a.Parameters.Count == b.Parameters.Count && a.Parameters.All(p => b.Parameters.TryGetValue(p.Key, out var text) && text == p.Value);

    SlotView? Slot(PartNode part, string? path)
    {
        if (document.DiagramOf(part) is not { Slot: { } chooser } slot)
            return null;
        List<string> names = [.. Slots.Of(slot).Select(a => a.Name)];
        var typed = part.Parameters.GetValueOrDefault(chooser) ?? slot.Parameters.GetValueOrDefault(chooser)?.Value ?? "";
        var present = Prepared.Model.Words.GetValueOrDefault($"{path}.{chooser}") ?? Slots.NameIn(typed);
        return new SlotView(chooser, present, names, [.. names.Select(Slots.Words)], Slots.NameIn(typed) is not null);
    }

    PartView Part(string id, PartNode part, string? path)
    {
        if (catalog.Find(part.Type) is not { } type)
            return new PartView("?", 64, 48, "plate", null, null, null, [], new Dictionary<string, ParameterView>(), null, null, []);
        if (BundlePart.Is(type))
            return Bundles.View(id, part, type, path);
        var ports = wired[id].ToHashSet();
        var view = new PartViewBuilder(Prepared, catalog, variables, values, definition, id, part, path ?? "?").Part(ports);
        if (path is not null && view.Ports is [{ Kind: "vector" } vector] && LevelSignals(part, path).ToList() is { Count: > 0 } elements)
            view = view with { Ports = [vector with { Elements = [.. elements.Select(e => $"{id}.{e.Port}")] }] };
        return document.DiagramOf(part) is null
            ? view
            : view with
            {
                Opens = DefinitionReference.Parse(part.Type).Key,
                Symbol = document.DiagramOf(part)!.Face is { Formula.Length: > 0 } or { Sketch: not null } or { Picture: not null }
                    ? null
                    : "subsystem",
            };
    }

    BundleViews Bundles => bundles ??= new(Prepared, document, catalog, diagram, variables);

    BundleViews? bundles;

    void AddSignals(string id, PartNode part, string? path, PartView view, List<KeyValuePair<string, SignalView>> signals)
    {
        if (path is null)
            return;
        void Add(string port, FlatVariable variable, string? label = null)
        {
            var key = $"{id}.{port}";
            var node = diagram.Signals.GetValueOrDefault(key);
            var signal = variables.Signal(variable, new SignalReference(Level.Then(id), port).ToString(), node);
            signals.Add(new(key, label is not null && node?.Name is not { Length: > 0 } ? signal with { Label = label } : signal));
        }

        foreach (var (member, index) in Bundles.Signals(path))
            Add(member[(path.Length + 1)..], Prepared.Model.Variables[index], member);
        foreach (var variable in Prepared.OwnedBy(path).Where(v => v.Causality == Causality.Output))
            Add(variable.Name[(path.Length + 1)..], variable);
        var told = view.Ports.SelectMany(p => (string?[])[p.Potential, p.Flow]).OfType<string>();
        foreach (var key in told.Concat(view.Results.SelectMany(r => r.Keys)))
            if (Prepared.Find(new SignalReference(Level.Then(id), key[(id.Length + 1)..])) is { } variable)
                Add(key[(id.Length + 1)..], variable);
        // A port of the level is a signal inside it, or several.
        foreach (var (port, own) in LevelSignals(part, path))
            Add(port, own);
    }

    /// <summary>The signals of a part that is a port of this level, by their names at it.</summary>
    IEnumerable<(string Port, FlatVariable Variable)> LevelSignals(PartNode part, string path) =>
        PortPart.KindOf(catalog.Find(part.Type)) is PortKind.Input or PortKind.Output
            ? Prepared.Model.AllOf(path).Select(s => (PortPart.Whole + s.Name[path.Length..], s.Variable))
            : [];

    FindingView Finding(Finding finding)
    {
        var at =
            finding.Place is { } place && document.Part(place) is { } found
                ? (Path: place, found.Part)
                : ((PartPath Path, PartNode Part)?)null;
        return new FindingView(
            finding.Severity.ToString().ToLowerInvariant(),
            finding.Code,
            ShownText.Of(finding.Message),
            finding.Inner is { } inner ? at?.Path.Then(inner).ToString() : at?.Path.ToString(),
            finding.Inner is null ? at?.Path.Above.ToString() : at?.Path.ToString(),
            at?.Part.Name,
            finding.Item,
            finding.Suggestion,
            finding.Fix is { } fix ? [fix, .. finding.Others] : finding.Others,
            FindingHelp.Of(finding.Code)
        );
    }
}
