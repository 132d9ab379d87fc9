using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>Bundles of a diagram as components of its class, and what is told of their members before anything is put together.</summary>
sealed class BundleParts(DiagramDefinition diagram, PartCatalog catalog, List<Finding> findings)
{
    /// <summary>The class of a part, which for bundles is the type that they name.</summary>
    public string ClassOf(PartNode part, ClassDefinition type)
    {
        if (!BundlePart.Is(type))
            return part.Type;
        var declared = BundlePart.ClassOf(part, catalog);
        if (declared == part.Type && part.Parameters.GetValueOrDefault(BundlePart.Declared) is { Length: > 0 } missing)
            findings.Add(
                new Finding(
                    Severity.Error,
                    "bundle-type",
                    $"There is no bundle type '{DocumentLimits.Short(missing)}' in this model.",
                    part.Name,
                    BundlePart.Declared,
                    Suggestion: "Choose another type, or free members."
                )
            );
        return declared;
    }

    /// <summary>Members that a part joins and nothing is wired to; those of a type are told with the type.</summary>
    public void FindUnwired(string partId, PartNode part, ClassDefinition type)
    {
        if (!BundlePart.Is(type) || !BundlePart.Joins(type) || BundlePart.TypeOf(part, catalog) is not null)
            return;
        var wired = diagram
            .Wires.Values.SelectMany(w => (PortReference[])[w.From, w.To])
            .Where(e => e.Part == partId)
            .Select(e => e.Port)
            .ToHashSet();
        var open = BundlePart.Members(part, type).Where(m => !wired.Contains(m)).Select(m => $"'{m}'").ToList();
        if (open.Count > 0)
            findings.Add(
                new Finding(
                    Severity.Warning,
                    "unwired-member",
                    $"Nothing is wired to {string.Join(", ", open)} of '{part.Name}'.",
                    part.Name,
                    BundlePart.List,
                    Suggestion: "Wire a signal to each name, or take the name away."
                )
                {
                    Place = PartPath.Root.Then(partId),
                }
            );
    }

    /// <summary>A name in the list of members that cannot be one.</summary>
    public void FindUnusable(PartNode part, ClassDefinition type)
    {
        if (BundlePart.Unusable(part, type) is not { } wrong)
            return;
        var isWord = Lexer.ReservedWords.Contains(wrong);
        findings.Add(
            new Finding(
                Severity.Error,
                "bundle-member",
                isWord
                    ? $"'{wrong}' is a word of the equation language, so it cannot be the name of a member."
                    : $"'{wrong}' cannot be the name of a member.",
                part.Name,
                BundlePart.List,
                Suggestion: isWord ? $"Try {wrong}_1." : "Take letters, digits and underscores, and a letter first."
            )
        );
    }
}
