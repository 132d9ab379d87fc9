using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Handing a part on: its code beside its diagram, with one click either way, its options, its state.</summary>
[Collection("application")]
public sealed class DeliverTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    string List => bench.Find(By.CssSelector("[aria-label='What is handed on']")).Text;

    IWebElement Lines => bench.Find(By.CssSelector("[role='listbox'][aria-label^='Lines of']"));

    string Spot => bench.Find(By.CssSelector("[aria-label='Where it comes from'] [role='status']")).Text;

    [Fact]
    public void Code_stands_beside_the_diagram_that_it_comes_from()
    {
        bench.OpenExample("Plankton winch");
        bench.Press("Deliver");
        bench.Until(() => List.Contains("controller.c", StringComparison.Ordinal), "the code");

        // From a line to its part, by key too.
        Lines.SendKeys(Keys.ArrowDown);
        bench.Until(() => Spot.StartsWith("Line 1:", StringComparison.Ordinal), "the first line");
        bench.Click(By.XPath("//*[@role='option'][contains(., 'torque = ')]"));
        bench.Until(() => Spot.EndsWith("Speed controller", StringComparison.Ordinal), "the part of the line");
        Assert.Single(bench.All("[aria-label='Where it comes from'] [data-place]"));

        // From a part to its first line.
        bench.Click(By.XPath("//*[@aria-label='Where it comes from']//*[local-name()='text'][normalize-space(.)='Depth controller']"));
        bench.Until(() => Spot.EndsWith("Depth controller", StringComparison.Ordinal), "the line of the part");

        // What can be changed while it runs is a field of the structure; otherwise it is a number.
        bench.Until(() => Lines.Text.Contains("p->torque_max", StringComparison.Ordinal), "the parameter");
        bench.Click(By.XPath("//aside//label[normalize-space(.)='torque_max']"));
        bench.Until(() => !Lines.Text.Contains("p->torque_max", StringComparison.Ordinal), "the number");
        bench.Find(By.TagName("body")).SendKeys(Keys.Control + "z");
        bench.Until(() => Lines.Text.Contains("p->torque_max", StringComparison.Ordinal), "the parameter again");

        bench.SetField("Step of the code", "2 ms");
        bench.Until(() => List.Contains("C code, 2 ms", StringComparison.Ordinal), "the other step");
        bench.SetField("Step of the code", "soon");
        bench.Until(
            () => bench.Find(By.CssSelector("[aria-label='Deliver']")).Text.Contains("no time", StringComparison.Ordinal),
            "what is wrong"
        );
        bench.NoConsoleErrors();
    }

    /// <summary>J18: the whole machine goes out by the open standard, and is seen beside its run before.</summary>
    [Fact]
    public void J18_A_machine_becomes_an_exchange_unit()
    {
        bench.OpenExample("Quay crane");
        bench.Press("Deliver");
        bench.Until(() => List.Contains("exchange unit, FMI 3.0", StringComparison.Ordinal), "the unit");
        bench.Until(() => List.Contains("quay_crane.c", StringComparison.Ordinal), "its code");
        bench.Press("Check the code");
        bench.Until(
            () => bench.Find(By.CssSelector("aside")).Text.Contains("beside the run", StringComparison.Ordinal),
            "how far it is from the run",
            120
        );
        bench.Click(By.XPath("//*[@aria-label='Version of FMI']//*[normalize-space(.)='2.0'][contains(@class, 'label')]"));
        bench.Until(() => List.Contains("FMI 2.0", StringComparison.Ordinal), "the other version");
        bench.WaitSaved();
        bench.Click(By.XPath("//button[starts-with(normalize-space(.), 'Deliver as r')]"));
        // The unit is compiled for it, which takes its time beside other suites.
        bench.Until(() => List.Contains("up to date", StringComparison.Ordinal), "that it was handed on", 120);
        bench.NoConsoleErrors();
    }

    /// <summary>The way back: a unit that was handed on, stepping by itself or for its importer to integrate, becomes a part of another
    /// model.</summary>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task J18_A_unit_of_somebody_else_becomes_a_part(bool isIntegrated)
    {
        bench.OpenExample("Quay crane");
        if (isIntegrated)
        {
            bench.Press("Deliver");
            bench.Click(By.XPath("//*[@aria-label='Integrated']//*[normalize-space(.)='by its importer']"));
            bench.Until(() => List.Contains("model exchange", StringComparison.Ordinal), "its kind");
            bench.Until(
                () => bench.Find(By.CssSelector("aside")).Text.Contains("integrates its states", StringComparison.Ordinal),
                "what it means"
            );
            bench.WaitSaved();
        }

        var crane = System.Text.RegularExpressions.Regex.Match(bench.Driver.Url, "[0-9a-f]{12}").Value;
        var file = Path.Combine(Directory.CreateTempSubdirectory("unit-").FullName, "crane.fmu");
        using (var client = new HttpClient())
            await File.WriteAllBytesAsync(
                file,
                await client.GetByteArrayAsync($"{application.Address}/api/models/{crane}/deliveries/y1/archive")
            );

        bench.OpenExample("Lamp buoy");
        bench.Press("Catalog");
        bench.Driver.FindElement(By.CssSelector("input[type=file][aria-label='Exchange unit']")).SendKeys(file);
        bench.Until(
            () => bench.Driver.PageSource.Contains("Quay crane is in the model: FMI 3.0", StringComparison.Ordinal),
            "the part",
            60
        );
        bench.WaitSaved();
        Directory.Delete(Path.GetDirectoryName(file)!, true);
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_part_is_added_checked_and_handed_on()
    {
        bench.OpenExample("Tide gate modes");
        bench.Press("Deliver");
        bench.Press("Add a part");
        bench.Find(By.CssSelector("input[aria-label='Part to hand on']")).SendKeys("Modes" + Keys.Enter);
        bench.Until(() => List.Contains("modes.c", StringComparison.Ordinal), "its code");
        bench.Press("Check the code");
        bench.Until(
            () => bench.Find(By.CssSelector("aside")).Text.Contains("5000 steps", StringComparison.Ordinal),
            "the same bits as the model's",
            60
        );
        bench.Click(By.XPath("//button[starts-with(normalize-space(.), 'Deliver as r')]"));
        bench.Until(() => List.Contains("up to date", StringComparison.Ordinal), "that it was handed on");
        bench.SetField("Step of the code", "5 ms");
        bench.Until(() => List.Contains("changed since", StringComparison.Ordinal), "that it is older");
        bench.NoConsoleErrors();
    }
}
