using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Workbench.Views;

/// <summary>
/// What has become different in a view. Entries that are null were taken away; what is null as a whole is as it was.
/// </summary>
/// <param name="Level">The level the view is of; where it is another one than before, everything stands here.</param>
public sealed record ViewChange(
    long Revision,
    long ResultsRevision,
    bool CanUndo,
    bool CanRedo,
    bool CanRun,
    string Level,
    string Definition,
    bool IsWhole,
    IReadOnlyDictionary<string, PartView?>? Parts,
    IReadOnlyDictionary<string, SignalView?>? Signals,
    IReadOnlyDictionary<string, ParameterView?>? Parameters,
    IReadOnlyDictionary<string, IReadOnlyList<string>?>? Uses,
    IReadOnlyDictionary<string, SignalView?>? Plotted,
    IReadOnlyList<FindingView>? Findings,
    int Equations,
    int Unknowns,
    IReadOnlyList<CatalogPart>? OwnParts
)
{
    /// <summary>Of a level that is a chart, as it is now.</summary>
    public ChartView? Chart { get; init; }

    /// <summary>Of a level that is a table, as it is now.</summary>
    public TableView? Table { get; init; }

    public ValveView? Valve { get; init; }

    /// <param name="before">What the window shows; null where that is not known.</param>
    public static ViewChange Between(ModelView? before, ModelView after)
    {
        var known = before is not null && before.Level == after.Level && before.Definition == after.Definition ? before : null;
        return new ViewChange(
            after.Revision,
            after.ResultsRevision,
            after.CanUndo,
            after.CanRedo,
            after.CanRun,
            after.Level,
            after.Definition,
            known is null,
            Entries(known?.Parts, after.Parts),
            Entries(known?.Signals, after.Signals),
            Entries(known?.Parameters, after.Parameters),
            Entries(known?.Uses, after.Uses),
            Entries(known?.Plotted, after.Plotted),
            known is not null && Same(known.Findings, after.Findings) ? null : after.Findings,
            after.Equations,
            after.Unknowns,
            known is not null && SameParts(known.OwnParts, after.OwnParts) ? null : after.OwnParts
        )
        {
            Chart = after.Chart,
            Table = after.Table,
            Valve = after.Valve,
        };
    }

    static Dictionary<string, T?>? Entries<T>(IReadOnlyDictionary<string, T>? before, IReadOnlyDictionary<string, T> after)
        where T : class
    {
        var changed = new Dictionary<string, T?>();
        foreach (var (key, value) in after)
            if (before is null || !before.TryGetValue(key, out var old) || !Same(old, value))
                changed[key] = value;
        foreach (var key in before?.Keys ?? [])
            if (!after.ContainsKey(key))
                changed[key] = null;
        return changed.Count == 0 && before is not null ? null : changed;
    }

    /// <summary>Whether two values say the same, as they would be sent.</summary>
    static bool Same<T>(T a, T b) =>
        ReferenceEquals(a, b)
        || a switch
        {
            SignalView or ParameterView => a.Equals(b),
            PartView part => Same(part, (PartView)(object)b!),
            _ => JsonSerializer.SerializeToUtf8Bytes(a).AsSpan().SequenceEqual(JsonSerializer.SerializeToUtf8Bytes(b)),
        };

    static bool Same(PartView a, PartView b) =>
        (a.Face, a.Width, a.Height, a.Shape, a.Symbol, a.Opens, a.LeftOut)
            == (b.Face, b.Width, b.Height, b.Shape, b.Symbol, b.Opens, b.LeftOut)
        && Same(a.Slot, b.Slot)
        && a.Drawing?.Picture == b.Drawing?.Picture
        && (a.Drawing?.Sketch ?? []).SequenceEqual(b.Drawing?.Sketch ?? [])
        && a.Ports.Count == b.Ports.Count
        && a.Ports.Zip(b.Ports).All(p => Same(p.First, p.Second))
        && a.Parameters.Count == b.Parameters.Count
        && a.Parameters.All(p => b.Parameters.TryGetValue(p.Key, out var other) && p.Value == other)
        && Same(a.Members, b.Members)
        && a.Actions.Count == b.Actions.Count
        && a.Actions.Zip(b.Actions).All(p => Same(p.First, p.Second))
        && (a.Curve is null) == (b.Curve is null)
        && (a.Curve is null || a.Curve.X.SequenceEqual(b.Curve!.X) && a.Curve.Y.SequenceEqual(b.Curve.Y));

    static bool Same(SlotView? a, SlotView? b) =>
        a is null || b is null
            ? ReferenceEquals(a, b)
            : a with { Names = b.Names, Values = b.Values } == b && Same(a.Names, b.Names) && Same(a.Values, b.Values);

    static bool Same(PortView a, PortView b) =>
        a with { Elements = null, Takes = b.Takes, Action = null } == b with { Elements = null, Action = null }
        && Same(a.Elements, b.Elements)
        && Same(a.Action, b.Action);

    static bool Same(ActionView? a, ActionView? b) =>
        a is null || b is null
            ? ReferenceEquals(a, b)
            : a.Label == b.Label
                && a.Operations.Count == b.Operations.Count
                && a.Operations.Zip(b.Operations)
                    .All(o => o.First.Path == o.Second.Path && JsonNode.DeepEquals(o.First.Value, o.Second.Value));

    static bool Same(IReadOnlyList<string>? a, IReadOnlyList<string>? b) =>
        a is null || b is null ? ReferenceEquals(a, b) : a.SequenceEqual(b);

    /// <summary>Descriptions are made once for each definition, so they are the same objects as long as nobody edits it.</summary>
    static bool SameParts(IReadOnlyList<CatalogPart> a, IReadOnlyList<CatalogPart> b) =>
        a.Count == b.Count && a.Zip(b).All(p => ReferenceEquals(p.First, p.Second) || Same(p.First, p.Second));
}
