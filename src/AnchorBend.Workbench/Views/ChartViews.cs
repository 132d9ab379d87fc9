using System.Runtime.CompilerServices;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Written;

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

        return new ChartView(signals.First, signals.Paths, signals.States, signals.Transitions, places, TableViews.WordsOf(chart));
    }
}
