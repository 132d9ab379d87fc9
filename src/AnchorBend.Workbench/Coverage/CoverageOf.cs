using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Cases;

namespace AnchorBend.Workbench.Coverage;

/// <summary>
/// Puts together what runs of cases came by. Things are known by the part, the class and the text that they stand in, so that they stay
/// the same where something else changes, and every case adds to the same ones whatever alternative it runs.
/// </summary>
public sealed class CoverageOf
{
    sealed record Seen(string Case, long No, long Yes);

    readonly ModelDocument document;
    readonly IClassSource classes;
    readonly Dictionary<string, IReadOnlyDictionary<(int, int), ConditionText>> texts = [];
    readonly Dictionary<string, string?> paths = [];
    readonly HashSet<string> used = [];
    readonly ILookup<(string Goal, string Side), string> justified;

    CoverageOf(ModelDocument document, IClassSource classes) =>
        (this.document, this.classes, justified) = (
            document,
            classes,
            document.Justifications.ToLookup(j => (j.Value.Goal, j.Value.Side), j => j.Key)
        );

    /// <param name="results">Of the model as it is now.</param>
    /// <param name="choices">What can be chosen about the model.</param>
    /// <param name="stale">How many cases have no such result.</param>
    public static CoverageView View(
        ModelDocument document,
        IClassSource classes,
        IReadOnlyList<CaseResult> results,
        IReadOnlyList<ModelChoice> choices,
        int stale,
        long revision
    )
    {
        var coverage = new CoverageOf(document, classes);
        List<CoveragePoint> points = [.. coverage.Texts(results), .. coverage.Items(results), .. coverage.Alternatives(results, choices)];
        return new CoverageView(
            revision,
            results.Count,
            stale,
            Totals(points, p => (p.Kind, p.Kind)),
            Totals(points, p => (p.Part, p.Name)),
            points,
            [
                .. document
                    .Justifications.Where(j => !coverage.used.Contains(j.Key))
                    .Select(j => new LostJustification(j.Key, j.Value.Goal, j.Value.Reason)),
            ]
        );
    }

    static List<CoverageTotal> Totals(List<CoveragePoint> points, Func<CoveragePoint, (string Key, string Name)> by) =>
        [
            .. points
                .GroupBy(by)
                .Select(g => new CoverageTotal(
                    g.Key.Key,
                    g.Key.Name,
                    g.Sum(p => p.Sides.Count(s => s.Count > 0)),
                    g.Sum(p => p.Sides.Count(s => s is { Count: 0, Justification: not null })),
                    g.Sum(p => p.Sides.Count)
                )),
        ];

    IEnumerable<CoveragePoint> Texts(IReadOnlyList<CaseResult> results)
    {
        var places = results
            .SelectMany(r => (r.Counts ?? []).Select(c => (r.Case, Count: c)))
            .GroupBy(c => (c.Count.Owner, c.Count.Type, c.Count.Line, c.Count.Column, c.Count.Kind))
            .OrderBy(g => g.Key.Owner, StringComparer.Ordinal)
            .ThenBy(g => (g.Key.Line, g.Key.Column))
            .ToList();
        // What a decision asks as a whole is no condition of it beside.
        var decisions = places
            .Where(p => p.Key.Kind == OriginKind.Decision)
            .Select(p => p.Key with { Kind = OriginKind.Condition })
            .ToHashSet();
        var ordinals = new Dictionary<string, int>();
        foreach (var place in places)
        {
            var (owner, type, line, column, kind) = place.Key;
            if (decisions.Contains(place.Key) || PathOf(owner) is not { } part)
                continue;
            if (!texts.TryGetValue(type, out var known))
                texts[type] = known = ConditionText.Of(type, classes);
            var text = known.GetValueOrDefault((line, column))
                ?? new ConditionText($"line {line}", $"never held in line {line}", $"always held in line {line}");
            var word = kind.ToString().ToLowerInvariant();
            if (kind == OriginKind.Assignment)
                (word, text) = ("statement", new ConditionText($"line {line}", $"line {line} never done", ""));
            var stem = $"{part}|{type}|{word}|{text.Text}";
            var ordinal = ordinals[stem] = ordinals.GetValueOrDefault(stem) + 1;
            var key = $"{stem}|{ordinal}";
            List<Seen> seen = [.. place.Select(p => new Seen(p.Case, p.Count.No, p.Count.Yes))];
            yield return new CoveragePoint(
                key,
                word,
                part,
                NameOf(part),
                text.Text,
                type,
                line,
                kind == OriginKind.Assignment
                    ? [Side(key, "reached", text.Yes, [.. seen.Select(s => (s.Case, s.Yes))])]
                    :
                    [
                        Side(key, "yes", text.Yes, [.. seen.Select(s => (s.Case, s.Yes))]),
                        Side(key, "no", text.No, [.. seen.Select(s => (s.Case, s.No))]),
                    ]
            );
        }
    }

    IEnumerable<CoveragePoint> Items(IReadOnlyList<CaseResult> results)
    {
        foreach (
            var item in results
                .SelectMany(r => (r.Items ?? []).Select(i => (r.Case, Item: i)))
                .GroupBy(i => (i.Item.Owner, i.Item.Kind, i.Item.Item))
        )
        {
            if (
                PathOf(item.Key.Owner) is not { } part
                || !PartPath.TryParse(part, out var path)
                || document.Chart(path) is not (_, { } chart)
            )
                continue;
            var isState = item.Key.Kind == ItemKind.State;
            var name = isState ? ChartSignals.Of(chart).Paths.GetValueOrDefault(item.Key.Item) : TransitionName(chart, item.Key.Item);
            if (name is null)
                continue;
            var word = isState ? "state" : "transition";
            var key = $"{part}|{word}|{item.Key.Item}";
            yield return new CoveragePoint(
                key,
                word,
                part,
                NameOf(part),
                name,
                "",
                0,
                [Side(key, "reached", isState ? $"never in {name}" : $"never taken: {name}", [.. item.Select(i => (i.Case, i.Item.Count))])]
            );
        }
    }

    static string? TransitionName(ChartDefinition chart, string id) =>
        ChartSignals.Of(chart).Transitions.GetValueOrDefault(id) is { } name ? name["taken ".Length..] : null;

    IEnumerable<CoveragePoint> Alternatives(IReadOnlyList<CaseResult> results, IReadOnlyList<ModelChoice> choices)
    {
        foreach (var choice in choices)
        {
            var part = choice.Part ?? "";
            foreach (var value in choice.Values)
            {
                var key = $"{part}|alternative|{choice.Path}|{value.Name}";
                yield return new CoveragePoint(
                    key,
                    "alternative",
                    part,
                    NameOf(part),
                    $"{choice.Name}: {value.Name}",
                    "",
                    0,
                    [
                        Side(
                            key,
                            "reached",
                            $"{choice.Name} never {value.Name}",
                            [.. results.Select(r => (r.Case, r.Chosen?.GetValueOrDefault(choice.Path) == value.Name ? 1L : 0))]
                        ),
                    ]
                );
            }
        }
    }

    CoverageSide Side(string key, string side, string words, IReadOnlyList<(string Case, long Count)> seen)
    {
        var found = justified[(key, side)].FirstOrDefault();
        used.UnionWith(justified[(key, side)]);
        List<string> by = [.. seen.Where(s => s.Count > 0).Select(s => s.Case).Distinct()];
        return new CoverageSide(side, words, seen.Sum(s => s.Count), by.Count == 1 ? by[0] : null, found);
    }

    string NameOf(string part) =>
        part.Length == 0 ? document.Name
        : PartPath.TryParse(part, out var path) ? document.NamePath(path) ?? part
        : part;

    /// <summary>The drawn part that an instance is, or lies in; null for one that is not drawn, as those that faults bring in.</summary>
    string? PathOf(string owner)
    {
        if (owner.Length == 0)
            return "";
        if (paths.TryGetValue(owner, out var known))
            return known;
        var (path, diagram, rest) = (PartPath.Root, (DiagramDefinition?)document.Main, owner);
        while (diagram is not null && rest.Length > 0)
        {
            // Names of parts may hold dots themselves.
            var (id, part) = diagram
                .Parts.Where(p => rest == p.Value.Name || rest.StartsWith(p.Value.Name + ".", StringComparison.Ordinal))
                .OrderByDescending(p => p.Value.Name.Length)
                .FirstOrDefault();
            if (part is null)
                break;
            (path, diagram) = (path.Then(id), document.DiagramOf(part));
            rest = rest.Length > part.Name.Length ? rest[(part.Name.Length + 1)..] : "";
        }

        return paths[owner] = path.IsRoot ? null : path.ToString();
    }
}
