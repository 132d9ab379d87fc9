using System.Globalization;
using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>J06 without a panel: a controller played by hand.</summary>
[Collection("application")]
public sealed class PlayTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    string TimeBar => bench.Find(By.CssSelector("[aria-label='Time bar']")).Text;

    double Instant =>
        double.Parse(
            bench.Find(By.CssSelector("[aria-label='Instant shown']")).GetAttribute("aria-valuenow")!,
            CultureInfo.InvariantCulture
        );

    void Menu(string button, string entry)
    {
        bench.Click(By.CssSelector($"[aria-label^='{button}']"));
        bench.Click(
            By.XPath($"//li[@role='menuitem' and contains(normalize-space(.), '{entry}') and not(ancestor::*[contains(@class,'hidden')])]")
        );
    }

    void ByHand()
    {
        bench.Click(By.XPath("//button[normalize-space(.)='by hand']"));
        bench.Until(() => bench.All("[aria-label='Go on']").Count == 1 && Instant == 0, "the run at its start");
    }

    void GoTo(string time)
    {
        Menu("Step", "To a time");
        bench.Until(() => bench.Driver.SwitchTo().ActiveElement().GetAttribute("aria-label") == "Pause at", "the field for the time");
        bench.Keys(time + Keys.Enter);
        var wanted = double.Parse(time, CultureInfo.InvariantCulture);
        bench.Until(() => Math.Abs(Instant - wanted) < 1e-9 && bench.All("[aria-label='Go on']").Count == 1, $"a pause at {time} s");
    }

    [Fact]
    public void J06_Play_a_controller_by_hand()
    {
        bench.NewModel();
        bench.Place("constant", 80, 120);
        bench.Place("integrator", 260, 120);
        bench.Place("sample hold", 460, 120);
        bench.Connect("Constant", "y", "Integrator", "u");
        bench.Connect("Integrator", "y", "Sample hold", "u");
        bench.Select("Sample hold");
        bench.SetField("Sample time", "0.25 s");
        bench.Select("Sample hold");
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys("]");
        bench.Find(By.CssSelector("[aria-label='Name of the signal']"));
        bench.SetField("Name of the signal", "level");
        bench.Click(By.CssSelector("[aria-label='Plot this signal'], [aria-label='Plot the signal']"));
        bench.WaitSaved();
        bench.WaitForRun();

        // It begins paused; a step goes to the next sample, and values stand on the diagram.
        ByHand();
        Menu("Step", "To the next sample");
        bench.Until(
            () => bench.All("[aria-label='Go on']").Count == 1 && TimeBar.Contains("at a sample", StringComparison.Ordinal),
            "a sample"
        );
        Menu("Step", "To the next sample");
        bench.Until(() => Instant is > 0.2 and <= 0.5, "the next sample");
        GoTo("2");

        // Another value counts from this instant on, and the list of events says so.
        bench.Select("Constant");
        bench.SetField("Value", "3");
        bench.Until(
            () => bench.All(".run-mark").Any(m => m.GetAttribute("title")!.Contains("Constant.k = 3", StringComparison.Ordinal)),
            "the mark of the value"
        );
        GoTo("4");
        bench.Until(() => Math.Abs(bench.Plotted("level") - 8) < 1e-6, "what the integrator has by then: 2 + 3 · 2");

        // A state is kept, played on from, and gone back to with another value: both branches are listed.
        Menu("states", "Keep this state");
        bench.Until(() => TimeBar.Contains("states 1", StringComparison.Ordinal), "the kept state");
        GoTo("5");
        bench.Until(() => Math.Abs(bench.Plotted("level") - 11) < 1e-6, "the first branch");
        Menu("states", "Go on from at 4 s");
        bench.Until(() => Instant == 4, "the state again");
        bench.Select("Constant");
        bench.SetField("Value", "-1");
        GoTo("5");
        bench.Until(() => Math.Abs(bench.Plotted("level") - 7) < 1e-6, "the second branch");
        bench.Click(By.XPath("//button[normalize-space(.)='Observe']"));
        bench.Until(() => bench.All("[data-run]").Count >= 3, "the runs");
        Assert.Contains(bench.All(".observe-run-state"), r => r.Text.Contains("branch", StringComparison.Ordinal));

        // It goes on at its pace, pauses at once, and ends.
        bench.Choose("Pace", "× 0.1");
        bench.Click(By.CssSelector("[aria-label='Go on']"));
        bench.Until(() => Instant > 5.05, "the clock");
        bench.Click(By.CssSelector("[aria-label='Pause']"));
        bench.Until(() => bench.All("[aria-label='Go on']").Count == 1, "the pause");
        var stood = Instant;
        bench.Click(By.CssSelector("[aria-label='End the run by hand']"));
        bench.Until(() => bench.All("[aria-label='Run']").Count == 1, "the model's own run");
        Assert.InRange(stood, 5.05, 9.9);
        ReplayAsStimulus();
        bench.NoConsoleErrors();
    }

    /// <summary>What was set by hand in the last branch drives the model: 1 until 2 s, 3 until 4 s, −1 from then on.</summary>
    void ReplayAsStimulus()
    {
        bench.Click(By.XPath("(//li[@data-run and contains(., 'branch')])[1]//button[contains(@aria-label, 'What can be done with Run')]"));
        bench.Click(
            By.XPath(
                "//li[@role='menuitem' and normalize-space(.)='Make a stimulus of what was set' "
                    + "and not(ancestor::*[contains(@class,'hidden')])]"
            )
        );
        bench.Click(By.XPath("//button[normalize-space(.)='Stimuli']"));
        bench.Click(By.XPath("//label[contains(., 'Played in run')]"));
        bench.WaitSaved();
        bench.Until(
            () => bench.All("[data-run]").Count == 0 && bench.Driver.PageSource.Contains("Played in run", StringComparison.Ordinal),
            "the stimulus in the panel"
        );
        bench.Click(By.XPath("//nav//button[contains(., 'Build')]"));
        bench.WaitForRun();
        var reached = bench.SetTime(0.5);
        bench.Until(() => Math.Abs(bench.Plotted("level") - (8 - (reached - 4))) < 0.01, "the level as it was played");
    }

    [Fact]
    public void A_condition_pauses_where_it_comes_to_hold()
    {
        bench.OpenExample("Plankton winch");
        ByHand();
        Menu("Step", "Until a condition holds");
        bench.Until(
            () => bench.Driver.SwitchTo().ActiveElement().GetAttribute("aria-label") == "Pause when",
            "the field for the condition"
        );
        bench.Keys("depth > 15" + Keys.Enter);
        bench.Until(() => TimeBar.Contains("it holds", StringComparison.Ordinal), "the pause");
        Assert.InRange(Instant, 3, 10);
        bench.Until(() => Math.Abs(bench.Plotted("depth") - 15) < 1e-3, "the depth at the pause");
        // What is no condition is told, and the run stays where it is.
        Menu("Step", "Until a condition holds");
        bench.Until(() => bench.Driver.SwitchTo().ActiveElement().GetAttribute("aria-label") == "Pause when", "the field again");
        bench.Keys("dept > 15" + Keys.Enter);
        bench.Until(
            () => bench.All(".app-notice").Any(n => n.Text.Contains("There is no signal 'dept'", StringComparison.Ordinal)),
            "the reason"
        );
    }
}
