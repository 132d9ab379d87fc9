using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Code;

namespace AnchorBend.Workbench.Reports;

/// <content>The same cases on the code of what is handed on, and what they reached of it.</content>
public sealed partial class ReportHtml
{
    void Code()
    {
        if (report.Document.Deliveries.Count == 0)
            return;
        page.Append("<section><h2>Code</h2>");
        Table(
            "delivery|checked|warnings|rules for safe C|drawn inputs|cases|reached of the code",
            report.Document.Deliveries.OrderBy(d => d.Value.Order).Select(d => Row(d.Value, report.Checks.GetValueOrDefault(d.Key)))
        );
        foreach (var (id, check) in report.Checks)
        {
            if (!report.Document.Deliveries.TryGetValue(id, out var node))
                continue;
            foreach (var c in check.Cases.Where(c => c.Message is not null))
                page.Append($"<p>{Text(node.Name)}, case {Text(c.Name)}: {Text(c.Message)}</p>");
            var by = check.IsByCases ? "case" : "drawn input";
            if (check.Open is { Count: > 0 } open)
                page.Append($"<p>{Text(node.Name)}: no {by} reaches all of line {Text(string.Join(", ", open))}.</p>");
            if (check.Troubles > 0)
                page.Append($"<p>{Text(node.Name)}: {Troubled(check)}</p>");
            if (check.Run is { Nearness: not Nearness.Near } run)
                page.Append($"<p>{Text(node.Name)}: {Text(run.Output)} is {Apart(run)} from the run at {N(run.Time)} s.</p>");
        }

        page.Append("</section>\n");
    }

    static string Troubled(DeliveryCheck check) =>
        $"loops were not solved or decisions did not settle in {check.Troubles} steps, in the model's steps as in the code's.";

    static string Apart(RunDistance run) => run.Part is { } part ? $"{N(100 * part, 2)} % of its range" : "no number, and so far,";

    static string Row(DeliveryNode node, DeliveryCheck? check)
    {
        if (check is null)
            return Cells(Text(node.Name), "<b class=\"missed\">never</b>", "", "", "", "", "");
        var same = check.Cases.Count(c => c.Outcome == CodeCaseOutcome.Same);
        return Cells(
            Text(node.Name),
            FormattableString.Invariant($"{check.Made:d MMM yyyy}"),
            check.Compiler.Length == 0 ? "none" : $"<pre>{Text(check.Compiler)}</pre>",
            check.Rules is not { } rules ? "no checker"
                : rules.Count == 0 ? "kept"
                : Text(string.Join(", ", rules)),
            check.Drawn.First is { } first ? $"<b class=\"missed\">part at step {first.Step}</b>" : $"{check.Drawn.Steps} steps the same",
            $"{same} of {check.Cases.Count} the same",
            FormattableString.Invariant($"{100 * check.Reached:G4} %")
        );
    }
}
