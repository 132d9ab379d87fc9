using System.Runtime.CompilerServices;
using AnchorBend.Modeling.Charts;

namespace AnchorBend.Workbench.Views;

/// <summary>Charts as the interface shows them.</summary>
static class ChartViews
{
    static readonly ConditionalWeakTable<ChartDefinition, ChartView> Known = [];

    public static ChartView Of(ChartDefinition chart) => Known.GetValue(chart, Made);

    static ChartView Made(ChartDefinition chart)
    {
        var signals = ChartSignals.Of(chart);
        var places = new Dictionary<string, int>();
        foreach (var group in chart.Transitions.GroupBy(t => t.Value.From))
        {
            var place = 0;
            foreach (var (id, _) in group.OrderBy(t => t.Value.Priority))
                places[id] = ++place;
        }

        var words = chart
            .Names.Values.Select(n => (n.Name, Words: ChartWords.Of(n.Type)))
            .Where(n => n.Words.Count > 0)
            .ToDictionary(n => n.Name, n => n.Words);
        return new ChartView(signals.First, signals.Paths, signals.States, signals.Transitions, places, words);
    }

    /// <summary>The variables of a chart's class that people look at.</summary>
    public static IReadOnlySet<string> Shown(ChartDefinition chart)
    {
        var view = Of(chart);
        return chart.Names.Values.Select(n => n.Name).Concat(view.States.Values).Concat(view.Taken.Values).ToHashSet();
    }
}
