using System.Globalization;
using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Commutation of a brushless drive: ripple and the kick of the freed phase, with an ideal voltage and with pulses.</summary>
[Collection("application")]
public sealed class J07Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void Observe(int runs)
    {
        bench.Click(By.XPath("//nav//button[contains(., 'Observe')]"));
        bench.Until(() => bench.All("[data-run]").Count >= runs && bench.All(".observe-tile").Count > 0, "the sheet and the runs", 60);
    }

    double Measure(string name) =>
        bench
            .Until(
                () =>
                    bench.All($"[data-measure='{name}']") is [var first, ..]
                    && double.TryParse(
                        first.Text.Replace('−', '-').Split(' ', '\n')[0],
                        NumberStyles.Float,
                        CultureInfo.InvariantCulture,
                        out var value
                    )
                        ? (double?)value
                        : null,
                name,
                30
            )!
            .Value;

    [Fact]
    public void J07_Commutation_of_a_brushless_drive()
    {
        bench.OpenExample("Sampling carousel");
        Observe(1);
        var sheet = bench.Find(By.CssSelector("section.observe-tile[aria-label='Speed, torque, currents and phase a']"));
        bench.Until(() => sheet.FindElements(By.CssSelector("canvas")).Count == 5, "speed, torque, currents, sector and voltage in strips");

        bench.Click(By.XPath("//button[normalize-space(.)='Measures']"));
        // The freed phase is held below the negative rail by its diode: −0.8 V and what falls at it.
        Assert.InRange(Measure("Kick of phase a"), -1.1, -0.8);
        var ideal = Measure("Torque ripple");

        // The ideal voltage is replaced by pulses: the same drive with the ripple of their frequency.
        bench.Click(By.XPath("//nav//button[contains(., 'Build')]"));
        bench.Press("Fit");
        bench.Select("Voltage feed");
        bench.Keys(",");
        bench.Until(
            () => bench.Part("Voltage feed").FindElement(By.CssSelector(".canvas-realisation span")).Text == "Pulses",
            "pulses in the feed"
        );
        bench.WaitSaved();
        bench.Click(By.CssSelector("[aria-label='Run']"));
        Observe(2);
        bench.Click(By.XPath("//button[normalize-space(.)='Measures']"));
        bench.Until(() => Measure("Torque ripple") > ideal, "a larger ripple", 60);
        bench.NoConsoleErrors();
    }
}
