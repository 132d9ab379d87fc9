using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Any quantity, on sheets that runs fill again; runs beside each other; measures. J11 and the measures of J17.</summary>
[Collection("application")]
public sealed class ObserveTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void Observe()
    {
        bench.Click(By.XPath("//button[normalize-space(.)='Observe']"));
        bench.Until(() => bench.All("[data-run]").Count > 0 && bench.All(".observe-tile").Count > 0, "the sheet and the runs");
    }

    IWebElement Tile(string title) => bench.Find(By.CssSelector($"section.observe-tile[aria-label='{title}']"));

    void Menu(By button, string entry)
    {
        bench.Click(button);
        bench.Click(By.XPath($"//li[@role='menuitem' and normalize-space(.)='{entry}']"));
    }

    void Search(string text)
    {
        var field = bench.Field("Search signals");
        field.Click();
        field.SendKeys(Keys.Control + "a");
        field.SendKeys(text);
    }

    [Fact]
    public void J11_Cycle_an_energy_store()
    {
        bench.OpenExample("Lamp buoy");
        Observe();
        // Voltage over charge, what is on, and the courses stand on the sheet of the example.
        Assert.Equal(4, bench.All(".observe-tile").Count);
        Tile("Voltage over charge");
        bench.Until(() => bench.All(".observe-band").Count > 6, "the bands of the switches");

        // A quantity inside a part that nobody chose before: found, and plotted in a strip of its own.
        Search("v1");
        bench.Until(
            () => bench.All(".observe-found-signal").Any(b => b.Text.Contains("v1", StringComparison.Ordinal)),
            "the state of the store"
        );
        bench.Keys(Keys.Enter);
        bench.Until(() => Tile("Three days").FindElements(By.CssSelector("canvas")).Count == 4, "the fourth strip");
        bench.WaitSaved();

        // Zoom by a box, values at two instants, fit.
        var canvas = bench.Center(Tile("Three days").FindElement(By.CssSelector("canvas")));
        bench.Drag((canvas.X - 60, canvas.Y), (canvas.X + 40, canvas.Y));
        bench.Until(() => bench.Button("Fit").Enabled, "the way back");
        bench.Click(By.CssSelector("[aria-label='Back to the stretch before']"));
        bench.Until(() => !bench.Find(By.XPath("//button[normalize-space(.)='Fit']")).Enabled, "the whole run");
        bench.Click(By.XPath("//button[normalize-space(.)='Two instants']"));
        bench.Until(
            () => Tile("Three days").FindElement(By.CssSelector("table")).FindElements(By.CssSelector("tr:first-child td")).Count == 3,
            "values at both and their difference"
        );

        // The sheet is part of the model: it is there again, and undone as every edit.
        bench.Driver.Navigate().Refresh();
        bench.Until(() => bench.All(".observe-tile").Count == 4, "the sheet again");
        Assert.Equal(4, Tile("Three days").FindElements(By.CssSelector("canvas")).Count);
        bench.Driver.ExecuteScript("document.activeElement.blur()");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => Tile("Three days").FindElements(By.CssSelector("canvas")).Count == 3, "the strip taken back");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void J11_A_cell_within_its_management()
    {
        bench.OpenExample("Buoy cell");
        // As many equations as unknowns, and how they come about.
        bench.Until(
            () =>
                bench.Find(By.CssSelector("[aria-label='Inspector']")).Text.Contains("97 equations, 97 unknowns", StringComparison.Ordinal),
            "the balance of the model"
        );
        bench.WaitForRun();
        Observe();
        Tile("Voltage over the state of charge");
        Search("losses");
        bench.Until(() => bench.All(".observe-found-signal").Count > 0, "the losses of the cell");
        bench.Click(By.XPath("//button[normalize-space(.)='Measures']"));
        bench.Until(
            () => bench.All("[data-measure='Warmest']") is [var v] && v.Text.Contains("13.", StringComparison.Ordinal),
            "the highest temperature"
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void J17_A_measure_is_defined_once_and_has_a_value_for_every_run()
    {
        bench.OpenExample("Plankton winch");
        Observe();
        bench.Click(By.XPath("//button[normalize-space(.)='Measures']"));
        bench.Until(
            () => bench.All("[data-measure='Deepest point after 5 s']") is [var v] && v.Text.StartsWith("22.", StringComparison.Ordinal),
            "the deepest point"
        );
        // Typed with completion, tried while it is typed.
        var field = bench.Find(By.CssSelector("input[aria-label='New measure']"));
        field.Click();
        field.SendKeys("overshoot(dep");
        bench.Until(
            () => bench.All(".observe-completions li").Any(o => o.Displayed && o.Text.StartsWith("depth", StringComparison.Ordinal)),
            "the signal"
        );
        bench.All(".observe-completions li").First(o => o.Displayed && o.Text.StartsWith("depth", StringComparison.Ordinal)).Click();
        field.SendKeys(", from = 2 s, target = 20)");
        bench.Until(
            () => bench.All(".observe-expression [role=status]").Any(s => s.Text.StartsWith("20.", StringComparison.Ordinal)),
            "its value"
        );
        field.SendKeys(Keys.Enter);
        bench.WaitSaved();
        bench.Until(() => bench.All("[data-measure^='overshoot']").Count == 1, "the measure with its value");

        // Another run: the value of before stands beside that of now.
        bench.Click(By.XPath("//button[normalize-space(.)='Build']"));
        bench.SetField("weight Weight of the net in water", "700 N");
        Observe();
        bench.Click(By.XPath("//button[normalize-space(.)='Measures']"));
        bench.Until(() => bench.All("[data-measure='Deepest point after 5 s']").Count == 2, "both runs");
        Assert.NotEqual(
            bench.All("[data-measure='Deepest point after 5 s']")[0].Text,
            bench.All("[data-measure='Deepest point after 5 s']")[1].Text
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Why_two_runs_differ_is_one_click_from_each_signal()
    {
        bench.OpenExample("Plankton winch");
        bench.SetField("net_m Mass of the net with the water it carries", "240 kg");
        bench.WaitForRun();
        Observe();
        bench.Until(() => bench.All("[data-run]").Count == 2, "both runs");
        bench.Driver.ExecuteScript("document.querySelectorAll('[data-run] .ant-radio-input')[1].click()");
        var panel = By.CssSelector("section[aria-label='Why do they differ?']");
        bench.Until(() => bench.Find(panel).Text.Contains("One place in the model differs", StringComparison.Ordinal), "the reason");
        var text = bench.Find(panel).Text;
        Assert.Contains("net_m", text, StringComparison.Ordinal);
        Assert.Contains("240 kg", text, StringComparison.Ordinal);
        Assert.Contains("parts first", text, StringComparison.Ordinal);
        bench.Find(panel).FindElement(By.XPath(".//button[normalize-space(.)='Add to the sheet']")).Click();
        bench.Until(() => bench.All(".observe-name").Any(n => n.Text.StartsWith('Δ')), "the difference as a curve");

        // A run is named, kept for good, and there after a reload beside the new one.
        Menu(By.XPath("(//li[@data-run])[2]//button[contains(@aria-label, 'What can be done')]"), "Name and note");
        bench.SetField("Name of the run", "the light net");
        bench.Click(By.CssSelector("[aria-label='Keep the light net for good']"));
        bench.Until(() => bench.All("[aria-label='Do not keep the light net any longer']").Count == 1, "the pin");
        bench.Driver.Navigate().Refresh();
        bench.Until(() => bench.All("[data-run]").Any(r => r.Text.Contains("the light net", StringComparison.Ordinal)), "the kept run");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Measured_data_stands_beside_a_run()
    {
        bench.OpenExample("Hatchery tank, first loop");
        Observe();
        var file = Path.Combine(Path.GetTempPath(), $"anchor-bend-{Guid.NewGuid():N}.csv");
        File.WriteAllText(file, "time [min];temperature [degC]\n0;12\n20;16,5\n60;18\n");
        try
        {
            bench.Click(By.XPath("//button[normalize-space(.)='Bring in a file']"));
            bench.Find(By.CssSelector("input[type=file]")).SendKeys(file);
            bench.Until(() => bench.All(".observe-mapping tbody tr").Count == 1, "the columns");
            Assert.Contains("3 rows from 0 to 3600 s", bench.Find(By.CssSelector(".ant-modal")).Text, StringComparison.Ordinal);
            bench.Click(By.XPath("//button[normalize-space(.)='Take it in']"));
            bench.Until(
                () => bench.All("[data-run]").Any(r => r.Text.Contains(Path.GetFileName(file), StringComparison.Ordinal)),
                "the file as a run"
            );
            bench.Until(() => bench.All("[data-run] button[aria-checked='true']").Count == 2, "its curve beside the present one");
        }
        finally
        {
            File.Delete(file);
        }

        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_measure_becomes_a_requirement_and_follows_the_name_of_its_signal()
    {
        bench.OpenExample("Plankton winch");
        Observe();
        bench.Click(By.XPath("//button[normalize-space(.)='Measures']"));
        bench.Field("New measure").Click();
        bench.Keys("final('Nets and water'.depth)" + Keys.Enter);
        bench.Until(() => bench.All("[data-measure]").Count == 5, "the new measure with its value");
        bench.Click(By.XPath("//nav//button[contains(., 'Verify')]"));
        bench.Press("Add a requirement");
        bench.Find(By.Id("name")).SendKeys("Not too deep");
        bench.Choose("of", "final(");
        bench.Find(By.Id("limit")).SendKeys(Keys.Control + "a");
        bench.Find(By.Id("limit")).SendKeys("25 m");
        bench.Press("Save");
        var row = By.XPath("//tr[contains(., 'Not too deep')]");
        bench.Until(() => bench.Find(row).Text.Contains("met", StringComparison.Ordinal), "the verdict on the measure");

        bench.Click(By.XPath("//nav//button[contains(., 'Build')]"));
        bench.Select("Nets and water");
        bench.Find(By.CssSelector(".inspector-title")).SendKeys(Keys.Control + "a");
        bench.Find(By.CssSelector(".inspector-title")).SendKeys("Nets" + Keys.Enter);
        bench.WaitSaved();
        Observe();
        bench.Click(By.XPath("//button[normalize-space(.)='Measures']"));
        bench.Find(By.CssSelector("[aria-label='Expression of the measure final(Nets.depth)']"));
        bench.Until(() => bench.All("[data-measure]").Count == 10, "values of the run before and of this one");
        bench.Click(By.XPath("//nav//button[contains(., 'Verify')]"));
        bench.Until(() => bench.Find(row).Text.Contains("met", StringComparison.Ordinal), "the verdict after the new name");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_sheet_is_arranged_read_and_taken_along()
    {
        bench.OpenExample("Tide gate");
        Observe();
        var strips = Tile("Gate and pressures");
        var signals = strips.FindElements(By.CssSelector("[data-signal-value]")).Count;
        // A signal is dragged from the finder into a strip; a tile is made wider by its corner.
        Search("v");
        bench.Until(() => bench.All(".observe-found-signal").Count > 3, "signals");
        var found = bench.Center(bench.All(".observe-found-signal")[0]);
        bench.Drag(found, bench.Center(strips.FindElement(By.CssSelector("canvas"))));
        bench.Until(() => Tile("Gate and pressures").FindElements(By.CssSelector("[data-signal-value]")).Count == signals + 1, "the curve");
        bench.WaitSaved();
        var against = Tile("Lift pressure over opening");
        var width = against.Size.Width;
        var corner = (against.Location.X + width - 5, against.Location.Y + against.Size.Height - 5);
        bench.Drag(corner, (corner.Item1 - 120, corner.Item2));
        bench.Until(() => Tile("Lift pressure over opening").Size.Width < width - 40, "the narrower tile");
        bench.WaitSaved();

        // Two instants: what a curve does between them stands in the inspector.
        bench.Click(By.XPath("//button[normalize-space(.)='Two instants']"));
        Tile("Gate and pressures").FindElement(By.XPath(".//button[normalize-space(.)='opening']")).Click();
        bench.Until(() => bench.All("[data-figure]").Count == 6, "the figures");
        Assert.Contains(
            "Between a and b",
            bench.Find(By.CssSelector("section[aria-label='Curve and axes']")).Text,
            StringComparison.Ordinal
        );
        Assert.Contains("m/s", bench.Find(By.CssSelector("[data-figure='slope']")).Text, StringComparison.Ordinal);

        // Pictures and data are made; what is saved is looked at before it leaves the page.
        bench.Driver.ExecuteScript(
            "window.saved = []; const made = URL.createObjectURL; URL.createObjectURL = (b) => { "
                + "b.text().then((t) => window.saved.push([b.type, b.size, t.slice(0, 4000)])); return made.call(URL, b); };"
        );
        Save("Gate and pressures", "SVG");
        var (type, size, text) = Saved(1);
        Assert.StartsWith("image/svg+xml", type, StringComparison.Ordinal);
        Assert.Contains("<path d=\"M", text, StringComparison.Ordinal);
        Assert.Contains("Gate and pressures", text, StringComparison.Ordinal);
        Assert.True(size > 10_000);
        Save("the sheet Hydraulics", "PNG");
        Assert.Equal("image/png", Saved(2).Type);
        Menu(By.CssSelector("[aria-label='What can be done with the sheet Hydraulics']"), "Save or copy the data");
        bench.Click(By.XPath("//div[contains(@class,'ant-modal')]//button[normalize-space(.)='Save']"));
        Assert.StartsWith("time [s],wanted opening [m],opening [m]", Saved(3).Text, StringComparison.Ordinal);
        bench.NoConsoleErrors();
    }

    void Save(string what, string form)
    {
        bench.Click(By.CssSelector($"[aria-label='What can be done with {what}']"));
        bench.Click(
            By.XPath(
                "//li[@role='menuitem' and normalize-space(.)='Save as a picture' "
                    + "and not(ancestor::*[contains(@class,'ant-dropdown-hidden')])]"
            )
        );
        bench.Click(By.XPath($"//div[contains(@class,'ant-modal')]//*[@aria-label='Form']//*[normalize-space(.)='{form}']"));
        bench.Click(By.XPath("//div[contains(@class,'ant-modal')]//button[normalize-space(.)='Save']"));
        bench.Until(() => bench.All(".ant-modal").Count == 0, "the dialog to close");
    }

    (string Type, long Size, string Text) Saved(int count)
    {
        bench.Until(() => (long)bench.Driver.ExecuteScript("return window.saved.length")! >= count, $"file {count}");
        var entry = (System.Collections.ObjectModel.ReadOnlyCollection<object>)
            bench.Driver.ExecuteScript($"return window.saved[{count - 1}]")!;
        return ((string)entry[0], (long)entry[1], (string)entry[2]);
    }
}
