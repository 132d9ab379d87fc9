using System.Text.Json.Nodes;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// What a document says of its signals and parts elsewhere: requirements and parts at rest. They are kept by identity (a part's id, or
/// <c>partId.port</c>), so that renaming breaks none; documents from before, and texts, name them.
/// </summary>
public static class DocumentReferences
{
    /// <summary>Puts identities in the places of names, as far as these are known.</summary>
    public static void Identify(JsonNode document)
    {
        if (document["parts"] is not JsonObject parts)
            return;
        Names? names = null;
        if (document["requirements"] is JsonObject requirements)
            foreach (var requirement in requirements.Select(r => r.Value).OfType<JsonObject>())
            foreach (var property in (string[])["signal", "reference"])
                if (
                    Text(requirement[property]) is { } text
                    && (names ??= new Names(document, parts)).Signal(text) is { } key
                    && key != text
                )
                    requirement[property] = key;
        if (document["settings"] is not JsonObject settings || settings["steadyParts"] is not JsonArray resting)
            return;
        for (var i = 0; i < resting.Count; i++)
            if (Text(resting[i]) is { } name && !parts.ContainsKey(name) && (names ??= new Names(document, parts)).Part(name) is { } id)
                resting[i] = id;
    }

    static string? Text(JsonNode? node) => node is JsonValue value && value.TryGetValue<string>(out var text) ? text : null;

    /// <summary>Ids and keys by name.</summary>
    sealed class Names
    {
        readonly JsonObject parts;
        readonly Dictionary<string, string> partIds = [],
            signalKeys = [];

        public Names(JsonNode document, JsonObject parts)
        {
            this.parts = parts;
            foreach (var (id, part) in parts)
                if (Text((part as JsonObject)?["name"]) is { } name)
                    partIds.TryAdd(name, id);
            foreach (var (key, signal) in document["signals"] as JsonObject ?? [])
                if (Text((signal as JsonObject)?["name"]) is { Length: > 0 } name)
                    signalKeys.TryAdd(name, key);
        }

        public string? Part(string name) => partIds.GetValueOrDefault(name);

        public string? Signal(string text)
        {
            var dot = text.IndexOf('.', StringComparison.Ordinal);
            if (dot > 0 && parts.ContainsKey(text[..dot]))
                return text;
            if (signalKeys.TryGetValue(text, out var key))
                return key;
            // Names of parts may hold dots themselves.
            for (; dot > 0; dot = text.IndexOf('.', dot + 1))
                if (partIds.TryGetValue(text[..dot], out var id))
                    return id + text[dot..];
            return null;
        }
    }

    /// <summary>The path in the flat model that a reference stands for: of a part's port by identity, or the name itself.</summary>
    public static string PathOf(ModelDocument document, string reference)
    {
        var dot = reference.IndexOf('.', StringComparison.Ordinal);
        return dot > 0 && document.Parts.TryGetValue(reference[..dot], out var part) ? part.Name + reference[dot..] : reference;
    }

    /// <summary>Requirements and parts at rest that speak of what is not there.</summary>
    public static IEnumerable<Finding> Broken(ModelDocument document, Func<string, bool> isSignal)
    {
        foreach (var requirement in document.Requirements.Values)
        foreach (var (what, reference) in ((string, string?)[])[("signal", requirement.Signal), ("set-point", requirement.Reference)])
            if (reference is { Length: > 0 } && !isSignal(PathOf(document, reference)))
                yield return new Finding(
                    Severity.Warning,
                    "broken-reference",
                    $"The {what} of the requirement '{requirement.Name}' is not in the model, so it is not judged.",
                    "",
                    requirement.Name,
                    Suggestion: "Choose another signal in Verify, or remove the requirement."
                );
        foreach (var part in document.Settings.SteadyParts ?? [])
            if (!document.Parts.ContainsKey(part))
                yield return new Finding(
                    Severity.Warning,
                    "broken-reference",
                    $"A part that should start at rest is not in the model{(part.Length < 30 ? $": {part}" : "")}.",
                    "",
                    "run settings",
                    Suggestion: "Choose the parts at rest anew in the run settings."
                );
    }
}
