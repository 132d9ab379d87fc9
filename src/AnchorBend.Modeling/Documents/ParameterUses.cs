using System.Runtime.CompilerServices;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Documents;

/// <summary>Where the named parameters of a level are spoken of: in its own fields, and in those of levels below that know the
/// name from here.</summary>
public static class ParameterUses
{
    static readonly ConditionalWeakTable<DiagramDefinition, Dictionary<string, List<string>>> Known = [];

    /// <returns>By parameter, the names of parts, each with the field, and of other parameters; nothing for one that is not used.</returns>
    public static IReadOnlyDictionary<string, IReadOnlyList<string>> Of(ModelDocument document, string definition)
    {
        var result = new Dictionary<string, IReadOnlyList<string>>();
        if (document.Definitions.GetValueOrDefault(definition) is not DiagramDefinition { Parameters.Count: > 0 } level)
            return result;
        foreach (var name in level.Parameters.Keys)
            if (Within(document, level, "", name, []).Distinct().ToList() is { Count: > 0 } users)
                result[name] = users;
        return result;
    }

    static IEnumerable<string> Within(
        ModelDocument document,
        DiagramDefinition level,
        string way,
        string name,
        HashSet<DiagramDefinition> around
    )
    {
        if (!around.Add(level))
            yield break;
        foreach (var user in Known.GetValue(level, Mentions).GetValueOrDefault(name) ?? [])
            yield return way + user;
        foreach (var part in level.Parts.Values)
            if (document.DiagramOf(part) is { } inner && !inner.Parameters.ContainsKey(name))
                foreach (var user in Within(document, inner, $"{way}{part.Name}.", name, around))
                    yield return user;
        around.Remove(level);
    }

    static Dictionary<string, List<string>> Mentions(DiagramDefinition level)
    {
        var users = new Dictionary<string, List<string>>();
        void Add(string text, string user)
        {
            foreach (var name in Names(text))
            {
                if (!users.TryGetValue(name, out var list))
                    users[name] = list = [];
                list.Add(user);
            }
        }

        foreach (var (name, parameter) in level.Parameters)
        foreach (var text in (string?[])[parameter.Value, parameter.Minimum, parameter.Maximum])
            Add(text ?? "", name);
        foreach (var part in level.Parts.Values)
        foreach (var (field, text) in part.Parameters)
            Add(text, $"{part.Name}.{field}");
        return users;
    }

    /// <summary>The names that a field's text speaks of, without what is behind a dot; none in a text that cannot be read.</summary>
    public static IReadOnlyList<string> Names(string text)
    {
        // Most fields are numbers, perhaps with a unit; they need no reading.
        if (text.Length == 0 || double.TryParse(text, System.Globalization.CultureInfo.InvariantCulture, out _))
            return [];
        try
        {
            return [.. References.In(Parser.ParseField(text)).Where(r => r.Parts.Count == 1).Select(r => r.Parts[0].Name).Distinct()];
        }
        catch (LanguageException)
        {
            return [];
        }
    }
}
