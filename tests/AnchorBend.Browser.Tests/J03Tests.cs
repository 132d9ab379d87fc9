using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>
/// Alternatives of a component: the gate's four-way valve from crude to detailed, swapped in place, all of them run with one press and laid
/// over each other. The jets of the oil close the spool, so with them it opens less for the same command.
/// </summary>
[Collection("application")]
public sealed class J03Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    string Realisation => bench.Part("Four-way valve").FindElement(By.CssSelector(".canvas-realisation span")).Text;

    /// <summary>Cells of a column of the table of runs, by its head.</summary>
    string[] Column(string head)
    {
        var heads = bench.All(".observe-set-table thead th").Select(h => h.Text.ReplaceLineEndings(" ")).ToList();
        var at = heads.FindIndex(h => h.StartsWith(head, StringComparison.Ordinal));
        return at < 0 ? [] : [.. bench.All(".observe-set-table tbody tr").Select(r => r.FindElements(By.CssSelector("th, td"))[at].Text)];
    }

    [Fact]
    public void J03_Alternatives_of_a_component()
    {
        bench.OpenExample("Tide gate");
        bench.Select("Four-way valve");
        Assert.Equal("Gain and lag", Realisation);

        // One key puts the next one in; it is an edit like others.
        bench.Keys(",");
        bench.Until(() => Realisation == "Spool", "the spool in the valve");
        bench.WaitSaved();
        bench.WaitForRun();
        bench.Keys(",");
        bench.Until(() => Realisation == "Pilot stage", "the pilot stage in the valve");
        bench.WaitSaved();
        bench.Chord(Keys.Control, "z");
        bench.Until(() => Realisation == "Spool", "the spool back");
        bench.Click(By.CssSelector("[aria-label='Put Gain and lag in']"));
        bench.Until(() => Realisation == "Gain and lag", "the first one, chosen in the inspector");
        bench.WaitSaved();

        // What is not in is drawn faint on the slot's level.
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys(Keys.Enter);
        bench.Until(() => bench.All("[data-part].canvas-left-out").Count == 2, "two realisations that are left out");
        bench.Keys(Keys.Escape + Keys.Escape);
        bench.Until(() => bench.Part("Cylinder").Displayed, "the model itself");

        // All of them, with and without the jets.
        bench.Press("alternatives");
        bench.Press("Run all 6 combinations");
        bench.Until(() => bench.Find(By.CssSelector(".observe-set-bar")).Text.Contains("Table", StringComparison.Ordinal), "the runs");
        bench.Until(() => bench.All(".observe-set-bar .observe-waiting").Count == 0, "all runs to end", 60);
        Assert.Empty(bench.All(".observe-set-bar .observe-failed"));
        Assert.Equal(6, bench.All(".observe-members button").Count);
        bench.Click(By.XPath("//label[contains(@class,'ant-segmented-item') and contains(., 'Table')]"));
        bench.Until(() => bench.All(".observe-set-table tbody tr").Count == 6, "a row for each run");
        var names = Column("Run");
        Assert.Contains("Spool, with_jet_forces on", names);
        Assert.Equal(["212", "212", "250", "260", "267", "277"], Column("Equations"));
        var highest = Column("spool position, highest")
            .Select(t => double.Parse(t, System.Globalization.CultureInfo.InvariantCulture))
            .ToArray();
        Assert.True(highest[3] < highest[2], $"jets close the spool: {highest[3]} against {highest[2]}");

        // Rows on and off, and back to the model's own run.
        bench.Click(By.XPath("//label[contains(@class,'ant-segmented-item') and contains(., 'Curves')]"));
        var first = bench.All(".observe-members button")[0];
        first.Click();
        bench.Until(() => bench.All(".observe-members button")[0].GetAttribute("aria-pressed") == "false", "the first run hidden");
        bench.Click(By.XPath("//div[contains(@class,'observe-set-bar')]//button[normalize-space(.)='Close']"));
        bench.Until(() => bench.All(".observe-set-bar").Count == 0, "the own run again");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_part_becomes_a_slot_and_an_option_says_what_stands_for_it()
    {
        bench.NewModel();
        bench.Place("constant", 60, 140);
        bench.Place("gain", 220, 140);
        bench.Place("probe", 400, 140);
        bench.Connect("Constant", "y", "Gain", "u");
        bench.Connect("Gain", "y", "Probe", "u");
        bench.Select("Gain");
        bench.SetField("Gain", "3");
        bench.SetTime(0.5);
        bench.Until(() => Math.Abs(bench.Plotted("Probe.y") - 3) < 1e-9, "three times one");

        bench.SetField("Condition on which the part is in the model", "1 > 2");
        bench.Until(() => bench.Part("Gain").GetAttribute("class")!.Contains("left-out", StringComparison.Ordinal), "the gain drawn faint");
        bench.SetField("Value of y when left out", "0.25");
        bench.Until(() => Math.Abs(bench.Plotted("Probe.y") - 0.25) < 1e-9, "the stated value");
        bench.SetField("Condition on which the part is in the model", "2 > 1");
        bench.Until(() => Math.Abs(bench.Plotted("Probe.y") - 3) < 1e-9, "the gain again");

        bench.ContextClickAt(bench.Center(bench.Part("Gain")));
        bench.Click(By.XPath("//li[contains(@class,'ant-dropdown-menu-item') and contains(., 'Make it a slot')]"));
        bench.Until(() => bench.Part("Gain").FindElements(By.CssSelector(".canvas-realisation")).Count == 1, "the slot");
        bench.WaitSaved();
        bench.Press("Add an alternative");
        bench.Field("What the alternative is").SendKeys("absolute");
        bench.Until(() => bench.All("[role=option]").Any(o => o.Text.Contains("Absolute", StringComparison.Ordinal)), "parts that answer");
        bench.Field("What the alternative is").SendKeys(Keys.Enter);
        bench.Until(() => bench.All(".inspector-alternative").Count == 2, "the second alternative");
        bench.WaitSaved();
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys(",");
        bench.Until(() => Math.Abs(bench.Plotted("Probe.y") - 1) < 1e-9, "the size of one");
    }
}
