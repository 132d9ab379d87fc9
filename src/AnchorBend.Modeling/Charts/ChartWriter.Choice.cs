using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Charts;

/// <summary>A microstep until it is known which transitions are taken.</summary>
sealed partial class ChartWriter
{
    /// <summary>Microsteps of one look, beyond which it is taken to go around for ever.</summary>
    const int MostMicrosteps = 80;

    void Body()
    {
        // What no way leads to keeps its value.
        foreach (var kept in tree.States.SelectMany(s => new[] { In(s), Since(s) }).Concat(Kept()))
            Line($"{kept} := {kept};");
        Line("if not ('its odd' or 'its even') then 'its steps' := 0; end if;");
        Line("'its steps' := 'its steps' + 1;");
        for (var e = 1; e <= inputs.Count; e++)
        {
            // What rose between two looks waits for the next one; what is up from the start on has risen with it.
            Line($"'came {e}' := 'came {e}' or 'rises {e}' > 'before {e}' or {inputs[e - 1]} and not 'its started' and 'its steps' == 1;");
            Line($"'before {e}' := 'rises {e}';");
        }

        Choose();
        Select();
        Remember();
        Leave();
        Act();
        Enter();
        Queue();
        Finish();
    }

    IEnumerable<string> Kept()
    {
        foreach (var name in names.Where(n => n.Kind is NameKind.Output or NameKind.Local or NameKind.Signal))
            yield return ExpressionText.Name(name.Name);
        foreach (var owner in Owners)
        {
            yield return Quoted("had", owner);
            foreach (var state in tree.Within(owner))
                yield return Was(owner, state);
        }

        foreach (var state in tree.States.Where(WaitsForDone))
            yield return Done(state);
        for (var b = 0; b < tree.Branches.Count; b++)
            if (tree.Branches[b].First.Every is not null)
                yield return Of("last", b);
        foreach (var taken in signals.Transitions.Values)
            yield return ExpressionText.Name(taken);
    }

    /// <summary>What without an event may happen goes first, then events of the chart, then those from outside, one at a time.</summary>
    void Choose()
    {
        for (var b = 0; b < tree.Branches.Count; b++)
            if (tree.Branches[b].First.HeldFor is not null)
            {
                var guard = string.Join(
                    " and ",
                    tree.Branches[b]
                        .Guards.Select(g => places.Expression(g, Place(tree.Branches[b], "guard"), Since(tree.Branches[b].From)))
                        .Prepend(In(tree.Branches[b].From))
                );
                Line($"if not {Of("kept", b)} then {Of("held", b)} := time; end if; {Of("kept", b)} := {guard};");
            }

        var free = new List<string>();
        for (var b = 0; b < tree.Branches.Count; b++)
            if (tree.Branches[b].First.Event is null)
            {
                Line($"{Of("may", b)} := 'its started' and {Holds(b, false)};");
                free.Add(Of("may", b));
            }

        Line($"'its free' := {(free.Count > 0 ? string.Join(" or ", free) : "false")};");
        Line("'its now' := 0; 'its least' := 0;");
        Line("if 'its started' and not 'its free' then");
        for (var e = 1; e <= raised.Count; e++)
        {
            Line($"if 'queue {e}' > 0 and ('its least' == 0 or 'queue {e}' < 'its least') then");
            Line($"'its least' := 'queue {e}'; 'its now' := {e}; end if;");
        }

        for (var e = 1; e <= raised.Count; e++)
            Line($"if 'its now' == {e} then 'queue {e}' := 0; end if;");
        for (var e = 1; e <= inputs.Count; e++)
            Line($"if 'its now' == 0 and 'came {e}' then 'its now' := {raised.Count + e}; 'came {e}' := false; end if;");
        Line("end if;");
        for (var b = 0; b < tree.Branches.Count; b++)
            if (tree.Branches[b].First.Event is not null)
                Line($"{Of("may", b)} := 'its now' == {EventOf(b)} and {Holds(b, false)};");
    }

    int EventOf(int branch)
    {
        var (b, wanted) = (tree.Branches[branch], tree.Branches[branch].First.Event!);
        var name = wanted == "done" ? Done(b.From) : ExpressionText.Name(wanted);
        var place = raised.IndexOf(name) is >= 0 and var own ? own + 1 : raised.Count + inputs.IndexOf(name) + 1;
        return place > raised.Count || raised.Contains(name)
            ? place
            : throw new LanguageException("chart", $"{Place(b, "event")}: there is no event '{wanted}'.", default, "Add it to the names.");
    }

    /// <summary>Of each active state that has none in it, the first transition from the inside out; inner ones go before outer
    /// ones that would leave the same.</summary>
    void Select()
    {
        for (var b = 0; b < tree.Branches.Count; b++)
            Line($"{Of("taken", b)} := false;");
        foreach (var atomic in tree.States.Where(tree.IsAtomic))
        {
            var chain = tree.Around(atomic).Prepend(atomic).SelectMany(BranchesOf).ToList();
            for (var i = 0; i < chain.Count; i++)
            {
                Line($"{(i == 0 ? $"if not {In(atomic)} then elseif" : "elseif")} {Of("may", chain[i])} then");
                Take(chain[i]);
            }

            if (chain.Count > 0)
                Line("end if;");
        }
    }

    IEnumerable<int> BranchesOf(string state) => Enumerable.Range(0, tree.Branches.Count).Where(b => tree.Branches[b].From == state);

    void Take(int branch)
    {
        WorkBudget.Current.Check();
        var t = tree.Branches[branch];
        var rivals = Enumerable.Range(0, tree.Branches.Count).Where(u => u != branch && Conflict(branch, u)).ToList();
        var stronger = rivals.Where(u => !tree.IsWithin(t.From, tree.Branches[u].From)).ToList();
        if (stronger.Count > 0)
            Line($"if not ({string.Join(" or ", stronger.Select(u => Of("taken", u)))}) then");
        foreach (var u in rivals.Except(stronger))
            Line($"{Of("taken", u)} := false;");
        Line($"{Of("taken", branch)} := true;");
        if (stronger.Count > 0)
            Line("end if;");
    }

    /// <summary>Whether two transitions leave the same states: the domain of one lies in that of the other.</summary>
    bool Conflict(int a, int b) =>
        domains[a] is { } x
        && domains[b] is { } y
        && (x == y || IsInside(x, y) || IsInside(y, x))
        && tree.Branches[a].From != tree.Branches[b].From
        && tree.CanBeTogether(tree.Branches[a].From, tree.Branches[b].From);

    bool IsInside(string id, string outer) => id != ChartTree.Root && (outer == ChartTree.Root || tree.IsWithin(id, outer));

    /// <summary>The transitions that leave a state.</summary>
    List<string> Leaving(string state) =>
        [
            .. Enumerable
                .Range(0, tree.Branches.Count)
                .Where(b => domains[b] is { } domain && tree.IsWithin(state, domain) && tree.CanBeTogether(state, tree.Branches[b].From))
                .Select(b => Of("taken", b)),
        ];
}
