namespace AnchorBend.Modeling.Documents;

/// <summary>What an edit touches.</summary>
[Flags]
public enum EditEffect
{
    None = 0,

    /// <summary>The drawing alone: places, bends, captions, which signals are plotted, descriptions.</summary>
    Layout = 1,

    /// <summary>Values of parameters.</summary>
    Values = 2,

    /// <summary>What the equations are made from: parts, wires, names, units, texts.</summary>
    Structure = 4,

    /// <summary>How a run is made.</summary>
    Settings = 8,

    /// <summary>What is asked of results.</summary>
    Verification = 16,

    /// <summary>Whatever makes results of before say nothing of the model as it is now.</summary>
    Results = Values | Structure | Settings | Verification,
}

/// <summary>An edit as data: what was done, under which label, and what takes it back.</summary>
public sealed record Edit(string Label, IReadOnlyList<PatchOperation> Operations, IReadOnlyList<PatchOperation> Inverse);

/// <summary>The one place that says what an edit touches, by the place of its operations in the document.</summary>
public static class EditEffects
{
    /// <param name="isPort">Whether a type of part is a port of its level: where it stands says where it is on the level's part.</param>
    public static EditEffect Of(IEnumerable<PatchOperation> operations, ModelDocument document, Func<string, bool> isPort) =>
        operations.Aggregate(EditEffect.None, (all, operation) => all | Of(JsonPatch.Steps(operation.Path), document, isPort));

    static EditEffect Of(string[] place, ModelDocument document, Func<string, bool> isPort) =>
        place switch
        {
            ["definitions", var definition, "parts", var id, "x" or "y"] => IsPort(document, definition, id, isPort)
                ? EditEffect.Structure
                : EditEffect.Layout,
            ["definitions", _, "parts", _, "flip" or "turn"] or ["definitions", _, "parts", _, "shapes", ..] => EditEffect.Layout,
            ["definitions", _, "wires", _, "bends" or "byName", ..] => EditEffect.Layout,
            ["definitions", _, "signals", _, "probe"] => EditEffect.Layout,
            ["definitions", _, "states", _, "x" or "y" or "width" or "height"] => EditEffect.Layout,
            ["definitions", _, "transitions", _, "bends", ..] => EditEffect.Layout,
            ["definitions", _, "names", _, "description"] => EditEffect.Layout,
            ["definitions", _, "areas" or "notes" or "description" or "face", ..] => EditEffect.Layout,
            ["definitions", _, "parameters", _, "description" or "group"] => EditEffect.Layout,
            ["definitions", _, "parts", _, "parameters", _] => EditEffect.Values,
            ["definitions", _, "parameters", _, "value"] => EditEffect.Values,
            ["sheets", _, "name" or "description"] or ["sheets", _, "rows", _, "description" or "group"] => EditEffect.Layout,
            ["measures", var id, ..] when document.Requirements.Values.Any(r => r.Measure == id) => EditEffect.Verification,
            ["plotSheets" or "measures", ..] => EditEffect.Layout,
            [
                "panels"
                or "alerts"
                or "studies"
                or "tolerances"
                or "toleranceGroups"
                or "cases"
                or "caseGroups"
                or "justifications"
                or "faultTrees"
                or "deliveries",
                ..,
            ] => EditEffect.Layout,
            ["faults", _, "isActive"] => EditEffect.Values,
            ["stimuli", ..] when document.Settings.Stimulus.Length == 0 => EditEffect.Layout,
            ["operatingPoints", _, "name" or "description"] => EditEffect.Layout,
            ["operatingPoints", ..] when document.Settings.Point.Length == 0 => EditEffect.Layout,
            ["settings", "live"] => EditEffect.Layout,
            ["settings", "stimulus" or "point"] => EditEffect.Structure,
            ["settings", ..] => EditEffect.Settings,
            ["requirements", ..] => EditEffect.Verification,
            _ => EditEffect.Structure,
        };

    static bool IsPort(ModelDocument document, string definition, string id, Func<string, bool> isPort) =>
        document.Definitions.GetValueOrDefault(definition) is not DiagramDefinition diagram
        || !diagram.Parts.TryGetValue(id, out var part)
        || isPort(part.Type);
}
