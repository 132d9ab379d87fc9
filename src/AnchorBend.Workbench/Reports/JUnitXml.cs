using System.Globalization;
using System.Xml.Linq;
using AnchorBend.Workbench.Cases;

namespace AnchorBend.Workbench.Reports;

/// <summary>A report as XML in the form that build servers read of JUnit: a suite for each group, a failure for what was missed, an error
/// for what could not be run.</summary>
public static class JUnitXml
{
    public static string Of(CaseReport report)
    {
        var suites = report
            .Results.GroupBy(r => report.GroupOf(r.Node))
            .Select(group => new XElement(
                "testsuite",
                new XAttribute("name", Clean(group.Key.Length > 0 ? group.Key : report.Document.Name)),
                new XAttribute("tests", group.Count()),
                new XAttribute("failures", group.Count(r => r.Result?.Outcome == CaseOutcome.Failed)),
                new XAttribute("errors", group.Count(r => r.Result?.Outcome == CaseOutcome.Broken)),
                new XAttribute("skipped", group.Count(r => r.Result is null or { Outcome: CaseOutcome.Open })),
                new XAttribute("time", Seconds(group.Sum(r => r.Result?.Seconds ?? 0))),
                group.Select(r => Case(report, group.Key, r.Node.Name, r.Result))
            ))
            .ToList();
        int Sum(string what) => suites.Sum(s => (int)s.Attribute(what)!);
        var root = new XElement(
            "testsuites",
            new XAttribute("name", Clean(report.Document.Name)),
            new XAttribute("tests", Sum("tests")),
            new XAttribute("failures", Sum("failures")),
            new XAttribute("errors", Sum("errors")),
            new XAttribute("time", Seconds(report.Results.Sum(r => r.Result?.Seconds ?? 0))),
            suites
        );
        return "<?xml version=\"1.0\" encoding=\"utf-8\"?>\n" + root + "\n";
    }

    static XElement Case(CaseReport report, string group, string name, CaseResult? result)
    {
        var element = new XElement(
            "testcase",
            new XAttribute("name", Clean(name)),
            new XAttribute("classname", Clean(group.Length > 0 ? $"{report.Document.Name}.{group}" : report.Document.Name)),
            new XAttribute("time", Seconds(result?.Seconds ?? 0))
        );
        List<string> told = result is null ? ["It was not run."] : [.. CaseReport.Failures(result).Select(Clean)];
        XElement Told(string what) => new(what, new XAttribute("message", told.FirstOrDefault() ?? what), string.Join('\n', told));
        if (result is null)
            element.Add(Told("skipped"));
        else if (result.Outcome != CaseOutcome.Passed)
            element.Add(
                Told(
                    result.Outcome switch
                    {
                        CaseOutcome.Failed => "failure",
                        CaseOutcome.Broken => "error",
                        _ => "skipped",
                    }
                )
            );
        return element;
    }

    /// <summary>What XML allows: control characters of names would break the file.</summary>
    static string Clean(string text) => string.Concat(text.Where(c => System.Xml.XmlConvert.IsXmlChar(c)));

    static string Seconds(double value) => value.ToString("0.###", CultureInfo.InvariantCulture);
}
