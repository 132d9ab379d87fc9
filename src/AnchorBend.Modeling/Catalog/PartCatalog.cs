using System.Collections.Concurrent;
using System.Reflection;
using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Modeling.Written;

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
            Add(name, text);
    }

    void Add(string name, string text)
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

    /// <summary>A chart or table is the class that it comes to; what is wrong in it is told and makes it no part.</summary>
    void Add(string type, WrittenDefinition definition)
    {
        var (text, made, errors) = WrittenClass.For(definition);
        problems.AddRange(errors.Select(e => (type, e)));
        if (text is not null)
            texts[type] = new(text);
        if (made is null)
            return;
        classes[type] = new(made);
        order.Add(type);
    }

    /// <summary>The catalog shipped with the product.</summary>
    public static PartCatalog Standard => Shared.Value;

    /// <summary>A catalog with a user's parts in front of another one.</summary>
    /// <param name="own">Texts by the name of the class they define.</param>
    public static PartCatalog With(IReadOnlyDictionary<string, string> own, PartCatalog behind) =>
        own.Count == 0 ? behind : new PartCatalog(own, behind);

    /// <summary>The catalog of a document: its definitions before the others.</summary>
    public static PartCatalog Of(ModelDocument document, PartCatalog? behind = null) => new(document, behind ?? Standard);

    /// <summary>This catalog where it is that of the document; else the document's in front of it.</summary>
    public PartCatalog For(ModelDocument document) => ReferenceEquals(this.document, document) ? this : Of(document, this);

    readonly ModelDocument? document;
    readonly Dictionary<DiagramDefinition, Lazy<(ClassDefinition Definition, IReadOnlyList<Finding> Findings)>> diagrams = new(
        ReferenceEqualityComparer.Instance
    );

    PartCatalog(ModelDocument document, PartCatalog behind)
        : this([], behind)
    {
        this.document = document;
        var cycles = new DefinitionCycles(document);
        var above = new NamesFromAbove(document);
        var sheets = new SheetNames(document);
        foreach (var (id, definition) in document.Definitions)
        {
            var type = DefinitionReference.OfOwn(id);
            if (definition is TextDefinition text)
            {
                Add(text.Name, text.Text);
                texts[type] = texts[text.Name];
                // A text that cannot be read, or that defines another name, is told and is no part.
                if (!classes.TryGetValue(text.Name, out var named))
                    continue;
                classes[type] = named;
                order.Remove(text.Name);
                order.Add(type);
            }
            else if (definition is WrittenDefinition written)
            {
                Add(type, written);
            }
            else if (definition is DiagramDefinition diagram)
            {
                var made = new Lazy<(ClassDefinition Definition, IReadOnlyList<Finding>)>(() =>
                    DiagramClass.Of(id, diagram, id == document.Root, this, cycles, above, sheets)
                );
                diagrams[diagram] = made;
                classes[type] = new(() => made.Value.Definition);
                if (id != document.Root)
                    order.Add(type);
            }
        }
    }

    /// <summary>What a diagram of this catalog's document cannot express.</summary>
    internal IReadOnlyList<Finding> FindingsOf(DiagramDefinition diagram) => diagrams[diagram].Value.Findings;

    /// <remarks>Texts of a user's package may still have names of before.</remarks>
    public ClassDefinition? Find(string name) =>
        classes.GetValueOrDefault(name)?.Value
        ?? (
            behind is not null ? behind.Find(name)
            : RenamedParts.Type(name) is var now && now != name ? classes.GetValueOrDefault(now)?.Value
            : null
        );

    public IEnumerable<string> Names => behind is null ? order : order.Concat(behind.Names.Where(n => !classes.ContainsKey(n)));

    /// <summary>The parts that can be placed, a user's own first.</summary>
    public IEnumerable<PartDescription> Parts => behind is null ? Own : Own.Concat(behind.Parts.Where(p => !classes.ContainsKey(p.Name)));

    /// <summary>The model's and the user's own parts that can be placed.</summary>
    public IEnumerable<PartDescription> OwnParts =>
        behind is null ? [] : Own.Concat(behind.OwnParts.Where(p => !classes.ContainsKey(p.Name)));

    /// <summary>The shipped parts that are ports of the level they are placed on.</summary>
    public static IEnumerable<PartDescription> Ports =>
        Standard
            .order.Where(n => PortPart.KindOf(Standard.classes[n].Value) is not null)
            .Select(n => Standard.Describe(n) with { Group = "Ports" });

    IEnumerable<PartDescription> Own => order.Where(IsPlaceable).Select(Describe);

    /// <summary>What the interface shows of one part.</summary>
    /// <exception cref="KeyNotFoundException">There is none of that name, nor was there before.</exception>
    public PartDescription Describe(string name) =>
        classes.TryGetValue(name, out var own) ? descriptions.GetOrAdd(name, _ => Grouped(name, PartDescription.Of(own.Value, this)))
        : behind is not null ? behind.Describe(name)
        // A text may still have a name of before, which is found all the same.
        : RenamedParts.Type(name) is var now && now != name ? Describe(now)
        : throw new KeyNotFoundException($"The catalog has no part '{name}'.");

    PartDescription Grouped(string name, PartDescription part) =>
        part with
        {
            Name = name,
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

    /// <summary>
    /// The parts of the shipped catalog by the traits that their texts declare: the texts are searched, so that none has to be read for it.
    /// </summary>
    static readonly Lazy<ILookup<string, string>> Declaring = new(() =>
        Standard
            .order.SelectMany(name => TraitsOf(Standard.texts[name].Value).Select(t => (Trait: t, name)))
            .ToLookup(t => t.Trait, t => t.name)
    );

    static IEnumerable<string> TraitsOf(string text) => DeclaredTraits().Matches(text).Select(m => m.Groups["trait"].Value);

    [GeneratedRegex("""[(,]\s*(?<trait>(?:ends|load|drive|moves|feeds|joins) = "\w+"|zero = )""")]
    private static partial Regex DeclaredTraits();

    /// <summary>The part that ends a line of a physical domain; null where there is none.</summary>
    public PartDescription? EndOf(string domain) => Declared($"ends = \"{domain}\"").FirstOrDefault();

    /// <summary>The part that gives a constant, zero among others.</summary>
    public PartDescription? Zero => Declared("zero = ").FirstOrDefault();

    /// <summary>The parts that play a role in examples of others.</summary>
    /// <param name="of">The physical domain or the type that they play it for.</param>
    internal IEnumerable<(PartDescription Part, ExampleRole Role)> InExamples(string role, string of) =>
        Declared($"{role} = \"{of}\"").Select(p => (p, p.Traits.Example!));

    IEnumerable<PartDescription> Declared(string trait) => Declaring.Value[trait].Select(Describe);

    /// <summary>The text that defines a class; null for an unknown one.</summary>
    public string? TextOf(string name) => texts.GetValueOrDefault(name)?.Value ?? behind?.TextOf(name);

    /// <summary>Errors in the texts of a user's parts, by name of the part.</summary>
    public IEnumerable<(string Name, LanguageError Error)> Problems => behind is null ? problems : problems.Concat(behind.Problems);

    bool IsPlaceable(string name) =>
        classes[name].Value is { IsPartial: false } c
        && (BundlePart.Is(c) || c.Kind is ClassKind.Block or ClassKind.Model or ClassKind.Class)
        && (behind is not null || c.Annotation?.Argument("__AnchorBend")?.Value.Argument("group") is not null);
}
