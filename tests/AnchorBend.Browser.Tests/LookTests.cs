using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>A model that is only looked at: it runs and shows all, and nothing that is tried changes it.</summary>
[Collection("application")]
public sealed class LookTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    [Fact]
    public void By_a_link_for_looking_nothing_changes_until_one_says_so()
    {
        bench.OpenExample("Hatchery tank, first loop");
        var (parts, revision) = (bench.Parts, bench.Revision);
        bench.Driver.Navigate().GoToUrl(bench.Driver.Url.Replace("#/models/", "#/look/", StringComparison.Ordinal));
        bench.Button("only looking");
        bench.WaitForRun();

        // Keys, fields and the name of the model: each is told and goes back.
        bench.Select("Controller");
        var gain = bench.Field("Gain").GetAttribute("value");
        bench.Field("Gain").SendKeys(Keys.Control + "a");
        bench.Field("Gain").SendKeys("77" + Keys.Enter);
        bench.Until(
            () => bench.Find(By.CssSelector("[role=alert]")).Text.Contains("This link is for looking", StringComparison.Ordinal),
            "what the link is for"
        );
        bench.Until(() => bench.Field("Gain").GetAttribute("value") == gain, "the gain as it is");
        bench.Select("Controller");
        bench.Keys(Keys.Delete);
        Assert.Equal(parts, bench.Parts);
        // Neither a copy nor what is placed is there, nor selected as if it were.
        bench.Chord(Keys.Control, "d");
        bench.ClickAt(bench.Open(60, 330));
        bench.Keys("g");
        bench.Until(() => bench.All(".build-quick-place input").Count == 1, "the field for a part's name");
        bench.Keys("ain" + Keys.Enter);
        bench.Until(() => bench.All(".build-quick-place input").Count == 0, "the field to close");
        Assert.Equal(parts, bench.Parts);
        Assert.Contains("This link is for looking", bench.Find(By.CssSelector("[role=alert]")).Text);
        Assert.Equal("true", bench.Find(By.CssSelector("[aria-label='Undo']")).GetAttribute("disabled"));
        // Running is no change.
        bench.Click(By.CssSelector("[aria-label='Run']"));
        bench.WaitForRun();
        Assert.Equal(revision, bench.Revision);

        bench.Press("only looking");
        bench.Press("Change it here");
        bench.Until(() => !bench.Driver.Url.Contains("/look/", StringComparison.Ordinal), "the address of the model");
        bench.Until(() => bench.All(".only-view").Count == 0 && bench.Parts == parts, "the model itself");
        bench.Select("Controller");
        bench.SetField("Gain", "0.9");
        bench.Until(() => bench.Revision == revision + 1, "the edit");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_link_for_looking_is_a_command()
    {
        bench.OpenExample("Hatchery tank, first loop");
        bench.Chord(Keys.Control, "k");
        bench.Keys("link for looking");
        bench.Until(() => bench.All("[role=option]").Any(o => o.Text.Contains("Copy a link for looking", StringComparison.Ordinal)), "it");
        bench.Keys(Keys.Enter);
        bench.Until(
            () => bench.Find(By.CssSelector("[role=alert]")).Text.Contains("link for looking", StringComparison.Ordinal),
            "the link, or that it is in the clipboard"
        );
    }
}
