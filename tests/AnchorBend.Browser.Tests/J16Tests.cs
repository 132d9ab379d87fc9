using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>J16, the loop as it has grown; J05, the start of a machine with many valves.</summary>
[Collection("application")]
public sealed class J16Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    [Fact]
    public void J16_The_warm_loop_starts_at_rest_and_follows()
    {
        bench.OpenExample("Warm loop");
        bench.WaitForRun();
        bench.SetTime(0);
        // From the first instant it is at rest where it was wanted, without a spike.
        bench.Until(() => Math.Abs(bench.Plotted("after the warm leg") - 16) < 0.01, "16 °C at the start");
        var power = bench.Plotted("power");
        bench.SetTime(0.2);
        bench.Until(() => Math.Abs(bench.Plotted("power") - power) < 0.01, "the same power before anything changes");
        bench.SetTime(0.65);
        bench.Until(() => bench.Plotted("power") > power + 1, "more power for the new set-point");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void J05_The_storm_pump_starts_and_stops_by_its_sequence()
    {
        bench.Driver.Navigate().GoToUrl(application.Address + "/#/examples");
        bench.Click(By.XPath("//li[h3[text()='Storm pump']]//button"));
        bench.Until(() => bench.Find(By.CssSelector(".run-took")).Text.Contains("ms", StringComparison.Ordinal), "the run", 90);
        // Both burners lit and the pump at work; then run down.
        bench.SetTime(0.5);
        bench.Until(() => bench.Plotted("shaft speed") > 13000, "full speed");
        bench.SetTime(0.02);
        bench.Until(() => bench.Plotted("shaft speed") < 3000, "the start");
        bench.Select("Start sequence");
        bench.Press("Open");
        bench.Until(() => bench.All("input").Any(i => i.GetAttribute("value") == "Light the second"), "the phases");
        bench.NoConsoleErrors();
    }
}
