using AnchorBend.Modeling.Charts;

namespace AnchorBend.Workbench.Tests;

/// <summary>
/// A second opinion on charts: the algorithm of W3C SCXML (2015), appendix D, word by word on sets of states, without anything of the
/// product but the nodes of a chart.
/// </summary>
/// <param name="holds">Whether a guard holds now.</param>
/// <param name="act">Does statements; gives the events that they raise.</param>
sealed class ChartInterpreter(ChartDefinition chart, Func<string, bool> holds, Func<string, IReadOnlyList<string>> act)
{
    readonly HashSet<string> configuration = [];
    readonly Dictionary<string, List<string>> history = [];
    readonly List<string> queue = [];
    readonly List<string> order = InOrder(chart, null).ToList();
    bool isStarted;

    const int MostMicrosteps = 60;

    static IEnumerable<string> InOrder(ChartDefinition chart, string? parent) =>
        chart.States.Where(s => s.Value.Parent == parent).OrderBy(s => s.Value.Order).SelectMany(s => InOrder(chart, s.Key).Prepend(s.Key));

    public bool IsActive(string id) => configuration.Contains(id);

    /// <summary>One look with events from outside, in their order.</summary>
    /// <returns>False where it goes around without an end.</returns>
    public bool Look(IEnumerable<string> events)
    {
        if (!isStarted)
        {
            isStarted = true;
            Enter([(null, Children(null).First())]);
        }

        var outside = new Queue<string>(events);
        for (var steps = 0; ; steps++)
        {
            if (steps > MostMicrosteps)
                return false;
            var enabled = Selected(null);
            if (enabled.Count == 0 && queue.Count > 0)
            {
                var next = queue[0];
                queue.RemoveAt(0);
                enabled = Selected(next);
            }
            else if (enabled.Count == 0 && outside.TryDequeue(out var next))
                enabled = Selected(next);
            else if (enabled.Count == 0)
                break;
            Microstep(enabled);
        }

        foreach (var state in order.Where(configuration.Contains))
            Do(chart.States[state].While);
        return true;
    }

    ChartStateKind Kind(string id) => chart.States[id].Kind;

    bool IsHistory(string id) => Kind(id) is ChartStateKind.History or ChartStateKind.DeepHistory;

    List<string> Children(string? id) => [.. order.Where(s => chart.States[s].Parent == id && !IsHistory(s))];

    bool IsAtomic(string id) => Children(id).Count == 0;

    bool IsCompound(string? id) => id is null || Kind(id) != ChartStateKind.Parallel && !IsAtomic(id);

    /// <summary>From the parent to the chart itself, which is null.</summary>
    IEnumerable<string?> Ancestors(string id)
    {
        for (var at = chart.States[id].Parent; ; at = chart.States[at].Parent)
        {
            yield return at;
            if (at is null)
                yield break;
        }
    }

    bool IsDescendant(string id, string? of) => Ancestors(id).Contains(of);

    List<ChartTransitionNode> Selected(string? happened)
    {
        var enabled = new List<ChartTransitionNode>();
        foreach (var state in order.Where(s => configuration.Contains(s) && IsAtomic(s)))
        foreach (var source in Ancestors(state).OfType<string>().Prepend(state))
        {
            var found = chart
                .Transitions.Values.Where(t => t.From == source && t.Event == happened && (t.Guard is null || holds(t.Guard)))
                .MinBy(t => t.Priority);
            if (found is null)
                continue;
            if (!enabled.Contains(found))
                enabled.Add(found);
            break;
        }

        var filtered = new List<ChartTransitionNode>();
        foreach (var t in enabled)
        {
            var rivals = filtered.Where(u => ExitSet(t).Intersect(ExitSet(u)).Any()).ToList();
            if (!rivals.TrueForAll(u => IsDescendant(t.From, u.From)))
                continue;
            filtered.RemoveAll(rivals.Contains);
            filtered.Add(t);
        }

        return filtered;
    }

    string? Domain(ChartTransitionNode t)
    {
        if (t.IsLocal && IsCompound(t.From) && IsDescendant(t.To!, t.From))
            return t.From;
        return Ancestors(t.From).First(a => IsCompound(a) && IsDescendant(t.To!, a));
    }

    IEnumerable<string> ExitSet(ChartTransitionNode t) => t.To is null ? [] : configuration.Where(s => IsDescendant(s, Domain(t))).ToList();

    void Microstep(List<ChartTransitionNode> enabled)
    {
        var left = enabled.SelectMany(ExitSet).Distinct().OrderByDescending(order.IndexOf).ToList();
        foreach (var state in left)
        foreach (var h in order.Where(s => IsHistory(s) && chart.States[s].Parent == state))
            history[h] =
                Kind(h) == ChartStateKind.DeepHistory
                    ? [.. configuration.Where(s => IsAtomic(s) && IsDescendant(s, state))]
                    : [.. configuration.Where(s => chart.States[s].Parent == state)];
        foreach (var state in left)
        {
            Do(chart.States[state].Exit);
            configuration.Remove(state);
        }

        foreach (var t in enabled)
            Do(t.Action);
        Enter([.. enabled.Where(t => t.To is not null).Select(t => (Domain(t), t.To!))]);
    }

    void Enter(List<(string? Domain, string Target)> ways)
    {
        var entered = new HashSet<string>();
        foreach (var (domain, target) in ways)
        {
            Down(target, entered);
            foreach (var effective in Effective(target))
                Up(effective, domain, entered);
        }

        foreach (var state in entered.OrderBy(order.IndexOf).ToList())
        {
            configuration.Add(state);
            Do(chart.States[state].Entry);
        }
    }

    List<string> Effective(string target) =>
        !IsHistory(target) ? [target]
        : history.TryGetValue(target, out var known) ? known
        : Effective(Initial(target));

    string Initial(string id)
    {
        var owner = IsHistory(id) ? chart.States[id].Parent : id;
        return chart.States[id].Initial ?? Children(owner).First();
    }

    void Down(string state, HashSet<string> entered)
    {
        if (IsHistory(state))
        {
            foreach (var s in Effective(state))
                Down(s, entered);
            foreach (var s in Effective(state))
                Up(s, chart.States[state].Parent, entered);
            return;
        }

        entered.Add(state);
        if (Kind(state) == ChartStateKind.Parallel)
        {
            foreach (var child in Children(state).Where(c => !entered.Any(e => e == c || IsDescendant(e, c))))
                Down(child, entered);
        }
        else if (!IsAtomic(state))
        {
            Down(Initial(state), entered);
            foreach (var s in Effective(Initial(state)))
                Up(s, state, entered);
        }
    }

    void Up(string state, string? ancestor, HashSet<string> entered)
    {
        foreach (var above in Ancestors(state).TakeWhile(a => a != ancestor).OfType<string>())
        {
            entered.Add(above);
            if (Kind(above) != ChartStateKind.Parallel)
                continue;
            foreach (var child in Children(above).Where(c => !entered.Any(e => e == c || IsDescendant(e, c))))
                Down(child, entered);
        }
    }

    void Do(string? statements)
    {
        if (statements is null)
            return;
        // An event that waits is not raised a second time: where we narrow the standard.
        foreach (var raised in act(statements).Where(r => !queue.Contains(r)))
            queue.Add(raised);
    }
}
