using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>
/// Prove a controller by tests, on the model: all cases run, only what failed looked at, one case opened at its first instant out, what
/// they cover told by part and by case, a hole closed by a search and another justified, the same cases on the code, and one report of it
/// all.
/// </summary>
[Collection("application")]
public sealed class J01Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void Branch(string name) =>
        bench.Click(By.XPath($"//nav[@aria-label='What is verified']//button[starts-with(normalize-space(.), '{name}')]"));

    string Aside => bench.Find(By.CssSelector("aside")).Text;

    [Fact]
    public void J01_Prove_a_controller_by_tests()
    {
        bench.OpenExample("Tide gate");
        bench.Press("Verify");
        Branch("Cases");
        bench.Press("Run all 20 cases");
        bench.Until(() => bench.All("[aria-label$=': passed'], [aria-label$=': failed']").Count >= 20, "all outcomes", 120);

        // Only what failed; one of it opened, with the first instant that decided.
        bench.Click(By.XPath("//*[contains(@class, 'ant-segmented-item-label')][starts-with(normalize-space(.), 'failed')]"));
        bench.Until(() => bench.All("[aria-label$=': passed']").Count == 0, "that what passed is not shown");
        var missed = bench.Find(By.CssSelector("button[aria-label^='Never far from the plan, Full stroke: missed']"));
        missed.Click();
        bench.Until(
            () => bench.Find(By.CssSelector("[aria-label='Why it came out so']")).Text.Contains("decided at", StringComparison.Ordinal),
            "when it was decided"
        );

        // What they cover: by kind, by part, and what one case alone came by leads to that case.
        Branch("Coverage");
        foreach (var kind in (string[])["Decisions", "Borders", "Table intervals", "Alternatives"])
            Assert.Contains(kind, bench.Find(By.CssSelector("[aria-label='What is verified']")).Text, StringComparison.Ordinal);
        bench.Click(By.XPath("//table[@aria-label='What cases came by']//td[1]/button[starts-with(., 'Position controller')]"));
        bench.Until(
            () => bench.All("[aria-label='What cases came by'] tbody tr td:first-child").All(c => c.Text == "Position controller"),
            "that part alone"
        );
        const string hole = "output before the limits never rises past lower limit";
        // The list is drawn anew as results come, which may take a field away that is typed into.
        bench.Until(
            () =>
            {
                if (bench.All("[aria-label='Take back: It stays limited to the end.']").Count == 1)
                    return true;
                if (bench.All($"[aria-label='Why {hole} needs no case']") is [var field])
                    field.SendKeys(Keys.Control + "a" + Keys.Null + "It stays limited to the end." + Keys.Enter);
                else if (bench.All($"[aria-label='Justify: {hole}']") is [var button])
                    button.Click();
                return false;
            },
            "the justification",
            30
        );
        bench.Press("Position controller only ×");
        bench.Click(By.XPath("//*[contains(@class, 'ant-segmented-item-label')][normalize-space(.)='all']"));
        var only = bench.Find(By.XPath("//table[@aria-label='What cases came by']//button[starts-with(normalize-space(.), 'only ')]"));
        var name = only.Text["only ".Length..];
        only.Click();
        bench.Until(() => bench.Field("Name of the case").GetAttribute("value") == name, "the case that alone came by it");

        // The same cases on the generated C, each step as the model's, and what they reach of the code.
        bench.Press("Deliver");
        bench.Press("Check the code");
        bench.Until(() => Aside.Contains("20 of 20", StringComparison.Ordinal), "the cases on the code", 120);
        Assert.Contains("reached of the code", Aside, StringComparison.Ordinal);
        Assert.NotEmpty(bench.All("[aria-label='Lines of position_controller.c'] [title^='ran ']"));
        bench.Press("Verify");

        // One report of all suites, and of the part that was run alone.
        var page = bench.Find(By.XPath("//nav[@aria-label='What is verified']//a[normalize-space(.)='Web page']")).GetAttribute("href");
        bench.NoConsoleErrors();
        bench.Driver.Navigate().GoToUrl(page!);
        bench.Until(() => bench.Find(By.TagName("h1")).Text == "Tide gate", "the report");
        var report = bench.Find(By.TagName("body")).Text;
        foreach (
            var told in (string[])
                [
                    "Position controller alone 1 1 0 0",
                    "It stays limited to the end.",
                    "Parts that no requirement speaks of",
                    "Fault trees",
                    "20 of 20 the same",
                ]
        )
            Assert.Contains(told, report, StringComparison.Ordinal);
    }

    [Fact]
    public void A_search_finds_a_case_that_closes_a_hole()
    {
        bench.OpenExample("Hatchery tank, first loop");
        bench.Press("Verify");
        Branch("Cases");
        bench.Press("Add a case");
        bench.Press("Run the case");
        bench.Until(() => bench.All("[aria-label^='Case: ']").Count == 1 && !Aside.Contains("not run"), "that it was run");
        Branch("Coverage");
        const string hole = "output before the limits never below lower limit";
        bench.Click(By.CssSelector($"[aria-label='Search a case: {hole}']"));

        // The search says what it looks for; it needs something to vary.
        bench.Until(() => bench.Field("What a run shall come to").GetAttribute("value") == "Controller.v < Controller.uMin", "its goal");
        bench.Find(By.CssSelector("input[aria-label='Vary something more']")).SendKeys("Set-point.height");
        bench.Click(By.CssSelector(".ant-select-item-option"));
        bench.SetField("Values of Set-point.height", "-10:10 K");
        bench.WaitSaved();
        bench.Press("Run the study");
        bench.Until(() => Aside.Contains("It has found such a run", StringComparison.Ordinal), "such a run", 60);
        bench.Press("Make a case of it");
        bench.Press("Verify");
        Branch("Cases");
        bench.Press("Run all 2 cases");
        Branch("Coverage");
        bench.Until(
            () =>
                bench.All("[aria-label='What cases came by'] tbody tr").Count > 0
                && bench.All($"[aria-label='Justify: {hole}']").Count == 0,
            "that the hole is closed",
            30
        );
        bench.NoConsoleErrors();
    }
}
