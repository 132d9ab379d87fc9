using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Models;

/// <summary>The models that ship with the product, by file name.</summary>
public static class Examples
{
    public static IReadOnlyDictionary<string, ModelDocument> All()
    {
        var assembly = typeof(Examples).Assembly;
        var result = new SortedDictionary<string, ModelDocument>(StringComparer.Ordinal);
        foreach (var name in assembly.GetManifestResourceNames().Where(n => n.StartsWith("examples/", StringComparison.Ordinal)))
        {
            using var reader = new StreamReader(assembly.GetManifestResourceStream(name)!);
            result[Path.GetFileNameWithoutExtension(name)] = ModelDocument.FromJson(reader.ReadToEnd());
        }

        return result;
    }
}
