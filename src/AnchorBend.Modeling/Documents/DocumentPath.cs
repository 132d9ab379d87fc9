namespace AnchorBend.Modeling.Documents;

/// <summary>Places in a document as JSON Pointers (RFC 6901), for edits that the server proposes.</summary>
public static class DocumentPath
{
    public static string Of(params ReadOnlySpan<string> steps)
    {
        var text = new System.Text.StringBuilder();
        foreach (var step in steps)
            text.Append('/').Append(JsonPatch.Escape(step));
        return text.ToString();
    }

    public static string Part(string definition, string id) => Of("definitions", definition, "parts", id);

    public static string Wire(string definition, string id) => Of("definitions", definition, "wires", id);
}
