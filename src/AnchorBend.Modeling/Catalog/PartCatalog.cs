using System.Collections.Concurrent;
using System.Reflection;
using System.Text.RegularExpressions;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Modeling.Catalog;

/// <summary>
/// Parts that can be placed: their classes, their texts, and what the interface shows of them. The product's own catalog is one for all,
/// read part by part; a user's parts stand in front of it in a catalog of their own.
/// </summary>
public sealed partial class PartCatalog : IClassSource
{
    /// <summary>Group of parts that name none.</summary>
    public const string OwnGroup = "Own parts";

    const int MostParsed = 500;

    static readonly Lazy<PartCatalog> Shared = new(() => new PartCatalog(typeof(Library.LibraryMarker).Assembly));
    static readonly ConcurrentDictionary<string, (IReadOnlyList<ClassDefinition> Classes, IReadOnlyList<LanguageError> Errors)> Parsed =
        new();

    readonly PartCatalog? behind;
    readonly Dictionary<string, Lazy<ClassDefinition>> classes = [];
    readonly Dictionary<string, Lazy<string>> texts = [];
    readonly List<string> order = [];
    readonly List<(string Name, LanguageError Error)> problems = [];
    readonly ConcurrentDictionary<string, PartDescription> descriptions = new();

    PartCatalog(Assembly library)
    {
        foreach (
            var resource in library
                .GetManifestResourceNames()
                .Where(n => n.EndsWith(".mo", StringComparison.Ordinal))
                .Order(StringComparer.Ordinal)
        )
        {
            // Every file defines the one class that it is named for, and is read when that is first asked for.
            var name = Path.GetFileNameWithoutExtension(resource);
            var text = new Lazy<string>(() => Read(library, resource));
            classes.Add(name, new(() => Parse(resource, text.Value, name)));
            texts.Add(name, text);
            order.Add(name);
        }
    }

    static string Read(Assembly library, string resource)
    {
        using var reader = new StreamReader(library.GetManifestResourceStream(resource)!);
        return reader.ReadToEnd();
    }

    static ClassDefinition Parse(string resource, string text, string name)
    {
        var (parsed, errors) = Parser.ParseFile(text);
        if (errors.Count > 0)
            throw new InvalidDataException($"{resource}: {errors[0]}");
        return parsed is [var only] && only.Name == name
            ? only
            : throw new InvalidDataException($"{resource} must define {name} and nothing else.");
    }

    PartCatalog(IEnumerable<KeyValuePair<string, string>> own, PartCatalog behind)
    {
        this.behind = behind;
        foreach (var (name, text) in own)
        {
            if (Parsed.Count > MostParsed)
                Parsed.Clear();
            var (parsed, errors) = Parsed.GetOrAdd(text, Parser.ParseFile);
            problems.AddRange(errors.Select(e => (name, e)));
            texts[name] = new(text);
            if (errors.Count == 0 && parsed.All(c => c.Name != name))
                problems.Add(
                    (
                        name,
                        new LanguageError(
                            "own-part",
                            $"The text defines {string.Join(", ", parsed.Select(c => c.Name))}, not '{name}'.",
                            parsed[0].At,
                            $"Name the class {name}."
                        )
                    )
                );
            foreach (var definition in parsed)
                if (classes.TryAdd(definition.Name, new(definition)))
                    order.Add(definition.Name);
        }
    }

    /// <summary>The catalog shipped with the product.</summary>
    public static PartCatalog Standard => Shared.Value;

    /// <summary>A catalog with a user's parts in front of another one.</summary>
    /// <param name="own">Texts by the name of the class they define.</param>
    public static PartCatalog With(IReadOnlyDictionary<string, string> own, PartCatalog behind) =>
        own.Count == 0 ? behind : new PartCatalog(own, behind);

    /// <summary>The catalog of a document: the parts it brings along before the others.</summary>
    public static PartCatalog Of(ModelDocument document, PartCatalog? behind = null) =>
        document.Classes.Count == 0
            ? behind ?? Standard
            : new PartCatalog(document.Classes.Select(c => KeyValuePair.Create(c.Key, c.Value.Text)), behind ?? Standard);

    public ClassDefinition? Find(string name) => classes.GetValueOrDefault(name)?.Value ?? behind?.Find(name);

    public IEnumerable<string> Names => behind is null ? order : order.Concat(behind.Names.Where(n => !classes.ContainsKey(n)));

    /// <summary>The parts that can be placed, a user's own first.</summary>
    public IEnumerable<PartDescription> Parts =>
        behind is null ? OwnParts : OwnParts.Concat(behind.Parts.Where(p => !classes.ContainsKey(p.Name)));

    /// <summary>The parts of this catalog without the one behind it.</summary>
    public IEnumerable<PartDescription> OwnParts => order.Where(IsPlaceable).Select(Describe);

    /// <summary>What the interface shows of one part.</summary>
    public PartDescription Describe(string name) =>
        classes.TryGetValue(name, out var own)
            ? descriptions.GetOrAdd(name, _ => Grouped(PartDescription.Of(own.Value, this)))
            : behind!.Describe(name);

    PartDescription Grouped(PartDescription part) =>
        part with
        {
            Group = behind is not null && part.Group.Length == 0 ? OwnGroup : part.Group,
            Operators = Operators(texts.GetValueOrDefault(part.Name)?.Value ?? ""),
        };

    [GeneratedRegex(@"\b(?:equation|algorithm)\b(?<body>.*?)(?:\bannotation\b|\bend\s+\w+\s*;\s*$)", RegexOptions.Singleline)]
    private static partial Regex Sections();

    [GeneratedRegex(@"\b(?<name>[a-z]\w*)\s*\(|\b(?<name>when|if|for|and|or|not)\b")]
    private static partial Regex Calls();

    /// <summary>The functions and the operators with names that a text's equations use.</summary>
    static IReadOnlyList<string> Operators(string text) =>
        [
            .. Sections()
                .Matches(text)
                .SelectMany(m => Calls().Matches(m.Groups["body"].Value))
                .Select(m => m.Groups["name"].Value)
                .Distinct()
                .Order(StringComparer.Ordinal),
        ];

    /// <summary>The text that defines a class; null for an unknown one.</summary>
    public string? TextOf(string name) => texts.GetValueOrDefault(name)?.Value ?? behind?.TextOf(name);

    /// <summary>Errors in the texts of a user's parts, by name of the part.</summary>
    public IEnumerable<(string Name, LanguageError Error)> Problems => behind is null ? problems : problems.Concat(behind.Problems);

    bool IsPlaceable(string name) =>
        classes[name].Value is { IsPartial: false } c
        && (BundlePart.Is(c) || c.Kind is ClassKind.Block or ClassKind.Model or ClassKind.Class)
        && (behind is not null || c.Annotation?.Argument("__AnchorBend")?.Value.Argument("group") is not null);
}
