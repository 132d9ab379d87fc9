using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>Whether the realisations of a slot fit its ports and its face; what does not is told with what would mend it.</summary>
sealed class SlotFit(string definition, DiagramDefinition diagram, PartCatalog catalog, NamesFromAbove above)
{
    public IEnumerable<Finding> Findings()
    {
        foreach (var alternative in Slots.Of(diagram))
        {
            var name = alternative.Name;
            if (alternative.Parts.Count == 0)
            {
                yield return new Finding(
                    Severity.Warning,
                    "alternative-empty",
                    $"The alternative '{name}' of {diagram.Name} has no parts.",
                    "",
                    diagram.Slot,
                    Suggestion: "Add a realisation, or take the alternative away."
                );
                continue;
            }

            foreach (var (port, node) in Ports)
                if (!diagram.Wires.Values.Any(w => Joins(w, port, alternative)))
                    yield return Unwired(alternative, port, node);
            foreach (var face in diagram.Parameters.Where(p => p.Key != diagram.Slot && !p.Value.IsDerived).Select(p => p.Key))
                if (!alternative.Parts.Any(p => Spoken(diagram.Parts[p]).Contains(face)) && Unasked(alternative, face) is { } finding)
                    yield return finding;
        }
    }

    IEnumerable<(string Id, PartNode Node)> Ports =>
        diagram.Parts.Where(p => PortPart.KindOf(catalog.Find(p.Value.Type)) is not null).Select(p => (p.Key, p.Value));

    static bool Joins(WireNode wire, string port, Alternative alternative) =>
        wire.From.Part == port && alternative.Parts.Contains(wire.To.Part)
        || wire.To.Part == port && alternative.Parts.Contains(wire.From.Part);

    IEnumerable<string> Spoken(PartNode part)
    {
        var names = part.Texts.SelectMany(t => ParameterUses.Names(t.Text));
        return DefinitionReference.Parse(part.Type) is { IsOwn: true, Key: var inner } ? names.Concat(above.Of(inner)) : names;
    }

    Finding Unwired(Alternative alternative, string port, PartNode node)
    {
        var part = alternative.Parts[0];
        var fits = AlternativePorts.Match(diagram, catalog, part).GetValueOrDefault(port);
        var finding = new Finding(
            Severity.Warning,
            "alternative-port",
            $"The alternative '{alternative.Name}' of {diagram.Name} has nothing at the port '{node.Name}'.",
            diagram.Parts[part].Name,
            null,
            Suggestion: "Wire it, or give the realisation such a port."
        )
        {
            Place = PartPath.Root.Then(part),
        };
        if (fits is null)
            return finding;
        var wire = AlternativePorts.Wire(catalog, node, port, new PortReference(part, fits));
        var id = "w" + port + part;
        return finding with
        {
            Fix = new FindingFix(
                $"Wire '{node.Name}' to '{fits}'",
                [new PatchOperation("add", DocumentPath.Wire(definition, id), System.Text.Json.JsonSerializer.SerializeToNode(wire, Json))]
            ),
        };
    }

    static readonly System.Text.Json.JsonSerializerOptions Json = DocumentJson.Options(false);

    Finding? Unasked(Alternative alternative, string face)
    {
        var part = alternative.Parts.FirstOrDefault(p =>
            catalog.Find(diagram.Parts[p].Type) is not null && catalog.Describe(diagram.Parts[p].Type).Parameters.Any(f => f.Name == face)
        );
        if (part is null)
            return null;
        return new Finding(
            Severity.Information,
            "alternative-face",
            $"'{face}' on the face of {diagram.Name} does not reach the alternative '{alternative.Name}', which has a '{face}' of its own.",
            diagram.Parts[part].Name,
            face
        )
        {
            Place = PartPath.Root.Then(part),
            Fix = new FindingFix(
                $"Hand '{face}' on",
                [
                    new PatchOperation(
                        "add",
                        DocumentPath.Of("definitions", definition, "parts", part, "parameters", face),
                        Language.Syntax.ExpressionText.Name(face)
                    ),
                ]
            ),
        };
    }
}
