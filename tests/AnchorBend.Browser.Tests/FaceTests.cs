using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Faces, ports, the package and moving between levels, as users do it.</summary>
[Collection("application")]
public sealed class FaceTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    string[] Way => [.. bench.All(".app-way button, .app-way b").Select(e => e.Text)];

    void Enter(string part)
    {
        bench.DoubleClick(
            () => bench.PartNow(part).FindElement(By.CssSelector(".canvas-face")),
            () => Way.LastOrDefault() == part,
            $"the level of {part}"
        );
    }

    [Fact]
    public void A_symbol_is_drawn_with_mouse_and_keys_and_shows_on_every_use()
    {
        bench.OpenExample("Plankton winch");
        Enter("Nets and water");
        bench.Until(() => bench.Part("Fine net").Displayed, "the nets");
        Enter("Fine net");
        bench.Press("Draw");
        var ground = bench.Find(By.CssSelector("[aria-label^='Drawing ground']"));
        bench.Press("Clear");
        bench.Click(By.XPath("//div[contains(@class,'ant-segmented-item-label')][. = 'Rectangle']"));
        bench.Until(() => bench.All("[data-stroke]").Count == 0, "an empty ground");
        bench.Until(() => bench.All(".ant-segmented-item-selected").Any(i => i.Text == "Rectangle"), "the tool in hand");
        var (x, y) = bench.Center(ground);
        bench.ClickAt((x - 120, y - 60));
        bench.ClickAt((x + 120, y + 60));
        bench.Until(() => bench.All("[data-stroke]").Count == 1, "the rectangle");
        bench.Click(By.XPath("//div[contains(@class,'ant-segmented-item-label')][. = 'Text']"));
        bench.Field("Text to place").SendKeys("<<W>>");
        ground.Click();
        bench.Until(() => bench.All("[data-stroke]").Count == 2, "the text");
        // A line by keys: from where the pen is, two steps to the right.
        bench.Click(By.XPath("//div[contains(@class,'ant-segmented-item-label')][. = 'Line']"));
        bench.Driver.ExecuteScript("arguments[0].focus()", ground);
        bench.Keys(" " + Keys.ArrowRight + Keys.ArrowRight + " " + Keys.Enter);
        bench.Until(() => bench.All("[data-stroke]").Count == 3, "the line");
        bench.Press("Use this symbol");
        bench.WaitSaved();
        bench.ClickAt(bench.Open(20, 400));
        bench.Keys(Keys.Escape);
        bench.Until(() => Way.LastOrDefault() == "Nets and water", "the level above");
        bench.Until(
            () =>
                bench.Part("Fine net").FindElement(By.CssSelector(".canvas-face")).Text == "0.6*weight"
                && bench.Part("Coarse net").FindElement(By.CssSelector(".canvas-face")).Text == "0.4*weight",
            "each use with its own value"
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Ports_are_moved_on_the_plate_with_the_mouse_and_in_the_inspector()
    {
        bench.OpenExample("Plankton winch");
        var wires = bench.Wires;
        string[] Left() => [.. bench.All("[aria-label='Ports of the subsystem'] li").Select(e => e.Text.Split(' ', '\n')[0].Trim())];
        bench.Select("Boat and cable");
        Assert.Equal(["payout", "depth", "tension"], Left());
        var (payout, depth) = (bench.Port("Boat and cable", "payout"), bench.Port("Boat and cable", "depth"));
        bench.Drag(payout, (depth.X, depth.Y + 12), Keys.Shift);
        bench.Until(() => Left() is ["depth", "payout", "tension"], "the ports the other way round");
        bench.WaitSaved();
        bench.Click(By.CssSelector("[aria-label='Move payout before the port before it']"));
        bench.Until(() => Left() is ["payout", "depth", "tension"], "the first order again");
        bench.Choose("Side of depth", "bottom");
        bench.Until(() => bench.Port("Boat and cable", "depth").Y > bench.Port("Boat and cable", "tension").Y, "the port at the bottom");
        Assert.Equal(wires, bench.Wires);
        bench.WaitForRun();
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_subsystem_kept_in_the_package_is_placed_in_another_model_and_taken_in()
    {
        bench.OpenExample("Plankton winch");
        bench.Select("Boat and cable");
        bench.Press("Keep in my package");
        bench.Until(() => bench.All(".app-notice").Any(n => n.Text.Contains("depth0", StringComparison.Ordinal)), "why it cannot be kept");
        Enter("Nets and water");
        bench.Select("Fine net");
        bench.Press("Keep in my package");
        bench.Until(() => bench.All(".app-notice").Any(n => n.Text.Contains("NetInWater", StringComparison.Ordinal)), "what was kept");

        bench.NewModel();
        bench.Place("net in water", 400, 160);
        bench.Until(() => bench.Part("Net in water").Displayed, "the part of the package");
        bench.Press("Make it a subsystem of this model");
        bench.Until(() => bench.All("[aria-label='Ports of the subsystem'] li").Count == 2, "the subsystem");
        Enter("Net in water");
        Assert.Equal(5, bench.Parts);
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_part_is_dragged_in_the_outline_to_another_level()
    {
        bench.OpenExample("Plankton winch");
        var parts = bench.Parts;
        bench.Press("Outline");
        IWebElement Entry(string name) =>
            bench.Find(By.XPath($"//span[contains(@class,'build-outline-entry')][normalize-space(.)='{name}']"));
        bench.Until(() => Entry("Depth sensor").Displayed, "the outline");
        // The driver has no drag and drop of its own for what the page lets drag.
        bench.Driver.ExecuteScript("window.carried = new DataTransfer()");
        void Send(IWebElement element, string type) =>
            bench.Driver.ExecuteScript(
                "const r = arguments[0].getBoundingClientRect();"
                    + "arguments[0].dispatchEvent(new DragEvent(arguments[1], { bubbles: true, cancelable: true, dataTransfer: window.carried,"
                    + " clientX: r.left + 20, clientY: r.top + r.height / 2 }))",
                element,
                type
            );
        var (from, to) = (Entry("Depth sensor"), Entry("Drive"));
        Send(from, "dragstart");
        foreach (var type in (string[])["dragover", "drop"])
            Send(to, type);
        bench.Until(() => Way is ["Plankton winch", "Drive"], "the level it went to");
        bench.Until(() => bench.Part("Depth sensor").Displayed, "the part there");
        bench.Until(() => bench.All(".app-notice").Any(n => n.Text.Contains("2 wires", StringComparison.Ordinal)), "what stayed behind");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.Parts == 10, "the level as it was");
        bench.Click(By.XPath("//nav[@aria-label='Levels']//button"));
        bench.Until(() => bench.Parts == parts, "the part back on its level");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Panes_keep_the_size_that_they_were_given_by_mouse_or_keys()
    {
        bench.OpenExample("Hatchery tank, first loop");
        var edge = bench.Field("Width of the inspector");
        var width = int.Parse(edge.GetAttribute("aria-valuenow")!, System.Globalization.CultureInfo.InvariantCulture);
        var (x, y) = bench.Center(edge);
        bench.Drag((x, y), (x - 100, y));
        bench.Until(() => edge.GetAttribute("aria-valuenow") == $"{width + 100}", "a wider inspector");
        bench.Driver.ExecuteScript("arguments[0].focus()", edge);
        bench.Keys(Keys.ArrowRight);
        bench.Until(() => edge.GetAttribute("aria-valuenow") == $"{width + 84}", "one step back");
        bench.Driver.Navigate().Refresh();
        bench.Until(
            () => bench.Field("Width of the inspector").GetAttribute("aria-valuenow") == $"{width + 84}",
            "the width after a reload"
        );
        Assert.Equal(width + 84, bench.Find(By.CssSelector("[aria-label=Inspector]")).Size.Width);
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_deleted_part_leaves_a_gap_that_one_click_closes_and_a_name_that_waits()
    {
        bench.NewModel();
        bench.Place("step", 60, 120);
        bench.Place("gain", 220, 120);
        bench.Place("lag", 380, 120);
        bench.Connect("Step", "y", "Gain", "u");
        bench.Connect("Gain", "y", "Lag", "u");
        bench.Select("Gain");
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys(Keys.Delete);
        bench.Until(() => bench.Parts == 2 && bench.Wires == 0, "the part gone");
        bench.Press("Close the gap");
        bench.Until(() => bench.Wires == 1, "the chain closed");
        bench.WaitSaved();

        // The signal is named, its source replaced by hand.
        bench.Select("Step");
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys("]");
        bench.SetField("Name of the signal", "wish");
        bench.Select("Step");
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys(Keys.Delete);
        bench.Until(() => bench.Parts == 1, "the source gone");
        bench.WaitSaved();
        bench.Place("sine", 60, 240);
        bench.Connect("Sine", "y", "Lag", "u");
        bench.Until(
            () => bench.All(".canvas-signal-tag").Any(t => t.Text.Contains("wish", StringComparison.Ordinal)),
            "the name on the new source"
        );
        bench.NoConsoleErrors();
    }
}
