using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>
/// What one use of a definition sets on its face, as texts for the level where it stood. A field that is a face's name alone gets the text;
/// in longer expressions, where a value with a unit cannot stand, a named parameter of the level takes the face's place.
/// </summary>
sealed class FaceValues
{
    readonly Dictionary<string, string> texts = [],
        newNames = [];

    readonly Dictionary<string, ParameterNode> kept = [];

    public FaceValues(DiagramDefinition inside, PartNode use, ISet<string> taken)
    {
        foreach (var (name, parameter) in inside.Parameters)
            texts[name] = parameter.IsDerived ? parameter.Value : use.Parameters.GetValueOrDefault(name, parameter.Value);
        var mentioned = inside
            .Parts.Values.SelectMany(p => p.Texts.Select(t => t.Text))
            .Where(t => !texts.Keys.Any(n => FieldText.IsName(t, n)))
            .Concat(inside.Parameters.Values.Select(p => p.Value))
            .SelectMany(FieldText.References)
            .Where(r => r.Parts.Count == 1)
            .Select(r => r.Parts[0].Name)
            .ToHashSet();
        foreach (var (name, parameter) in inside.Parameters)
        {
            // A face that hands on what is called the same outside needs nothing in its place.
            if (!mentioned.Contains(name) || FieldText.IsName(texts[name], name))
                continue;
            newNames[name] = Free(name, taken);
            taken.Add(newNames[name]);
            kept[newNames[name]] = parameter with { Value = texts[name], Group = null, Choices = null, ShownWhen = null };
        }

        foreach (var (name, now) in newNames)
            if (inside.Parameters[name].IsDerived || !use.Parameters.ContainsKey(name))
                kept[now] = kept[now] with
                {
                    Value = FieldText.Rewritten(kept[now].Value, r => r.Parts.Count == 1 ? NameOf(r.Parts[0].Name) : null),
                };
    }

    /// <summary>Parameters that the level gets.</summary>
    public IReadOnlyDictionary<string, ParameterNode> Kept => kept;

    /// <summary>What stands for a name of the face on the level; null for other names.</summary>
    public string? NameOf(string name) => newNames.TryGetValue(name, out var now) ? ExpressionText.Name(now) : null;

    /// <summary>The text for a field that is a name of the face alone; null for other fields.</summary>
    public string? InPlace(string text) =>
        texts.Keys.FirstOrDefault(n => FieldText.IsName(text, n)) is not { } name ? null
        : newNames.ContainsKey(name) ? NameOf(name)
        : texts[name];

    static string Free(string wanted, ISet<string> taken)
    {
        var name = wanted;
        for (var n = 2; taken.Contains(name); n++)
            name = $"{wanted}_{n}";
        return name;
    }
}
