using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Alternatives;

/// <summary>What shall be chosen in the runs of a set: the values of one choice.</summary>
/// <param name="Path">The parameter in the flat model.</param>
/// <param name="Names">Names of the values.</param>
public sealed record WantedChoice(string Path, IReadOnlyList<string> Names);

/// <summary>One value for each choice of a set.</summary>
/// <param name="Chosen">Names of values by path.</param>
/// <param name="Set">Values as typed, by path.</param>
public sealed record Combination(string Label, IReadOnlyDictionary<string, string> Chosen, IReadOnlyDictionary<string, string> Set)
{
    /// <summary>More would be nothing that anybody reads; a study is for that.</summary>
    public const int Most = 64;

    /// <summary>Every combination of the wanted values, the last choice changing fastest.</summary>
    /// <exception cref="DocumentException">A choice or value is not there, or there are too many.</exception>
    public static IReadOnlyList<Combination> All(IReadOnlyList<ModelChoice> choices, IReadOnlyList<WantedChoice> wanted)
    {
        if (wanted.Count == 0)
            throw new DocumentException("Nothing is chosen: name at least one slot or option with the values to run.");
        var values = wanted
            .Select(w =>
            {
                var choice = choices.FirstOrDefault(c => c.Path == w.Path)
                    ?? throw new DocumentException($"There is nothing to choose at '{DocumentLimits.Short(w.Path)}'.");
                var taken = w
                    .Names.Distinct()
                    .Select(n =>
                        choice.Values.FirstOrDefault(v => v.Name == n)
                        ?? throw new DocumentException($"'{choice.Name}' has no '{DocumentLimits.Short(n)}'.")
                    )
                    .ToList();
                return taken.Count > 0 ? (choice, taken) : throw new DocumentException($"Nothing is chosen for '{choice.Name}'.");
            })
            .ToList();
        if (wanted.Select(w => w.Path).Distinct().Count() < wanted.Count)
            throw new DocumentException("A choice is named twice.");
        var count = values.Aggregate(1L, (n, v) => Math.Min(n * v.taken.Count, int.MaxValue));
        if (count > Most)
            throw new DocumentException($"These are {count} combinations; at most {Most} are run in one go. Choose fewer.");
        IEnumerable<(ModelChoice Choice, ChoiceValue Value)[]> combinations =
        [
            [],
        ];
        foreach (var (choice, taken) in values)
            combinations = combinations.SelectMany(c => taken.Select(v => c.Append((choice, v)).ToArray()));
        var isVaried = values.ToDictionary(v => v.choice.Path, v => v.taken.Count > 1);
        return
        [
            .. combinations.Select(c => new Combination(
                Named([.. c.Where(v => isVaried[v.Choice.Path])]) is { Length: > 0 } label ? label : Named(c),
                c.ToDictionary(v => v.Choice.Path, v => v.Value.Name),
                c.ToDictionary(v => v.Choice.Path, v => v.Value.Text)
            )),
        ];
    }

    /// <summary>What tells the combination from others: the names, and for options what is in or out.</summary>
    static string Named(IReadOnlyList<(ModelChoice Choice, ChoiceValue Value)> values) =>
        string.Join(", ", values.Select(v => v.Choice.Kind == "option" ? $"{v.Choice.Name} {v.Value.Name}" : v.Value.Name));
}
