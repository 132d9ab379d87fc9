using System.Text.Json;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Shelf;

/// <summary>An example in the list of them.</summary>
/// <param name="Parts">On all levels.</param>
/// <param name="Task">What one learns to do by it.</param>
/// <param name="Level">1 for the first hour, 2 for who knows the bench, 3 for a trade's details.</param>
/// <param name="Minutes">What reading and trying takes.</param>
/// <param name="Try">What to change, and what to look at then.</param>
public sealed record ExampleSummary(
    string Key,
    string Name,
    string? Description,
    int Parts,
    IReadOnlyList<string> Domains,
    string Task,
    int Level,
    int Minutes,
    string Try
);

/// <summary>The examples by what one learns by them, the easy ones first.</summary>
public static class ExampleShelf
{
    /// <param name="Folder">Where it lies in a store that has just been made; null for those that one opens oneself.</param>
    sealed record About(string Task, int Level, int Minutes, string Try, string? Folder = null);

    /// <summary>Tasks in the order in which one needs them.</summary>
    static readonly string[] Tasks =
    [
        "Close a loop",
        "Shape a signal",
        "Join a physical network",
        "Give it modes and a panel",
        "Explore what may be",
        "Prove it by tests",
        "Take the code out",
    ];

    static readonly Lazy<IReadOnlyDictionary<string, About>> Told = new(() =>
    {
        using var stream = typeof(ExampleShelf).Assembly.GetManifestResourceStream("about/examples.json")!;
        return JsonSerializer.Deserialize<Dictionary<string, About>>(stream, DocumentJson.Options(false))!;
    });

    static readonly Lazy<IReadOnlyList<(ExampleSummary Summary, string Words)>> All = new(Read);

    /// <param name="search">Words that all have to be found in title, text, parts used or domains; empty for all.</param>
    public static IReadOnlyList<ExampleSummary> Find(string? search)
    {
        var wanted = (search ?? "").ToLowerInvariant().Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
        return [.. All.Value.Where(e => wanted.All(w => e.Words.Contains(w, StringComparison.Ordinal))).Select(e => e.Summary)];
    }

    /// <summary>Puts those with a folder into a store that has just been made.</summary>
    public static void Fill(IModelStore store, IShelfStore shelf)
    {
        var all = Examples.All();
        foreach (var (key, about) in Told.Value.Reverse())
            if (about.Folder is { } folder)
                shelf.Place(store.Create(all[key]), folder, []);
    }

    static IReadOnlyList<(ExampleSummary, string)> Read() =>
        [
            .. Examples
                .All()
                .Select(e => (Summary: Summary(e.Key, e.Value, Told.Value[e.Key]), e.Value))
                .OrderBy(e => Array.IndexOf(Tasks, e.Summary.Task))
                .ThenBy(e => e.Summary.Level)
                .ThenBy(e => e.Summary.Name, StringComparer.Ordinal)
                .Select(e => (e.Summary, Words(e.Summary, e.Value))),
        ];

    static ExampleSummary Summary(string key, ModelDocument document, About about) =>
        new(
            key,
            document.Name,
            document.Description,
            document.Definitions.Values.OfType<DiagramDefinition>().Sum(d => d.Parts.Count),
            ModelCard.FactsOf(document, PartCatalog.Of(document, PartCatalog.Standard)).Domains,
            about.Task,
            about.Level,
            about.Minutes,
            about.Try
        );

    static string Words(ExampleSummary summary, ModelDocument document) =>
        $"{summary.Name} {summary.Task} {summary.Try} {string.Join(' ', summary.Domains)}".ToLowerInvariant()
        + " "
        + ModelCard.FactsOf(document, PartCatalog.Of(document, PartCatalog.Standard)).Words;
}
