using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Charts;

/// <summary>A transition from state to state: where it passed junctions, all of them in one.</summary>
/// <param name="Guards">All must hold.</param>
/// <param name="Actions">In their order.</param>
/// <param name="Ways">Ids of the transitions in it, in their order.</param>
sealed record ChartBranch(
    ChartTransitionNode First,
    string From,
    string? To,
    IReadOnlyList<string> Guards,
    IReadOnlyList<string> Actions,
    IReadOnlyList<string> Ways
);

/// <summary>The states of a chart in document order, and what its transitions leave and enter (W3C SCXML, appendix D).</summary>
sealed class ChartTree
{
    /// <summary>Steps of all ways through junctions, and how deep states may stand in each other.</summary>
    const int MostSteps = 10_000,
        MostDepth = 40;

    int steps;

    readonly ChartDefinition chart;
    readonly ILookup<string, string> children;
    readonly Dictionary<string, int> place = [];

    /// <exception cref="DocumentException">States stand in each other, or junctions lead around.</exception>
    public ChartTree(ChartDefinition chart)
    {
        this.chart = chart;
        children = chart.States.OrderBy(s => s.Value.Order).ToLookup(s => s.Value.Parent ?? Root, s => s.Key);
        var order = new List<string>();
        Walk(Root, 0);
        if (order.Count < chart.States.Count)
            throw new DocumentException($"States of the chart '{chart.Name}' stand in each other, or in one that is not there.");
        InOrder = order;
        Branches = [.. chart.Transitions.OrderBy(t => t.Value.Priority).SelectMany(t => Expanded(t.Key, t.Value))];

        void Walk(string parent, int depth)
        {
            if (depth > MostDepth)
                throw new DocumentException($"States of the chart '{chart.Name}' stand more than {MostDepth} deep in each other.");
            foreach (var id in children[parent])
            {
                place[id] = order.Count;
                order.Add(id);
                Walk(id, depth + 1);
            }
        }
    }

    /// <summary>The chart itself, around all states.</summary>
    public const string Root = "";

    /// <summary>Everything that stands in the chart, in document order.</summary>
    public IReadOnlyList<string> InOrder { get; }

    /// <summary>The states that can be active, in document order.</summary>
    public IEnumerable<string> States => InOrder.Where(IsState);

    public IReadOnlyList<ChartBranch> Branches { get; }

    public int PlaceOf(string id) => place[id];

    public bool IsState(string id) => chart.States[id].Kind is ChartStateKind.State or ChartStateKind.Parallel or ChartStateKind.Final;

    public bool IsParallel(string id) => id != Root && chart.States[id].Kind == ChartStateKind.Parallel;

    /// <summary>The states that stand in a state, without those that only lead to one.</summary>
    public IEnumerable<string> StatesIn(string id) => children[id].Where(IsState);

    public IEnumerable<string> HistoriesIn(string id) => children[id].Where(IsHistory);

    public bool IsHistory(string id) => chart.States[id].Kind is ChartStateKind.History or ChartStateKind.DeepHistory;

    public bool IsAtomic(string id) => !StatesIn(id).Any();

    public string ParentOf(string id) => chart.States[id].Parent ?? Root;

    /// <summary>The states around one, the nearest first, up to the chart itself.</summary>
    public IEnumerable<string> Around(string id)
    {
        while (id != Root)
            yield return id = ParentOf(id);
    }

    public bool IsWithin(string id, string outer) => Around(id).Contains(outer);

    /// <summary>All states in a state at any depth.</summary>
    public IEnumerable<string> Within(string id) => StatesIn(id).SelectMany(c => Within(c).Prepend(c));

    /// <summary>The state whose inside a transition leaves and enters again; null for one that leaves nothing.</summary>
    public string? DomainOf(ChartBranch t)
    {
        if (t.To is not { } to)
            return null;
        if (t.First.IsLocal && !IsParallel(t.From) && !IsAtomic(t.From) && IsWithin(to, t.From))
            return t.From;
        return Around(t.From).First(a => !IsParallel(a) && IsWithin(to, a));
    }

    /// <summary>The states that are entered on the way from a domain to a target, each with the conditions over what was active
    /// before of which one must hold.</summary>
    public Dictionary<string, List<string>> Entered(string domain, string target, HistoryConditions had)
    {
        var found = new Dictionary<string, List<string>>();
        void Add(string state, string condition)
        {
            if (!found.TryGetValue(state, out var conditions))
                found[state] = conditions = [];
            if (!conditions.Contains(condition))
                conditions.Add(condition);
        }

        void Down(string id, string condition)
        {
            if (IsHistory(id))
            {
                var owner = ParentOf(id);
                var known = HistoryConditions.And(condition, had.Known(owner));
                if (chart.States[id].Kind == ChartStateKind.DeepHistory)
                    foreach (var state in Within(owner))
                        Add(state, HistoryConditions.And(known, had.Was(owner, state)));
                else
                    foreach (var child in StatesIn(owner))
                        Down(child, HistoryConditions.And(known, had.Was(owner, child)));
                if (FirstOf(id) is { } usual)
                    Towards(owner, usual, HistoryConditions.And(condition, had.Unknown(owner)));
                return;
            }

            Add(id, condition);
            if (IsParallel(id))
                foreach (var region in StatesIn(id))
                    Down(region, condition);
            else if (FirstOf(id) is { } first)
                Towards(id, first, condition);
        }

        void Towards(string from, string to, string condition)
        {
            foreach (var state in Around(to).TakeWhile(a => a != from).Reverse())
            {
                Add(state, condition);
                if (IsParallel(state))
                    foreach (var region in StatesIn(state).Where(r => r != to && !IsWithin(to, r)))
                        Down(region, condition);
            }

            Down(to, condition);
        }

        Towards(domain, target, HistoryConditions.Always);
        return found;
    }

    /// <summary>What is entered first in a state, or what a history stands for at first; null where nothing is in it.</summary>
    public string? FirstOf(string id)
    {
        var owner = id != Root && IsHistory(id) ? ParentOf(id) : id;
        if (id != Root && chart.States[id].Initial is { } said && said != id && place.ContainsKey(said) && IsWithin(said, owner))
            return said;
        return StatesIn(owner).FirstOrDefault();
    }

    /// <summary>The first state that the chart enters; null for an empty chart.</summary>
    public string? First => FirstOf(Root);

    /// <summary>Whether two states can be active at one time: one in the other, or in different regions.</summary>
    public bool CanBeTogether(string a, string b) =>
        a == b || IsWithin(a, b) || IsWithin(b, a) || IsParallel(Around(a).First(above => above == Root || IsWithin(b, above)));

    IEnumerable<ChartBranch> Expanded(string id, ChartTransitionNode first)
    {
        if (!place.ContainsKey(first.From) || first.To is { } to && !place.ContainsKey(to))
            throw new DocumentException($"A transition of the chart '{chart.Name}' leads from or to what is not in it.");
        if (!IsState(first.From))
            return [];
        var found = new List<ChartBranch>();
        Go(first, [], [], [], [id]);
        return found;

        void Go(ChartTransitionNode t, List<string> guards, List<string> actions, List<string> junctions, List<string> ways)
        {
            if (++steps > MostSteps)
                throw new DocumentException($"There are too many ways through the junctions of '{chart.Name}'.");
            if (t != first && (t.Event ?? t.After ?? t.Every ?? t.HeldFor) is not null)
                throw new DocumentException($"A transition out of a junction of '{chart.Name}' has a guard and an action only.");
            guards = t.Guard is { Length: > 0 } guard ? [.. guards, guard] : guards;
            actions = t.Action is { Length: > 0 } action ? [.. actions, action] : actions;
            if (t.To is { } target && chart.States[target].Kind == ChartStateKind.Junction)
            {
                if (junctions.Contains(target))
                    throw new DocumentException($"Junctions of the chart '{chart.Name}' lead around.");
                foreach (var (way, next) in chart.Transitions.Where(n => n.Value.From == target).OrderBy(n => n.Value.Priority))
                    Go(next, guards, actions, [.. junctions, target], [.. ways, way]);
                return;
            }

            found.Add(new ChartBranch(first, first.From, t.To, guards, actions, ways));
        }
    }
}

/// <summary>How conditions over what was active are written.</summary>
/// <param name="Known">That a history of a state has something to say.</param>
/// <param name="Was">That, when a state with a history was left, one in it was active.</param>
sealed record HistoryConditions(Func<string, string> Known, Func<string, string, string> Was)
{
    public const string Always = "true";

    public string Unknown(string state) => $"not {Known(state)}";

    public static string And(string a, string b) => a == Always ? b : $"{a} and {b}";
}
