using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace AnchorBend.Modeling.Documents;

/// <summary>Documents as JSON: how they are written, and what is told of a text that is none.</summary>
public static class DocumentJson
{
    static readonly JsonSerializerOptions Compact = Options(false),
        Indented = Options(true);

    static readonly JsonDocumentOptions Strict = new() { MaxDepth = 32, AllowDuplicateProperties = false };

    /// <summary>How documents are written: camel case, nulls left out, enumerations as words.</summary>
    public static JsonSerializerOptions Options(bool indented) =>
        new(JsonSerializerDefaults.Web)
        {
            WriteIndented = indented,
            DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
            MaxDepth = 32,
            PropertyNameCaseInsensitive = false,
            AllowDuplicateProperties = false,
            AllowOutOfOrderMetadataProperties = true,
            UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
            RespectNullableAnnotations = true,
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        };

    /// <summary>The JSON schema (draft 2020-12) of documents of the present format, made from the types.</summary>
    public static JsonNode Schema()
    {
        var options = new JsonSerializerOptions(Indented) { TypeInfoResolver = new DefaultJsonTypeInfoResolver() };
        var schema = options.GetJsonSchemaAsNode(
            typeof(ModelDocument),
            new JsonSchemaExporterOptions { TreatNullObliviousAsNonNullable = true }
        );
        schema.AsObject().Insert(0, "$schema", "https://json-schema.org/draft/2020-12/schema");
        schema.AsObject().Insert(1, "title", ModelDocument.CurrentFormat);
        return schema;
    }

    public static string Write(ModelDocument document, bool indented) => JsonSerializer.Serialize(document, indented ? Indented : Compact);

    /// <summary>Reads a document of any format so far.</summary>
    /// <exception cref="DocumentException">The text is not a document, or one of a later format.</exception>
    public static ModelDocument Read(string json) => Read(Upgraded(Understood(() => JsonNode.Parse(json, null, Strict))));

    /// <summary>Reads a document of the present format.</summary>
    /// <exception cref="DocumentException">It is not one.</exception>
    public static ModelDocument Read(JsonNode document) =>
        DocumentLimits.Checked(
            Understood(() => document.Deserialize<ModelDocument>(Compact)) ?? throw new DocumentException("The document is empty.")
        );

    /// <summary>Reads one entry of a document, as an edit changed it.</summary>
    /// <exception cref="DocumentException">It is none.</exception>
    internal static T Entry<T>(JsonNode? entry)
        where T : class =>
        Understood(() => entry?.Deserialize<T>(Compact)) ?? throw new DocumentException("A value is null that must not be.");

    /// <summary>What a reader has to say against a text, in our words.</summary>
    static T Understood<T>(Func<T> read)
    {
        try
        {
            return read();
        }
        catch (JsonException e)
        {
            throw new DocumentException("This is not a model document. " + Explain(e));
        }
        catch (NotSupportedException)
        {
            throw new DocumentException("This is not a model document. A definition has a kind: diagram or text.");
        }
        catch (InvalidOperationException)
        {
            // A tree of values tells of its depth otherwise than a text does.
            throw new DocumentException("This is not a model document. It is nested too deep.");
        }
    }

    /// <summary>A document of any format in the present one, with identities in the places of names.</summary>
    /// <exception cref="DocumentException">It has no format that can be read.</exception>
    public static JsonObject Upgraded(JsonNode? node)
    {
        if (node is not JsonObject document)
            throw new DocumentException("This is not a model document: it begins with a list or a value, not with an object.");
        var upgraded = FormatUpgrade.Document(document, FormatOf(document));
        DocumentReferences.Identify(upgraded);
        return upgraded;
    }

    /// <summary>What a later format holds is not looked at: its own words would make no sense.</summary>
    public static int FormatOf(JsonObject document)
    {
        if (!document.TryGetPropertyValue("format", out var value))
            return document.ContainsKey("definitions") ? FormatUpgrade.Present : 1;
        if (value is not JsonValue text || !text.TryGetValue<string>(out var format))
            throw new DocumentException("This is not a model document: its format is no text.");
        return FormatUpgrade.Number(format)
            ?? throw new DocumentException(
                $"The format is '{DocumentLimits.Short(format)}'; this version reads up to '{ModelDocument.CurrentFormat}'."
            );
    }

    /// <summary>The reader's reason without its names of types.</summary>
    static string Explain(JsonException e)
    {
        var at = e.Path is { Length: > 1 } path ? $"At {DocumentLimits.Short(path)}: " : "";
        return e.Message switch
        {
            var m when m.Contains("could not be mapped", StringComparison.Ordinal) =>
                $"{at}there is no property of this name in a document.",
            var m when m.Contains("missing required", StringComparison.Ordinal) =>
                $"{at}something is missing: {Between(m, "including: ", ".")}.",
            var m when m.Contains("Duplicate", StringComparison.OrdinalIgnoreCase) => $"{at}a property is given twice.",
            var m when m.Contains("could not be converted", StringComparison.Ordinal) =>
                $"{at}a value is of another kind than is needed there.",
            var m when m.Contains("null values", StringComparison.Ordinal) => $"{at}a value is null that must not be.",
            var m when m.Contains("depth", StringComparison.Ordinal) => "It is nested too deep.",
            _ => e.LineNumber is { } line ? $"It is no JSON at line {line + 1}, byte {e.BytePositionInLine + 1}." : "It is no JSON.",
        };
    }

    static string Between(string text, string start, string end)
    {
        var from = text.IndexOf(start, StringComparison.Ordinal);
        if (from < 0)
            return "a property";
        from += start.Length;
        var to = text.IndexOf(end, from, StringComparison.Ordinal);
        return to < 0 ? text[from..] : text[from..to];
    }
}
