using System.Collections.Concurrent;
using System.Reflection;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Modeling.Catalog;

/// <summary>The library's parts: their classes and what the interface shows of them. Loaded once; every file parses on its own.</summary>
public sealed class PartCatalog : IClassSource
{
    static readonly Lazy<PartCatalog> Shared = new(() => new PartCatalog(typeof(Library.LibraryMarker).Assembly));

    readonly Dictionary<string, ClassDefinition> classes = [];
    readonly List<string> order = [];
    readonly ConcurrentDictionary<string, PartDescription> descriptions = new();

    PartCatalog(Assembly library)
    {
        foreach (var resource in library.GetManifestResourceNames().Where(n => n.EndsWith(".mo", StringComparison.Ordinal)).Order(StringComparer.Ordinal))
        {
            using var reader = new StreamReader(library.GetManifestResourceStream(resource)!);
            var source = reader.ReadToEnd();
            var (parsed, errors) = Parser.ParseFile(source);
            if (errors.Count > 0) throw new InvalidDataException($"{resource}: {errors[0]}");
            foreach (var definition in parsed)
            {
                classes.Add(definition.Name, definition);
                order.Add(definition.Name);
            }
        }
    }

    /// <summary>The catalog shipped with the product.</summary>
    public static PartCatalog Standard => Shared.Value;

    public ClassDefinition? Find(string name) => classes.GetValueOrDefault(name);

    public IEnumerable<string> Names => order;

    /// <summary>The parts that can be placed, in the order of their groups and names.</summary>
    public IEnumerable<PartDescription> Parts => order.Where(IsPlaceable).Select(Describe);

    bool IsPlaceable(string name) => classes[name] is { IsPartial: false } c && c.Annotation?.Argument("__AnchorBend")?.Value.Argument("group") is not null;

    /// <summary>What the interface shows of one part.</summary>
    public PartDescription Describe(string name) => descriptions.GetOrAdd(name, n => PartDescription.Of(classes[n], this));
}
