using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace AnchorBend.Browser.Tests;

/// <summary>Levels of a model as users make and walk them.</summary>
[Collection("application")]
public sealed class LevelTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    string Level =>
        bench.Driver.Url.Contains("/build/", StringComparison.Ordinal)
            ? bench.Driver.Url[(bench.Driver.Url.IndexOf("/build/", StringComparison.Ordinal) + 7)..]
            : "";

    string[] Way => [.. bench.All(".app-way button, .app-way b").Select(e => e.Text)];

    /// <summary>Encloses what is selected and gives the subsystem a name.</summary>
    void Enclose(string name)
    {
        bench.Chord(Keys.Shift, Keys.Enter);
        bench.Until(() => bench.All(".build-name-field").Count == 1, "the field for the subsystem's name");
        bench.Keys(name + Keys.Enter);
        bench.Until(() => bench.Part(name).Displayed, $"the subsystem {name}");
        bench.WaitSaved();
    }

    [Fact]
    public void A_box_of_parts_becomes_a_subsystem_that_is_opened_left_and_dissolved()
    {
        bench.OpenExample("Plankton winch, on one level");
        var (parts, wires) = (bench.Parts, bench.Wires);
        var depth = (bench.SetTime(0.5), bench.Plotted("depth")).Item2;
        var (corner, end) = (bench.Center(bench.Part("Net weight")), bench.Center(bench.Part("Depth")));
        bench.Drag((corner.X - 40, corner.Y - 40), (end.X + 34, end.Y + 80));
        bench.Until(() => bench.All(".canvas-part.canvas-selected").Count == 5, "the five parts of the net");
        Enclose("Net and water");
        Assert.Equal(parts - 4, bench.Parts);
        bench.Until(() => Math.Abs(bench.Plotted("depth") - depth) < 1e-6, "the same depth");

        bench.DoubleClick(
            () => bench.PartNow("Net and water"),
            () => Way is ["Plankton winch, on one level", "Net and water"],
            "the way to the level"
        );
        Assert.Equal(7, bench.Parts);
        bench.Until(() => bench.All(".canvas-signal-tag .canvas-value").Count > 2, "values inside");
        bench.Driver.Navigate().Refresh();
        bench.Until(() => Way is ["Plankton winch, on one level", "Net and water"] && bench.Parts == 7, "the level after a reload");
        bench.Click(By.XPath("//nav[@aria-label='Levels']//button"));
        bench.Until(() => bench.Parts == parts - 4, "the level above");
        bench.Driver.Navigate().Back();
        bench.Until(() => bench.Parts == 7, "the level again, by the browser's way back");
        bench.Driver.Navigate().Forward();
        bench.Until(() => bench.Parts == parts - 4, "the level above, by the way forward");

        bench.Select("Net and water");
        bench.Press("Dissolve");
        bench.Until(() => bench.Parts == parts && bench.Wires == wires, "the parts back on the level");
        bench.WaitSaved();
        bench.ClickAt(bench.Open(20, 440));
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.Parts == parts - 4, "the subsystem again");
        bench.WaitSaved();
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.Parts == parts - 4, "its first name again");
        bench.WaitSaved();
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.Parts == parts && bench.Wires == wires, "everything as it was");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_face_is_lifted_and_two_linked_uses_have_different_values()
    {
        bench.NewModel();
        bench.Place("step", 60, 120);
        bench.Place("lag", 260, 120);
        bench.Connect("Step", "y", "Lag", "u");
        bench.Select("Lag");
        bench.Press("Plot");
        bench.WaitSaved();
        bench.ClickAt(bench.Open(20, 300));
        bench.Select("Lag");
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        Enclose("Motor");

        // The time constant goes to the face, with a prompt of its own.
        bench.Keys(Keys.Enter);
        bench.Until(() => Way is [_, "Motor"], "the level of the motor");
        bench.Select("Lag");
        bench.HoverAndClick(By.CssSelector("[aria-label='Put Time constant on the face']"));
        bench.Until(() => bench.Field("Time constant").GetAttribute("value") == "T", "the face's name in the field");
        bench.WaitSaved();
        bench.ClickAt(bench.Open(20, 300));
        bench.Click(By.CssSelector("[aria-label='Prompt, unit and limits of T']"));
        bench.SetField("Prompt of T", "Settling");
        bench.SetField("Name of T", "T_s");
        bench.Until(() => bench.All("[id='model-T_s']").Count == 1, "the new name");
        bench.ClickAt(bench.Open(20, 300));
        bench.Keys(Keys.Escape);
        bench.Until(() => Way.Length == 0, "the root");

        // A copy is another use of the same definition.
        bench.Select("Motor");
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Chord(Keys.Control, "d");
        bench.Until(() => bench.Parts == 3, "the second use");
        bench.WaitSaved();
        bench.Until(
            () => bench.Find(By.CssSelector("[aria-label='Inspector']")).Text.Contains("used 2 times", StringComparison.Ordinal),
            "what is said of uses"
        );
        bench.SetField("Settling", "3 s");
        bench.Select("Motor");
        bench.Until(() => bench.Field("Settling").GetAttribute("value") is { } text && text != "3 s", "the first use as it was");
        bench.Press("Make independent");
        bench.Until(
            () => !bench.Find(By.CssSelector("[aria-label='Inspector']")).Text.Contains("used 2 times", StringComparison.Ordinal),
            "one use each"
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Keyboard_alone_selects_several_encloses_names_opens_and_leaves()
    {
        bench.NewModel();
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        foreach (var (name, count) in ((string, int)[])[("step", 1), ("gain", 2), ("lag", 3)])
        {
            bench.Keys("/");
            bench.Until(() => bench.All(".build-quick-place input").Count == 1, "the field");
            bench.Keys(name + Keys.Enter);
            bench.Until(() => bench.Parts == count, name);
            // Out of the way of the next one.
            bench.Chord(Keys.Shift, Keys.ArrowLeft + Keys.ArrowLeft + Keys.ArrowLeft);
            bench.WaitSaved();
        }

        bench.Keys(Keys.Escape);
        bench.Keys(Keys.PageDown);
        bench.Chord(Keys.Shift, Keys.PageDown);
        bench.Until(() => bench.All(".canvas-part.canvas-selected").Count == 2, "two parts selected");
        Enclose("Front");
        Assert.Equal(2, bench.Parts);
        bench.Keys(Keys.Enter);
        bench.Until(() => Way is [_, "Front"] && bench.Parts >= 2, "the level");
        bench.Keys(Keys.Escape);
        bench.Until(() => Way.Length == 0 && Level.Length == 0, "the root");
        Assert.Single(bench.All(".canvas-part.canvas-selected"));
        new Actions(bench.Driver)
            .KeyDown(Keys.Control)
            .KeyDown(Keys.Shift)
            .SendKeys(Keys.Enter)
            .KeyUp(Keys.Shift)
            .KeyUp(Keys.Control)
            .Perform();
        bench.Until(() => bench.Parts == 3, "the parts again");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void The_outline_shows_all_levels_finds_by_name_and_leads_there()
    {
        bench.OpenExample("Plankton winch, on one level");
        bench.Select("Net");
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        Enclose("Hull");
        bench.Press("Outline");
        bench.Field("Search the outline").SendKeys("net");
        bench.Until(
            () =>
                bench.All(".build-outline-entry").Any(e => e.Text == "Net") && bench.All(".build-outline-entry").Any(e => e.Text == "Hull"),
            "the part and what leads there"
        );
        bench.Click(By.XPath("//span[contains(@class,'build-outline-entry')][normalize-space(.)='Net']"));
        bench.Until(() => Way is ["Plankton winch, on one level", "Hull"], "the level of the part");
        bench.Until(() => bench.Field("Name of the part").GetAttribute("value") == "Net", "the part selected");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_menu_under_the_pointer_offers_what_can_be_done()
    {
        bench.OpenExample("Hatchery tank, first loop");
        bench.ContextClickAt(bench.Center(bench.Part("Set-point")));
        bench.Click(By.XPath("//li[@role='menuitem'][contains(., 'Rename')]"));
        bench.Until(() => bench.All(".build-name-field").Count == 1, "the field for the name");
        bench.Keys("Wanted" + Keys.Enter);
        bench.Until(() => bench.Part("Wanted").Displayed, "the new name");
        bench.WaitSaved();
        bench.ContextClickAt(bench.Center(bench.Part("Wanted")));
        bench.Click(By.XPath("//li[@role='menuitem'][contains(., 'Delete')]"));
        bench.Until(
            () => bench.Driver.FindElements(By.XPath("//*[@data-part and starts-with(@aria-label, 'Wanted, ')]")).Count == 0,
            "the deletion"
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void One_value_is_given_to_several_parts_at_once()
    {
        bench.NewModel();
        bench.Place("gain", 80, 120);
        bench.Place("gain", 300, 120);
        bench.ClickAt(bench.Open(20, 300));
        bench.Chord(Keys.Control, "a");
        bench.Until(() => bench.All("[aria-label='Gain of all']").Count == 1, "the field for both");
        bench.SetField("Gain of all", "2.5");
        bench.Select("Gain 2");
        Assert.Equal("2.5", bench.Field("Gain").GetAttribute("value"));
        bench.Select("Gain");
        Assert.Equal("2.5", bench.Field("Gain").GetAttribute("value"));
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_wire_let_go_on_a_part_takes_its_fitting_port_and_one_that_cannot_end_says_why()
    {
        bench.NewModel();
        bench.Place("step", 60, 120);
        bench.Place("lag", 300, 120);
        bench.Drag(bench.Port("Step", "y"), bench.Center(bench.Part("Lag")));
        bench.Until(() => bench.Wires == 1, "the wire to the part's input");
        bench.WaitSaved();
        bench.Drag(bench.Port("Step", "y"), bench.Port("Lag", "y"));
        bench.Until(
            () => bench.All(".app-notice").Any(n => n.Text.Contains("an output for one signal", StringComparison.Ordinal)),
            "the reason"
        );
        Assert.Equal(1, bench.Wires);
        bench.NoConsoleErrors();
    }
}
