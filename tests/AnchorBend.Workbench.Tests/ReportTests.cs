using System.Xml.Linq;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Reports;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Reports of cases, for people and for build servers.</summary>
public sealed class ReportTests : IDisposable
{
    readonly Bench bench = new();

    public void Dispose()
    {
        bench.Cases.Dispose();
        bench.Workers.Dispose();
        bench.RunStore.Dispose();
    }

    static ModelDocument Basin() =>
        new DiagramDefinition
        {
            Name = "Basin <north> & south",
            Parts = new() { ["s"] = Part("Ramp", "Inflow", ("height", "2")), ["l"] = Part("Saturation", "Stops") },
            Wires = new() { ["w"] = Wire("s.y", "l.u") },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "3 s", Live = false },
            Requirements = new()
            {
                ["q"] = new RequirementNode
                {
                    Name = "Below 0.8",
                    Signal = "l.y",
                    Limit = "0.8",
                    Source = "Harbour office",
                },
                ["never"] = new RequirementNode
                {
                    Name = "Nobody shows it",
                    Signal = "",
                    Rule = "whenever time > 50 s then within 1 s Stops.y > 2",
                },
            },
            CaseGroups = new() { ["g"] = new CaseGroupNode { Name = "calm" } },
            Cases = new()
            {
                ["a"] = new CaseNode
                {
                    Name = "Slow",
                    Group = "g",
                    Values = new()
                    {
                        ["v"] = new CaseValueNode { Target = "s.height", Text = "0.1" },
                    },
                },
                ["b"] = new CaseNode { Name = "As it is", Group = "g" },
                ["c"] = new CaseNode
                {
                    Name = "Wrong \u0001",
                    Values = new()
                    {
                        ["v"] = new CaseValueNode { Target = "s.height", Text = "nonsense" },
                    },
                },
            },
        };

    CaseReport Made()
    {
        var session = bench.Models.Session(bench.Create(Basin()));
        bench.Cases.Start(session, null, CaseChoice.All, default);
        Assert.True(SpinWait.SpinUntil(() => bench.Cases.View(session).Suite!.State == SuiteState.Finished, 30_000));
        return bench.Cases.Report(session, default);
    }

    [Fact]
    public void Build_servers_read_suites_with_failures_and_errors()
    {
        var root = XDocument.Parse(JUnitXml.Of(Made())).Root!;
        Assert.Equal(("testsuites", "3", "1", "1"), (root.Name.LocalName, Of(root, "tests"), Of(root, "failures"), Of(root, "errors")));
        var calm = root.Elements("testsuite").First();
        Assert.Equal(("calm", "2"), (Of(calm, "name"), Of(calm, "tests")));
        Assert.Empty(calm.Elements("testcase").First().Elements());
        var failure = Assert.Single(calm.Elements("testcase").Last().Elements("failure"));
        // The ramp ends at the limit of 1: 0.2 above what is required.
        Assert.Contains("Below 0.8: missed by 0.2", Of(failure, "message"), StringComparison.Ordinal);
        Assert.Contains(
            "nonsense",
            Of(root.Elements("testsuite").Last().Descendants("error").Single(), "message"),
            StringComparison.Ordinal
        );

        static string Of(XElement element, string name) => element.Attribute(name)!.Value;
    }

    [Fact]
    public void A_page_tells_all_and_needs_nothing_else()
    {
        var html = ReportHtml.Of(Made());
        Assert.Contains("Not every case has passed.", html, StringComparison.Ordinal);
        Assert.Contains("Basin &lt;north&gt; &amp; south", html, StringComparison.Ordinal);
        Assert.DoesNotContain("<north>", html, StringComparison.Ordinal);
        Assert.Contains("−0.2", html, StringComparison.Ordinal);
        Assert.Contains("no case shows it", html, StringComparison.Ordinal);
        Assert.Contains("input never below lower limit", html, StringComparison.Ordinal);
        Assert.Contains("Inflow.height = 0.1", html, StringComparison.Ordinal);
        Assert.Contains("<svg", html, StringComparison.Ordinal);
        foreach (var outside in (string[])["http://", "https://", "<script", "<link", "src="])
            Assert.DoesNotContain(outside, html, StringComparison.Ordinal);
    }

    [Fact]
    public void What_all_cases_pass_with_fresh_results_is_told_as_passed()
    {
        var report = Made();
        Assert.False(report.IsPassed);
        var passed = report with { Results = [report.Results[0]] };
        Assert.True(passed.IsPassed);
        Assert.Contains("Every case has passed.", ReportHtml.Of(passed), StringComparison.Ordinal);
        Assert.False((passed with { Results = [report.Results[0] with { IsStale = true }] }).IsPassed);
        Assert.False((passed with { Results = [] }).IsPassed);
    }

    [Fact]
    public void A_browser_prints_it() =>
        Assert.Equal("%PDF-"u8.ToArray(), PdfPrinter.Print(ReportHtml.Of(Made()), default).AsSpan(0, 5).ToArray());

    [Fact]
    public void What_belongs_to_what_is_told_both_ways_with_its_gaps()
    {
        var report = Made();
        Assert.Equal(["Stops"], report.Parts["q"]);
        Assert.Equal(["Stops"], report.Parts["never"]);
        var html = ReportHtml.Of(report);
        var traces = html[html.IndexOf("What belongs to what", StringComparison.Ordinal)..];
        Assert.Contains("<td>Below 0.8</td><td>Stops</td><td>Slow, As it is</td>", traces, StringComparison.Ordinal);
        Assert.Contains("<td>Stops</td><td>Below 0.8, Nobody shows it</td><td>Slow, As it is</td>", traces, StringComparison.Ordinal);
        Assert.Contains("Parts that no requirement speaks of: Inflow.", traces, StringComparison.Ordinal);
        // What somebody named counts as well.
        var document = Basin();
        document.Requirements["q"] = document.Requirements["q"] with { Parts = ["s", "gone"] };
        var (prepared, present, _) = bench.Models.Session(bench.Create(document)).Prepare(default);
        Assert.Equal(["Inflow", "Stops"], Requirements.RequirementParts.All(present, prepared)["q"]);
    }

    [Fact]
    public void Suites_and_subjects_are_told_beside_each_other()
    {
        var html = ReportHtml.Of(Made());
        Assert.Contains("<td>calm</td><td>2</td><td>1</td><td>1</td><td>0</td>", html, StringComparison.Ordinal);
        Assert.Contains("<td>without a suite</td><td>1</td><td>0</td><td>1</td><td>0</td>", html, StringComparison.Ordinal);
        // All cases run the whole model: there is nothing to tell apart.
        Assert.DoesNotContain("<th>subject</th>", html, StringComparison.Ordinal);
    }
}
