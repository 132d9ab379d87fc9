using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>The five minutes of the README, step by step with its words: who follows it finds what it says.</summary>
[Collection("application")]
public sealed class TourTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    static string Readme
    {
        get
        {
            var root = AppContext.BaseDirectory;
            while (!File.Exists(Path.Combine(root, "AnchorBend.slnx")))
                root = Path.GetDirectoryName(root)!;
            return File.ReadAllText(Path.Combine(root, "README.md"));
        }
    }

    /// <summary>What the test does next stands in the tour; a tour that is told otherwise needs another test.</summary>
    static void Says(params string[] words) => Assert.All(words, w => Assert.Contains(w, Readme, StringComparison.Ordinal));

    void Stage(string name) => bench.Click(By.XPath($"//nav//button[contains(., '{name}')]"));

    [Fact]
    public void The_five_minutes_of_the_readme_can_be_followed()
    {
        Says("choose *Plankton winch*", "One requirement is missed");
        bench.OpenExample("Plankton winch");
        bench.Until(() => bench.All(".app-chip.app-missed").Count == 1, "the one that is missed");

        Says("Double-click *Controller*", "click *Depth controller*, type `0.7 1/s` for its gain", "stays as a pale ghost", "Ctrl+Z");
        bench.DoubleClick(
            () => bench.PartNow("Controller"),
            () => bench.All("[aria-label='Levels'] [aria-current='location']").Any(l => l.Text == "Controller"),
            "the level of the controller"
        );
        bench.Select("Depth controller");
        var gain = bench.Field("Gain").GetAttribute("value");
        bench.SetField("Gain", "0.7 1/s");
        bench.Until(() => bench.All(".observe-ghost").Count >= 1, "the ghost");
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.Field("Gain").GetAttribute("value") == gain, "the gain of before");

        Says("With the depth controller selected press *Tune this loop*", "*Keep* candidates");
        bench.Press("Tune this loop");
        bench.Until(() => bench.All("[data-design='in hand']").Count == 1, "a design in hand");
        bench.Until(() => bench.Find(By.CssSelector(".tune-tune-pane h2")).Text == "Depth controller", "its loop");
        bench.Press("Keep in hand as a candidate");
        bench.Until(() => bench.All("[data-design='A']").Count == 1, "the candidate on the map");

        Says("**Scrub** the time bar", "Click the missed requirement to go to the instant that decides");
        Stage("Build");
        bench.SetTime(0.1);
        var early = bench.Find(By.CssSelector(".run-track")).GetAttribute("aria-valuenow");
        bench.Click(By.CssSelector(".app-chip.app-missed"));
        bench.Until(() => bench.Find(By.CssSelector(".run-track")).GetAttribute("aria-valuenow") != early, "the instant that decides");

        Says("**Observe** finds any quantity inside any part (type `speed`, Enter)");
        Stage("Observe");
        bench.Field("Search signals").SendKeys("speed" + Keys.Enter);
        bench.Until(() => bench.All("[data-run]").Count > 0 && bench.All(".observe-tile").Count > 0, "sheets and runs");

        Says("*Net mass* goes through seven masses");
        Stage("Explore");
        bench.Click(By.XPath("//*[@aria-label='Studies']//b[.='Net mass']"));
        bench.Press("Run the study");
        bench.Until(() => bench.All("[aria-label='Results'] tbody tr").Count == 7, "seven results", 90);

        Says("**Verify** lists what is required");
        Stage("Verify");
        bench.Until(
            () => bench.All("[role=row], tbody tr").Any(r => r.Text.Contains("missed", StringComparison.Ordinal)),
            "what is missed"
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void And_a_model_of_ones_own_begins_with_three_words()
    {
        Says("click on the diagram and type `step`, Enter; `pid`, Enter; `lag`, Enter");
        bench.NewModel();
        bench.Place("step", 100, 120);
        bench.Place("pid", 300, 120);
        bench.Place("lag", 500, 120);
        bench.Connect("PID", "u", "Lag", "u");
        bench.Until(() => bench.Wires == 1, "the wire");
        bench.NoConsoleErrors();
    }
}
