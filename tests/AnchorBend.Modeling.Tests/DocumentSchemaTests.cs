using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Tests;

/// <summary>The schema in docs/ is that of the types; <c>ANCHOR_BEND_GOLDEN=write</c> writes it anew.</summary>
public class DocumentSchemaTests
{
    static readonly JsonSerializerOptions Indented = new() { WriteIndented = true };

    static string Docs()
    {
        var folder = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(folder, "AnchorBend.slnx")))
            folder = Path.GetDirectoryName(folder)!;
        return Path.Combine(folder, "docs", "model-document.schema.json");
    }

    [Fact]
    public void The_schema_that_is_kept_is_that_of_the_types()
    {
        var schema = DocumentJson.Schema().ToJsonString(Indented) + "\n";
        if (Environment.GetEnvironmentVariable("ANCHOR_BEND_GOLDEN") == "write")
            File.WriteAllText(Docs(), schema);
        Assert.Equal(File.ReadAllText(Docs()), schema);
    }

    [Fact]
    public void Every_property_of_an_example_is_in_the_schema()
    {
        var schema = JsonNode.Parse(File.ReadAllText(Docs()))!;
        foreach (var file in Directory.GetFiles(Path.Combine(Path.GetDirectoryName(Docs())!, "..", "examples"), "*.json"))
            Check(schema, schema, JsonNode.Parse(ModelDocument.FromJson(File.ReadAllText(file)).ToJson())!, Path.GetFileName(file));
    }

    /// <summary>Walks a value along its schema: objects have known properties and all required ones.</summary>
    static void Check(JsonNode root, JsonNode schema, JsonNode? value, string path)
    {
        schema = Resolved(root, schema, value);
        if (value is JsonArray list)
            foreach (var (i, item) in list.Index())
                Check(root, schema["items"]!, item, $"{path}[{i}]");
        if (value is not JsonObject entries)
            return;
        foreach (var required in schema["required"] as JsonArray ?? [])
            Assert.True(entries.ContainsKey(required!.GetValue<string>()), $"{path} lacks {required}");
        foreach (var (name, entry) in entries)
        {
            var inner = schema["properties"]?[name] ?? schema["additionalProperties"];
            Assert.True(inner is JsonObject, $"{path}: {name} is not in the schema");
            Check(root, inner!, entry, $"{path}/{name}");
        }
    }

    static JsonNode Resolved(JsonNode root, JsonNode schema, JsonNode? value)
    {
        if (schema["$ref"]?.GetValue<string>() is { } reference)
            return Resolved(
                root,
                reference[2..].Split('/', StringSplitOptions.RemoveEmptyEntries).Aggregate(root, (n, step) => Step(n, step)),
                value
            );
        if (schema["anyOf"] is not JsonArray choices)
            return schema;
        var kind = value?["kind"]?.GetValue<string>();
        return choices.First(c => c!["properties"]?["kind"]?["const"]?.GetValue<string>() == kind)!;
    }

    static JsonNode Step(JsonNode node, string step)
    {
        var name = Uri.UnescapeDataString(step).Replace("~1", "/", StringComparison.Ordinal).Replace("~0", "~", StringComparison.Ordinal);
        return node is JsonArray list ? list[int.Parse(name, System.Globalization.CultureInfo.InvariantCulture)]! : node[name]!;
    }
}
