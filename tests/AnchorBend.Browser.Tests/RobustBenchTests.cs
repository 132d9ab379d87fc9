using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>The bench does not lie, lose or break: results out of date, references that follow, undo from everywhere, parts that cannot be
/// drawn.</summary>
[Collection("application")]
public sealed class RobustBenchTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void Paste(string text)
    {
        bench.Find(By.CssSelector(".parts-editor .cm-content")).Click();
        bench.Chord(Keys.Control, "a");
        bench.Driver.ExecuteScript("document.execCommand('insertText', false, arguments[0])", text);
    }

    [Fact]
    public void Results_of_an_earlier_revision_look_so_until_the_model_has_run()
    {
        bench.OpenExample("Plankton winch, on one level");
        bench.Until(() => bench.All(".app-chip.app-missed").Count == 1, "the missed requirement");
        bench.Click(By.CssSelector(".run-live"));
        bench.WaitSaved();
        Assert.Empty(bench.All("[data-stale]"));
        bench.Select("Depth controller");
        bench.SetField("Gain", "0.7");
        // A bare number means the unit that stood there.
        bench.Until(() => bench.Field("Gain").GetAttribute("value") == "0.7 1/s", "the unit that stood there");
        bench.Until(
            () => bench.All(".observe-stale") is [var note] && note.Text.Contains("the model has changed since", StringComparison.Ordinal),
            "what is out of date"
        );
        bench.Click(By.CssSelector(".observe-stale button"));
        bench.Until(() => bench.All("[data-stale]").Count == 0, "results of now");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Settings_that_allow_no_run_are_told_and_undone_from_anywhere()
    {
        bench.OpenExample("Plankton winch, on one level");
        bench.Click(By.CssSelector("[aria-label='Run settings']"));
        bench.SetField("End time", "abc");
        bench.Until(
            () => bench.Find(By.CssSelector(".run-form")).Text.Contains("must be a time such as 20 s", StringComparison.Ordinal),
            "the reason in the settings"
        );
        bench.Until(
            () => bench.All(".observe-stale") is [var note] && note.Text.Contains("cannot run", StringComparison.Ordinal),
            "results marked"
        );
        bench.Keys(Keys.Escape);
        bench.Click(By.CssSelector(".app-find"));
        bench.Keys(Keys.Escape);
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.All("[data-stale]").Count == 0 && bench.All(".observe-stale").Count == 0, "the run of the mended model");
    }

    [Fact]
    public void Undo_works_in_a_field_after_Enter_and_after_gains_were_applied()
    {
        bench.OpenExample("Plankton winch, on one level");
        bench.Select("Depth controller");
        bench.SetField("Gain", "0.5 1/s");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.Field("Gain").GetAttribute("value") == "1.3 1/s", "the gain before");
        bench.Press("Tune this loop");
        string Applied() => bench.Find(By.XPath("//table[@aria-label='Candidates']/tbody/tr[1]/td[1]")).Text;
        bench.Until(() => bench.All(".tune-candidates thead th").Count == 2, "what is applied, and what is in hand");
        Assert.Equal("1.3", Applied());
        bench.Click(By.CssSelector("[aria-label='Apply what is in hand']"));
        bench.WaitSaved();
        bench.Until(() => Applied() != "1.3", "the gains applied");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => Applied() == "1.3", "the gains of before");
    }

    [Fact]
    public void Renaming_a_signal_and_a_part_leaves_verdicts_as_they_are_and_emptying_a_name_clears_it()
    {
        bench.OpenExample("Plankton winch, on one level");
        bench.Until(
            () => bench.All(".app-chip.app-met") is [var met] && met.Text.Contains("4 met", StringComparison.Ordinal),
            "the verdicts"
        );
        bench.Select("Depth");
        var name = bench.Field("Name of the part");
        name.SendKeys(Keys.Control + "a");
        name.SendKeys("Immersion" + Keys.Enter);
        bench.WaitSaved();
        bench.Until(() => bench.All("[data-stale]").Count == 0, "the run");
        Assert.Contains("4 met", bench.Find(By.CssSelector(".app-chip.app-met")).Text, StringComparison.Ordinal);
        Assert.Empty(bench.All(".app-chip.app-open"));
        Assert.Contains("No findings", bench.Find(By.CssSelector(".build-diagram")).Text, StringComparison.Ordinal);
    }

    [Fact]
    public void A_part_just_placed_stops_nothing_and_lies_on_no_other()
    {
        bench.OpenExample("Plankton winch, on one level");
        var before = bench.Parts;
        bench.Chord(Keys.Control, "k");
        bench.Until(() => bench.All(".app-palette input").Count == 1, "the list of commands");
        bench.Keys("spring");
        bench.Until(
            () => bench.All(".app-palette li") is [var first, ..] && first.Text.StartsWith("Spring", StringComparison.Ordinal),
            "the spring in the list"
        );
        bench.Keys(Keys.Enter);
        bench.Until(() => bench.Parts == before + 1, "the spring");
        bench.WaitSaved();
        bench.Until(
            () => bench.Find(By.CssSelector(".inspector-panel")).Text.Contains("left out of the run", StringComparison.Ordinal),
            "the finding"
        );
        bench.Until(() => bench.All("[data-stale]").Count == 0 && bench.All(".app-chip.app-met").Count == 1, "a run of the rest");
        var overlaps = (long)
            bench.Driver.ExecuteScript(
                """
                const box = (e) => e.getBoundingClientRect(), parts = [...document.querySelectorAll('[data-part]')], mine = box(parts.find((p) => p.getAttribute('aria-label').startsWith('Spring,')));
                return parts.filter((p) => { const b = box(p); return b.left !== mine.left && b.left < mine.right && mine.left < b.right && b.top < mine.bottom && mine.top < b.bottom; }).length;
                """
            )!;
        Assert.Equal(0, overlaps);
    }

    [Fact]
    public void A_face_that_cannot_be_drawn_leaves_the_page_as_it_is()
    {
        bench.NewModel();
        bench.Place("gain", 200, 120);
        bench.Select("Gain");
        bench.Press("Open text");
        bench.Press("Duplicate into the model");
        bench.Until(() => bench.Find(By.CssSelector(".parts-editor h2")).Text == "OwnGain", "the copy");
        var face = new string('{', 2000);
        Paste(
            $"block OwnGain \"Deep\"\n  input Real u \"Input\";\n  output Real y \"Output\";\nequation\n  y = u;\n  annotation(__AnchorBend(face = \"{face}\"));\nend OwnGain;"
        );
        bench.Until(() => bench.Field("Balance").Text == "2 equations, 2 unknowns", "the check of the text");
        bench.Chord(Keys.Control, Keys.Enter);
        bench.WaitSaved();
        bench.Press("Close");
        Assert.Equal(1, bench.Parts);
        bench.Driver.Navigate().Refresh();
        bench.Until(() => bench.Parts == 1, "the part after a reload");
    }

    [Fact]
    public void A_new_part_that_is_closed_as_it_came_does_not_stay()
    {
        bench.NewModel();
        bench.Press("Catalog");
        bench.Click(By.CssSelector(".build-catalog-new"));
        bench.Until(() => bench.Find(By.CssSelector(".parts-editor h2")).Text == "OwnPart", "the new part");
        bench.WaitSaved();
        bench.Press("Close");
        bench.WaitSaved();
        bench.Until(() => bench.All(".parts-editor").Count == 0, "the editor to close");
        Assert.DoesNotContain("Own part", bench.Find(By.CssSelector(".build-catalog")).Text, StringComparison.Ordinal);
    }
}
