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
        Line("if 'its any' or not 'its started' then");
        Remember();
        Leave();
        Act();
        Enter();
        Queue();
        Line("end if;");
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

        Line("if 'its any' then");
        for (var b = 0; b < tree.Branches.Count; b++)
            Line($"{Of("taken", b)} := false;");
        Line("'its any' := false; end if;");
        Line("'its now' := 0; 'its least' := 0;");
        Line("if 'its started' then");
        Select(b => tree.Branches[b].First.Event is null, b => Holds(b, false));
        if (raised.Count + inputs.Count > 0)
        {
            Line("if not 'its any' then");
            NextEvent();
            Line("if 'its now' > 0 then");
            Select(b => tree.Branches[b].First.Event is not null, b => $"'its now' == {EventOf(b)} and {Holds(b, false)}");
            Line("end if; end if;");
        }

        Line("end if;");
    }

    /// <summary>The event that is taken: of the chart's own the one that waits longest, else one from outside.</summary>
    void NextEvent()
    {
        for (var e = 1; e <= raised.Count; e++)
        {
            Line($"if 'queue {e}' > 0 and ('its least' == 0 or 'queue {e}' < 'its least') then");
            Line($"'its least' := 'queue {e}'; 'its now' := {e}; end if;");
        }

        for (var e = 1; e <= raised.Count; e++)
            Line($"if 'its now' == {e} then 'queue {e}' := 0; end if;");
        for (var e = 1; e <= inputs.Count; e++)
            Line($"if 'its now' == 0 and 'came {e}' then 'its now' := {raised.Count + e}; 'came {e}' := false; end if;");
    }

    int EventOf(int branch)
    {
        var (b, wanted) = (tree.Branches[branch], tree.Branches[branch].First.Event!);
        var name = wanted == "done" ? Done(b.From) : ExpressionText.Name(wanted);
        var place = raised.IndexOf(name) is >= 0 and var own ? own + 1 : raised.Count + inputs.IndexOf(name) + 1;
        return place > raised.Count || raised.Contains(name)
            ? place
            : throw new LanguageException(
                new LanguageError("chart", $"{Place(b, "event").Told}: there is no event '{wanted}'.", default, "Add it to the names.")
                {
                    Item = b.Ways[0],
                }
            );
    }

    /// <summary>Of each active state that has none in it, the first transition from the inside out; inner ones go before outer
    /// ones that would leave the same. What is in a state that is not active is not looked at.</summary>
    void Select(Func<int, bool> isWanted, Func<int, string> condition) => Select(ChartTree.Root, isWanted, condition);

    void Select(string owner, Func<int, bool> isWanted, Func<int, string> condition)
    {
        var isFirst = true;
        foreach (var state in tree.StatesIn(owner).Where(s => IsWanted(s, isWanted)))
        {
            // Regions are active together, of other states one is.
            Line($"{(isFirst || tree.IsParallel(owner) ? "if" : "elseif")} {In(state)} then");
            isFirst = false;
            if (tree.IsAtomic(state))
            {
                var chain = tree.Around(state).Prepend(state).SelectMany(BranchesOf).Where(isWanted).ToList();
                for (var i = 0; i < chain.Count; i++)
                {
                    Line($"{(i == 0 ? "if" : "elseif")} {condition(chain[i])} then");
                    Take(chain[i]);
                }

                Line("end if;");
            }
            else
            {
                Select(state, isWanted, condition);
            }

            if (tree.IsParallel(owner))
                Line("end if;");
        }

        if (!isFirst && !tree.IsParallel(owner))
            Line("end if;");
    }

    /// <summary>Whether a transition may be taken where a state is active: from itself, from one around it or in it.</summary>
    bool IsWanted(string state, Func<int, bool> isWanted) =>
        tree.Around(state).Prepend(state).SelectMany(BranchesOf).Any(isWanted)
        || tree.StatesIn(state).Any(inner => IsWanted(inner, isWanted));

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
        Line($"{Of("taken", branch)} := true; 'its any' := true;");
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
