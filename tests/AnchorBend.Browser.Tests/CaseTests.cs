using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Test cases: run, looked into, made of a run, covered, justified.</summary>
[Collection("application")]
public sealed class CaseTests : IDisposable
{
    readonly BenchPage bench;

    public CaseTests(Application application) => bench = new BenchPage(application);

    public void Dispose() => bench.Dispose();

    IWebElement Cell(string requirement, string @case) => bench.Find(By.CssSelector($"button[aria-label^='{requirement}, {@case}:']"));

    void Branch(string name) =>
        bench.Click(By.XPath($"//nav[@aria-label='What is verified']//button[starts-with(normalize-space(.), '{name}')]"));

    void Opened()
    {
        bench.OpenExample("Tide gate");
        bench.Press("Verify");
        Branch("Cases");
    }

    string Told => bench.Find(By.CssSelector("[aria-label='Why it came out so']")).Text;

    [Fact]
    public void All_cases_are_run_and_each_cell_says_why_it_came_out_so()
    {
        Opened();
        bench.Press("Run all 20 cases");
        bench.Until(() => bench.All("[aria-label$=': passed']").Count >= 14, "the outcomes", 90);
        bench.Until(
            () => Cell("Never far from the plan", "Full stroke").GetAttribute("aria-label")!.Contains("missed by 0.121 m"),
            "a miss"
        );
        Cell("Never far from the plan", "Full stroke").Click();
        bench.Until(() => Told.Contains("missed by", StringComparison.Ordinal), "why it was missed");
        Assert.Contains("14 s", Told, StringComparison.Ordinal);

        // The matrix is walked with the keyboard.
        Cell("Never far from the plan", "Full stroke").SendKeys(Keys.ArrowLeft);
        bench.Until(() => Told.Contains("Small step", StringComparison.Ordinal), "the case beside it");
        Assert.Equal("true", Cell("Never far from the plan", "Small step").GetAttribute("aria-pressed"));

        // A change of the model makes results stale, and those alone are run again.
        bench.SetField("End of the case", "50 s");
        bench.Until(
            () => Cell("Never far from the plan", "Small step").GetAttribute("aria-label")!.Contains("out of date"),
            "a stale result"
        );
        bench.Press("Run this case");
        bench.Until(
            () => !Cell("Never far from the plan", "Small step").GetAttribute("aria-label")!.Contains("out of date"),
            "the result of now",
            30
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_run_becomes_a_case_that_fails_when_the_model_does_something_else()
    {
        bench.OpenExample("Hatchery tank, first loop");
        bench.Press("Verify");
        bench.Click(By.XPath("//button[normalize-space(.)='Make a case of this run' and not(@disabled)]"));
        bench.Find(By.Id("case-name")).SendKeys(Keys.Control + "a");
        bench.Find(By.Id("case-name")).SendKeys("As it was");
        bench.Press("Make the case");
        bench.Until(() => bench.Field("Name of the case").GetAttribute("value") == "As it was", "the case");
        bench.Press("Run the case");
        bench.Until(() => bench.All("[aria-label='As it was: passed']").Count == 1, "that it passes");

        // A case sets values of its own: here one that the run did not have.
        bench.Find(By.CssSelector("input[aria-label='Set something more']")).SendKeys("capacity");
        bench.Click(By.CssSelector(".ant-select-item-option"));
        bench.Until(() => bench.All("[class*=values] input").Count == 1, "the value");
        var field = bench.Find(By.CssSelector("[class*=values] input"));
        bench.SetField(field.GetAttribute("aria-label")!, "400 kJ/K");
        bench.Press("Run this case");
        bench.Until(() => bench.All("[aria-label='As it was: failed']").Count == 1, "that it fails");
        bench.Until(() => Told.Contains("first out at", StringComparison.Ordinal), "where it was first out");

        // Undo takes the value back, and the result is stale.
        bench.Chord(Keys.Control, "z");
        bench.Chord(Keys.Control, "z");
        bench.WaitSaved();
        bench.Until(() => bench.All("[class*=values] input").Count == 0, "that nothing is set");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void What_no_case_came_by_is_told_in_words_and_can_be_justified()
    {
        Opened();
        bench.Press("Run all 20 cases");
        bench.Until(() => bench.All("[aria-label$=': passed']").Count >= 14, "the outcomes", 90);
        Branch("Coverage");
        const string hole = "input never above upper limit";
        bench.Click(By.CssSelector($"[aria-label='Justify: {hole}']"));
        bench.Find(By.CssSelector($"[aria-label='Why {hole} needs no case']")).SendKeys("The amplifier gives no more." + Keys.Enter);
        bench.Until(() => bench.All("[aria-label='Take back: The amplifier gives no more.']").Count == 1, "the justification");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.All($"[aria-label='Justify: {hole}']").Count == 1, "the hole again");

        // The report is a page of its own.
        var page = bench.Find(By.XPath("//nav[@aria-label='What is verified']//a[normalize-space(.)='Web page']")).GetAttribute("href");
        bench.Driver.Navigate().GoToUrl(page!);
        bench.Until(() => bench.Find(By.TagName("h1")).Text == "Tide gate", "the report");
        Assert.Contains("Not every case has passed.", bench.Find(By.TagName("body")).Text, StringComparison.Ordinal);
    }

    [Fact]
    public void A_fault_tree_is_edited_where_it_stands_and_tells_its_probability_at_once()
    {
        bench.OpenExample("Tide gate");
        bench.Press("Verify");
        Branch("Too late for the ebb");
        const string sets = "[aria-label='Minimal cut sets'] tr";
        bench.Until(() => bench.All(sets).Count == 3, "the minimal cut sets");
        Assert.StartsWith("Transmitter drifts and Weak amplifier", bench.All(sets)[0].Text, StringComparison.Ordinal);

        // Without a rate nothing can be told; with another one it is another.
        var before = bench.All(sets)[0].Text;
        bench.SetField("Rate or probability of Weak amplifier", "seldom");
        bench.Until(
            () =>
                bench
                    .Find(By.CssSelector("[class*=tree-figures] [role=status]"))
                    .Text.Contains("no number with a unit", StringComparison.Ordinal),
            "what is wrong"
        );
        bench.SetField("Rate or probability of Weak amplifier", "1e-7 1/h");
        bench.Until(() => bench.All(sets).Count == 3 && bench.All(sets)[0].Text != before, "the new order");
        Assert.StartsWith("Transmitter reads high and Transmitter drifts", bench.All(sets)[0].Text, StringComparison.Ordinal);

        bench.Click(By.CssSelector("[aria-label='Add below Too late for the ebb']"));
        bench.Click(By.XPath("//li[@role='menuitem' and normalize-space(.)='An event']"));
        bench.SetField("Rate or probability of Event", "0.01");
        bench.Until(() => bench.All(sets).Count == 4, "a cut set more");
        Assert.StartsWith("Event", bench.All(sets)[0].Text, StringComparison.Ordinal);
        bench.NoConsoleErrors();
    }

    [Fact]
    public void The_diagram_shows_what_the_cases_came_by()
    {
        bench.OpenExample("Tide gate");
        bench.Press("Verify");
        Branch("Cases");
        bench.Click(By.XPath("//th//button[normalize-space(.)='Small step']"));
        bench.Press("Run this case");
        bench.Until(() => bench.All("[aria-label='Small step: passed']").Count == 1, "the outcome");
        Branch("Coverage");
        bench.Press("Show on the diagram");
        bench.Until(() => bench.All("[aria-label^='Position controller: the cases came by']").Count == 1, "the mark of a part");
        Assert.Contains(
            "never below lower limit",
            bench.Find(By.CssSelector("[aria-label^='Position controller: the cases came by']")).GetAttribute("aria-label"),
            StringComparison.Ordinal
        );
        bench.Press("Coverage");
        bench.Until(() => bench.All("[aria-label*='the cases came by']").Count == 0, "no marks any more");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void The_faults_that_break_a_requirement_are_found_and_become_a_tree()
    {
        bench.OpenExample("Tide gate");
        bench.Press("Verify");
        Branch("Cases");
        bench.Click(By.XPath("//tbody//th//button[contains(., 'Follows the plan')]"));
        bench.Press("Find the faults that break this");
        // The search that was just made is the one that is shown, not the first of the model.
        bench.Until(
            () => bench.Find(By.CssSelector("aside h2")).Text == "Faults that break Follows the plan",
            "the search for this requirement"
        );
        bench.Press("Run the study");
        bench.Until(
            () => bench.Find(By.CssSelector("aside")).Text.Contains("All sets of up to two are tried", StringComparison.Ordinal),
            "all sets",
            90
        );
        bench.Press("Make a fault tree");
        bench.Until(() => bench.Field("Name of the fault tree").GetAttribute("value") == "Follows the plan: missed", "the tree");
        bench.SetField("Rate or probability of Transmitter drifts", "1e-3");
        bench.SetField("Rate or probability of Transmitter sticks", "2e-3");
        bench.Until(() => bench.All("[aria-label='Minimal cut sets'] tr").Count == 2, "what the tree comes to");
        bench.NoConsoleErrors();
    }
}
