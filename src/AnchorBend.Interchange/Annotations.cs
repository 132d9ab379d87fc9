using System.Text.Json;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Interchange;

/// <summary>What our vendor annotation says, read back.</summary>
static class Annotations
{
    public static Modification? Ours(Modification? annotation) => annotation?.Argument("__AnchorBend")?.Value;

    public static IReadOnlyList<string> Strings(Modification? annotation, string name) =>
        annotation?.Argument(name)?.Value.Binding switch
        {
            StringLiteral s => [s.Value],
            ArrayLiteral a => [.. a.Elements.OfType<StringLiteral>().Select(s => s.Value)],
            _ => [],
        };

    public static IEnumerable<(string Key, T Value)> Entries<T>(Modification? annotation, string name)
    {
        foreach (var entry in Strings(annotation, name))
        {
            var cut = entry.IndexOf(": {", StringComparison.Ordinal);
            if (cut > 0)
                yield return (entry[..cut], Parsed<T>(entry[(cut + 2)..]));
        }
    }

    public static T Parsed<T>(string json)
    {
        try
        {
            return JsonSerializer.Deserialize<T>(json, TextExport.Json)
                ?? throw new DocumentException("An annotation of the text is empty.");
        }
        catch (JsonException e)
        {
            throw new DocumentException($"An annotation of the text cannot be read: {e.Message}");
        }
    }

    public static string? Text(Modification? annotation, string name) => Strings(annotation, name) is [var text, ..] ? text : null;
}
