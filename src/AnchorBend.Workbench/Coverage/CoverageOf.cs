using System.Globalization;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Modeling.Written;
using AnchorBend.Verification;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Cases;

namespace AnchorBend.Workbench.Coverage;

/// <summary>
/// Puts together what runs of cases came by. Things are known by the part, the class and the text that they stand in, so that they stay
/// the same where something else changes, and every case adds to the same ones whatever alternative it runs.
/// </summary>
public sealed partial class CoverageOf
{
    sealed record Seen(string Case, long No, long Yes);

    readonly record struct Place(string Owner, string Type, int Line, int Column, OriginKind Kind);

    readonly ModelDocument document;
    readonly IClassSource classes;
    readonly Dictionary<string, IReadOnlyDictionary<(int, int), ConditionText>> texts = [];
    readonly Dictionary<string, string?> paths = [];
    readonly Dictionary<string, int> ordinals = [];
    readonly Dictionary<string, WrittenDefinition?> written = [];
    readonly Func<string, bool> isReadable;
    readonly HashSet<string> used = [];
    readonly ILookup<(string Goal, string Side), string> justified;

    CoverageOf(ModelDocument document, IClassSource classes, Func<string, bool> isReadable) =>
        (this.document, this.classes, this.isReadable, justified) = (
            document,
            classes,
            isReadable,
            document.Justifications.ToLookup(j => (j.Value.Goal, j.Value.Side), j => j.Key)
        );

    /// <param name="results">Of the model as it is now.</param>
    /// <param name="prepared">That model.</param>
    /// <param name="stale">How many cases have no such result.</param>
    public static CoverageView View(
        ModelDocument document,
        IClassSource classes,
        IReadOnlyList<CaseResult> results,
        PreparedModel prepared,
        int stale,
        long revision
    )
    {
        var parameters = new Lazy<ParameterSet>(() => new ParameterSet(prepared.Model));
        var coverage = new CoverageOf(document, classes, rule =>
            prepared.CanRun && RequirementCheck.ProblemOf(prepared, parameters.Value, $"eventually ({rule})") is null
        );
        IReadOnlyList<ModelChoice> choices = prepared.CanRun ? ModelChoices.Of(prepared, document) : [];
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
            var signals = ChartSignals.Of(chart);
            var local = item.Key.Kind == ItemKind.State ? signals.States : signals.Transitions;
            var (word, name, words) = item.Key.Kind switch
            {
                ItemKind.State => ("state", chart.NameOf(item.Key.Item), "never in {0}"),
                ItemKind.Transition => ("transition", chart.NameOf(item.Key.Item), "never taken: {0}"),
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
                        [.. item.Select(i => (i.Case, i.Item.Count))],
                        () =>
                            local.GetValueOrDefault(item.Key.Item) is not { } signal ? null
                            : item.Key.Kind == ItemKind.State ? ReachRule.Held(item.Key.Owner, signal)
                            : ReachRule.Counted(item.Key.Owner, signal)
                    ),
                ]
            )
            {
                Item = item.Key.Kind == ItemKind.Pair ? null : item.Key.Item,
            };
        }
    }

    static string? PairName(ChartDefinition chart, string pair) =>
        pair.Split('>') is [var first, var second] && chart.NameOf(first) is { } one && chart.NameOf(second) is { } other
            ? $"{one}, then {other}"
            : null;

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

    /// <param name="reach">What a run must come to to see it, where it was not seen.</param>
    CoverageSide Side(string key, string side, string words, IReadOnlyList<(string Case, long Count)> seen, Func<string?>? reach = null)
    {
        var found = justified[(key, side)].FirstOrDefault();
        used.UnionWith(justified[(key, side)]);
        List<string> by = [.. seen.Where(s => s.Count > 0).Select(s => s.Case).Distinct()];
        var rule = by.Count == 0 ? reach?.Invoke() : null;
        return new CoverageSide(side, words, seen.Sum(s => s.Count), by.Count == 1 ? by[0] : null, found)
        {
            Reach = rule is not null && isReadable(rule) ? rule : null,
        };
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
