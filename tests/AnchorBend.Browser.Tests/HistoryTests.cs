using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>What a model was, and what differs between its states.</summary>
[Collection("application")]
public sealed class HistoryTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void Menu(string state, string item)
    {
        bench.Click(By.CssSelector($"[aria-label='What can be done with {state}']"));
        // Menus that were opened before stay in the page, unseen.
        bench
            .Until(
                () =>
                    bench
                        .Driver.FindElements(By.XPath($"//li[contains(@class,'ant-dropdown-menu-item') and contains(., '{item}')]"))
                        .FirstOrDefault(e => e.Displayed),
                $"{item} in the menu"
            )!
            .Click();
    }

    [Fact]
    public void A_checkpoint_is_kept_compared_taken_over_and_gone_back_to()
    {
        bench.NewModel();
        bench.Place("gain", 100, 140);
        bench.Place("lag", 300, 140);
        bench.Connect("Gain", "y", "Lag", "u");
        bench.Click(By.CssSelector(".app-saved"));
        bench.Find(By.CssSelector(".build-history"));
        bench.Field("Name of a checkpoint").SendKeys("Before tuning" + Keys.Enter);
        bench.Until(() => bench.All(".build-checkpoints li").Count == 1, "the checkpoint");
        var kept = bench.Revision;

        bench.Select("Gain");
        bench.SetField("Gain", "7");
        bench.Select("Lag");
        bench.Chord(Keys.Control, "d");
        bench.Until(() => bench.Parts == 3, "the second lag");
        bench.WaitSaved();
        bench.Until(
            () => bench.Find(By.CssSelector(".build-history-days")).Text.Contains("Set k", StringComparison.Ordinal),
            "the edits in the log"
        );

        Menu("Before tuning", "differs");
        bench.Until(() => bench.All(".history-difference").Count == 2, "the two differences");
        var list = bench.Find(By.CssSelector("[aria-label^='Differences of']")).Text;
        Assert.Contains("Lag 2", list);
        Assert.Contains("7", list);
        bench.Until(() => bench.All(".history-picture svg").Count >= 2, "both diagrams");
        bench.Click(By.XPath("//label[contains(@class,'ant-segmented-item') and contains(., 'Values')]"));
        Assert.Equal(["7", "–"], bench.All(".history-values td.mono").Skip(1).Select(c => c.Text));
        bench.Click(By.XPath("//label[contains(@class,'ant-segmented-item') and contains(., 'Diagrams')]"));

        // One change is taken over, the other stays.
        bench.Click(By.CssSelector("[aria-label='Take over part Gain from the right']"));
        bench.Until(() => bench.All(".history-difference").Count == 1, "the one that is left");
        bench.Click(By.XPath("//section[@aria-label='What differs']//button[normalize-space(.)='Close']"));
        bench.Select("Gain");
        Assert.Equal("1", bench.Field("Gain").GetAttribute("value"));
        Assert.Equal(3, bench.Parts);

        Menu("Before tuning", "Go back");
        bench.Until(() => bench.Parts == 2, "the state of the checkpoint");
        bench.WaitSaved();
        Assert.True(bench.Revision > kept);
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.Parts == 3, "going back taken back");
        bench.WaitSaved();
        Menu("r0", "Copy it");
        bench.Until(
            () =>
                bench
                    .Find(By.CssSelector("[aria-label='Name of the model']"))
                    .GetAttribute("value")!
                    .Contains("copy", StringComparison.Ordinal),
            "the copy"
        );
        bench.Until(() => bench.Parts == 0, "the model as it was made");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_level_is_tidied_looked_at_and_kept()
    {
        bench.NewModel();
        bench.Place("gain", 420, 260);
        bench.Place("lag", 100, 60);
        bench.Place("step", 300, 160);
        bench.Connect("Step", "y", "Lag", "u");
        bench.Connect("Lag", "y", "Gain", "u");
        bench.Press("Tidy");
        bench.Until(
            () => bench.Find(By.CssSelector(".build-hints")).Text.Contains("runs back", StringComparison.Ordinal),
            "what reads badly"
        );
        bench.Press("Tidy the level");
        bench.Find(By.CssSelector(".build-tidy-bar"));
        var before = bench.Revision;
        bench.Press("Leave it");
        bench.Until(() => bench.All(".build-tidy-bar").Count == 0, "the layout left");
        Assert.Equal(before, bench.Revision);
        bench.Press("Tidy");
        bench.Press("Tidy the level");
        bench.Press("Keep it");
        bench.Until(() => bench.Revision == before + 1, "one edit");
        var (step, lag, gain) = (bench.Center(bench.Part("Step")), bench.Center(bench.Part("Lag")), bench.Center(bench.Part("Gain")));
        Assert.True(step.X < lag.X && lag.X < gain.X, "from left to right");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.Center(bench.Part("Lag")).X < bench.Center(bench.Part("Step")).X, "as it was");
        bench.NoConsoleErrors();
    }
}
