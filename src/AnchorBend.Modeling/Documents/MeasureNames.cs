using AnchorBend.Language;
using AnchorBend.Language.Rules;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// Measures, rules and conditions of alerts name signals as people read them. Where parts and signals get other names, or come to stand
/// elsewhere, the texts follow.
/// </summary>
public static class MeasureNames
{
    /// <param name="before">The document in which the names lead somewhere.</param>
    /// <param name="after">The document with the names of now; its measures and alerts are rewritten.</param>
    /// <param name="change">What a signal's identity became.</param>
    public static ModelDocument Followed(ModelDocument before, ModelDocument after, Func<string, string> change)
    {
        if (after.Measures.Count + after.Alerts.Count == 0 && after.Requirements.Values.All(r => r.Rule is null))
            return after;
        var (old, now) = (new SourceMap(before, PartCatalog.Standard), new SourceMap(after, PartCatalog.Standard));
        string? Renamed(IReadOnlyList<string> steps)
        {
            for (var count = steps.Count - 1; count >= 0; count--)
            {
                var path = count == 0 ? PartPath.Root : old.Find(string.Join('.', steps.Take(count)))?.Path;
                if (path is not { } at)
                    continue;
                // The last step may be a name that somebody gave to a signal of the level.
                if (count == steps.Count - 1 && Named(before, at, steps[count]) is { } named)
                    return Written(after, now, change(named), true);
                if (count > 0)
                    return Written(after, now, change($"{at}.{string.Join('.', steps.Skip(count))}"), false);
            }

            return null;
        }

        return after with
        {
            Requirements = after.Requirements.ToDictionary(
                r => r.Key,
                r => r.Value.Rule is { } rule ? r.Value with { Rule = Rewritten(rule, Renamed, RuleParser.NamesIn) } : r.Value
            ),
            Measures = after.Measures.ToDictionary(m => m.Key, m => m.Value with { Expression = Rewritten(m.Value.Expression, Renamed) }),
            Alerts = after.Alerts.ToDictionary(
                a => a.Key,
                a =>
                    a.Value with
                    {
                        Condition = Rewritten(a.Value.Condition, Renamed),
                        Inhibit = a.Value.Inhibit is { } inhibit ? Rewritten(inhibit, Renamed) : null,
                    }
            ),
        };
    }

    static string Rewritten(string text, Func<IReadOnlyList<string>, string?> renamed) => Rewritten(text, renamed, Parser.NamesInMeasure);

    static string Rewritten(string text, Func<IReadOnlyList<string>, string?> renamed, Func<string, IReadOnlyList<NameInText>> namesIn)
    {
        try
        {
            foreach (var name in namesIn(text).OrderByDescending(n => n.Start))
                if (renamed(name.Steps) is { } other)
                    text = string.Concat(text.AsSpan(0, name.Start), other, text.AsSpan(name.Start + name.Length));
        }
        catch (LanguageException)
        {
            // What cannot be read stays as it was typed.
        }

        return text;
    }

    /// <summary>The signal of a level that was given a name; null where there is none.</summary>
    static string? Named(ModelDocument document, PartPath level, string name) =>
        document.Level(level)?.Diagram.Signals.FirstOrDefault(s => s.Value.Name == name).Key is { } key
            ? (level.IsRoot ? key : $"{level}/{key}")
            : null;

    /// <summary>How an expression names a signal; null where its part is not in the model.</summary>
    /// <param name="byName">Whether by the name that it was given, where it has one.</param>
    static string? Written(ModelDocument document, SourceMap map, string identity, bool byName)
    {
        if (!SignalReference.TryParse(identity, out var signal) || map.NameOf(signal.Part) is null || map.NameOf(signal) is not { } path)
            return null;
        var given = byName
            ? document.Level(signal.Part.Above)?.Diagram.Signals.GetValueOrDefault($"{signal.Part.Id}.{signal.Port}")?.Name
            : null;
        var steps = new List<string>();
        var length = signal.Part.Steps.Count - (given is { Length: > 0 } ? 1 : 0);
        for (var part = PartPath.Root; part.Steps.Count < length; )
        {
            var inner = part.Then(signal.Part.Steps[part.Steps.Count]);
            steps.Add(map.NameOf(inner)![(part.IsRoot ? 0 : map.NameOf(part)!.Length + 1)..]);
            part = inner;
        }

        if (given is { Length: > 0 })
            steps.Add(given);
        else if (path.Length > map.NameOf(signal.Part)!.Length)
            steps.AddRange(path[(map.NameOf(signal.Part)!.Length + 1)..].Split('.'));
        return string.Join('.', steps.Select(ExpressionText.Name));
    }
}
