using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Everything outside the diagrams that speaks of signals by identity: requirements, curves of plot sheets, tracks of
/// stimuli, operating points; and measures and alerts, which name them.</summary>
public static class SignalIdentities
{
    /// <param name="before">The document in which identities and names lead somewhere.</param>
    /// <param name="document">What became of it but for these.</param>
    /// <param name="change">What an identity becomes; the same where it stays.</param>
    public static ModelDocument Changed(ModelDocument before, ModelDocument document, Func<string, string> change) =>
        MeasureNames.Followed(before, document, change) with
        {
            Requirements = document.Requirements.ToDictionary(
                r => r.Key,
                r => r.Value with { Signal = change(r.Value.Signal), Reference = r.Value.Reference is { } other ? change(other) : null }
            ),
            PlotSheets = document.PlotSheets.ToDictionary(
                s => s.Key,
                s => s.Value with { Tiles = s.Value.Tiles.ToDictionary(t => t.Key, t => Changed(t.Value, change)) }
            ),
            Stimuli = document.Stimuli.ToDictionary(
                s => s.Key,
                s =>
                    s.Value with
                    {
                        Tracks = s.Value.Tracks.ToDictionary(t => t.Key, t => t.Value with { Target = change(t.Value.Target) }),
                    }
            ),
            OperatingPoints = document.OperatingPoints.ToDictionary(p => p.Key, p => Changed(p.Value, change)),
            Studies = document.Studies.ToDictionary(
                s => s.Key,
                s =>
                    s.Value with
                    {
                        Factors = s.Value.Factors.ToDictionary(f => f.Key, f => f.Value with { Target = change(f.Value.Target) }),
                    }
            ),
            Tolerances = document.Tolerances.ToDictionary(t => t.Key, t => t.Value with { Target = change(t.Value.Target) }),
            Cases = document.Cases.ToDictionary(c => c.Key, c => Changed(c.Value, change)),
            CaseGroups = document.CaseGroups.ToDictionary(g => g.Key, g => g.Value with { Values = Changed(g.Value.Values, change) }),
            Panels = document.Panels.ToDictionary(
                p => p.Key,
                p =>
                    p.Value with
                    {
                        Items = p.Value.Items.ToDictionary(
                            i => i.Key,
                            i => i.Value with { Target = Changed(i.Value.Target, change), Second = Changed(i.Value.Second, change) }
                        ),
                    }
            ),
            Faults = document.Faults.ToDictionary(
                f => f.Key,
                f => f.Value with { Signal = change(f.Value.Signal), Validity = Changed(f.Value.Validity, change) }
            ),
        };

    static Dictionary<string, CaseValueNode> Changed(Dictionary<string, CaseValueNode> values, Func<string, string> change) =>
        values.ToDictionary(v => v.Key, v => v.Value with { Target = change(v.Value.Target) });

    static CaseNode Changed(CaseNode node, Func<string, string> change) =>
        node with
        {
            Subject =
                node.Subject is { Length: > 0 } part && SignalReference.TryParse(change($"{part}.it"), out var moved)
                    ? moved.Part.ToString()
                    : node.Subject,
            Values = Changed(node.Values, change),
            Expected = node.Expected.ToDictionary(e => e.Key, e => e.Value with { Signal = change(e.Value.Signal) }),
        };

    static string? Changed(string? signal, Func<string, string> change) => signal is { Length: > 0 } ? change(signal) : signal;

    static OperatingPointNode Changed(OperatingPointNode point, Func<string, string> change) =>
        point with
        {
            Parameters = [.. point.Parameters.Select(v => v with { Target = change(v.Target) })],
            Fixed = [.. point.Fixed.Select(v => v with { Target = change(v.Target) })],
            Moving = [.. point.Moving.Select(change)],
            Free = [.. point.Free.Select(f => f with { Target = change(f.Target) })],
            States = [.. point.States.Select(s => s with { Target = change(s.Target) })],
        };

    static TileNode Changed(TileNode tile, Func<string, string> change) =>
        tile with
        {
            Response = tile.Response is { } r
                ? r with
                {
                    From = change(r.From),
                    To = change(r.To),
                    Open = [.. r.Open.Select(change)],
                }
                : null,
            Abscissa = tile.Abscissa is { Length: > 0 } abscissa ? change(abscissa) : tile.Abscissa,
            Curves = tile.Curves.ToDictionary(c => c.Key, c => c.Value with { Signal = change(c.Value.Signal) }),
        };
}
