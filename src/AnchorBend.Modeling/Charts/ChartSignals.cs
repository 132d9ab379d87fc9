using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Charts;

/// <summary>How what happens in a chart is called among the variables of the class that it comes to.</summary>
public sealed class ChartSignals
{
    /// <exception cref="DocumentException">The chart is broken, or two of its states have one name.</exception>
    public static ChartSignals Of(ChartDefinition chart) => new(chart, new ChartTree(chart));

    internal ChartSignals(ChartDefinition chart, ChartTree tree)
    {
        var known = new HashSet<string>();
        foreach (var id in tree.InOrder)
        {
            var above = tree.ParentOf(id);
            var path = above == ChartTree.Root ? chart.States[id].Name : $"{paths[above]}/{chart.States[id].Name}";
            paths[id] = path;
            if (!tree.IsState(id))
                continue;
            if (!known.Add(path))
                throw new DocumentException($"The chart '{chart.Name}' has two states '{path}'. Give one of them another name.");
            states[id] = $"in {path}";
        }

        foreach (var owner in tree.States.Where(s => !tree.IsParallel(s) && !tree.IsAtomic(s)).Prepend(ChartTree.Root))
            if (tree.FirstOf(owner) is { } entered)
                first[owner] = entered;
        foreach (var history in tree.InOrder.Where(tree.IsHistory))
            if (tree.FirstOf(history) is { } entered)
                first[history] = entered;
        var taken = new HashSet<string>();
        foreach (var (id, transition) in chart.Transitions.OrderBy(t => t.Value.Priority))
        {
            if (!paths.TryGetValue(transition.From, out var from))
                continue;
            var to = transition.To is { } target && paths.TryGetValue(target, out var path) ? path : "itself";
            var name = $"taken {from} to {to}";
            for (var n = 2; !taken.Add(name); n++)
                name = $"taken {from} to {to} {n}";
            transitions[id] = name;
        }
    }

    readonly Dictionary<string, string> paths = [],
        states = [],
        transitions = [],
        first = [];

    /// <summary>The state that is entered first, by the id of the state around it, or of a history; that of the chart under the empty
    /// id.</summary>
    public IReadOnlyDictionary<string, string> First => first;

    /// <summary>Everything that stands in the chart by id: its name behind those of the states around it.</summary>
    public IReadOnlyDictionary<string, string> Paths => paths;

    /// <summary>Of each state that can be active: whether it is.</summary>
    public IReadOnlyDictionary<string, string> States => states;

    /// <summary>Of each transition: how often it was taken.</summary>
    public IReadOnlyDictionary<string, string> Transitions => transitions;
}
