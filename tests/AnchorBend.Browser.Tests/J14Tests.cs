using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>J14: choose a heat exchanger.</summary>
[Collection("application")]
public sealed class J14Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    string Figure(string label) => bench.Find(By.XPath($"//dl//div[dt[normalize-space(.)='{label}']]/dd[1]")).Text;

    [Fact]
    public void J14_A_heat_exchanger_is_chosen()
    {
        bench.OpenExample("Air cooler");
        bench.WaitForRun();
        bench.SetTime(0.95);
        bench.Select("Air cooler");
        bench.Press("Open");
        bench.Select("Finned tubes");
        // Its picture, what follows from its sizes, and what it came to.
        bench.Find(By.CssSelector("canvas[aria-label^='Finned tubes in three dimensions']"));
        Assert.Equal("608", Figure("Height"));
        bench.Until(() => Figure("Counter flow") == "true", "counter flow, found from the flows");
        var before = bench.Until(() => double.TryParse(Figure("Duty").Replace('−', '-'), out var d) ? (double?)d : null, "the duty")!.Value;

        // More rows, more heat.
        bench.SetField("Tube rows", "6");
        bench.WaitSaved();
        bench.WaitForRun();
        bench.Until(
            () => double.TryParse(Figure("Duty").Replace('−', '-'), out var d) && Math.Abs(d) > 1.05 * Math.Abs(before),
            "more heat from six rows"
        );

        // Backwards: the width for a wanted duty.
        bench.SetField("Wanted duty", "5 kW");
        bench.Press("Find the size");
        bench.Until(() => bench.All("button").Any(b => b.Text.StartsWith("Take ", StringComparison.Ordinal)), "a size");

        // What cannot be built is told beside its picture.
        bench.SetField("Outer diameter of a tube", "40 mm");
        bench.Find(By.XPath("//figcaption[contains(., 'tubes touch')]"));
        bench.NoConsoleErrors();
    }
}
