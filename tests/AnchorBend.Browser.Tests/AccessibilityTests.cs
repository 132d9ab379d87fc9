using System.Runtime.CompilerServices;
using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Every screen passes the rules of axe-core (WCAG 2.2 and good practice).</summary>
[Collection("application")]
public class AccessibilityTests(Application application)
{
    static readonly Lazy<string> Axe = new(() => File.ReadAllText(Path.Combine(Root(), "web", "node_modules", "axe-core", "axe.min.js")));

    static string Root([CallerFilePath] string here = "") => Path.GetFullPath(Path.Combine(Path.GetDirectoryName(here)!, "..", ".."));

    static void Check(BenchPage bench, string screen)
    {
        bench.Driver.ExecuteScript(Axe.Value);
        // What moves in is not there yet; what turns without end is there.
        bench.Until(
            () =>
                (bool)
                    bench.Driver.ExecuteScript(
                        "return document.getAnimations().every((a) => a.playState === 'finished' "
                            + "|| a.effect.getComputedTiming().endTime === Infinity)"
                    )!,
            "the screen to stand still"
        );
        var violations =
            (IReadOnlyCollection<object>)
                bench.Driver.ExecuteAsyncScript(
                    """
                    const done = arguments[arguments.length - 1];
                    axe.run({ resultTypes: ["violations"] }).then((r) =>
                      done(r.violations.map((v) => `${v.id}: ${v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160)).join(" | ")}`)));
                    """
                )!;
        Assert.True(violations.Count == 0, $"{screen}:\n{string.Join("\n", violations)}");
    }

    [Fact]
    public void The_start_page_has_no_violation()
    {
        using var bench = new BenchPage(application);
        bench.NewModel();
        Check(bench, "an empty model");
        bench.Driver.Navigate().GoToUrl(application.Address);
        bench.Find(By.CssSelector(".start-examples li"));
        Check(bench, "start page");
    }

    [Fact]
    public void A_study_with_results_and_its_design_table_have_no_violation()
    {
        using var bench = new BenchPage(application);
        bench.OpenExample("Plankton winch");
        bench.Press("Explore");
        bench.Press("Run the study");
        bench.Until(() => bench.All("[aria-label='Results'] tbody tr").Count == 7, "the results", 60);
        bench.Until(() => bench.All(".explore-echart[data-ready]").Count == 3, "the charts");
        Check(bench, "Explore, runs");
        bench.Press("Design table");
        bench.Until(() => bench.All("[aria-label='Design table'] tbody tr").Count == 7, "the rows");
        Check(bench, "Explore, design table");
        bench.Click(By.XPath("//*[@aria-label='Studies']//b[.='Model tolerances']"));
        bench.Until(() => bench.All("[aria-label='Tolerances of the model'] tbody tr").Count == 5, "the tolerances");
        Check(bench, "Explore, tolerances");
    }

    [Fact]
    public void Requirements_with_one_opened_have_no_violation()
    {
        using var bench = new BenchPage(application);
        bench.OpenExample("Tide gate");
        bench.Press("Verify");
        bench.Click(By.XPath("//table[@aria-label='Requirements']/tbody/tr[contains(., 'Opens for the ebb')]"));
        bench.Find(By.CssSelector("[aria-label='Occasions']"));
        Check(bench, "Verify, one opened");
    }

    [Fact]
    public void The_stages_of_a_demo_have_no_violation()
    {
        using var bench = new BenchPage(application);
        bench.OpenExample("Plankton winch, on one level");
        Check(bench, "Build");
        bench.Click(By.CssSelector(".run-track"));
        bench.Find(By.CssSelector(".canvas-signal-tag .canvas-value"));
        bench.Part("Depth controller").Click();
        bench.Find(By.CssSelector(".inspector-panel .inspector-row"));
        Check(bench, "Build with a part selected and values shown");
        bench.Click(By.CssSelector(".run-settings"));
        bench.Find(By.CssSelector("[aria-label='End time']"));
        Check(bench, "run settings");
        bench.Keys(Keys.Escape);
        foreach (
            var (stage, ready) in ((string, string)[])
                [
                    ("Observe", ".observe-tile .observe-key"),
                    ("Tune", "[aria-label='Apply what is in hand']"),
                    ("Verify", "section[aria-label='Verify']"),
                ]
        )
        {
            bench.Click(By.XPath($"//nav//button[contains(., '{stage}')]"));
            bench.Find(By.CssSelector(ready));
            Check(bench, stage);
            if (stage == "Observe")
                CheckObserve(bench);
        }

        bench.Press("Add a requirement");
        bench.Find(By.CssSelector(".ant-modal form"));
        Check(bench, "requirement form");
    }

    static void CheckObserve(BenchPage bench)
    {
        foreach (
            var (tab, ready) in ((string, string)[])
                [("Measures", "[data-measure]"), ("Stimuli", "section[aria-label='Stimuli']"), ("Runs", "[data-run]")]
        )
        {
            bench.Click(By.XPath($"//button[normalize-space(.)='{tab}']"));
            bench.Find(By.CssSelector(ready));
            Check(bench, $"Observe, {tab}");
        }

        bench.Click(By.CssSelector(".observe-key .observe-name"));
        bench.Find(By.CssSelector("[aria-label='Unit of the axis']"));
        Check(bench, "Observe with a curve selected");
        bench.Click(By.XPath("//button[normalize-space(.)='by hand']"));
        bench.Find(By.CssSelector("[aria-label='Go on']"));
        Check(bench, "a run by hand");
        bench.Click(By.CssSelector("[aria-label='End the run by hand']"));
        bench.Find(By.CssSelector("[aria-label='Run']"));
    }

    [Fact]
    public void Drawers_and_editors_have_no_violation()
    {
        using var bench = new BenchPage(application);
        bench.OpenExample("Plankton winch, on one level");
        bench.Chord(Keys.Control, "k");
        bench.Find(By.CssSelector(".app-palette li"));
        Check(bench, "finder");
        bench.Keys(Keys.Escape);
        bench.Click(By.XPath("//button[normalize-space(.)='Catalog']"));
        bench.Find(By.CssSelector(".build-catalog-part"));
        Check(bench, "catalog");
        bench.Click(By.XPath("//button[normalize-space(.)='Outline']"));
        bench.Find(By.CssSelector(".build-outline"));
        Check(bench, "outline");
        bench.Click(By.CssSelector("[aria-label='Close the left pane']"));
        bench.Part("Depth controller").Click();
        bench.Press("Open text");
        bench.Find(By.CssSelector(".parts-editor .cm-content"));
        Check(bench, "text of a part");
    }

    [Fact]
    public void Levels_faces_and_lists_of_wires_have_no_violation()
    {
        using var bench = new BenchPage(application);
        bench.OpenExample("Plankton winch");
        bench.Select("Boat and cable");
        bench.Find(By.CssSelector("[aria-label='Ports of the subsystem'] li"));
        Check(bench, "a subsystem selected");
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys(".");
        bench.Find(By.CssSelector("[aria-label='Port to wire to']"));
        Check(bench, "the list of wires");
        bench.Keys(Keys.Escape);
        bench.Keys(Keys.Enter);
        bench.Press("Count per part");
        bench.Find(By.CssSelector(".inspector-balance"));
        Check(bench, "a level with its face and counts");
        bench.Press("Draw");
        bench.Find(By.CssSelector("[aria-label^='Drawing ground']"));
        Check(bench, "the ground for a symbol");
    }

    [Fact]
    public void A_bundle_with_its_type_has_no_violation()
    {
        using var bench = new BenchPage(application);
        bench.OpenExample("Survey boat");
        bench.DoubleClick(() => bench.PartNow("Sensors"), () => bench.Parts == 9, "the level");
        bench.Select("Forty signals");
        bench.Find(By.CssSelector("[aria-label='Name of the member compass']"));
        Check(bench, "a bundle of a type");
        bench.DoubleClick(() => bench.PartNow("Compass"), () => bench.Parts == 6, "the level further in");
        bench.Select("told");
        bench.Find(By.CssSelector("[aria-label='Unit of heading']"));
        Check(bench, "a port for a bundle");
    }

    [Fact]
    public void Alternatives_sheets_and_history_have_no_violation()
    {
        using var bench = new BenchPage(application);
        bench.OpenExample("Tide gate");
        bench.Select("Four-way valve");
        bench.Find(By.CssSelector(".inspector-alternative"));
        Check(bench, "a slot selected");
        bench.Press("alternatives");
        bench.Press("Run all 6 combinations");
        bench.Until(() => bench.All(".observe-members button").Count == 6, "the runs");
        bench.Click(By.XPath("//label[contains(@class,'ant-segmented-item') and contains(., 'Table')]"));
        bench.Until(() => bench.All(".observe-set-table tbody tr").Count == 6, "their table");
        Check(bench, "runs side by side");
        bench.Click(By.CssSelector(".app-saved"));
        bench.Find(By.CssSelector(".build-history"));
        Check(bench, "history");
        bench.OpenExample("Crane drive line");
        bench.Click(By.XPath("//button[normalize-space(.)='Outline']"));
        bench.Click(By.XPath("//section[@aria-label='Sheets of the model']//button[contains(., 'Drive line')]"));
        bench.Find(By.CssSelector(".sheets-row"));
        Check(bench, "a sheet");
    }
}
