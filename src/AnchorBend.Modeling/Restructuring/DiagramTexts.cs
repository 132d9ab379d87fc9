using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>All that is typed as an expression in a diagram: values of its parameters with their limits, and fields of its parts.</summary>
static class DiagramTexts
{
    /// <summary>The diagram with every such text exchanged; entries in which nothing changes are the same objects.</summary>
    public static DiagramDefinition With(DiagramDefinition diagram, Func<string, string> change)
    {
        string? Changed(string? text) => text is null ? null : change(text);
        return diagram with
        {
            Parameters = Each(diagram.Parameters, p =>
                p with
                {
                    Value = change(p.Value),
                    Minimum = Changed(p.Minimum),
                    Maximum = Changed(p.Maximum),
                    ShownWhen = Changed(p.ShownWhen),
                    Choices =
                        p.Choices?.Exists(c => change(c.Value) != c.Value) == true
                            ? [.. p.Choices.Select(c => c with { Value = change(c.Value) })]
                            : p.Choices,
                }
            ),
            Parts = Each(diagram.Parts, p => WithFields(p, change)),
        };
    }

    public static PartNode WithFields(PartNode part, Func<string, string> change)
    {
        if (part.Texts.All(t => change(t.Text) == t.Text))
            return part;
        return part with
        {
            Parameters = part.Parameters.ToDictionary(f => f.Key, f => change(f.Value)),
            OnlyWhen = part.OnlyWhen is null ? null : change(part.OnlyWhen),
            Otherwise = part.Otherwise?.ToDictionary(f => f.Key, f => change(f.Value)),
        };
    }

    static Dictionary<string, T> Each<T>(Dictionary<string, T> entries, Func<T, T> change)
        where T : class => entries.ToDictionary(e => e.Key, e => change(e.Value) is var now && now.Equals(e.Value) ? e.Value : now);

    /// <summary>The diagram with the first names of references exchanged.</summary>
    public static DiagramDefinition Renamed(DiagramDefinition diagram, Func<Reference, string?> replacement) =>
        With(diagram, text => FieldText.Rewritten(text, replacement));
}
