using AnchorBend.Workbench.Coverage;

namespace AnchorBend.Workbench.Reports;

/// <content>What the cases came by, and what of the rest is justified.</content>
public sealed partial class ReportHtml
{
    void Covered(CoverageView coverage)
    {
        page.Append("<section><h2>Coverage</h2>")
            .Append($"<p>By {coverage.Cases} cases with results of the model as it is")
            .Append(coverage.Stale > 0 ? $"; {coverage.Stale} cases do not count, as their results are out of date or missing" : "")
            .Append(".</p>");
        string Line(CoverageTotal t) =>
            Cells(Text(t.Name), $"{t.Covered}", $"{t.Justified}", $"{t.Total - t.Covered - t.Justified}", $"{Percent(t)} %");
        Table("kind|seen|justified|open|seen", coverage.Kinds.Select(Line));
        Table("part|seen|justified|open|seen", coverage.Parts.Select(Line));
        var holes = coverage.Points.SelectMany(p => p.Sides.Where(s => s.Count == 0).Select(s => (Point: p, Side: s))).ToList();
        if (holes.Count > 0)
        {
            page.Append("<h3>What no case came by</h3>");
            Table(
                "part|what|justification",
                holes.Select(h =>
                    Cells(
                        Text(h.Point.Name),
                        $"{Text(h.Side.Words)}<br><small><code>{Text(h.Point.Text)}</code> {Text(Place(h.Point))}</small>",
                        Justified(h.Side)
                    )
                )
            );
        }

        foreach (var lost in coverage.Lost)
            page.Append(
                $"<p class=\"missed\">A justification has lost its place: {Text(lost.Reason)} <small>{Text(lost.Goal)}</small></p>"
            );
        page.Append("</section>\n");
    }

    static string Place(CoveragePoint point) => point.Line > 0 ? $"{point.Type}, line {point.Line}" : "";

    string Justified(CoverageSide side)
    {
        if (side.Justification is not { } id || !report.Document.Justifications.TryGetValue(id, out var written))
            return "<b class=\"missed\">open</b>";
        var by = string.Join(", ", ((string[])[written.By, written.Date]).Where(t => t.Length > 0));
        return $"{Text(written.Reason)}<br><small>{Text(by)}</small>";
    }

    static int Percent(CoverageTotal total) => total.Total == 0 ? 100 : 100 * total.Covered / total.Total;
}
