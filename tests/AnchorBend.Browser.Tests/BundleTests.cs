using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Several signals in one wire: bundles by name and vectors by order.</summary>
[Collection("application")]
public sealed class BundleTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void Members(string part, params string[] names)
    {
        bench.Select(part);
        var field = bench.Find(By.CssSelector("[aria-label='Members']"));
        field.Click();
        foreach (var name in names)
            field.SendKeys(name + Keys.Enter);
        field.SendKeys(Keys.Escape);
        bench.WaitSaved();
    }

    [Fact]
    public void Signals_are_joined_under_names_and_picked_where_they_are_needed()
    {
        bench.NewModel();
        bench.Place("constant", 120, 120);
        bench.Place("sine", 120, 260);
        bench.Place("bundle", 300, 180);
        bench.Place("pick", 460, 180);
        bench.Place("gain", 640, 180);
        Members("Bundle", "level");
        bench.Connect("Constant", "y", "Bundle", "level");
        bench.Connect("Sine", "y", "Bundle", "a");
        bench.Connect("Bundle", "bundle", "Pick", "bundle");
        Assert.Single(bench.All(".canvas-wire.canvas-bundle"));

        // What there is to pick is offered by name.
        bench.Select("Pick");
        bench.Find(By.CssSelector("[aria-label='Members']")).Click();
        bench.Until(() => bench.All(".ant-select-item-option").Any(o => o.Text == "level"), "the members of the bundle");
        bench.All(".ant-select-item-option").Single(o => o.Text == "level").Click();
        bench.Find(By.CssSelector("[aria-label='Members']")).SendKeys(Keys.Escape);
        bench.WaitSaved();
        bench.Connect("Pick", "level", "Gain", "u");
        bench.Select("Constant");
        bench.SetField("Value", "3");
        bench.Select("Gain");
        bench.SetField("Gain", "2");
        bench.WaitSaved();
        bench.WaitForRun();

        // A bundle does not fit a port for one signal.
        var before = bench.Wires;
        bench.Drag(bench.Port("Bundle", "bundle"), bench.Port("Gain", "u"));
        bench.Keys(Keys.Escape);
        Assert.Equal(before, bench.Wires);

        bench.Driver.Navigate().Refresh();
        bench.Until(() => bench.Parts == 5, "the model again");
        Assert.Single(bench.All(".canvas-wire.canvas-bundle"));
        Assert.Equal(before, bench.Wires);
    }
}
