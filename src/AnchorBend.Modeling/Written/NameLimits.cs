using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Written;

/// <summary>What the names of a definition may be.</summary>
static class NameLimits
{
    public const int Most = 1000;

    const int LongestText = 10_000;

    /// <exception cref="DocumentException">There are more, or one is broken.</exception>
    public static void Check(WrittenDefinition definition)
    {
        if (definition.Names is null)
            throw new DocumentException("A collection of the document is null.");
        DocumentLimits.AtMost($"names in {definition.Name}", definition.Names.Count, Most);
        var known = new HashSet<string>();
        foreach (var (id, name) in definition.Names)
        {
            if (name?.Name is null || name.Type is null || !PartPath.IsId(id) || !Enum.IsDefined(name.Kind) || !double.IsFinite(name.Order))
                throw new DocumentException($"The name '{DocumentLimits.Short(id)}' of {definition.Name} is incomplete.");
            DocumentLimits.Within(name.Name, DocumentLimits.LongestName, "A name");
            if (!known.Add(name.Name))
                throw new DocumentException($"{definition.Name} has two names '{DocumentLimits.Short(name.Name)}'.");
            foreach (var text in (string?[])[name.Type, name.Unit, name.Start, name.Description])
                DocumentLimits.Within(text, LongestText, "A text of a name");
        }
    }
}
