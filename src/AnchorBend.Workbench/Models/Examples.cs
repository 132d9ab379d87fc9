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

    /// <summary>Puts all of them into a store, so that the first ones stand first.</summary>
    public static void Fill(IModelStore store)
    {
        foreach (var (_, document) in All().OrderByDescending(e => e.Key, StringComparer.Ordinal))
            store.Create(document);
    }
}
