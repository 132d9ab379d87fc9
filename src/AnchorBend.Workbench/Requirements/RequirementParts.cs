using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Rules;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Requirements;

/// <summary>The parts that requirements are about: those whose signals they speak of, and those that somebody named.</summary>
public static class RequirementParts
{
    /// <summary>By requirement: the parts as people call them, in the order of the model's names.</summary>
    public static IReadOnlyDictionary<string, IReadOnlyList<string>> All(ModelDocument document, PreparedModel prepared) =>
        document.Requirements.ToDictionary(
            r => r.Key,
            r => (IReadOnlyList<string>)[.. Of(document, prepared, r.Value).Distinct().Order(StringComparer.Ordinal)]
        );

    static IEnumerable<string> Of(ModelDocument document, PreparedModel prepared, RequirementNode requirement)
    {
        foreach (var path in requirement.Parts ?? [])
            if (PartPath.TryParse(path, out var named) && document.NamePath(named) is { Length: > 0 } name)
                yield return name;
        foreach (var signal in SignalsOf(document, requirement))
            if (prepared.Find(signal) is { } variable && prepared.Map.Around(Inner(variable.Name)) is { } place)
                yield return document.NamePath(place.Path) ?? prepared.Map.NameOf(place.Path)!;
    }

    static string Inner(string name) => name.StartsWith("der(", StringComparison.Ordinal) ? name[4..].TrimEnd(')') : name;

    static IEnumerable<string> SignalsOf(ModelDocument document, RequirementNode requirement)
    {
        if (requirement.Rule is { } rule)
            return Named(rule, RuleParser.NamesIn);
        if (requirement.Measure is { } measure)
            return document.Measures.TryGetValue(measure, out var of) ? Named(of.Expression, Parser.NamesInMeasure) : [];
        return ((string?[])[requirement.Signal, requirement.Reference]).OfType<string>().Where(s => s.Length > 0);
    }

    static IEnumerable<string> Named(string text, Func<string, IReadOnlyList<NameInText>> namesIn)
    {
        try
        {
            return namesIn(text).Select(n => string.Join('.', n.Steps));
        }
        catch (LanguageException)
        {
            // It says itself what is wrong with it.
            return [];
        }
    }
}
