namespace AnchorBend.Modeling.Documents;

/// <summary>Which parameters of the flat model an edit of values sets, so that a prepared model can take them as they are.</summary>
public static class ParameterEdits
{
    /// <summary>
    /// Path in the flat model and text for each place where the edited definition is used; nothing for an operation that is about no
    /// value. Null where the edit must be looked at anew: a value was taken away, or a part above sets it from outside.
    /// </summary>
    /// <param name="document">The document after the edit.</param>
    public static IReadOnlyList<(string Path, string Text)>? Of(ModelDocument document, PatchOperation operation)
    {
        if (JsonPatch.Steps(operation.Path) is ["faults", var fault, "isActive"])
            return OfFault(document, fault);
        var (definition, inner, text) = JsonPatch.Steps(operation.Path) switch
        {
            ["definitions", var id, "parts", var part, "parameters", var name] => (
                id,
                InPart(document, id, part, name),
                Text(document, id, part, name)
            ),
            ["definitions", var id, "parameters", var name, "value"] => (id, name, Shared(document, id, name)),
            _ => ("", null, null),
        };
        if (definition.Length == 0)
            return [];
        if (operation.Op is not ("add" or "replace") || inner is null || text is null || SetsFromOutside(document, definition))
            return null;
        var paths = new List<(string, string)>();
        foreach (var use in document.UsesOf(definition))
        {
            if (document.NamePath(use) is not { } path)
                return null;
            paths.Add((path.Length == 0 ? inner : $"{path}.{inner}", text));
        }

        return paths;
    }

    /// <summary>Null where the fault has a schedule, which its switch cannot follow by a value.</summary>
    static (string Path, string Text)[]? OfFault(ModelDocument document, string id) =>
        document.Faults.GetValueOrDefault(id) is { Times: null or "" } fault && FaultyParts.SwitchName(document, id) is { } name
            ? [($"{name}.k", fault.IsActive ? "true" : "false")]
            : null;

    static DiagramDefinition? Diagram(ModelDocument document, string id) => document.Definitions.GetValueOrDefault(id) as DiagramDefinition;

    static string? InPart(ModelDocument document, string id, string part, string name) =>
        Diagram(document, id)?.Parts.GetValueOrDefault(part) is { } node ? $"{node.Name}.{name}" : null;

    static string? Text(ModelDocument document, string id, string part, string name) =>
        Diagram(document, id)?.Parts.GetValueOrDefault(part)?.Parameters.GetValueOrDefault(name);

    static string? Shared(ModelDocument document, string id, string name) =>
        Diagram(document, id)?.Parameters.GetValueOrDefault(name)?.Value;

    /// <summary>
    /// Whether parts of the definition may set what is inside it: its face by name, or parts further in by a path with dots.
    /// </summary>
    static bool SetsFromOutside(ModelDocument document, string definition) =>
        definition != document.Root
        && document
            .Definitions.Values.OfType<DiagramDefinition>()
            .SelectMany(d => d.Parts.Values)
            .Any(p => p.Parameters.Count > 0 && DefinitionReference.Parse(p.Type).IsOwn);
}
