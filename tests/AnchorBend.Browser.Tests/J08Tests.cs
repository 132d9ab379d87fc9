using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>
/// Fewer wires: signals joined by name, picked elsewhere, renamed everywhere, drawn by name where they go far, and tidied.
/// </summary>
[Collection("application")]
public sealed class J08Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void Menu(string item)
    {
        bench.Press("More");
        bench
            .Until(
                () =>
                    bench
                        .Driver.FindElements(By.XPath($"//li[contains(@class,'ant-dropdown-menu-item') and contains(., '{item}')]"))
                        .FirstOrDefault(e => e.Displayed),
                $"{item} in the menu"
            )!
            .Click();
        bench.WaitSaved();
    }

    void Value(string part, string value)
    {
        bench.Select(part);
        bench.SetField("Value", value);
    }

    [Fact]
    public void J08_Fewer_wires()
    {
        bench.NewModel();
        bench.Place("constant", 60, 100);
        bench.Place("constant", 60, 200);
        bench.Place("constant", 60, 300);
        Value("Constant 2", "5");
        Value("Constant 3", "9");

        // All that is selected becomes one bundle, each under its name.
        bench.ClickAt(bench.Open(20, 420));
        bench.Chord(Keys.Control, "a");
        Menu("Join the signals to a bundle");
        bench.Until(() => bench.Wires == 3, "a wire from each");
        var join = bench.All("[data-part].canvas-bar").Single();
        Assert.Equal(["Constant", "Constant_2", "Constant_3"], join.FindElements(By.CssSelector(".canvas-member")).Select(m => m.Text));

        // Another one dropped on its plate becomes a member too.
        bench.Place("constant", 60, 400);
        bench.Drag(bench.Port("Constant 4", "y"), bench.Center(join));
        bench.Until(() => bench.Wires == 4, "a wire from the fourth");
        bench.WaitSaved();
        bench.Until(() => bench.All("[data-part].canvas-bar .canvas-member").Any(m => m.Text == "Constant_4"), "the fourth member");

        bench.Place("pick", 420, 140);
        var names = bench.All("[data-part].canvas-bar").Select(p => p.GetAttribute("aria-label")!.Split(',')[0]).ToList();
        bench.Connect(names[0], "bundle", names[1], "bundle");
        bench.Select(names[1]);
        bench.Until(
            () =>
            {
                bench.Field("Members").SendKeys("Constant_2" + Keys.Enter);
                return true;
            },
            "the member to pick"
        );
        bench.WaitSaved();
        bench.Place("probe", 640, 140);
        bench.Connect(names[1], "Constant_2", "Probe", "u");
        bench.SetTime(0.5);
        bench.Until(() => Math.Abs(bench.Plotted("Probe.y") - 5) < 1e-9, "the second constant, picked");

        // Another name for it is followed, after its places are shown.
        bench.Select(names[0]);
        bench.SetField("New name of the member Constant_2", "depth");
        bench.Until(() => bench.All(".inspector-places").Count == 1 || bench.All(".app-notice").Count > 0, "the places");
        Assert.Contains("in 2 places", string.Join(" ", bench.All(".inspector-places, [role=alert], [role=status]").Select(e => e.Text)));
        bench.Click(By.XPath("//div[contains(@class,'inspector-places')]//button[normalize-space(.)='Rename']"));
        bench.WaitSaved();
        bench.Until(
            () => bench.Part(names[1]).FindElements(By.CssSelector(".canvas-member")).Any(m => m.Text == "depth"),
            "the new name where it is picked"
        );
        bench.Until(() => Math.Abs(bench.Plotted("Probe.y") - 5) < 1e-9, "the same value");

        // A wire that goes far is drawn by its name, and one click leads to its other end.
        var wires = bench.Wires;
        bench.Select("Probe");
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys("]");
        bench.Press("Draw by name");
        bench.Until(() => bench.Wires == wires - 1 && bench.All(".canvas-far-ends rect").Count == 2, "the two ends");
        bench.WaitSaved();
        bench.Driver.Navigate().Refresh();
        bench.Until(() => bench.All(".canvas-far-ends rect").Count == 2, "the two ends after reading it anew");
        bench.NoConsoleErrors();
    }

    void Enter(string part)
    {
        bench.DoubleClick(() => bench.PartNow(part), () => bench.All(".app-way b").Any(e => e.Text == part), $"the level {part}");
    }

    void Rename() => bench.Click(By.XPath("//div[contains(@class,'inspector-places')]//button[normalize-space(.)='Rename']"));

    [Fact]
    public void J08_Forty_signals_go_through_three_levels_member_by_member()
    {
        bench.OpenExample("Survey boat");
        bench.Until(() => bench.All(".canvas-wire.canvas-bundle").Count == 3, "the bundles");

        // A port for a bundle is read for one member more, without a part that takes it apart.
        Enter("Helm");
        bench.Select("measured");
        bench.Field("Members").SendKeys("drives.shaft_speed" + Keys.Enter + Keys.Escape);
        bench.WaitSaved();
        var (x, y) = bench.Open(560, 380);
        bench.Place("gain", x, y);
        bench.Connect("measured", "drives.shaft_speed", "Gain", "u");
        bench.Select("Gain");
        bench.Press("Plot");
        bench.WaitSaved();
        bench.WaitForRun();
        bench.SetTime(0.9);
        bench.Until(() => Math.Abs(bench.Plotted("Helm.Gain.y") - 60) < 0.01, "the shaft speed, through three levels");

        // The type says what there is; another name for a member goes everywhere.
        bench.Select("measured");
        bench.SetField("Name of the member drives", "shaft");
        bench.Until(() => bench.All(".inspector-places").Count == 1, "the places");
        Rename();
        bench.WaitSaved();
        bench.Until(
            () => bench.Part("measured").FindElements(By.CssSelector(".canvas-member")).Any(m => m.Text == "shaft.shaft_speed"),
            "the new name here"
        );
        bench.Click(By.XPath("//*[contains(@class,'app-way')]//button[normalize-space(.)='Survey boat']"));
        bench.Until(() => bench.Parts == 5, "the level above");
        Enter("Sensors");
        Assert.Contains("shaft", bench.Part("Forty signals").FindElements(By.CssSelector(".canvas-member")).Select(m => m.Text));
        bench.WaitForRun();
        bench.Until(() => Math.Abs(bench.Plotted("Helm.Gain.y") - 60) < 0.01, "the same value");

        // What is declared and not written is told, with where it is read.
        Enter("Compass");
        bench.Select("Not too fast");
        bench.Keys(Keys.Delete);
        bench.WaitSaved();
        bench.Until(() => bench.All(".canvas-flag.canvas-warning").Count > 0, "the flag");
        bench.Select("told");
        bench.Until(
            () => bench.Find(By.CssSelector("[aria-label='Inspector']")).Text.Contains("Nothing writes 'valid' of Compass"),
            "the finding"
        );
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.All(".canvas-flag").Count == 0, "no flag any more");

        // The level is laid out anew, and read again.
        bench.Press("Tidy");
        bench.Press("Tidy the level");
        // The layout is made in a worker, which other work may keep waiting.
        bench.Until(() => bench.All("button").Any(b => b.Text == "Keep it"), "the new layout", 60);
        bench.Click(By.XPath("//button[normalize-space(.)='Keep it']"));
        bench.WaitSaved();
        bench.Driver.Navigate().Refresh();
        bench.Until(() => bench.Parts == 6 && bench.All(".canvas-flag").Count == 0, "the level again");
        bench.NoConsoleErrors();
    }
}
