using System.Globalization;
using System.Net;
using System.Text;
using AnchorBend.Modeling.Documents;
using AnchorBend.Verification;
using AnchorBend.Workbench.Cases;

namespace AnchorBend.Workbench.Reports;

/// <summary>A report as one page of HTML that needs nothing else: summary, requirements, cases, what failed, coverage, what belongs to
/// what, and how every figure was made.</summary>
public sealed partial class ReportHtml
{
    static readonly string Style = Read("report.css");

    readonly CaseReport report;
    readonly StringBuilder page = new();

    ReportHtml(CaseReport report) => this.report = report;

    public static string Of(CaseReport report)
    {
        var html = new ReportHtml(report);
        html.Write();
        return html.page.ToString();
    }

    static string Read(string name)
    {
        using var stream = typeof(ReportHtml).Assembly.GetManifestResourceStream(name)!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }

    internal static string Text(string? text) => WebUtility.HtmlEncode(text ?? "");

    static string N(double? value, int digits = 4) =>
        value is { } v ? v.ToString($"G{digits}", CultureInfo.InvariantCulture).Replace("-", "−", StringComparison.Ordinal) : "";

    void Write()
    {
        var name = Text(report.Document.Name);
        page.Append("<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>")
            .Append(name)
            .Append(": verification</title><style>")
            .Append(Style)
            .Append("</style></head><body>\n<header><p>Anchor Bend, verification report</p><h1>")
            .Append(name)
            .Append("</h1>");
        if (report.Document.Description is { Length: > 0 } description)
            page.Append($"<p>{Text(description)}</p>");
        page.Append("</header>\n");
        Summary();
        Requirements();
        Matrix();
        Cases();
        Failed();
        if (report.Coverage is { } coverage)
            Covered(coverage);
        Code();
        Trees();
        Traces();
        Provenance();
        page.Append("</body></html>\n");
    }

    void Table(string heads, IEnumerable<string> rows)
    {
        page.Append("<table><thead><tr>");
        foreach (var head in heads.Split('|'))
            page.Append($"<th>{head}</th>");
        page.Append("</tr></thead><tbody>");
        foreach (var row in rows)
            page.Append("<tr>").Append(row).Append("</tr>\n");
        page.Append("</tbody></table>\n");
    }

    static string Cells(params ReadOnlySpan<string> cells) => "<td>" + string.Join("</td><td>", cells!) + "</td>";

    void Summary()
    {
        var stale = report.Results.Count(r => r.IsStale && r.Result is not null);
        var missing = report.Results.Count(r => r.Result is null);
        page.Append("<section><h2>Summary</h2><p class=\"verdict ").Append(report.IsPassed ? "met" : "missed").Append("\">");
        page.Append(report.IsPassed ? "Every case has passed." : "Not every case has passed.").Append("</p>");
        Table(
            "cases|passed|failed|open|did not run|out of date|never run",
            [
                Cells(
                    $"{report.Results.Count}",
                    $"{report.Count(CaseOutcome.Passed)}",
                    $"{report.Count(CaseOutcome.Failed)}",
                    $"{report.Count(CaseOutcome.Open)}",
                    $"{report.Count(CaseOutcome.Broken)}",
                    $"{stale}",
                    $"{missing}"
                ),
            ]
        );
        Joined("suite", r => report.GroupOf(r.Node), "without a suite");
        Joined("subject", r => SubjectOf(r.Node), "the whole model");
        page.Append("</section>\n");
    }

    string SubjectOf(CaseNode node) =>
        node.Subject is { Length: > 0 } subject && PartPath.TryParse(subject, out var path)
            ? $"{report.Document.NamePath(path) ?? subject} alone"
            : "";

    /// <summary>How the cases of each suite, or of each subject, came out; nothing where there is only one.</summary>
    void Joined(string what, Func<(string Id, CaseNode Node, CaseResult? Result, bool IsStale), string> by, string none)
    {
        var groups = report.Results.GroupBy(by).ToList();
        if (groups.Count < 2)
            return;
        Table(
            $"{what}|cases|passed|not passed|out of date or never run",
            groups.Select(g =>
                Cells(
                    g.Key.Length > 0 ? Text(g.Key) : none,
                    $"{g.Count()}",
                    $"{g.Count(r => r.Result?.Outcome == CaseOutcome.Passed)}",
                    $"{g.Count(r => r.Result is { } result && result.Outcome != CaseOutcome.Passed)}",
                    $"{g.Count(r => r.IsStale)}"
                )
            )
        );
    }

    IEnumerable<(CaseNode Case, CaseVerdict Verdict)> Of(string requirement) =>
        report
            .Results.Where(r => r.Result is not null)
            .SelectMany(r => r.Result!.Requirements.Where(v => v.Applies && v.Verdict.Id == requirement).Select(v => (r.Node, v)));

    void Requirements()
    {
        page.Append("<section><h2>Requirements</h2>");
        Table(
            "requirement|asks|source|met|missed|least margin",
            report.Document.Requirements.Select(r =>
            {
                var all = Of(r.Key).ToList();
                var missed = all.Count(v => v.Verdict.Verdict.Kind == VerdictKind.Missed);
                var worst = all.Where(v => v.Verdict.Verdict.Margin is not null).OrderBy(v => v.Verdict.Verdict.Margin).FirstOrDefault();
                var least = worst.Verdict is { } w
                    ? $"{N(w.Verdict.Margin)} {Text(w.Verdict.Unit)} in {Text(worst.Case.Name)}"
                    : "<b class=\"missed\">no case shows it</b>";
                var identifier = r.Value.Identifier is { Length: > 0 } i ? $" <small>{Text(i)}</small>" : "";
                return Cells(
                    $"<b>{Text(r.Value.Name)}</b>{identifier}<br><small>{Text(r.Value.Text)}</small>",
                    $"<code>{Text(Asks(r.Value))}</code>",
                    Text(r.Value.Source),
                    $"{all.Count - missed}",
                    missed > 0 ? $"<b class=\"missed\">{missed}</b>" : "0",
                    least
                );
            })
        );
        page.Append("</section>\n");
    }

    string Asks(RequirementNode node)
    {
        if (node.Rule is { } rule)
            return rule;
        var of = node.Measure is { } m
            ? report.Document.Measures.GetValueOrDefault(m)?.Name ?? m
            : report.Document.NameOf(node.Signal) ?? node.Signal;
        var kind = node.Kind is RequirementKind.UpperLimit or RequirementKind.LowerLimit ? "" : $" {Words(node.Kind)}";
        return $"{of}{kind} {(node.Kind == RequirementKind.LowerLimit ? "≥" : "≤")} {node.Limit}";
    }

    static string Words(RequirementKind kind) =>
        kind switch
        {
            RequirementKind.RiseTime => "rise time",
            RequirementKind.SettlingTime => "settling time",
            RequirementKind.SteadyStateError => "steady-state error",
            _ => kind.ToString().ToLowerInvariant(),
        };

    void Matrix()
    {
        if (report.Results.Count == 0 || report.Document.Requirements.Count == 0)
            return;
        page.Append("<section><h2>Margins</h2><p>What is left of each requirement in each case, in the unit of the requirement.</p>");
        page.Append("<div class=\"wide\">");
        page.Append("<table class=\"matrix\"><thead><tr><th></th>");
        for (var i = 0; i < report.Results.Count; i++)
            page.Append($"<th title=\"{Text(report.Results[i].Node.Name)}\">{i + 1}</th>");
        page.Append("</tr></thead><tbody>");
        foreach (var (id, requirement) in report.Document.Requirements)
        {
            page.Append($"<tr><th>{Text(requirement.Name)}</th>");
            foreach (var (_, _, result, _) in report.Results)
                if (result?.Requirements.FirstOrDefault(v => v.Applies && v.Verdict.Id == id)?.Verdict is { } verdict)
                    page.Append($"<td class=\"{verdict.Kind.ToString().ToLowerInvariant()}\">{N(verdict.Margin, 2)}</td>");
                else
                    page.Append("<td>·</td>");
            page.Append("</tr>");
        }

        page.Append("</tbody></table></div></section>\n");
    }

    void Provenance()
    {
        page.Append("<section><h2>How it was made</h2>");
        Table(
            "#|case|revision|method|relative tolerance|fingerprint of model and values|version|made",
            report.Results.Select(
                (r, i) =>
                    r.Result is { Provenance: var p }
                        ? Cells(
                            $"{i + 1}",
                            Text(r.Node.Name),
                            $"{p.Revision}",
                            Text(p.Method),
                            N(p.RelativeTolerance),
                            $"<code>{Text(p.Fingerprint)}</code>",
                            Text(p.Version),
                            p.Made.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture)
                        )
                        : Cells($"{i + 1}", Text(r.Node.Name), "", "", "", "never run", "", "")
            )
        );
        page.Append(
            $"<p>Report made {report.Made.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture)} UTC "
                + $"by Anchor Bend {Text(report.Version)}"
                + $"{(report.Revision is { } revision ? $", model at revision {revision}" : "")}.</p></section>\n"
        );
    }
}
