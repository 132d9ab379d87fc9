using System.Text;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Help;

/// <summary>What there is to say of a catalog part, from its own source.</summary>
static class PartTopic
{
    public static HelpTopic Of(PartDescription part)
    {
        var html = new StringBuilder();
        html.Append(HelpText.Html(Plain(part.Article ?? part.Help ?? "")));
        if (part.Equations.Count > 0)
        {
            html.Append("<h3>Equations</h3>");
            foreach (var equation in part.Equations)
                html.Append(HelpText.Tex(equation));
        }

        if (part.Ports.Count > 0)
        {
            html.Append("<h3>Ports</h3><table><thead><tr><th>Port</th><th>What it is</th><th></th></tr></thead><tbody>");
            foreach (var port in part.Ports)
                Row(html, port.Name, port.Domain is { } domain ? $"{port.Description} ({domain})" : port.Description, Shown(port));
            html.Append("</tbody></table>");
        }

        if (part.Parameters.Count > 0)
        {
            html.Append("<h3>Parameters</h3><table><thead><tr><th>Parameter</th><th>What it is</th><th>Default</th><th>Unit</th>");
            html.Append("<th>Limits</th></tr></thead><tbody>");
            foreach (var p in part.Parameters)
                Row(html, p.Name, p.Description, p.Default, p.UnitText, Limits(p));
            html.Append("</tbody></table>");
        }

        if (part.Validity is { } validity)
            html.Append("<h3>Holds for</h3>").Append(HelpText.Html(Plain(validity)));
        var used = UsedIn(part.Name);
        if (used.Count > 0)
            html.Append("<h3>Used in the examples</h3><p>").Append(HelpText.Text(string.Join(", ", used))).Append("</p>");
        return new HelpTopic("part/" + part.Name, part.Group, part.Title, html.ToString(), part.Name);
    }

    /// <summary>Mathematics between dollar signs stays for the page to typeset.</summary>
    static string Plain(string text) => text.Replace("\\", "\\\\", StringComparison.Ordinal);

    static string? Shown(PortDescription port) => port.Optional is { } option ? $"shown when {option} is on" : null;

    static string Limits(ParameterDescription p) =>
        string.Join(
            ", ",
            new[] { p.Minimum is { } least ? $"at least {least}" : null, p.Maximum is { } most ? $"at most {most}" : null }.OfType<string>()
        );

    static void Row(StringBuilder html, params ReadOnlySpan<string?> cells)
    {
        html.Append("<tr>");
        foreach (var cell in cells)
            html.Append("<td>").Append(HelpText.Text(cell ?? "")).Append("</td>");
        html.Append("</tr>");
    }

    static readonly Lazy<ILookup<string, string>> Uses = new(() =>
        Examples
            .All()
            .Values.SelectMany(d =>
                d.Definitions.Values.OfType<DiagramDefinition>()
                    .SelectMany(l => l.Parts.Values)
                    .Select(p => p.Type)
                    .Distinct()
                    .Select(t => (Type: t, d.Name))
            )
            .ToLookup(u => u.Type, u => u.Name)
    );

    static List<string> UsedIn(string part) => [.. Uses.Value[part].Distinct().Order(StringComparer.Ordinal)];
}
