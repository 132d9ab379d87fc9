using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Charts;

/// <summary>Where the transitions of a chart can lead.</summary>
public static class ChartWays
{
    /// <summary>By transition, the states that it can enter, histories taken as all that they may stand for.</summary>
    /// <exception cref="DocumentException">The chart is broken.</exception>
    public static IReadOnlyDictionary<string, IReadOnlySet<string>> Of(ChartDefinition chart)
    {
        var tree = new ChartTree(chart);
        var any = new HistoryConditions(_ => "a", (_, _) => "b");
        var found = new Dictionary<string, IReadOnlySet<string>>();
        foreach (var group in tree.Branches.Where(b => b.To is not null).GroupBy(b => b.Ways[0]))
            found[group.Key] = group.SelectMany(b => tree.Entered(tree.DomainOf(b)!, b.To!, any).Keys).ToHashSet();
        return found;
    }
}
