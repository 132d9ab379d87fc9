using System.Text.Json.Nodes;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// Brings documents and edits of earlier formats to the present one, step by step. A step speaks the words of the two formats it stands
/// between and of no others, so it stays as it is when later ones come.
/// </summary>
public static class FormatUpgrade
{
    const string Stem = "anchor-bend-model/";

    /// <summary>The format that is written.</summary>
    public const int Present = 4;

    public static string Name(int format) => Stem + format.ToString(System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>The number of a format; null for a text that names none that can be read.</summary>
    public static int? Number(string name) =>
        name.StartsWith(Stem, StringComparison.Ordinal)
        && int.TryParse(name[Stem.Length..], System.Globalization.NumberStyles.None, null, out var number)
        && number is >= 1 and <= Present
            ? number
            : null;

    /// <summary>The document in the present format; of a document in that format the same object.</summary>
    public static JsonObject Document(JsonObject document, int from) =>
        from switch
        {
            < 2 => ThreeToFour(TwoToThree(OneToTwo(document))),
            2 => ThreeToFour(TwoToThree((JsonObject)document.DeepClone())),
            3 => ThreeToFour((JsonObject)document.DeepClone()),
            _ => document,
        };

    /// <summary>Operations that were made on a document of an earlier format, for the same document upgraded.</summary>
    public static IReadOnlyList<PatchOperation> Operations(IReadOnlyList<PatchOperation> operations, int from) =>
        from switch
        {
            < 2 => [.. operations.Select(OneToTwo).Select(TwoToThree).Select(ThreeToFour)],
            2 => [.. operations.Select(TwoToThree).Select(ThreeToFour)],
            3 => [.. operations.Select(ThreeToFour)],
            _ => operations,
        };

    /// <summary>What belonged to the one diagram of a document of format 1.</summary>
    static readonly string[] OfTheDiagram = ["name", "description", "parameters", "parts", "wires", "signals", "areas"];

    /// <summary>The one diagram becomes the root's definition, the texts it brought along become definitions beside it.</summary>
    static JsonObject OneToTwo(JsonObject one)
    {
        var main = new JsonObject { ["kind"] = "diagram" };
        var definitions = new JsonObject { ["main"] = main };
        var two = new JsonObject
        {
            ["format"] = Name(2),
            ["root"] = "main",
            ["definitions"] = definitions,
        };
        foreach (var (property, value) in one)
            if (property is not ("classes" or "format"))
                (OfTheDiagram.Contains(property) ? main : two)[property] = value?.DeepClone();
        var renamed = IdsOf(main["parts"] as JsonObject);
        foreach (var (name, text) in one["classes"] as JsonObject ?? [])
            definitions[DefinitionId(name)] = TextDefinition(name, text);
        if (main["parts"] is JsonObject parts)
        {
            foreach (var (id, part) in parts.ToList())
            {
                if (part is JsonObject node && Text(node["type"]) is { } type && one["classes"] is JsonObject own && own.ContainsKey(type))
                    node["type"] = "#" + DefinitionId(type);
                if (renamed.TryGetValue(id, out var better))
                {
                    parts.Remove(id);
                    parts[better] = part;
                }
            }
        }

        if (renamed.Count > 0)
            Rename(two, main, renamed);
        return two;
    }

    static JsonNode TextDefinition(string name, JsonNode? text)
    {
        var definition = new JsonObject { ["kind"] = "text", ["name"] = name };
        foreach (var (property, value) in text as JsonObject ?? [])
            definition[property] = value?.DeepClone();
        return definition;
    }

    static string? Text(JsonNode? node) => node is JsonValue value && value.TryGetValue<string>(out var text) ? text : null;

    static string DefinitionId(string name) => name != "main" && PartPath.IsId(name) ? name : "t-" + Plain(name);

    static string Plain(string id) => string.Concat(id.Select(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_' ? c : '-'));

    /// <summary>Other ids for parts whose ids could not stand in a path.</summary>
    static Dictionary<string, string> IdsOf(JsonObject? parts)
    {
        var renamed = new Dictionary<string, string>();
        var taken = parts?.Select(p => p.Key).ToHashSet() ?? [];
        foreach (var (id, _) in parts ?? [])
        {
            if (PartPath.IsId(id))
                continue;
            var better = Plain(id);
            for (var n = 2; better.Length == 0 || !taken.Add(better); n++)
                better = $"{Plain(id)}-{n}";
            renamed[id] = better;
        }

        return renamed;
    }

    static void Rename(JsonObject document, JsonObject main, Dictionary<string, string> renamed)
    {
        string Renamed(string key, int end) => renamed.TryGetValue(key[..end], out var better) ? better + key[end..] : key;
        foreach (var wire in (main["wires"] as JsonObject ?? []).Select(w => w.Value).OfType<JsonObject>())
        foreach (var end in (string[])["from", "to"])
            if (wire[end] is JsonObject port && Text(port["part"]) is { } id)
                port["part"] = Renamed(id, id.Length);
        if (main["signals"] is JsonObject signals)
            foreach (var (key, signal) in signals.ToList())
                if (Longest(key, renamed.Keys) is { } id)
                {
                    signals.Remove(key);
                    signals[Renamed(key, id.Length)] = signal;
                }

        foreach (var requirement in (document["requirements"] as JsonObject ?? []).Select(r => r.Value).OfType<JsonObject>())
        foreach (var property in (string[])["signal", "reference"])
            if (Text(requirement[property]) is { } signal && Longest(signal, renamed.Keys) is { } id)
                requirement[property] = Renamed(signal, id.Length);
        if ((document["settings"] as JsonObject)?["steadyParts"] is JsonArray resting)
            for (var i = 0; i < resting.Count; i++)
                if (Text(resting[i]) is { } id)
                    resting[i] = Renamed(id, id.Length);
    }

    static string? Longest(string key, IEnumerable<string> ids) =>
        ids.Where(id => key.StartsWith(id + ".", StringComparison.Ordinal)).MaxBy(id => id.Length);

    static PatchOperation OneToTwo(PatchOperation operation)
    {
        var steps = JsonPatch.Steps(operation.Path);
        return steps switch
        {
            [var first, ..] when OfTheDiagram.Contains(first) => operation with
            {
                Path = DocumentPath.Of(["definitions", "main", .. steps]),
            },
            ["classes", var name] => operation with
            {
                Path = DocumentPath.Of("definitions", DefinitionId(name)),
                Value = operation.Value is JsonObject text ? TextDefinition(name, text) : operation.Value,
            },
            ["classes", var name, .. var rest] => operation with { Path = DocumentPath.Of(["definitions", DefinitionId(name), .. rest]) },
            _ => operation,
        };
    }

    /// <summary>Parts of the catalog and some of their parameters got other names.</summary>
    static JsonObject TwoToThree(JsonObject two)
    {
        two["format"] = Name(3);
        foreach (var (_, definition) in two["definitions"] as JsonObject ?? [])
            RenameParts(definition);
        return two;
    }

    static void RenameParts(JsonNode? definition)
    {
        if (Text(definition?["text"]) is { } text)
            definition!["text"] = RenamedParts.Text(text);
        if (definition is JsonObject && definition["parts"] is JsonObject parts)
            foreach (var (_, part) in parts)
                RenamePart(part);
    }

    static void RenamePart(JsonNode? part)
    {
        if (part is not JsonObject node || Text(node["type"]) is not { } type)
            return;
        node["type"] = RenamedParts.Type(type);
        if (type.StartsWith('#') || node["parameters"] is not JsonObject parameters)
            return;
        foreach (var (name, value) in parameters.ToList())
            if (RenamedParts.Parameter(name) is var now && now != name)
            {
                parameters.Remove(name);
                parameters[now] = value;
            }
    }

    static PatchOperation TwoToThree(PatchOperation operation)
    {
        var value = operation.Value?.DeepClone();
        switch (JsonPatch.Steps(operation.Path))
        {
            case ["definitions", _]:
                RenameParts(value);
                break;
            case ["definitions", _, "parts", _]:
                RenamePart(value);
                break;
            case ["definitions", _, "parts", _, "type"] when Text(value) is { } type:
                value = RenamedParts.Type(type);
                break;
            case ["definitions", var id, "parts", var part, "parameters", var name]:
                return operation with
                {
                    Path = DocumentPath.Of("definitions", id, "parts", part, "parameters", RenamedParts.Parameter(name)),
                };
        }

        return operation with
        {
            Value = value,
        };
    }

    /// <summary>The quantities of mechanical ports got words for names.</summary>
    static JsonObject ThreeToFour(JsonObject three)
    {
        three["format"] = Name(4);
        foreach (var (_, definition) in three["definitions"] as JsonObject ?? [])
            RenameQuantities(definition);
        foreach (var (_, requirement) in three["requirements"] as JsonObject ?? [])
            RenameQuantitiesOf(requirement);
        return three;
    }

    static void RenameQuantities(JsonNode? definition)
    {
        if (Text(definition?["text"]) is { } text)
            definition!["text"] = RenamedQuantities.Text(text);
        if (definition is not JsonObject || definition["signals"] is not JsonObject signals)
            return;
        foreach (var (key, signal) in signals.ToList())
        {
            var type = (definition["parts"] as JsonObject)?[key.Split('.')[0]]?["type"];
            if (RenamedQuantities.Key(key, Text(type)) is var now && now != key && !signals.ContainsKey(now))
            {
                signals.Remove(key);
                signals[now] = signal;
            }
        }
    }

    static void RenameQuantitiesOf(JsonNode? requirement)
    {
        if (requirement is JsonObject node)
            foreach (var property in (string[])["signal", "reference"])
                if (Text(node[property]) is { } signal)
                    node[property] = RenamedQuantities.Key(signal, null);
    }

    static PatchOperation ThreeToFour(PatchOperation operation)
    {
        var value = operation.Value?.DeepClone();
        switch (JsonPatch.Steps(operation.Path))
        {
            case ["definitions", _]:
                RenameQuantities(value);
                break;
            case ["definitions", _, "text"] when Text(value) is { } text:
                value = RenamedQuantities.Text(text);
                break;
            case ["definitions", var id, "signals", var key, .. var rest]:
                return operation with { Path = DocumentPath.Of(["definitions", id, "signals", RenamedQuantities.Key(key, null), .. rest]) };
            case ["requirements", _]:
                RenameQuantitiesOf(value);
                break;
            case ["requirements", _, "signal" or "reference"] when Text(value) is { } signal:
                value = RenamedQuantities.Key(signal, null);
                break;
        }

        return operation with
        {
            Value = value,
        };
    }
}
