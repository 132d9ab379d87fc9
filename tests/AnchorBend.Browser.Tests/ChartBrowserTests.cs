using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>State charts on the screen: J09 (two modes with a delay), J10 (missions from a panel), J21 (somebody's logic).</summary>
[Collection("application")]
public sealed class ChartBrowserTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void OpenChart(string part) =>
        bench.DoubleClick(
            () => bench.PartNow(part),
            () => bench.All("[role='application'][aria-label^='State chart']").Count > 0,
            "the chart to open"
        );

    IWebElement State(string name) => bench.Find(By.CssSelector($"[aria-label='State {name}'], [aria-label='State {name}, active']"));

    bool IsActive(string name) => bench.All($"[aria-label='State {name}, active']").Count > 0;

    string Inspector => bench.Find(By.CssSelector("[aria-label='Inspector']")).Text;

    [Fact]
    public void A_chart_is_drawn_by_mouse_and_keys_runs_and_is_there_after_a_reload()
    {
        bench.NewModel();
        bench.Place("state chart", 240, 160);
        OpenChart("Chart");
        var first = bench.Center(State("First"));
        // A handle at the right side, let go in the open, gives the next state.
        var handle = State("First").FindElement(By.CssSelector("[data-handle='draw']"));
        bench.Drag(bench.Center(handle), (first.X + 330, first.Y));
        bench.WaitSaved();
        bench.Until(() => Inspector.Contains("First → State", StringComparison.Ordinal), "the new transition");
        bench.SetField("After", "0.5 s");
        bench.WaitSaved();
        bench.ClickAt(bench.Center(State("State")));
        bench.SetField("Name of the state", "Second");
        bench.WaitSaved();
        bench.WaitForRun();
        bench.SetTime(0.5);
        bench.Until(() => IsActive("Second") && !IsActive("First"), "the second state to be active");
        // The way back by keys: full stop, a name, Enter.
        bench.ClickAt(bench.Center(State("Second")));
        bench.Keys(".");
        bench.Keys("First" + Keys.Enter);
        bench.Until(() => Inspector.Contains("Second → First", StringComparison.Ordinal), "the way back");
        bench.WaitSaved();
        bench.Driver.Navigate().Refresh();
        bench.Until(() => bench.All("[data-transition] .chart-line, g[data-transition]").Count >= 2, "both transitions");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.All("path[data-transition][marker-end]").Count == 1, "the way back to be gone");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void J09_Two_modes_with_a_delay()
    {
        bench.OpenExample("Near and far side");
        bench.WaitForRun();
        // The switches beside it say the same at every instant but for the delay.
        bench.SetTime(0.2);
        Assert.Equal(0, bench.Plotted("differs"));
        OpenChart("Sides");
        bench.Until(() => IsActive("Far side"), "the far side at 2 s");
        bench.SetTime(0.05);
        bench.Until(() => IsActive("Near side"), "the near side at 0.5 s");
        // Why it goes back: two transitions can be true at once, and the list says which goes first.
        bench.Click(By.XPath("//button[normalize-space(.)='1 finding']"));
        bench.Until(
            () => bench.All("[class*='findings']").Any(f => f.Text.Contains("can be true at once", StringComparison.Ordinal)),
            "the finding"
        );
        bench.ClickAt(bench.Center(State("Far side")));
        bench.Until(() => Inspector.Contains("[blocked]", StringComparison.Ordinal), "the transitions in their order");
        bench.Click(By.XPath("//button[normalize-space(.)='How do I get there?']"));
        bench.Until(() => Inspector.Contains("count >= hold", StringComparison.Ordinal), "the guard on the way");
        // A name that is changed is changed in all texts.
        var far = bench.Center(State("Far side"));
        bench.ClickAt((far.X, far.Y + 110));
        bench.Click(By.XPath("//tr[td[normalize-space(.)='hold']]"));
        bench.SetField("Name", "looks");
        bench.WaitSaved();
        bench.Until(() => bench.All("[data-transition] text").Any(t => t.Text.Contains("looks", StringComparison.Ordinal)), "the new name");
        bench.NoConsoleErrors();
    }

    void Press(string button) =>
        bench.Click(By.XPath($"//*[@aria-label='Operator panel']//button[normalize-space(.)='{button}' or @aria-label='{button}']"));

    [Fact]
    public void J10_Mission_management_of_the_survey_boat()
    {
        bench.OpenExample("Survey boat mission");
        bench.WaitForRun();
        Press("Play");
        OpenChart("Missions");
        bench.Until(() => IsActive("Manual"), "manual mode");
        Press("Assisted");
        bench.Until(() => IsActive("Hold heading"), "the heading to be held");
        Press("Track");
        bench.Until(() => IsActive("To way point"), "the way to the way point");
        // The fix is lost while it runs: down to assisted, with a warning.
        Press("No position fix");
        bench.Until(() => IsActive("Assisted") && !IsActive("Track"), "the downgrade");
        bench.Until(
            () => bench.All("[aria-label='Alerts'] li").Any(a => a.Text.Contains("Position lost", StringComparison.Ordinal)),
            "the warning"
        );
        // A link without a new stamp for 2 s is lost.
        Press("Shore radio fails");
        bench.Until(() => IsActive("lost"), "the lost link");
        Press("Shore radio fails");
        bench.Until(() => IsActive("ok"), "the link to be back");
        Press("Pause");
        bench.Until(() => Inspector.Contains("Transitions taken", StringComparison.Ordinal), "the list of transitions");
        bench.Until(() => Inspector.Contains("position_ok false", StringComparison.Ordinal), "the value that decided");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void J21_Understand_somebody_s_logic()
    {
        bench.OpenExample("Pump watch");
        bench.WaitForRun();
        Press("Play");
        OpenChart("Pump watch");
        bench.Until(() => IsActive("Normal"), "normal mode");
        Press("Pressure sensor");
        bench.Until(() => IsActive("Rich: one failed"), "the rich mode");
        // It pauses where the fuel is cut, and says so.
        bench.ClickAt(bench.Center(State("Many failed")));
        bench.Click(By.XPath("//button[normalize-space(.)='Pause on entry']"));
        Press("Pause");
        bench.Until(() => bench.All("[aria-label='Go on']").Count == 1, "the pause");
        Press("Play");
        Press("Oxygen sensor");
        bench.Until(
            () =>
                bench
                    .Find(By.CssSelector("[aria-label='Time bar']"))
                    .Text.Contains("entered Pump watch/Fuel/Fuel cut/Many failed", StringComparison.Ordinal),
            "the pause on entry",
            20
        );
        bench.Until(() => IsActive("Many failed"), "the cut");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_panel_is_laid_out_and_played()
    {
        bench.NewModel();
        bench.Place("constant", 80, 120);
        bench.Place("integrator", 260, 120);
        bench.Connect("Constant", "y", "Integrator", "u");
        bench.WaitForRun();
        bench.Keys(Keys.Escape);
        bench.Keys(Keys.Escape);
        bench.Click(By.XPath("//button[normalize-space(.)='Add an operator panel']"));
        bench.Click(By.XPath("//*[@aria-label='Operator panel']//button[normalize-space(.)='Add']"));
        bench.Click(By.XPath("//li[@role='menuitem' and normalize-space(.)='Slider']"));
        bench.WaitSaved();
        bench.Find(By.CssSelector("[aria-label='Sets']")).SendKeys("constant");
        bench.Click(By.XPath("//*[contains(@class, 'ant-select-item-option-content') and normalize-space(.)='Constant']"));
        bench.WaitSaved();
        Press("Done");
        Press("Play");
        bench.Until(() => bench.All("[aria-label='Operator panel'] [role='slider']:not([aria-disabled='true'])").Count > 0, "the slider");
        var slider = bench.Find(By.CssSelector("[aria-label='Operator panel'] [role='slider']"));
        slider.SendKeys(Keys.Home);
        bench.Until(
            () => bench.All(".run-mark").Any(m => m.GetAttribute("title")!.Contains("Constant.k = 0", StringComparison.Ordinal)),
            "the action to be recorded"
        );
        bench.NoConsoleErrors();
    }
}
