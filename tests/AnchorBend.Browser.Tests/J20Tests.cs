using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Two laws side by side: one part with 4·√u and with 0.01·u, both runs in one table and one plot, rows on and off.</summary>
[Collection("application")]
public sealed class J20Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    [Fact]
    public void J20_Two_laws_side_by_side()
    {
        bench.NewModel();
        bench.Place("constant", 60, 140);
        bench.Place("expression", 240, 140);
        bench.Place("probe", 460, 140);
        bench.Connect("Constant", "y", "Expression", "u[1]");
        bench.Connect("Expression", "y", "Probe", "u");
        bench.Select("Constant");
        bench.SetField("Value", "9");
        bench.Select("Expression");
        var formula = bench
            .All("[aria-label='Inspector'] input")
            .First(i => i.GetAttribute("id")!.EndsWith("-y", StringComparison.Ordinal));
        var label = formula.GetAttribute("aria-label")!;
        bench.SetField(label, "4*sqrt(u[1])");
        bench.SetTime(0.5);
        bench.Until(() => Math.Abs(bench.Plotted("Probe.y") - 12) < 1e-9, "four times three");

        bench.ContextClickAt(bench.Center(bench.Part("Expression")));
        bench.Click(By.XPath("//li[contains(@class,'ant-dropdown-menu-item') and contains(., 'Make it a slot')]"));
        bench.Until(() => bench.All(".inspector-alternative").Count == 1, "the slot");
        bench.WaitSaved();
        bench.SetField("Name of the alternative Expression 1", "Root");
        bench.Until(() => bench.Find(By.CssSelector(".canvas-realisation")).Text.Contains("Root", StringComparison.Ordinal), "its name");
        bench.Press("Add an alternative");
        bench.Field("What the alternative is").SendKeys("expression");
        bench.Until(() => bench.All("[role=option]").Any(o => o.Text.Contains("Expression", StringComparison.Ordinal)), "the part");
        bench.Field("What the alternative is").SendKeys(Keys.Enter);
        bench.Until(() => bench.All(".inspector-alternative").Count == 2, "the second law");
        bench.WaitSaved();
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys(Keys.Enter);
        bench.Until(() => bench.All("[data-part]").Count == 4, "the slot's level");
        var second = bench
            .All("[data-part]")
            .Select(p => p.GetAttribute("aria-label")!)
            .Single(l => l.Contains("left out", StringComparison.Ordinal))
            .Split(',')[0];
        bench.Select(second);
        bench.SetField(label, "0.01*u[1]");
        bench.Keys(Keys.Escape);
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys(Keys.Escape + Keys.Escape);
        bench.Until(() => bench.Part("Probe").Displayed, "the model itself");

        bench.Press("alternatives");
        bench.Press("Run all 2 combinations");
        bench.Until(() => bench.All(".observe-members button").Count == 2, "both runs");
        bench.Until(() => bench.All(".observe-set-bar .observe-waiting").Count == 0, "both to end");
        bench.Click(By.XPath("//label[contains(@class,'ant-segmented-item') and contains(., 'Table')]"));
        bench.Until(
            () =>
            {
                var rows = bench.All(".observe-set-table tbody tr").Select(r => r.Text).ToList();
                return rows.Count == 2
                    && rows[0].Contains("12", StringComparison.Ordinal)
                    && rows[1].Contains("0.09", StringComparison.Ordinal);
            },
            "both laws in one table"
        );
        bench.All(".observe-members button")[1].Click();
        bench.Until(() => bench.All(".observe-members button")[1].GetAttribute("aria-pressed") == "false", "one of them off");
        bench.NoConsoleErrors();
    }
}
