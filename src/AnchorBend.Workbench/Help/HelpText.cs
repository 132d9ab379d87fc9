using System.Net;
using System.Text.RegularExpressions;
using Markdig;

namespace AnchorBend.Workbench.Help;

/// <summary>Texts of the documents as they are shown.</summary>
static partial class HelpText
{
    /// <summary>Tables and anchors; no markup of pages, so that nothing in a text runs.</summary>
    static readonly MarkdownPipeline Pipeline = new MarkdownPipelineBuilder().UsePipeTables().UseAutoIdentifiers().DisableHtml().Build();

    public static string Html(string markdown) =>
        Links().Replace(Markdown.ToHtml(markdown, Pipeline), m => Link(m.Groups[1].Value, m.Groups[2].Value));

    /// <summary>A link from document to document leads to the topic of that; one to a file that is no topic leads nowhere.</summary>
    static string Link(string document, string anchor) =>
        document switch
        {
            "user-guide" => "href=\"#/help/guide\"",
            _ when HelpCentre.Documents.Any(d => d.Document == document) => $"href=\"#/help/{document}\"",
            _ => "data-file=\"" + WebUtility.HtmlEncode(document + anchor) + "\"",
        };

    /// <summary>Mathematics, which the page typesets.</summary>
    public static string Tex(string tex) => $"<div class=\"tex\">{WebUtility.HtmlEncode(tex)}</div>";

    public static string Text(string text) => WebUtility.HtmlEncode(text);

    /// <summary>Words of a page without its marks, for finding.</summary>
    public static string Words(string html) => WebUtility.HtmlDecode(Marks().Replace(html, " ")).ToLowerInvariant();

    [GeneratedRegex("href=\"([a-z-]+)\\.md(#[^\"]*)?\"")]
    private static partial Regex Links();

    [GeneratedRegex("<[^>]*>")]
    private static partial Regex Marks();
}
