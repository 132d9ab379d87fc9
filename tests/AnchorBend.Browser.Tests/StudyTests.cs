using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Many runs of one model: gone through, looked at, searched.</summary>
[Collection("application")]
public sealed class StudyTests : IDisposable
{
    readonly BenchPage bench;

    public StudyTests(Application application) => bench = new BenchPage(application);

    public void Dispose() => bench.Dispose();

    void NewStudy(string purpose)
    {
        bench.Press("Explore");
        bench.Press("New study");
        bench.Click(By.XPath($"//li[@role='menuitem' and normalize-space(.)='{purpose}']"));
        bench.WaitSaved();
    }

    void Vary(string name, string values)
    {
        bench.Click(By.CssSelector("[aria-label='Vary something more']"));
        bench.Keys(name);
        bench.Click(By.XPath($"//*[contains(@class, 'ui-candidate') and starts-with(normalize-space(.), '{name} ')]"));
        bench.WaitSaved();
        bench.SetField($"Values of {name}", values);
        bench.WaitSaved();
    }

    void RunsAreOver(int rows) =>
        bench.Until(
            () =>
                bench.All("[role=progressbar][aria-label='Runs done']").Single() is { } bar
                && bar.GetAttribute("aria-valuenow") == $"{rows}"
                && bench.All("[aria-label='Results'] tbody tr").Count == rows,
            $"{rows} results",
            60
        );

    IWebElement Chart(string title) => bench.Find(By.CssSelector($"figure[aria-label='{title}']"));

    [Fact]
    public void Tolerances_of_the_model_are_grouped_drawn_and_their_band_shown()
    {
        bench.OpenExample("Plankton winch");
        bench.Press("Explore");
        bench.Click(By.XPath("//*[@aria-label='Studies']//b[.='Model tolerances']"));
        bench.Until(() => bench.All("[aria-label='Tolerances of the model'] tbody tr").Count == 5, "five tolerances");
        bench.SetField("Tolerance of drum_r", "± 2 mm");
        bench.WaitSaved();
        bench.Until(
            () =>
                bench.Find(By.CssSelector("[aria-label='Tolerances of the model']")).Text.Contains("0.148…0.152", StringComparison.Ordinal),
            "the tolerance as it is drawn"
        );
        bench.SetField("Correlation of nets of one maker", "0.9");
        bench.WaitSaved();
        bench.Click(By.XPath("//*[@aria-label='Studies']//b[.='Tolerances']"));
        bench.Press("Run the study");
        bench.Until(
            () => bench.All("[role=progressbar][aria-label='Runs done']").SingleOrDefault()?.GetAttribute("aria-valuenow") == "300",
            "300 runs",
            60
        );
        bench.Press("Show their band");
        bench.Until(
            () => bench.Find(By.CssSelector("[aria-label='Runs']")).Text.Contains("300 runs of Tolerances", StringComparison.Ordinal),
            "the band in Observe",
            20
        );
        bench.Click(By.CssSelector("[aria-label='Hide the runs of Tolerances']"));
        bench.Until(
            () => !bench.Find(By.CssSelector("[aria-label='Runs']")).Text.Contains("300 runs", StringComparison.Ordinal),
            "no band"
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void J17_What_a_parameter_does_is_swept_charted_kept_and_overlaid()
    {
        bench.OpenExample("Plankton winch");
        NewStudy("Go through values");
        Vary("net_m", "80 kg:140 kg:7");
        bench.Until(() => bench.Find(By.CssSelector("[aria-label='Factors']")).Text.Contains("7 runs", StringComparison.Ordinal), "7 runs");
        bench.Press("Run the study");
        RunsAreOver(7);
        bench.Until(
            () => Chart("Deepest point after 5 s over net_m").Text.Contains("R² 1", StringComparison.Ordinal),
            "the straight fit of seven runs"
        );

        // Six of the seven: the one that is taken out is in no figure.
        bench.Click(By.CssSelector("[aria-label='Run 4 in the charts']"));
        bench.Until(() => bench.All("[aria-label='Results'] tr.explore-out").Count == 1, "a run that is left out");

        // The chart is saved with the model, with another fit.
        bench.Click(By.CssSelector("[aria-label='What “Deepest point after 5 s over net_m” shows']"));
        bench.Choose("Fit", "of second degree");
        bench.WaitSaved();
        bench.Keys(Keys.Escape);
        bench.Until(() => Chart("Deepest point after 5 s over net_m").Text.Contains("x²", StringComparison.Ordinal), "the other fit");
        bench.Driver.Navigate().Refresh();
        bench.Click(By.XPath("//*[@aria-label='Studies']//b[.='Sweep']"));
        RunsAreOver(7);
        bench.Until(() => Chart("Deepest point after 5 s over net_m").Text.Contains("x²", StringComparison.Ordinal), "the kept chart");

        bench.Press("Overlay these runs");
        bench.Until(
            () => bench.All("[aria-label='Runs'] .observe-runs > li").Count(r => r.Text.Contains("· Sweep", StringComparison.Ordinal)) == 7,
            "the runs in Observe",
            30
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void J20_Two_laws_stand_in_one_table_with_rows_on_and_off()
    {
        bench.NewModel();
        bench.Place("constant", 250, 250);
        bench.Place("expression", 450, 250);
        bench.Connect("Constant", "y", "Expression", "u[1]");
        bench.Select("Expression");
        var formula = bench
            .All("[aria-label='Inspector'] input")
            .First(i => i.GetAttribute("id")!.EndsWith("-y", StringComparison.Ordinal));
        bench.SetField(formula.GetAttribute("aria-label")!, "4*sqrt(u[1])");
        NewStudy("Go through values");
        bench.Click(By.CssSelector("[aria-label='Vary something more']"));
        bench.Keys("Expression.y");
        bench.Click(By.XPath("//*[contains(@class, 'ui-candidate') and starts-with(normalize-space(.), 'Expression.y ')]"));
        bench.WaitSaved();
        bench.Click(By.CssSelector("button[aria-label^='Values of Expression.y']"));
        bench.SetField("Values of Expression.y", "4*sqrt(u[1]), 0.01*u[1], u[1]");
        bench.WaitSaved();
        bench.Press("Design table");
        bench.Until(() => bench.All("[aria-label='Design table'] tbody tr").Count == 3, "three rows");
        bench.Click(By.CssSelector("[aria-label='Row 3 is run']"));
        bench.WaitSaved();
        bench.Press("Run the study");
        RunsAreOver(2);
        Assert.Contains("0.01*u[1]", bench.Find(By.CssSelector("[aria-label='Results']")).Text, StringComparison.Ordinal);
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_search_finds_values_that_keep_the_requirements_and_they_are_taken_with_one_undo()
    {
        bench.OpenExample("Plankton winch");
        bench.Press("Explore");
        bench.Click(By.XPath("//*[@aria-label='Studies']//b[.='Gains against requirements']"));
        bench.Press("Design table");
        bench.SetField("runs at most", "24");
        bench.WaitSaved();
        bench.Press("Run the study");
        bench.Until(
            () => bench.All("[aria-label='Best so far']").Any(s => s.Text.Contains("Best found", StringComparison.Ordinal)),
            "a best",
            60
        );
        var before = bench.Revision;
        bench.Click(By.XPath("//*[@aria-label='Best so far']//button[normalize-space(.)='Take these values']"));
        bench.WaitSaved();
        Assert.Equal(before + 1, bench.Revision);
        bench.Chord(Keys.Control, "z");
        bench.WaitSaved();
        bench.NoConsoleErrors();
    }
}
