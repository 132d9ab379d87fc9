using System.Globalization;
using AnchorBend.Language.Terms;

namespace AnchorBend.Modeling.Documents;

/// <summary>Parts that exchange units compute: each gets a number of its own, by which its equations call it.</summary>
public static class UnitParts
{
    /// <summary>The parameter that has the number.</summary>
    public const string Number = "unit";

    /// <param name="findings">Is told what cannot run.</param>
    public static ModelDocument Of(ModelDocument document, List<Finding> findings)
    {
        var units = document
            .Definitions.Where(d => d.Value is TextDefinition { Unit: not null })
            .ToDictionary(d => d.Key, d => (TextDefinition)d.Value);
        if (units.Count == 0)
            return document;
        var definitions = new Dictionary<string, Definition>(document.Definitions);
        var (used, count) = (Uses(document), 0L);
        foreach (var (id, definition) in document.Definitions)
        {
            if (definition is not DiagramDefinition diagram || used.GetValueOrDefault(id) == 0)
                continue;
            var parts = new Dictionary<string, PartNode>(diagram.Parts);
            foreach (var (key, part) in diagram.Parts)
            {
                if (DefinitionReference.Parse(part.Type) is not { IsOwn: true, Key: var type } || !units.TryGetValue(type, out var unit))
                    continue;
                if (used[id] > 1)
                    findings.Add(
                        Found(
                            part,
                            "linked",
                            $"is in the model {used[id]} times, as its level is used so often",
                            "Make that level independent."
                        )
                    );
                var kind = OutsideUnits.KindOf(unit.Unit!);
                if (!OutsideUnits.IsOffered(kind))
                    findings.Add(
                        Found(
                            part,
                            "unit",
                            "is computed by an exchange unit that is not at hand",
                            "Import it again, or open the file that brings it."
                        )
                    );
                if (count == OutsideUnits.PerOffer - 1)
                    findings.Add(Found(part, "unit", $"is one of more than {count} exchange units", "Take some out."));
                var number = kind * OutsideUnits.PerOffer + Math.Min(count++, OutsideUnits.PerOffer - 1);
                parts[key] = part with { Parameters = new(part.Parameters) { [Number] = number.ToString(CultureInfo.InvariantCulture) } };
            }

            definitions[id] = diagram with { Parts = parts };
        }

        return document with
        {
            Definitions = definitions,
        };
    }

    static Finding Found(PartNode part, string code, string what, string advice) =>
        new(Severity.Error, code, $"'{part.Name}' {what}.", part.Name, null, Suggestion: advice);

    /// <summary>How often each diagram is in the model.</summary>
    static Dictionary<string, long> Uses(ModelDocument document)
    {
        var uses = new Dictionary<string, long>();
        Walk(document.Root, 1);
        return uses;

        // Definitions are not in themselves, which is checked where they are read.
        void Walk(string id, int depth)
        {
            uses[id] = uses.GetValueOrDefault(id) + 1;
            if (depth > MostDepth || uses[id] > MostUses || document.Definitions.GetValueOrDefault(id) is not DiagramDefinition diagram)
                return;
            foreach (var part in diagram.Parts.Values)
                if (DefinitionReference.Parse(part.Type) is { IsOwn: true, Key: var inner })
                    Walk(inner, depth + 1);
        }
    }

    const int MostDepth = 100;

    const long MostUses = 10_000;
}
