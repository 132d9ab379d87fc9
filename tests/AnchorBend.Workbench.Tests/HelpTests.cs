using System.Text.RegularExpressions;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Workbench.Help;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Tests;

/// <summary>The help is whole: every part, every finding, and no link that leads nowhere.</summary>
public sealed class HelpTests
{
    static readonly IReadOnlyList<HelpEntry> All = HelpCentre.Find(null);

    static readonly HashSet<string> Ids = [.. All.Select(e => e.Id)];

    [Fact]
    public void Each_topic_stands_there_once_and_says_something()
    {
        Assert.Equal(All.Count, Ids.Count);
        Assert.All(All, e => Assert.True(HelpCentre.Topic(e.Id).Html.Length > 20, e.Id));
    }

    [Fact]
    public void Each_part_of_the_catalog_has_its_topic_with_equations_ports_and_parameters()
    {
        Assert.All(PartCatalog.Standard.Parts, p => Assert.Contains("part/" + p.Name, Ids));
        var lag = HelpCentre.Topic("part/Lag");
        Assert.Contains("class=\"tex\"", lag.Html);
        Assert.Contains("<td>T</td>", lag.Html);
        Assert.Contains("Hatchery tank, first loop", lag.Html);
    }

    [Fact]
    public void Links_lead_to_topics()
    {
        var missing =
            from entry in All
            from link in Regex.Matches(HelpCentre.Topic(entry.Id).Html, "href=\"#/help/([^\"]*)\"")
            let id = link.Groups[1].Value
            where id != "guide" && !Ids.Contains(id)
            select $"{entry.Id} → {id}";
        Assert.Empty(missing);
    }

    [Fact]
    public void Nothing_in_a_text_runs() =>
        Assert.All(All, e => Assert.DoesNotMatch("<(script|style|iframe|img)", HelpCentre.Topic(e.Id).Html));

    /// <summary>Codes as they stand in the sources: behind a severity, or as what ends a run.</summary>
    [Fact]
    public void Each_finding_of_the_sources_is_told()
    {
        var sources = Path.Combine(Root(), "src");
        var codes = new SortedSet<string>();
        foreach (var layer in (string[])["Language", "Modeling", "Compiler", "Simulation", "Workbench"])
        foreach (var file in Directory.EnumerateFiles(Path.Combine(sources, "AnchorBend." + layer), "*.cs", SearchOption.AllDirectories))
        {
            if (file.Contains("/obj/", StringComparison.Ordinal))
                continue;
            var text = File.ReadAllText(file);
            foreach (
                Match code in Regex.Matches(
                    text,
                    "(?:Severity\\.(?:Error|Warning|Information),\\s*|new SimulationFailure\\(\\s*|new LanguageError\\(\\s*)\"([a-z-]+)\""
                )
            )
                codes.Add(code.Groups[1].Value);
        }

        Assert.True(codes.Count > 30, string.Join(", ", codes));
        Assert.Equal("", string.Join(", ", codes.Where(c => !Ids.Contains("findings/" + c))));
    }

    static string Root()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "AnchorBend.slnx")))
            folder = folder.Parent!;
        return folder.FullName;
    }

    [Fact]
    public void Topics_are_found_by_words_those_with_them_in_the_title_first()
    {
        var found = HelpCentre.Find("relief VALVE");
        Assert.StartsWith("Relief valve", found[0].Title);
        Assert.All(found, e => Assert.Contains("valve", (e.Title + HelpCentre.Topic(e.Id).Html).ToLowerInvariant()));
        Assert.Empty(HelpCentre.Find("zyzzyva of the deep"));
    }

    [Fact]
    public void A_finding_has_its_cause_and_remedy()
    {
        var topic = HelpCentre.Topic("findings/unit-clash");
        Assert.Contains("different kinds", topic.Html);
        Assert.Contains("Remedy", topic.Html);
        // What is explained at length elsewhere stands below it.
        Assert.Contains("Newton", HelpCentre.Topic("findings/algebraic-loop").Html);
    }

    [Fact]
    public void Of_what_is_not_there_it_is_said() => Assert.Throws<NotFoundException>(() => HelpCentre.Topic("part/Nothing"));
}
