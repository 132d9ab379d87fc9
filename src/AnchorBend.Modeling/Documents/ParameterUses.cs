using System.Runtime.CompilerServices;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Documents;

/// <summary>Where the named parameters of a level are spoken of: in its own fields, and in those of levels below that know the
/// name from here.</summary>
public static class ParameterUses
{
    static readonly ConditionalWeakTable<DiagramDefinition, Dictionary<string, List<string>>> Known = [];

    /// <summary>What the fields of a part speak of; an edit elsewhere leaves the part, so it is not read again.</summary>
    static readonly ConditionalWeakTable<PartNode, List<(string Name, string Field)>> OfParts = [];

    /// <summary>Levels that are looked into for one name: uses of uses multiply.</summary>
    const int MostLevels = 2000;

    /// <returns>By parameter, the names of parts, each with the field, and of other parameters; nothing for one that is not used.</returns>
    public static IReadOnlyDictionary<string, IReadOnlyList<string>> Of(ModelDocument document, string definition)
    {
        var result = new Dictionary<string, IReadOnlyList<string>>();
        if (document.Definitions.GetValueOrDefault(definition) is not DiagramDefinition { Parameters.Count: > 0 } level)
            return result;
        foreach (var name in level.Parameters.Keys)
        {
            var left = MostLevels;
            if (Within(document, level, "", name, [], () => left-- > 0).Distinct().ToList() is { Count: > 0 } users)
                result[name] = users;
        }

        return result;
    }

    /// <summary>The parameters of a level that nothing speaks of, as far as all levels below it could be looked at.</summary>
    public static IEnumerable<string> Unused(ModelDocument document, string definition)
    {
        if (document.Definitions.GetValueOrDefault(definition) is not DiagramDefinition level)
            yield break;
        foreach (var name in level.Parameters.Keys)
        {
            var left = MostLevels;
            if (!Within(document, level, "", name, [], () => left-- > 0).Any() && left >= 0)
                yield return name;
        }
    }

    static IEnumerable<string> Within(
        ModelDocument document,
        DiagramDefinition level,
        string way,
        string name,
        HashSet<DiagramDefinition> around,
        Func<bool> goesOn
    )
    {
        if (!goesOn() || !around.Add(level))
            yield break;
        foreach (var user in Known.GetValue(level, Mentions).GetValueOrDefault(name) ?? [])
            yield return way + user;
        foreach (var part in level.Parts.Values)
            if (document.DiagramOf(part) is { } inner && !inner.Parameters.ContainsKey(name))
                foreach (var user in Within(document, inner, $"{way}{part.Name}.", name, around, goesOn))
                    yield return user;
        around.Remove(level);
    }

    static Dictionary<string, List<string>> Mentions(DiagramDefinition level)
    {
        var users = new Dictionary<string, List<string>>();
        void Add(string name, string user)
        {
            if (!users.TryGetValue(name, out var list))
                users[name] = list = [];
            list.Add(user);
        }

        foreach (var (user, parameter) in level.Parameters)
        foreach (var name in InParameter(parameter))
            Add(name, user);
        foreach (var part in level.Parts.Values)
        foreach (var (name, field) in OfPart(part))
            Add(name, $"{part.Name}.{field}");
        return users;
    }

    static IEnumerable<string> InParameter(ParameterNode parameter) => parameter.Texts.SelectMany(Names);

    static List<(string Name, string Field)> OfPart(PartNode part) =>
        OfParts.GetValue(part, p => [.. p.Texts.SelectMany(f => Names(f.Text).Select(name => (name, f.Field)))]);

    /// <summary>All names that the fields of a diagram speak of.</summary>
    public static IEnumerable<string> In(DiagramDefinition diagram) =>
        diagram.Parameters.Values.SelectMany(InParameter).Concat(diagram.Parts.Values.SelectMany(OfPart).Select(s => s.Name)).Distinct();

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
