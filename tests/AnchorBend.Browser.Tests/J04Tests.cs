using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>J04: a directional valve from its symbol.</summary>
[Collection("application")]
public sealed class J04Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    (int X, int Y) Dot(string port, string position) => bench.Center(bench.Find(By.CssSelector($"[aria-label='{port} in {position}']")));

    void Focus(string label) => bench.Driver.ExecuteScript("arguments[0].focus()", bench.Find(By.CssSelector($"[aria-label='{label}']")));

    int Paths => bench.All("[aria-label^='Path ']").Count;

    [Fact]
    public void J04_A_directional_valve_from_its_symbol()
    {
        bench.NewModel();
        bench.Place("directional valve from", 300, 200);
        bench.WaitSaved();
        bench.Select("Valve");
        bench.Press("Open");
        bench.Find(By.CssSelector("svg[aria-label='Symbol of Valve']"));
        Assert.Equal(4, Paths);

        // A path is drawn by dragging from port to port; an orifice from the tool chosen before.
        bench.Click(By.XPath("//*[contains(@class,'ant-segmented-item-label') and .='Orifice']"));
        bench.Drag(Dot("P", "closed"), Dot("T", "closed"));
        bench.Until(() => Paths == 5, "the path");
        bench.WaitSaved();
        bench.Find(By.XPath("//dd[.='P goes to T through an orifice; A and B are closed.']"));

        // By keys as well: Enter at one port, Enter at another.
        Focus("A in closed");
        bench.Keys(Keys.Enter);
        Focus("B in closed");
        bench.Keys(Keys.Enter);
        bench.Until(() => Paths == 6, "the second path");
        bench.Press("Delete");
        bench.Until(() => Paths == 5, "that it is gone");

        bench.SetField("Nominal flow of P → A in parallel", "60 l/min");
        bench.Until(() => bench.Field("Nominal flow of P → A in parallel").GetAttribute("value") == "60 l/min", "the flow");
        bench.Press("linear");
        var curve = bench.Find(By.CssSelector("textarea"));
        curve.SendKeys("0 0\n0.3 0.05\n1 1");
        bench.Click(By.CssSelector("svg[aria-label='Symbol of Valve']"));
        bench.Find(By.XPath("//button[.='pasted curve']"));
        bench.Choose("Moved by", "pilot pressure at both ends");
        bench.Find(By.CssSelector("input[aria-label='Pressure for the full stroke']"));
        bench.WaitSaved();

        // What is drawn is the part: its ports, its symbol, and after a reload as well.
        bench.Driver.Navigate().Refresh();
        bench.Find(By.XPath("//button[.='pasted curve']"));
        bench.Driver.Navigate().GoToUrl(bench.Driver.Url[..bench.Driver.Url.LastIndexOf('/')]);
        bench.Until(() => bench.All("[data-part] img").Count > 0, "the symbol on the part");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_crude_twin_of_the_gates_valve_can_be_opened_and_undone()
    {
        bench.OpenExample("Tide gate");
        bench.Select("Four-way valve");
        bench.Press("Fit a crude twin");
        bench.Until(
            () => bench.All("[data-part]").Any(p => p.Text.Contains("crude", StringComparison.Ordinal)),
            "the twin on the diagram",
            60
        );
        bench.WaitSaved();
        Assert.Contains("its flows differ", bench.Find(By.CssSelector("section[aria-label='Crude twin']")).Text, StringComparison.Ordinal);
        bench.Select("Four-way valve crude");
        bench.Press("Open");
        bench.Until(
            () => bench.All("select, .ant-select").Count > 0 && bench.Driver.PageSource.Contains("Between positions"),
            "the drawn valve"
        );
        bench.Click(By.XPath("//header//*[self::a or self::button][normalize-space(.)='Tide gate']"));
        bench.Until(() => bench.Part("Cylinder").Displayed, "the diagram again");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.All("[data-part]").All(p => !p.Text.Contains("crude", StringComparison.Ordinal)), "the twin to be gone");
        bench.NoConsoleErrors();
    }
}
