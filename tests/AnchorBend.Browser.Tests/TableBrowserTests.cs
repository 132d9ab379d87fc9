using System.Globalization;
using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Decision tables and schedules on the screen: half of J05 (a start-up by a sequence, handed over to a loop), and J06 from a
/// panel.</summary>
[Collection("application")]
public sealed class TableBrowserTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void OpenTable(string part) =>
        bench.DoubleClick(
            () => bench.PartNow(part),
            () => bench.All("table[aria-label^='Decision table'], table[aria-label^='Schedule']").Count > 0,
            "the table to open"
        );

    string ValueOf(string label) => bench.Field(label).GetAttribute("value")!;

    [Fact]
    public void A_schedule_is_written_with_mouse_and_keys_runs_and_is_there_after_a_reload()
    {
        bench.NewModel();
        bench.Place("schedule", 240, 160);
        OpenTable("Schedule");
        bench.SetField("Name of phase 1", "Purge");
        bench.WaitSaved();
        bench.SetField("Purge lasts", "2 s");
        bench.WaitSaved();
        // Enter leads down the column.
        bench.Field("Purge lasts").Click();
        bench.Keys(Keys.Enter);
        bench.Until(() => bench.Driver.SwitchTo().ActiveElement().GetAttribute("aria-label") == "Purge until", "the cell below");
        bench.SetField("Purge, y", "0.25");
        bench.WaitSaved();
        bench.SetField("Go, y", "1");
        bench.WaitSaved();
        bench.Choose("How Go, y gets there", "smoothly");
        bench.WaitSaved();
        bench.Click(By.XPath("//button[normalize-space(.)='Phase']"));
        bench.WaitSaved();
        bench.SetField("Name of phase 3", "Hold");
        bench.WaitSaved();
        bench.WaitForRun();
        bench.SetTime(0.1);
        bench.Until(() => bench.All("[aria-label='Phase Purge, goes on']").Count == 1, "the purge at 1 s");
        var part = bench.SetTime(0.25) - 2;
        bench.Until(() => bench.All("[aria-label='Phase Go, goes on']").Count == 1, "the next phase at 2.5 s");
        // From 0.25 to 1 in a second, by the polynomial of fifth order.
        var expected = 0.25 + 0.75 * Math.Pow(part, 3) * (10 + part * (6 * part - 15));
        bench.Until(
            () =>
                double.TryParse(
                    bench.Find(By.XPath("//table[@aria-label='Names']//tr[td[normalize-space(.)='y']]/td[3]")).Text,
                    CultureInfo.InvariantCulture,
                    out var shown
                )
                && Math.Abs(shown - expected) < 0.002,
            "the value in the inspector"
        );
        bench.Driver.Navigate().Refresh();
        bench.Until(() => ValueOf("Name of phase 3") == "Hold" && ValueOf("Purge, y") == "0.25", "what was written");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => ValueOf("Name of phase 3") == "Phase", "the name of before");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_decision_table_says_which_rule_applies_and_what_is_missing()
    {
        bench.OpenExample("Tide gate modes");
        bench.WaitForRun();
        OpenTable("Mode wanted");
        bench.SetTime(0.05);
        bench.Until(() => bench.All("[aria-label='Rule 4, applies']").Count == 1, "the flood at 12 s");
        bench.SetTime(0.25);
        bench.Until(() => bench.All("[aria-label='Rule 5, applies']").Count == 1, "the ebb at 60 s");
        bench.SetField("Rule 5, rate", "< -0.01 m/s");
        bench.WaitSaved();
        bench.Click(By.XPath("//button[normalize-space(.)='1 finding']"));
        bench.Until(
            () => bench.All("[class*='findings']").Any(f => f.Text.Contains("No rule applies where", StringComparison.Ordinal)),
            "what is missing"
        );
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.All("button").Any(b => b.Text == "No findings"), "nothing to be missing");
        // A rule in front of all others hides them.
        bench.Click(By.CssSelector("[aria-label='Choose rule 5']"));
        bench.Click(By.XPath("//button[normalize-space(.)='Rule']"));
        bench.WaitSaved();
        bench.Field("Rule 6, wanted").SendKeys("ebb" + Keys.Enter);
        bench.WaitSaved();
        bench.Until(
            () => bench.All("[class*='findings']").Any(f => f.Text.Contains("Rule 6 never applies", StringComparison.Ordinal)),
            "the hidden rule"
        );
        bench.NoConsoleErrors();
    }

    void Press(string button) =>
        bench.Click(By.XPath($"//*[@aria-label='Operator panel']//button[normalize-space(.)='{button}' or @aria-label='{button}']"));

    string Panel => bench.Find(By.CssSelector("[aria-label='Operator panel']")).Text;

    [Fact]
    public void J06_Play_a_controller_from_a_panel_and_replay_what_was_done()
    {
        bench.OpenExample("Tide gate modes");
        bench.WaitForRun();
        Press("Play");
        bench.Until(() => Panel.Contains("Flood", StringComparison.Ordinal), "the flood");
        var wind = bench.Find(By.CssSelector("[aria-label='Operator panel'] [role='slider'][aria-label='Wind']"));
        wind.SendKeys(Keys.End);
        bench.Until(() => Panel.Contains("Storm: the gate is closed", StringComparison.Ordinal), "the warning");
        bench.Until(() => bench.All("[class*='alert-mark'][title*='Storm']").Count == 1, "its mark on the time bar");
        Press("Pause");
        bench.Until(() => bench.All("[aria-label='Go on']").Count == 1, "the pause");
        OpenTable("Mode wanted");
        bench.Until(() => bench.All("[aria-label='Rule 1, applies']").Count == 1, "the rule that decided");
        bench.Click(By.CssSelector("[aria-label='End the run by hand']"));
        bench.Until(() => bench.All("[aria-label='Run']").Count == 1, "the model's own run");
        // The session drives the model again: the gate is closed for the rest of it.
        bench.Click(By.XPath("//nav//button[contains(., 'Observe')]"));
        bench.Click(By.XPath("//li[@data-run='2']//button[contains(@aria-label, 'What can be done with Run')]"));
        bench.Click(
            By.XPath(
                "//li[@role='menuitem' and normalize-space(.)='Make a stimulus of what was set' "
                    + "and not(ancestor::*[contains(@class,'hidden')])]"
            )
        );
        bench.Click(By.XPath("//button[normalize-space(.)='Stimuli']"));
        bench.Click(By.XPath("//label[contains(., 'Played in run')]"));
        bench.WaitSaved();
        bench.Click(By.XPath("//nav//button[contains(., 'Build')]"));
        bench.WaitForRun();
        bench.SetTime(0.4);
        bench.Until(() => bench.All("[aria-label='Rule 1, applies']").Count == 1, "the storm as it was played");
        bench.NoConsoleErrors();
    }
}
