using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Tables;

/// <summary>What can be seen in a schedule without running it: phases that never end, ways that are cut short, names that nothing
/// uses.</summary>
sealed class ScheduleReview(ScheduleDefinition schedule)
{
    readonly List<WrittenFinding> found = [];

    void Tell(Severity severity, string code, string message, string? item, string suggestion) =>
        found.Add(new WrittenFinding(severity, "schedule-" + code, message, item, suggestion));

    public IReadOnlyList<WrittenFinding> All()
    {
        var phases = schedule.Ordered.ToList();
        if (phases.Count == 0 || !schedule.Commands.Any())
        {
            Tell(
                Severity.Warning,
                "empty",
                $"The schedule '{schedule.Name}' has no {(phases.Count == 0 ? "phases" : "commands")} yet.",
                null,
                phases.Count == 0 ? "Add a phase." : "Add a command."
            );
            return found;
        }

        for (var p = 0; p < phases.Count; p++)
        {
            var (id, phase) = phases[p];
            if ((p + 1 < phases.Count || schedule.Repeats) && string.IsNullOrEmpty(phase.Lasts) && string.IsNullOrEmpty(phase.Until))
                Tell(
                    Severity.Warning,
                    "endless",
                    $"Nothing ends the phase {phase.Name}: {phases[(p + 1) % phases.Count].Value.Name} is never reached.",
                    id,
                    "Say how long it lasts, or until what."
                );
            foreach (var (command, does) in phase.Commands)
                if (
                    schedule.Names.TryGetValue(command, out var name)
                    && does.Over is { Length: > 0 } over
                    && phase.Lasts is { Length: > 0 } lasts
                    && Longer(over, lasts)
                )
                    Tell(
                        Severity.Information,
                        "cut-short",
                        $"{name.Name} takes {over} in the phase {phase.Name}, which ends after {lasts}: it stops on the way.",
                        id,
                        "Let the phase last longer, or the command take less."
                    );
        }

        var used = phases
            .SelectMany(p => p.Value.Commands.Values.SelectMany(c => (string?[])[c.To, c.Over]).Append(p.Value.Until).Append(p.Value.Lasts))
            .SelectMany(t => WrittenTexts.OfCondition(t).Reads)
            .ToHashSet();
        foreach (var (id, node) in schedule.Names)
            if (node.Kind == NameKind.Output && phases.All(p => !p.Value.Commands.ContainsKey(id)))
                Tell(Severity.Information, "unset", $"No phase gives '{node.Name}' a value.", id, "Fill in a cell, or remove the command.");
            else if (node.Kind is NameKind.Input or NameKind.Parameter && !used.Contains(node.Name))
                Tell(Severity.Information, "unused", $"Nothing uses '{node.Name}'.", id, "Use it, or remove it.");
        return found;
    }

    static bool Longer(string over, string lasts) =>
        TextPlaces.Length(over) is { } a && TextPlaces.Length(lasts) is { } b && a > b * (1 + 1e-9);
}
