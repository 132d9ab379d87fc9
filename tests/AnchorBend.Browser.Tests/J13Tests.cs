using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace AnchorBend.Browser.Tests;

/// <summary>
/// One place for all parameters: the crane's drive line takes its values from one sheet; the sheet goes out to a spreadsheet and comes back
/// with one value changed, the difference is shown before it is taken, and another supplier is one switch away.
/// </summary>
[Collection("application")]
public sealed class J13Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void OpenSheet(string name)
    {
        bench.Click(By.XPath("//button[normalize-space(.)='Outline']"));
        bench.Click(By.XPath($"//section[@aria-label='Sheets of the model']//button[contains(., '{name}')]"));
        bench.Find(By.CssSelector(".sheets-grid"));
    }

    string Cell(string row, int column) =>
        bench
            .Find(
                By.XPath($"//div[@role='row'][div[@role='gridcell'][starts-with(@title, '{row}') and string-length(@title)={row.Length}]]")
            )
            .FindElements(By.CssSelector("[role=gridcell]"))[column]
            .GetAttribute("title")!;

    [Fact]
    public void J13_One_place_for_all_parameters()
    {
        bench.OpenExample("Crane drive line");
        bench.SetTime(0.9);
        var before = bench.Plotted("motor speed");
        OpenSheet("Drive line");
        Assert.Equal("0.42", Cell("J1", 1));
        bench.Until(
            () => bench.Find(By.CssSelector(".sheets-uses")).Text.Contains("Rotor 1", StringComparison.Ordinal),
            "where J1 is used"
        );

        // Out to a spreadsheet, one value changed there, and back.
        var id = bench.Driver.Url.Split("/models/")[1].Split('/')[0];
        var text = (string)
            bench.Driver.ExecuteAsyncScript(
                """
                const done = arguments[arguments.length - 1];
                fetch(`/api/models/${arguments[0]}/sheets/line/file?form=csv`).then((r) => r.text()).then(done, (e) => done(String(e)));
                """,
                id
            )!;
        Assert.Contains("J1,Rotors", text);
        var file = Path.Combine(Path.GetTempPath(), $"drive-line-{Guid.NewGuid():N}.csv");
        File.WriteAllText(
            file,
            text.Replace(
                "c7,Shafts,\"Stiffness of shaft 7\",kN.m/rad,0,,26",
                "c7,Shafts,\"Stiffness of shaft 7\",kN.m/rad,0,,13",
                StringComparison.Ordinal
            )
        );
        try
        {
            bench.Driver.FindElement(By.CssSelector("[aria-label='File of a spreadsheet']")).SendKeys(file);
            bench.Until(() => bench.All(".sheets-changes tbody tr").Count == 1, "the one row that differs");
            Assert.Contains("c7", bench.Find(By.CssSelector(".sheets-changes tbody")).Text);
            Assert.Contains("26", bench.Find(By.CssSelector(".sheets-changes del")).Text);
            Assert.Contains("25 are the same", bench.Find(By.CssSelector(".sheets-comparison")).Text);
            bench.Press("Take 1 row");
            bench.WaitSaved();
        }
        finally
        {
            File.Delete(file);
        }

        bench.Until(() => Cell("c7", 1) == "13", "the softer shaft in the sheet");
        bench.Until(() => Math.Abs(bench.Plotted("motor speed") - before) > 0.1, "another motion with the softer shaft");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => Math.Abs(bench.Plotted("motor speed") - before) < 1e-6, "the first motion again");

        // The other supplier.
        bench.Choose("Active column", "Holm Foundry");
        bench.Until(() => Math.Abs(bench.Plotted("motor speed") - before) > 0.1, "the motion with the other supplier's parts");
        bench.Choose("Active column", "Ness Works");
        bench.Until(() => Math.Abs(bench.Plotted("motor speed") - before) < 1e-6, "the first supplier's motion");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_sheet_is_filled_by_keys_and_values_of_parts_move_to_it()
    {
        bench.NewModel();
        bench.Place("gain", 100, 120);
        bench.Place("gain", 280, 120);
        bench.Chord(Keys.Control, "a");
        bench.Until(() => bench.All("[aria-label='Move Gain of all to a sheet']").Count == 1, "the parameter that both have");
        bench.HoverAndClick(By.CssSelector("[aria-label='Move Gain of all to a sheet']"));
        bench.Press("Open the sheet");
        bench.Find(By.CssSelector(".sheets-grid"));
        Assert.Equal("1", Cell("Gain_k", 1));
        Assert.Equal("1", Cell("Gain_2_k", 1));

        // Typed over the second value, and a new row behind the last.
        var grid = bench.Find(By.CssSelector(".sheets-grid"));
        bench.Driver.ExecuteScript("arguments[0].focus()", grid);
        bench.Keys(Keys.Down + Keys.Right + "4.5" + Keys.Enter);
        bench.WaitSaved();
        bench.Until(() => Cell("Gain_2_k", 1) == "4.5", "the typed value");
        bench.Keys(Keys.Left + "spare" + Keys.Enter);
        bench.Until(() => bench.All(".sheets-row").Count == 4, "the new row and the empty one");
        bench.WaitSaved();
        // A name typed over another is followed by the fields.
        bench.Keys(Keys.Up + Keys.Up + "second" + Keys.Enter);
        bench.WaitSaved();
        bench.Until(() => Cell("second", 1) == "4.5", "the renamed row");
        bench.Click(By.XPath("//section[contains(@class,'sheets-editor')]//button[normalize-space(.)='Close']"));
        bench.Select("Gain 2");
        bench.Until(() => bench.Field("Gain").GetAttribute("value") == "second", "the field that speaks of it");
        bench.NoConsoleErrors();
    }
}
