using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Charts;

/// <summary>Names that nothing uses, outputs that are not set or are set twice.</summary>
sealed partial class ChartReview
{
    void Names()
    {
        var (reads, sets) = ChartTexts.Together([
            .. chart.States.Values.Select(ChartTexts.Of),
            .. chart.Transitions.Values.Select(ChartTexts.Of),
        ]);
        foreach (var (id, name) in chart.Names)
        {
            var isSet = sets.Contains(name.Name);
            var isUsed = reads.Contains(name.Name);
            if (name.Kind == NameKind.Output && !isSet)
                Tell(
                    Severity.Warning,
                    "never-set",
                    $"Nothing sets the output {name.Name}; it keeps its start value.",
                    id,
                    "Set it in an action, or remove it."
                );
            else if (name.Kind is NameKind.Local or NameKind.Signal && isUsed && !isSet)
                Tell(Severity.Warning, "never-set", $"Nothing sets {name.Name}.", id, "Set it in an action, or remove it.");
            else if (name.Kind != NameKind.Output && !isUsed)
                Tell(
                    Severity.Information,
                    "unused",
                    $"Nothing uses the name {name.Name}.",
                    id,
                    isSet ? "It is set, but nothing reads it: use it, or remove it." : "Use it in a guard or an action, or remove it."
                );
            else if (name.Kind is NameKind.Input or NameKind.Parameter or NameKind.Event && isSet)
                Tell(
                    Severity.Error,
                    "set-input",
                    $"An action sets {name.Name}, which comes from outside.",
                    id,
                    "Make it a local, or an output."
                );
        }
    }

    /// <summary>Outputs that some states say anew all the time, and others beside them do not; outputs that two regions set.</summary>
    void Outputs()
    {
        foreach (var (id, name) in chart.Names.Where(n => n.Value.Kind == NameKind.Output))
        {
            var all = tree.States.Where(s => Sets(s, name.Name, true)).ToList();
            for (var i = 0; i < all.Count; i++)
            for (var j = i + 1; j < all.Count; j++)
                if (tree.CanBeTogether(all[i], all[j]) && !tree.IsWithin(all[i], all[j]) && !tree.IsWithin(all[j], all[i]))
                {
                    Tell(
                        Severity.Warning,
                        "two-regions",
                        $"{name.Name} is set in {Told(all[i])} and in {Told(all[j])}, which can be active at once; "
                            + "the later one counts.",
                        id,
                        "Let one region set it.",
                        all[j]
                    );
                    i = j = all.Count;
                }

            var steady = all.Where(s => Sets(s, name.Name, false)).ToList();
            if (steady.Count == 0)
                continue;
            var around = tree.Around(steady[0]).First(a => steady.TrueForAll(s => a == ChartTree.Root || tree.IsWithin(s, a)));
            var silent = (around == ChartTree.Root ? tree.States : tree.Within(around))
                .Where(tree.IsAtomic)
                .Where(s => !steady.Exists(t => t == s || tree.IsWithin(s, t)))
                .Where(s => !all.Exists(t => t == s || tree.IsWithin(s, t)))
                .Where(s => !steady.Exists(t => tree.CanBeTogether(s, t)))
                .ToList();
            if (silent.Count > 0)
                Tell(
                    Severity.Information,
                    "kept",
                    $"{string.Join(", ", silent.Take(4).Select(s => Told(s)))}{(silent.Count > 4 ? " and others" : "")} "
                        + $"{(silent.Count == 1 ? "does" : "do")} not set {name.Name}: it keeps the value of before there.",
                    silent[0],
                    "Set it there too, if that is not meant.",
                    id
                );
        }
    }

    /// <param name="orOnce">Whether on entry is enough.</param>
    bool Sets(string state, string name, bool orOnce) =>
        WrittenTexts.OfStatements(chart.States[state].While).Sets.Contains(name)
        || orOnce && WrittenTexts.OfStatements(chart.States[state].Entry).Sets.Contains(name);
}
