using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Workbench.Coverage;

public enum ItemKind
{
    State,
    Transition,

    /// <summary>Two transitions one after the other, through the state between them.</summary>
    Pair,
}

/// <summary>How often a run came by a state, a transition or a pair of these of a chart.</summary>
/// <param name="Owner">Path of the chart's part.</param>
/// <param name="Item">Its id in the chart; of a pair both, with &gt; between.</param>
public sealed record ItemCount(string Owner, string Item, ItemKind Kind, long Count)
{
    public static IReadOnlyList<ItemCount> Of(ModelDocument document, PreparedModel prepared, Trace trace)
    {
        var all = new List<ItemCount>();
        foreach (
            var (id, chart) in document.Definitions.Where(d => d.Value is ChartDefinition).Select(d => (d.Key, (ChartDefinition)d.Value))
        )
        {
            var signals = ChartSignals.Of(chart);
            foreach (var owner in document.UsesOf(id).Select(document.NamePath).OfType<string>())
            {
                foreach (var (state, name) in signals.States)
                    if (Column(prepared, trace, $"{owner}.{name}") is { } active)
                        all.Add(new ItemCount(owner, state, ItemKind.State, Entered(active)));
                var counts = new Dictionary<string, double[]>();
                foreach (var (transition, name) in signals.Transitions)
                    if (Column(prepared, trace, $"{owner}.{name}") is { } taken)
                        counts[transition] = taken;
                foreach (var (transition, taken) in counts)
                    all.Add(new ItemCount(owner, transition, ItemKind.Transition, taken.Length == 0 ? 0 : (long)taken.Max()));
                foreach (var (pair, times) in TransitionPairs.Of(chart, counts))
                    all.Add(new ItemCount(owner, pair, ItemKind.Pair, times));
            }
        }

        return all;
    }

    /// <summary>How often it became active; once where it was from the start.</summary>
    static long Entered(double[] active)
    {
        var count = 0L;
        for (var i = 0; i < active.Length; i++)
            count += active[i] > 0.5 && (i == 0 || active[i - 1] <= 0.5) ? 1 : 0;
        return count;
    }

    static double[]? Column(PreparedModel prepared, Trace trace, string name) =>
        prepared.Model.Find(name) is { } variable && trace.Has(prepared.Compiled!.Plan.Representative[variable.Index])
            ? trace.Column(prepared.Compiled.Plan.Representative[variable.Index])
            : null;
}
