using System.Text.RegularExpressions;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Help;

/// <summary>
/// All that can be looked up, from where it is kept: the documents that ship with the product, the sources of the parts, and what is said
/// of findings. Nothing is written twice.
/// </summary>
public static partial class HelpCentre
{
    const string Guide = "How to",
        Findings = "Findings and errors";

    /// <summary>Documents that are topics as a whole.</summary>
    internal static readonly (string Document, string Group)[] Documents =
    [
        ("equation-language", "Language"),
        ("measures", "Language"),
        ("rules", "Language"),
        ("state-charts", "Language"),
        ("glossary", "Language"),
        ("numerics", "Numbers"),
        ("analysis", "Numbers"),
        ("c-code", "Deliver and scripts"),
        ("exchange-units", "Deliver and scripts"),
        ("targets", "Deliver and scripts"),
        ("http", "Deliver and scripts"),
        ("command-line", "Deliver and scripts"),
        ("cluster", "Deliver and scripts"),
        ("operation", "Run it for others"),
        ("security", "Run it for others"),
        ("findings", Findings),
    ];

    static readonly Lazy<IReadOnlyList<(HelpTopic Topic, string Words)>> All = new(() =>
        [.. Topics().Select(t => (t, $"{t.Title} {t.Group} ".ToLowerInvariant() + HelpText.Words(t.Html)))]
    );

    /// <param name="search">Words that all have to be found; empty for all topics. Those with them in their title come first.</param>
    public static IReadOnlyList<HelpEntry> Find(string? search)
    {
        var wanted = (search ?? "").ToLowerInvariant().Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
        return
        [
            .. All
                .Value.Where(t => wanted.All(w => t.Words.Contains(w, StringComparison.Ordinal)))
                .OrderBy(t => wanted.Length == 0 || wanted.All(w => t.Topic.Title.Contains(w, StringComparison.OrdinalIgnoreCase)) ? 0 : 1)
                .Select(t => new HelpEntry(t.Topic.Id, t.Topic.Group, t.Topic.Title)),
        ];
    }

    /// <exception cref="NotFoundException">There is no such topic.</exception>
    public static HelpTopic Topic(string id) =>
        All.Value.Select(t => t.Topic).FirstOrDefault(t => t.Id == id)
        ?? throw new NotFoundException("There is no such topic in the help. Look for a word of it instead.");

    /// <summary>Everything, one after the other, to be printed.</summary>
    public static IReadOnlyList<HelpTopic> Book() =>
        [.. All.Value.Select(t => t.Topic).Where(t => !t.Id.StartsWith("findings/", StringComparison.Ordinal))];

    static IEnumerable<HelpTopic> Topics()
    {
        foreach (var (title, text) in Sections(Read("user-guide")))
            yield return new HelpTopic("guide/" + Slug(title), Guide, title, HelpText.Html(text));
        foreach (var (document, group) in Documents)
        {
            var text = Read(document);
            yield return new HelpTopic(
                document,
                group,
                Title().Match(text).Groups[1].Value.Trim(),
                HelpText.Html(Title().Replace(text, "", 1))
            );
        }

        foreach (var (codes, text) in Told())
        foreach (var code in codes)
        {
            var more = FindingHelp.Of(code) is { } article ? HelpText.Html(article) : "";
            yield return new HelpTopic("findings/" + code, Findings, code, HelpText.Html(text) + more);
        }

        foreach (var part in PartCatalog.Standard.Parts.Concat(PartCatalog.Ports).OrderBy(p => p.Group).ThenBy(p => p.Title))
            yield return PartTopic.Of(part);
    }

    /// <summary>Findings of the document: the codes at the beginning of each item, and what is said of them.</summary>
    static IEnumerable<(IReadOnlyList<string> Codes, string Text)> Told()
    {
        foreach (Match item in Item().Matches(Read("findings")))
            yield return ([.. Code().Matches(item.Groups[1].Value).Select(c => c.Groups[1].Value)], item.Groups[2].Value.Trim());
    }

    static IEnumerable<(string Title, string Text)> Sections(string document)
    {
        var parts = Section().Split(document);
        for (var i = 1; i + 1 < parts.Length; i += 2)
            yield return (parts[i].Trim(), parts[i + 1]);
    }

    static string Slug(string title) => string.Join('-', Word().Matches(title.ToLowerInvariant()).Select(m => m.Value));

    static string Read(string document)
    {
        using var reader = new StreamReader(typeof(HelpCentre).Assembly.GetManifestResourceStream("docs/" + document)!);
        return reader.ReadToEnd().ReplaceLineEndings("\n");
    }

    [GeneratedRegex("^# (.+)$", RegexOptions.Multiline)]
    private static partial Regex Title();

    [GeneratedRegex("^## (.+)$", RegexOptions.Multiline)]
    private static partial Regex Section();

    /// <summary>An item whose codes stand before a colon, perhaps behind the name of a tool.</summary>
    [GeneratedRegex("^- (?:[A-Z][a-z]+: )?((?:`[a-z-]+`(?:, )?)+): (.+)$", RegexOptions.Multiline)]
    private static partial Regex Item();

    [GeneratedRegex("`([a-z-]+)`")]
    private static partial Regex Code();

    [GeneratedRegex("[a-z0-9]+")]
    private static partial Regex Word();
}
