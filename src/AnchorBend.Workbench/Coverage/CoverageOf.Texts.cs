using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;
using AnchorBend.Workbench.Cases;

namespace AnchorBend.Workbench.Coverage;

/// <summary>What stands in the texts of parts.</summary>
public sealed partial class CoverageOf
{
    IEnumerable<CoveragePoint> Texts(IReadOnlyList<CaseResult> results)
    {
        var places = results
            .SelectMany(r => (r.Tally?.Places ?? []).Select(c => (r.Case, Count: c)))
            .GroupBy(c => new Place(c.Count.Owner, c.Count.Type, c.Count.Line, c.Count.Column, c.Count.Kind))
            .OrderBy(g => g.Key.Owner, StringComparer.Ordinal)
            .ThenBy(g => (g.Key.Line, g.Key.Column))
            .ToList();
        var decisions = places.Where(p => p.Key.Kind == OriginKind.Decision).Select(p => p.Key).ToHashSet();
        foreach (var place in places)
        {
            var (owner, type, line, column, kind) = place.Key;
            if (PathOf(owner) is not { } part || IsOfItsForm(part, line, column))
                continue;
            var text = TextAt(part, type, line, column);
            List<Seen> seen = [.. place.Select(p => new Seen(p.Case, p.Count.No, p.Count.Yes))];
            if (kind == OriginKind.Assignment)
            {
                var what = ItemName(part, line, column) ?? $"line {line}";
                yield return Point(place.Key, part, "statement", what, key =>
                    [Side(key, "reached", $"{what}: never done", [.. seen.Select(s => (s.Case, s.Yes))])]
                );
            }
            else if (kind == OriginKind.Clause)
                yield return Point(place.Key, part, "when clause", text.Text, key =>
                    [
                        Side(key, "reached", text.Yes, [.. seen.Select(s => (s.Case, s.Yes))], () =>
                            ReachRule.Turn(text.Expression, owner, true)
                        ),
                    ]
                );
            // What a decision asks as a whole is no condition of it beside.
            else if (kind == OriginKind.Decision || !decisions.Contains(place.Key with { Kind = OriginKind.Decision }))
                yield return Point(place.Key, part, kind.ToString().ToLowerInvariant(), text.Text, key =>
                    [
                        Side(key, "yes", text.Yes, [.. seen.Select(s => (s.Case, s.Yes))], () =>
                            ReachRule.Of(text.Expression, owner, true)
                        ),
                        Side(key, "no", text.No, [.. seen.Select(s => (s.Case, s.No))], () => ReachRule.Of(text.Expression, owner, false)),
                    ]
                );
            if (kind == OriginKind.Condition)
                yield return Point(place.Key, part, "border", text.Text, key =>
                    [
                        Side(key, "up", text.Up, [.. place.Select(p => (p.Case, p.Count.Up))], () =>
                            ReachRule.Turn(text.Expression, owner, true)
                        ),
                        Side(key, "down", text.Down, [.. place.Select(p => (p.Case, p.Count.Down))], () =>
                            ReachRule.Turn(text.Expression, owner, false)
                        ),
                    ]
                );
        }
    }

    /// <summary>Whether each of several conditions decides alone.</summary>
    IEnumerable<CoveragePoint> Vectors(IReadOnlyList<CaseResult> results)
    {
        foreach (
            var place in results
                .SelectMany(r => (r.Tally?.Vectors ?? []).Select(c => (r.Case, Count: c)))
                .GroupBy(c =>
                    (new Place(c.Count.Owner, c.Count.Type, c.Count.Line, c.Count.Column, OriginKind.Decision), c.Count.Conditions)
                )
        )
        {
            var (at, conditions) = place.Key;
            if (PathOf(at.Owner) is not { } part || IsOfItsForm(part, at.Line, at.Column))
                continue;
            var text = TextAt(part, at.Type, at.Line, at.Column);
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
                .SelectMany(r => (r.Tally?.Tables ?? []).Select(c => (r.Case, Count: c)))
                .GroupBy(c => new Place(c.Count.Owner, c.Count.Type, c.Count.Line, c.Count.Column, OriginKind.Table))
        )
        {
            if (PathOf(place.Key.Owner) is not { } part)
                continue;
            var knots = place.Last().Count.Knots;
            var table = TextAt(part, place.Key.Type, place.Key.Line, place.Key.Column);
            yield return Point(place.Key, part, "table interval", table.Text, key =>
                [
                    .. Enumerable
                        .Range(0, knots.Count - 1)
                        .Select(i =>
                            Side(
                                key,
                                $"interval {i + 1}",
                                ConditionText.Between(knots[i], knots[i + 1]),
                                [.. place.Select(p => (p.Case, p.Count.Counts.ElementAtOrDefault(i)))],
                                () => ReachRule.Between(table.Expression, place.Key.Owner, knots[i], knots[i + 1])
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
        var item = ItemAt(part, at.Line, at.Column);
        return new CoveragePoint(key, word, part, NameOf(part), text, at.Type, at.Line, sides(key))
        {
            Item = item,
            Place = item is null ? $"{at.Type}, line {at.Line}" : WrittenAt(part)!.NameOf(item) ?? "",
        };
    }

    string? ItemAt(string part, int line, int column) => WrittenAt(part)?.ItemAt(new Position(line, column));

    string? ItemName(string part, int line, int column) => ItemAt(part, line, column) is { } item ? WrittenAt(part)!.NameOf(item) : null;

    /// <summary>Whether a place in the class of a chart or another form is nobody's: it makes the form go, and no case is asked for
    /// it.</summary>
    bool IsOfItsForm(string part, int line, int column) => WrittenAt(part) is not null && ItemAt(part, line, column) is null;

    /// <summary>The chart or other form that a part is; null for others.</summary>
    WrittenDefinition? WrittenAt(string part)
    {
        if (!written.TryGetValue(part, out var known))
            written[part] = known = PartPath.TryParse(part, out var path) ? document.Written(path)?.Definition : null;
        return known;
    }

    ConditionText TextAt(string part, string type, int line, int column)
    {
        var form = WrittenAt(part)?.Parsed() is { } own && own.Name == type ? own : null;
        if (!texts.TryGetValue(type, out var known))
            texts[type] = known = ConditionText.Of(form ?? classes.Find(type));
        return known.GetValueOrDefault((line, column)) ?? ConditionText.OfLine(line);
    }
}
