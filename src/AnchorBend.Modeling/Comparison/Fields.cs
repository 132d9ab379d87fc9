using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Comparison;

/// <summary>Entries of documents compared field by field, as they are stored.</summary>
static class Fields
{
    static readonly JsonSerializerOptions Json = DocumentJson.Options(false);

    /// <summary>Fields that say where something stands and nothing else.</summary>
    static readonly HashSet<string> Places = ["x", "y", "flip", "turn", "bends", "width", "height"];

    /// <summary>Fields whose entries are values by name.</summary>
    static readonly HashSet<string> ByName = ["parameters", "values", "otherwise"];

    public static JsonNode Node<T>(T value) => JsonSerializer.SerializeToNode(value, Json)!;

    /// <param name="isValue">Whether a field is one that the model computes with.</param>
    public static List<FieldDifference> Between(JsonNode left, JsonNode right, Func<string, bool> isValue)
    {
        var result = new List<FieldDifference>();
        var (a, b) = (left.AsObject(), right.AsObject());
        foreach (var name in a.Select(p => p.Key).Concat(b.Select(p => p.Key)).Distinct())
        {
            var (before, now) = (a[name], b[name]);
            if (JsonNode.DeepEquals(before, now))
                continue;
            if (ByName.Contains(name) && (before ?? now) is JsonObject)
            {
                var (old, other) = (before as JsonObject ?? [], now as JsonObject ?? []);
                foreach (var key in old.Select(p => p.Key).Concat(other.Select(p => p.Key)).Distinct())
                    if (!JsonNode.DeepEquals(old[key], other[key]))
                        result.Add(new FieldDifference(key, Text(old[key]), Text(other[key]), true));
            }
            else
                result.Add(new FieldDifference(name, Text(before), Text(now), isValue(name)));
        }

        return result;
    }

    /// <summary>Whether something only stands elsewhere.</summary>
    public static bool OnlyPlaces(IEnumerable<FieldDifference> fields) => fields.All(f => Places.Contains(f.Field) && !f.IsValue);

    static string? Text(JsonNode? node) =>
        node switch
        {
            null => null,
            JsonValue value when value.TryGetValue<string>(out var text) => text,
            JsonArray list when list.All(e => e is JsonObject { Count: 2 } p && p.ContainsKey("x")) =>
                $"{list.Count} corner{(list.Count == 1 ? "" : "s")}",
            _ => Shortened(node.ToJsonString()),
        };

    static string Shortened(string text) => text.Length > 200 ? text[..200] + "…" : text;
}
