using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Charts;

/// <summary>
/// What can be seen in a chart without running it: what is never reached or never left, what can be true at once or never, names that
/// nothing uses, outputs that nothing sets.
/// </summary>
sealed partial class ChartReview
{
    /// <summary>Pairs of transitions that are compared; charts have more only where a state has very many.</summary>
    const int MostPairs = 5000;

    readonly ChartDefinition chart;
    readonly ChartTree tree;
    readonly ChartSignals signals;
    readonly GuardDecision decision;
    readonly List<WrittenFinding> found = [];

    /// <exception cref="DocumentException">The chart is broken.</exception>
    public static IReadOnlyList<WrittenFinding> Of(ChartDefinition chart) => new ChartReview(chart).All();

    ChartReview(ChartDefinition chart)
    {
        (this.chart, tree) = (chart, new ChartTree(chart));
        signals = new ChartSignals(chart, tree);
        decision = new GuardDecision(chart.Names.Values);
    }

    List<WrittenFinding> All()
    {
        Reached();
        Guards();
        Names();
        Outputs();
        return found;
    }

    void Tell(Severity severity, string code, string message, string? item, string suggestion, string? other = null) =>
        found.Add(new WrittenFinding(severity, "chart-" + code, message, item, suggestion, other));

    /// <summary>The name of a state; with those around it where another one has the same.</summary>
    string Told(string id) =>
        chart.States.Values.Count(s => s.Name == chart.States[id].Name) > 1 ? signals.Paths[id] : chart.States[id].Name;

    /// <summary>A transition by its ends; with its place where its state has several to one other.</summary>
    string Way(string transition)
    {
        var t = chart.Transitions[transition];
        var way = $"{Told(t.From)} → {(t.To is { } to && chart.States.ContainsKey(to) ? Told(to) : "itself")}";
        var own = chart.Transitions.Where(o => o.Value.From == t.From).OrderBy(o => o.Value.Priority).Select(o => o.Key).ToList();
        return own.Count(o => chart.Transitions[o].To == t.To) > 1 ? $"{way} ({own.IndexOf(transition) + 1})" : way;
    }

    void Reached()
    {
        if (!tree.States.Any())
        {
            Tell(Severity.Warning, "empty", $"The chart '{chart.Name}' has no states yet.", null, "Place a state.");
            return;
        }

        foreach (var owner in tree.States.Where(s => !tree.IsParallel(s) && chart.States[s].Initial is null))
        {
            var inner = tree.StatesIn(owner).ToList();
            if (inner.Count > 1)
                Tell(
                    Severity.Information,
                    "no-initial",
                    $"Nothing says which state of {Told(owner)} is entered first; it is {chart.States[inner[0]].Name}, as it stands first.",
                    owner,
                    "Mark one of them as the first."
                );
        }

        var reached = new HashSet<string>();
        var always = new HistoryConditions(_ => "a", (_, _) => "b");
        if (tree.First is { } first)
            reached.UnionWith(tree.Entered(ChartTree.Root, first, always).Keys);
        for (var before = -1; before != reached.Count; )
        {
            before = reached.Count;
            WorkBudget.Current.Check();
            foreach (var branch in tree.Branches.Where(b => reached.Contains(b.From) && b.To is not null))
                reached.UnionWith(tree.Entered(tree.DomainOf(branch)!, branch.To!, always).Keys);
        }

        foreach (var state in tree.States.Where(s => !reached.Contains(s)))
            if (tree.ParentOf(state) is var above && (above == ChartTree.Root || reached.Contains(above)))
                Tell(
                    Severity.Warning,
                    "unreachable",
                    $"No way leads to the state {Told(state)}.",
                    state,
                    "Draw a transition to it, or remove it."
                );
        foreach (var state in tree.States.Where(s => reached.Contains(s) && tree.IsAtomic(s)))
        {
            var leaves = tree.Branches.Any(b => b.To is not null && (b.From == state || tree.IsWithin(state, b.From)));
            if (!leaves && chart.States[state].Kind != ChartStateKind.Final && tree.StatesIn(tree.ParentOf(state)).Count() > 1)
                Tell(
                    Severity.Information,
                    "dead-end",
                    $"Nothing leads out of the state {Told(state)}.",
                    state,
                    "Make it a final state if that is meant, or draw a transition out of it."
                );
        }

        foreach (var (id, state) in chart.States.Where(s => s.Value.Kind == ChartStateKind.Junction))
            if (chart.Transitions.Values.All(t => t.From != id))
                Tell(
                    Severity.Warning,
                    "open-junction",
                    $"Nothing leads on from the junction {state.Name}.",
                    id,
                    "Draw a transition out of it."
                );
    }

    void Guards()
    {
        var guards = tree.Branches.ToDictionary(b => b, b => b.Guards.Select(WrittenTexts.Condition).OfType<Expression>().ToList());
        foreach (var branch in tree.Branches)
            if (guards[branch].Count > 0 && decision.CanHold(guards[branch]) == false)
                Tell(
                    Severity.Warning,
                    "never",
                    $"The guard of {Way(branch.Ways[0])} can never hold.",
                    branch.Ways[0],
                    "Look at what it compares: no value is in all of it."
                );
        var pairs = 0;
        foreach (var group in tree.Branches.GroupBy(b => b.From))
        {
            var list = group.ToList();
            for (var i = 0; i < list.Count; i++)
            for (var j = i + 1; j < list.Count && pairs++ < MostPairs; j++)
                Conflict(list[i], list[j], guards);
        }
    }

    void Conflict(ChartBranch a, ChartBranch b, Dictionary<ChartBranch, List<Expression>> guards)
    {
        if (a.First == b.First || a.First.Event != b.First.Event || a.First.Every is not null || b.First.Every is not null)
            return;
        // Which of them comes first is a question of time where one waits.
        if ((a.First.After ?? b.First.After ?? a.First.HeldFor ?? b.First.HeldFor) is not null)
            return;
        // A guard that cannot be read is told by the class; nothing follows from it here.
        if (guards[a].Count < a.Guards.Count || guards[b].Count < b.Guards.Count)
            return;
        WorkBudget.Current.Check();
        if (decision.CanHold(guards[a].Concat(guards[b])) != true)
            return;
        var isHidden = guards[a].Count == 0;
        Tell(
            isHidden ? Severity.Warning : Severity.Information,
            isHidden ? "hidden" : "both",
            isHidden
                ? $"{Way(b.Ways[0])} is never taken: {Way(a.Ways[0])} comes before it and asks for nothing."
                : $"{Way(a.Ways[0])} and {Way(b.Ways[0])} can be true at once: {Way(a.Ways[0])} goes first.",
            b.Ways[0],
            isHidden
                ? "Give the first one a guard, or let the other come before it."
                : "Make their guards exclude each other, or leave it to the order.",
            a.Ways[0]
        );
    }
}
