using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Charts;

/// <summary>What the taken transitions leave, do and enter.</summary>
sealed partial class ChartWriter
{
    void Remember()
    {
        foreach (var owner in Owners)
        {
            if (Leaving(owner) is not { Count: > 0 } leaving)
                continue;
            Line($"if {In(owner)} and ({string.Join(" or ", leaving)}) then");
            Line($"{Quoted("had", owner)} := true;");
            foreach (var state in tree.Within(owner))
                Line($"{Was(owner, state)} := {In(state)};");
            Line("end if;");
        }
    }

    void Leave()
    {
        foreach (var state in tree.States.Reverse())
        {
            if (Leaving(state) is not { Count: > 0 } leaving)
                continue;
            Line($"if {In(state)} and ({string.Join(" or ", leaving)}) then");
            Statements(chart.States[state].Exit, state, "exit");
            Line($"{In(state)} := false;");
            Line("end if;");
        }
    }

    void Act()
    {
        for (var at = 0; at < tree.Branches.Count; at++)
        {
            var b = Ordered[at];
            var t = tree.Branches[b];
            Line($"if {Of("taken", b)} then");
            foreach (var way in t.Ways.Select(w => ExpressionText.Name(signals.Transitions[w])))
                Line($"{way} := {way} + 1;");
            if (t.First.Every is { } every)
                Line($"{Of("last", b)} := {Of("last", b)} + {TextPlaces.Seconds(every, Place(t, "every"))};");
            foreach (var action in t.Actions)
                text.Append(places.Statements(action, Place(t, "action"), Since(t.From)));
            Line("end if;");
        }
    }

    /// <summary>Transitions by their states, from the first region to the last.</summary>
    List<int> Ordered => ordered ??= [.. Enumerable.Range(0, tree.Branches.Count).OrderBy(b => tree.PlaceOf(tree.Branches[b].From))];

    List<int>? ordered;

    void Enter()
    {
        var had = new HistoryConditions(owner => Quoted("had", owner), Was);
        var entered = new Dictionary<string, List<string>>();
        void Add(string by, string domain, string target)
        {
            foreach (var (state, conditions) in tree.Entered(domain, target, had))
            {
                if (!entered.TryGetValue(state, out var ways))
                    entered[state] = ways = [];
                ways.Add(
                    conditions.Contains(HistoryConditions.Always)
                        ? by
                        : $"({by} and ({string.Join(" or ", conditions.Select(c => $"({c})"))}))"
                );
            }
        }

        if (tree.First is { } first)
            Add("not 'its started'", ChartTree.Root, first);
        for (var b = 0; b < tree.Branches.Count; b++)
            if (tree.Branches[b].To is { } to && domains[b] is { } domain)
                Add(Of("taken", b), domain, to);
        foreach (var state in tree.States)
        {
            if (!entered.TryGetValue(state, out var ways))
                continue;
            Line($"if {string.Join(" or ", ways)} then");
            Line($"{In(state)} := true; {Since(state)} := time;");
            foreach (var b in BranchesOf(state))
            {
                if (tree.Branches[b].First.Every is not null)
                    Line($"{Of("last", b)} := time;");
                if (tree.Branches[b].First.HeldFor is not null)
                    Line($"{Of("kept", b)} := false;");
            }

            Statements(chart.States[state].Entry, state, "entry");
            if (chart.States[state].Kind == ChartStateKind.Final)
                Complete(state);
            Line("end if;");
        }
    }

    /// <summary>A state is done with its final state; one of regions, with those of all.</summary>
    void Complete(string final)
    {
        var owner = tree.ParentOf(final);
        if (owner == ChartTree.Root)
            return;
        if (WaitsForDone(owner))
            Line($"{Done(owner)} := true;");
        var above = tree.ParentOf(owner);
        if (!tree.IsParallel(above) || !WaitsForDone(above))
            return;
        var all = tree.StatesIn(above).Select(r => $"({Any(tree.StatesIn(r).Where(s => chart.States[s].Kind == ChartStateKind.Final))})");
        Line($"if {string.Join(" and ", all)} then {Done(above)} := true; end if;");
    }

    string Any(IEnumerable<string> states) => states.ToList() is { Count: > 0 } some ? string.Join(" or ", some.Select(In)) : "false";

    /// <summary>What was raised waits behind what waits already, once.</summary>
    void Queue()
    {
        for (var e = 1; e <= raised.Count; e++)
        {
            Line($"if {raised[e - 1]} then");
            Line($"if 'queue {e}' == 0 then 'its count' := 'its count' + 1; 'queue {e}' := 'its count'; end if;");
            Line($"{raised[e - 1]} := false;");
            Line("end if;");
        }
    }

    void Finish()
    {
        const string taken = "'its any' or not 'its started' or 'its now' > 0";
        Line($"'its endless' := 'its steps' >= {MostMicrosteps} and ({taken});");
        Line($"'goes on' := not 'its endless' and ({taken});");
        Line("'its started' := true; 'its seen' := 'its micro';");
        Line("if 'goes on' then 'its micro' := 'its micro' + 1; else");
        Line("'its count' := 0;");
        foreach (var state in tree.States)
        {
            if (chart.States[state].While is not { Length: > 0 })
                continue;
            if (!IsSampled)
                throw new LanguageException(
                    new LanguageError(
                        "chart",
                        $"State {paths[state]}, while: a chart that runs with the continuous model does nothing between its transitions.",
                        default,
                        "Give the chart a period, or set what is wanted on entry."
                    )
                    {
                        Item = state,
                    }
                );
            Line($"if {In(state)} then");
            Statements(chart.States[state].While, state, "while");
            Line("end if;");
        }

        // What these raise is taken at the next look.
        Queue();
        Line("end if;");
    }

    void Statements(string? statements, string state, string what)
    {
        if (statements is { Length: > 0 } some && some.Trim().Length > 0)
            text.Append(places.Statements(some, new($"State {paths[state]}, {what}", state), Since(state)));
    }
}
