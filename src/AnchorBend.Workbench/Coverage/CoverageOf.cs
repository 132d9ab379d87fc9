using System.Globalization;
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

    readonly record struct Place(string Owner, string Type, int Line, int Column, OriginKind Kind);

    readonly ModelDocument document;
    readonly IClassSource classes;
    readonly Dictionary<string, IReadOnlyDictionary<(int, int), ConditionText>> texts = [];
    readonly Dictionary<string, string?> paths = [];
    readonly Dictionary<string, int> ordinals = [];
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
        List<CoveragePoint> points =
        [
            .. coverage.Texts(results),
            .. coverage.Vectors(results),
            .. coverage.Tables(results),
            .. coverage.Items(results),
            .. coverage.Alternatives(results, choices),
        ];
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
            .SelectMany(r => (r.Counts?.Places ?? []).Select(c => (r.Case, Count: c)))
            .GroupBy(c => new Place(c.Count.Owner, c.Count.Type, c.Count.Line, c.Count.Column, c.Count.Kind))
            .OrderBy(g => g.Key.Owner, StringComparer.Ordinal)
            .ThenBy(g => (g.Key.Line, g.Key.Column))
            .ToList();
        var decisions = places.Where(p => p.Key.Kind == OriginKind.Decision).Select(p => p.Key).ToHashSet();
        foreach (var place in places)
        {
            var (owner, type, line, column, kind) = place.Key;
            if (PathOf(owner) is not { } part)
                continue;
            var text = TextAt(type, line, column);
            List<Seen> seen = [.. place.Select(p => new Seen(p.Case, p.Count.No, p.Count.Yes))];
            if (kind == OriginKind.Assignment)
                yield return Point(place.Key, part, "statement", $"line {line}", key =>
                    [Side(key, "reached", $"line {line} never done", [.. seen.Select(s => (s.Case, s.Yes))])]
                );
            else if (kind == OriginKind.Clause)
                yield return Point(place.Key, part, "when clause", text.Text, key =>
                    [Side(key, "reached", text.Yes, [.. seen.Select(s => (s.Case, s.Yes))])]
                );
            // What a decision asks as a whole is no condition of it beside.
            else if (kind == OriginKind.Decision || !decisions.Contains(place.Key with { Kind = OriginKind.Decision }))
                yield return Point(place.Key, part, kind.ToString().ToLowerInvariant(), text.Text, key =>
                    [
                        Side(key, "yes", text.Yes, [.. seen.Select(s => (s.Case, s.Yes))]),
                        Side(key, "no", text.No, [.. seen.Select(s => (s.Case, s.No))]),
                    ]
                );
            if (kind == OriginKind.Condition)
                yield return Point(place.Key, part, "border", text.Text, key =>
                    [
                        Side(key, "up", text.Up, [.. place.Select(p => (p.Case, p.Count.Up))]),
                        Side(key, "down", text.Down, [.. place.Select(p => (p.Case, p.Count.Down))]),
                    ]
                );
        }
    }

    /// <summary>Whether each of several conditions decides alone.</summary>
    IEnumerable<CoveragePoint> Vectors(IReadOnlyList<CaseResult> results)
    {
        foreach (
            var place in results
                .SelectMany(r => (r.Counts?.Vectors ?? []).Select(c => (r.Case, Count: c)))
                .GroupBy(c =>
                    (new Place(c.Count.Owner, c.Count.Type, c.Count.Line, c.Count.Column, OriginKind.Decision), c.Count.Conditions)
                )
        )
        {
            var (at, conditions) = place.Key;
            if (PathOf(at.Owner) is not { } part)
                continue;
            var text = TextAt(at.Type, at.Line, at.Column);
            List<(string Case, IReadOnlyCollection<string> Ways)> seen = [.. place.Select(p => (p.Case, Ways(p.Count)))];
            HashSet<string> all = [.. seen.SelectMany(s => s.Ways)];
            yield return Point(at, part, "modified condition/decision", text.Text, key => [
                    .. Enumerable
                        .Range(0, conditions)
                        .Select(c =>
                            Shown(
                                key,
                                c,
                                // A part of it may be known before the run, so that it is asked for less.
                                text.Conditions.Count == conditions
                                    ? text.Conditions[c]
                                    : $"condition {c + 1}",
                                seen,
                                all
                            )
                        ),
                ]);
        }

        static IReadOnlyCollection<string> Ways(VectorCount count) => [.. count.Ways.Keys];
    }

    CoverageSide Shown(
        string key,
        int condition,
        string said,
        List<(string Case, IReadOnlyCollection<string> Ways)> seen,
        HashSet<string> all
    )
    {
        var side = Side(key, $"condition {condition + 1}", $"{said} never decides alone", []);
        if (!IndependentConditions.Shown(condition, all))
            return side;
        List<string> needed =
        [
            .. seen.Select(s => s.Case)
                .Distinct()
                .Where(c => !IndependentConditions.Shown(condition, [.. seen.Where(s => s.Case != c).SelectMany(s => s.Ways)])),
        ];
        return side with { Count = 1, Only = needed.Count == 1 ? needed[0] : null };
    }

    IEnumerable<CoveragePoint> Tables(IReadOnlyList<CaseResult> results)
    {
        foreach (
            var place in results
                .SelectMany(r => (r.Counts?.Tables ?? []).Select(c => (r.Case, Count: c)))
                .GroupBy(c => new Place(c.Count.Owner, c.Count.Type, c.Count.Line, c.Count.Column, OriginKind.Table))
        )
        {
            if (PathOf(place.Key.Owner) is not { } part)
                continue;
            var knots = place.Last().Count.Knots;
            yield return Point(place.Key, part, "table interval", TextAt(place.Key.Type, place.Key.Line, place.Key.Column).Text, key =>
                [
                    .. Enumerable
                        .Range(0, knots.Count - 1)
                        .Select(i =>
                            Side(
                                key,
                                $"interval {i + 1}",
                                ConditionText.Between(knots[i], knots[i + 1]),
                                [.. place.Select(p => (p.Case, p.Count.Counts.ElementAtOrDefault(i)))]
                            )
                        ),
                ]
            );
        }
    }

    /// <summary>A point in the text of a part, with a key that stays the same while its part and its text do.</summary>
    CoveragePoint Point(Place at, string part, string word, string text, Func<string, IReadOnlyList<CoverageSide>> sides)
    {
        var stem = $"{part}|{at.Type}|{word}|{text}";
        var ordinal = ordinals[stem] = ordinals.GetValueOrDefault(stem) + 1;
        var key = $"{stem}|{ordinal}";
        return new CoveragePoint(key, word, part, NameOf(part), text, at.Type, at.Line, sides(key));
    }

    ConditionText TextAt(string type, int line, int column)
    {
        if (!texts.TryGetValue(type, out var known))
            texts[type] = known = ConditionText.Of(type, classes);
        return known.GetValueOrDefault((line, column)) ?? ConditionText.OfLine(line);
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
            var (word, name, words) = item.Key.Kind switch
            {
                ItemKind.State => ("state", ChartSignals.Of(chart).Paths.GetValueOrDefault(item.Key.Item), "never in {0}"),
                ItemKind.Transition => ("transition", TransitionName(chart, item.Key.Item), "never taken: {0}"),
                _ => ("transition pair", PairName(chart, item.Key.Item), "never one after the other: {0}"),
            };
            if (name is null)
                continue;
            var key = $"{part}|{word}|{item.Key.Item}";
            yield return new CoveragePoint(
                key,
                word,
                part,
                NameOf(part),
                name,
                "",
                0,
                [
                    Side(
                        key,
                        "reached",
                        string.Format(CultureInfo.InvariantCulture, words, name),
                        [.. item.Select(i => (i.Case, i.Item.Count))]
                    ),
                ]
            );
        }
    }

    static string? PairName(ChartDefinition chart, string pair) =>
        pair.Split('>') is [var first, var second] && TransitionName(chart, first) is { } one && TransitionName(chart, second) is { } other
            ? $"{one}, then {other}"
            : null;

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
