using AnchorBend.Modeling.Documents;
using AnchorBend.Verification;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Studies;

namespace AnchorBend.Workbench.Reports;

/// <content>Cases, how they are run, and what went wrong in them.</content>
public sealed partial class ReportHtml
{
    void Cases()
    {
        page.Append("<section><h2>Cases</h2>");
        Table(
            "#|case|group|outcome|how it is run|seconds",
            report.Results.Select(
                (r, i) =>
                    Cells(
                        $"{i + 1}",
                        $"<b>{Text(r.Node.Name)}</b><br><small>{Text(r.Node.Description)}</small>",
                        Text(report.GroupOf(r.Node)),
                        Outcome(r.Result, r.IsStale),
                        Text(HowRun(r.Node)),
                        N(r.Result?.Seconds, 2)
                    )
            )
        );
        page.Append("</section>\n");
    }

    static string Outcome(CaseResult? result, bool isStale) =>
        (
            result?.Outcome switch
            {
                CaseOutcome.Passed => "<b class=\"met\">passed</b>",
                CaseOutcome.Failed => "<b class=\"missed\">failed</b>",
                CaseOutcome.Broken => "<b class=\"missed\">did not run</b>",
                CaseOutcome.Open => "open",
                _ => "never run",
            }
        ) + (result is not null && isStale ? "<br><small>out of date</small>" : "");

    string HowRun(CaseNode node)
    {
        var told = new List<string>();
        if (node.Subject is { } subject && PartPath.TryParse(subject, out var path))
            told.Add($"{report.Document.NamePath(path) ?? subject} alone");
        if (node.Stimulus is { Length: > 0 } stimulus)
            told.Add($"stimulus {report.Document.Stimuli.GetValueOrDefault(stimulus)?.Name ?? stimulus}");
        if (node.Point is { Length: > 0 } point)
            told.Add($"from {report.Document.OperatingPoints.GetValueOrDefault(point)?.Name ?? point}");
        if (node.End is { } end)
            told.Add($"to {end}");
        told.AddRange(
            CaseSetup
                .ValuesOf(report.Document, node)
                .Select(v => $"{StudyPlan.LabelOf(report.Document, report.Document.NameOf(v.Target) ?? v.Target)} = {v.Text}")
        );
        return told.Count > 0 ? string.Join("; ", told) : "as the model is";
    }

    void Failed()
    {
        var failed = report
            .Results.Where(r => r.Result is { Outcome: CaseOutcome.Failed or CaseOutcome.Broken or CaseOutcome.Open })
            .ToList();
        if (failed.Count == 0)
            return;
        page.Append("<section><h2>What went wrong</h2>");
        foreach (var (_, node, result, _) in failed)
        {
            page.Append($"<article><h3>{Text(node.Name)}</h3><ul>");
            foreach (var line in CaseReport.Failures(result!))
                page.Append($"<li>{Text(line)}</li>");
            page.Append("</ul>");
            foreach (var c in result!.Courses.Where(c => c.Kind == VerdictKind.Missed))
                page.Append(ReportPicture.Of(c.Label, c.Unit, [(c.Label, c.Actual)], c.Lower, c.Upper, c.Expected, c.Exit?.At));
            foreach (var r in result.Requirements.Where(r => r.Applies && r.Verdict.Kind == VerdictKind.Missed && r.Courses.Count > 0))
            {
                var unit = r.Courses[0].Unit;
                page.Append($"<p class=\"of\">{Text(r.Verdict.Name)}</p>");
                page.Append(
                    ReportPicture.Of(
                        r.Verdict.Name,
                        unit,
                        [.. r.Courses.Where(c => c.Unit == unit).Select(c => (c.Label, c.Line))],
                        Line.None,
                        Line.None,
                        Line.None,
                        r.Verdict.Decides
                    )
                );
            }

            page.Append("</article>");
        }

        page.Append("</section>\n");
    }
}
