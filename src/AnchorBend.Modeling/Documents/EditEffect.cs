namespace AnchorBend.Modeling.Documents;

/// <summary>What an edit touches, by the place of its operations in the document.</summary>
public static class EditEffect
{
    /// <summary>Whether results of the model as it was before say nothing of it as it is now.</summary>
    public static bool ChangesResults(IEnumerable<PatchOperation> operations) => operations.Any(o => !IsDrawing(JsonPatch.Steps(o.Path)));

    /// <summary>Where a part stands, how a wire bends, which signals are plotted, captions.</summary>
    static bool IsDrawing(string[] place) =>
        place switch
        {
            ["parts", _, "x" or "y" or "flip"] => true,
            ["wires", _, "bends", ..] => true,
            ["signals", _, "probe"] => true,
            ["areas", ..] or ["description"] or ["parameters", _, "description"] => true,
            ["settings", "live"] => true,
            _ => false,
        };
}
