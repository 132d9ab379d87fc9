using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Parts take their numbers from what makers and measurements say.</summary>
[Collection("application")]
public sealed class DataSheetBrowserTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    [Fact]
    public void A_machine_takes_its_parameters_from_a_data_sheet()
    {
        bench.NewModel();
        bench.Place("Synchronous machine", 300, 200);
        bench.Select("Synchronous machine");
        bench.Press("From a data sheet");
        bench.SetField("Pole pairs, on the data sheet", "5");
        bench.SetField("Resistance between two terminals, on the data sheet", "0.6 Ohm");
        bench.SetField("Torque constant, torque an ampere of amplitude, on the data sheet", "0.9");
        var follows = By.CssSelector("[aria-label='What follows from the data sheet']");
        bench.Until(() => bench.Find(follows).Text.Contains("0.12 Wb", StringComparison.Ordinal), "the flux");
        bench.Press("Take these values");
        bench.WaitSaved();
        bench.Until(() => bench.Find(By.CssSelector("[id$='-pairs']")).GetAttribute("value") == "5", "the pole pairs");
        Assert.Contains("0.3", bench.Find(By.CssSelector("[id$='-R']")).GetAttribute("value"), StringComparison.Ordinal);
        bench.NoConsoleErrors();
    }
}
