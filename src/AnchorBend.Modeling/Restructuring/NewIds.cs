using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>Ids and names that nothing in a model has yet.</summary>
static class NewIds
{
    public static string In<T>(IReadOnlyDictionary<string, T> taken, string letter)
    {
        for (var n = taken.Count + 1; ; n++)
            if (!taken.ContainsKey($"{letter}{n}"))
                return $"{letter}{n}";
    }

    public static string Definition(ModelDocument document) => In(document.Definitions, "d");

    public static string DefinitionName(ModelDocument document, string wanted) =>
        Name(wanted, document.Definitions.Values.Select(d => d.Name).ToHashSet());

    /// <summary>The wanted name, with a number where it is taken.</summary>
    public static string Name(string wanted, ISet<string> taken)
    {
        if (!taken.Contains(wanted))
            return wanted;
        var stem = wanted.TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9', ' ');
        for (var n = 2; ; n++)
            if (!taken.Contains($"{stem} {n}"))
                return $"{stem} {n}";
    }
}
