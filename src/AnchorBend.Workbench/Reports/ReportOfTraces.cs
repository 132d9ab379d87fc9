using AnchorBend.Modeling.Documents;
using AnchorBend.Verification;
using AnchorBend.Workbench.FaultTrees;

namespace AnchorBend.Workbench.Reports;

/// <content>What belongs to what: requirements, cases and parts, both ways and with gaps; and the fault trees.</content>
public sealed partial class ReportHtml
{
    const string None = "<b class=\"missed\">none</b>";

    void Traces()
    {
        page.Append("<section><h2>What belongs to what</h2>");
        Table(
            "requirement|about parts|shown by cases",
            report.Document.Requirements.Select(r =>
                Cells(Text(r.Value.Name), Listed(PartsOf(r.Key)), Listed([.. Of(r.Key).Select(v => v.Case.Name)]))
            )
        );
        Table(
            "case|shows requirements|misses",
            report.Results.Select(r =>
            {
                var verdicts = r.Result?.Requirements.Where(v => v.Applies).Select(v => v.Verdict).ToList() ?? [];
                List<string> missed = [.. verdicts.Where(v => v.Kind == VerdictKind.Missed).Select(v => v.Name)];
                return Cells(
                    Text(r.Node.Name),
                    verdicts.Count > 0 ? Text(string.Join(", ", verdicts.Select(v => v.Name)))
                        : r.Result is { } result && result.Courses.Count + result.Measures.Count > 0
                            ? "<small>courses and measures alone</small>"
                        : None,
                    missed.Count > 0 ? $"<b class=\"missed\">{Text(string.Join(", ", missed))}</b>" : ""
                );
            })
        );
        if (report.Parts.Count > 0)
            Parts();
        page.Append("</section>\n");
    }

    IReadOnlyList<string> PartsOf(string requirement) => report.Parts.GetValueOrDefault(requirement) ?? [];

    static string Listed(IReadOnlyList<string> names) => names.Count > 0 ? Text(string.Join(", ", names.Distinct())) : None;

    /// <summary>Parts of the top level with what is asked of them or of what lies in them, and by which cases that is shown.</summary>
    void Parts()
    {
        var open = new List<string>();
        var rows = new List<string>();
        foreach (var part in report.Document.Main.Parts.Values.OrderBy(p => p.Name, StringComparer.Ordinal))
        {
            List<string> asked =
            [
                .. report.Document.Requirements.Keys.Where(r =>
                    PartsOf(r).Any(p => p == part.Name || p.StartsWith(part.Name + ".", StringComparison.Ordinal))
                ),
            ];
            if (asked.Count == 0)
                open.Add(part.Name);
            else
                rows.Add(
                    Cells(
                        Text(part.Name),
                        Text(string.Join(", ", asked.Select(r => report.Document.Requirements[r].Name))),
                        Listed([.. asked.SelectMany(r => Of(r).Select(v => v.Case.Name))])
                    )
                );
        }

        Table("part|asked by requirements|shown by cases", rows);
        if (open.Count > 0)
            page.Append($"<p>Parts that no requirement speaks of: {Text(string.Join(", ", open))}.</p>");
    }

    void Trees()
    {
        if (report.Document.FaultTrees.Count == 0)
            return;
        page.Append("<section><h2>Fault trees</h2>");
        foreach (var view in FaultTreeView.All(report.Document))
        {
            var tree = report.Document.FaultTrees[view.Id];
            page.Append($"<article><h3>{Text(tree.Name)}</h3>");
            if (view.Problem is { } problem)
            {
                page.Append($"<p class=\"missed\">{Text(problem)}</p></article>");
                continue;
            }

            page.Append($"<p>Top event over {Text(tree.Duration)}: <b>{N(view.Probability)}</b>; {N(view.Count)} minimal cut sets.</p>");
            try
            {
                page.Append($"<div class=\"wide tree\">{FaultTreePicture.Of(tree, view)}</div>");
            }
            catch (DocumentException e)
            {
                page.Append($"<p>{Text(e.Message)}</p>");
            }

            Table(
                "cut set|probability",
                view.CutSets.Take(20)
                    .Select(s =>
                        Cells(
                            Text(string.Join(" and ", s.Events.Select(e => tree.Events.GetValueOrDefault(e)?.Name ?? e))),
                            N(s.Probability, 3)
                        )
                    )
            );
            page.Append("</article>\n");
        }

        page.Append("</section>\n");
    }
}
