using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

[Collection("application")]
public sealed class DemoTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    [Fact]
    public void A_changed_gain_changes_the_trace_leaves_a_ghost_and_the_tuned_loop_meets_all()
    {
        bench.OpenExample("Plankton winch, on one level");
        bench.Until(
            () => bench.Find(By.CssSelector(".app-chip.app-missed")).Text.Contains("Depth overshoot", StringComparison.Ordinal),
            "the missed requirement"
        );
        bench.SetTime(0.28);
        var before = bench.Plotted("depth");
        bench.Select("Depth controller");
        bench.SetField("Gain", "0.7 1/s");
        bench.SetField("Integral time", "3.3 s");
        bench.Until(() => Math.Abs(bench.Plotted("depth") - before) > 0.5, "the depth to change");
        bench.Until(() => bench.All(".observe-ghost").Count == 1, "the ghost");
        bench.Until(
            () =>
                bench.All(".app-chip.app-missed").Count == 0
                && bench.Find(By.CssSelector(".app-chip.app-met")).Text.Contains("5 met", StringComparison.Ordinal),
            "all requirements met"
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Wrong_input_is_told_while_typing_and_after()
    {
        bench.OpenExample("Plankton winch, on one level");
        bench.Select("Drive");
        var field = bench.Field("Time constant");
        field.SendKeys(Keys.Control + "a");
        field.SendKeys("3 kg");
        bench.Until(
            () => bench.All(".ui-message.ui-bad").Any(m => m.Text.Contains("kg", StringComparison.Ordinal)),
            "the message about the unit"
        );
        field.SendKeys(Keys.Control + "a");
        field.SendKeys("-1 s");
        bench.Until(
            () => bench.All(".ui-message.ui-bad").Any(m => m.Text.Contains("at least", StringComparison.Ordinal)),
            "the message about the limit"
        );
        field.SendKeys(Keys.Control + "a");
        field.SendKeys("2*torqe_max" + Keys.Enter);
        bench.Until(() => bench.All(".canvas-flag.canvas-error").Count == 1, "the flag on the part");
        bench.Press("Use 'torque_max'");
        bench.Until(() => bench.Field("Time constant").GetAttribute("value") == "2*torque_max", "the mended text");
    }

    [Fact]
    public void Statistics_of_a_run_name_what_kept_it_slow_and_what_switched()
    {
        bench.OpenExample("Plankton winch, on one level");
        bench.WaitForRun();
        bench.Click(By.CssSelector(".run-took"));
        var report = bench.Find(By.CssSelector(".run-report"));
        bench.Until(() => report.Text.Contains("Kept the steps short", StringComparison.Ordinal), "the limiting states");
        Assert.Contains("Speed controller", report.Text, StringComparison.Ordinal);
        Assert.Contains("14 by state", report.Text, StringComparison.Ordinal);
        // A name leads to its part.
        bench.Click(By.XPath("//*[@class='run-report']//button[normalize-space(.)='Speed controller']"));
        bench.Until(
            () => bench.All(".inspector-title") is [var title] && title.GetAttribute("value") == "Speed controller",
            "the part in the inspector"
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_method_is_chosen_with_guidance_and_used_by_the_next_run()
    {
        bench.OpenExample("Plankton winch, on one level");
        bench.WaitForRun();
        bench.Click(By.CssSelector("[aria-label='Run settings']"));
        bench.Until(
            () => bench.Find(By.CssSelector(".run-form")).Text.Contains("right for almost every model", StringComparison.Ordinal),
            "the guidance"
        );
        bench.Choose("Method", "Implicit Euler, fixed step");
        bench.Until(
            () => bench.Find(By.CssSelector(".run-form")).Text.Contains("real-time runs of stiff models", StringComparison.Ordinal),
            "the other guidance"
        );
        bench.SetField("Step", "2 ms");
        bench.WaitSaved();
        bench.Keys(Keys.Escape);
        bench.WaitForRun();
        bench.Click(By.CssSelector(".run-took"));
        bench.Until(
            () => bench.Find(By.CssSelector(".run-report")).Text.Contains("implicit-euler", StringComparison.Ordinal),
            "the method in the statistics"
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Help_explains_a_part_with_its_equations_and_limits()
    {
        bench.OpenExample("Plankton winch, on one level");
        bench.Select("Drive");
        bench.Press("Help");
        var help = bench.Find(By.CssSelector(".inspector-help"));
        Assert.Contains("Follows k times the input with the time constant T", help.Text, StringComparison.Ordinal);
        Assert.Equal(2, help.FindElements(By.CssSelector(".ui-equations .katex")).Count);
        Assert.Contains("at least", help.Text, StringComparison.Ordinal);
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Values_on_wires_follow_the_time_bar_and_zoom_shows_a_part_of_it()
    {
        bench.OpenExample("Plankton winch, on one level");
        bench.SetTime(0.5);
        bench.Until(() => bench.All(".canvas-signal-tag .canvas-value").Count > 8, "values on the wires");
        var depth = bench.Plotted("depth");
        bench.Until(
            () =>
                bench
                    .All(".canvas-signal-tag .canvas-value")
                    .Any(v =>
                        v.Text.Contains(depth.ToString("G4", System.Globalization.CultureInfo.InvariantCulture), StringComparison.Ordinal)
                    ),
            "the depth on its wire"
        );
        var canvas = bench.Center(bench.Find(By.CssSelector(".observe-strip canvas")));
        bench.Drag((canvas.X - 120, canvas.Y), (canvas.X + 120, canvas.Y + 2));
        bench.Until(() => bench.All(".observe-legends button").Any(b => b.Text == "Fit"), "the way back from the zoom");
        bench.Click(By.XPath("//div[@class='observe-legends']//button[.='Fit' or span[.='Fit']]"));
        bench.Until(() => bench.All(".observe-legends button").All(b => b.Text != "Fit"), "the whole time axis");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Another_window_shows_what_this_one_changes()
    {
        bench.OpenExample("Hatchery tank, first loop");
        using var other = new BenchPage(application);
        other.Driver.Navigate().GoToUrl(bench.Driver.Url);
        other.Until(() => other.Parts == 7, "the model in the other window");
        bench.Place("gain", 120, 300);
        bench.WaitSaved();
        other.Until(() => other.Parts == 8, "the new part in the other window");
        other.Select("Gain");
        other.SetField("Gain", "7");
        bench.Until(() => bench.Revision == other.Revision, "the revision of the other window");
        other.NoConsoleErrors();
    }

    [Fact]
    public void A_long_run_shows_progress_and_can_be_canceled()
    {
        bench.OpenExample("Hatchery tank, first loop");
        bench.Click(By.CssSelector(".run-settings"));
        // Small fixed steps: an adaptive method is through with any time in a moment.
        bench.Choose("Method", "Runge–Kutta 4, fixed step");
        bench.SetField("End time", "1000000 s");
        bench.Until(() => bench.All("[aria-label='Cancel the run']").Count == 1, "the run going on");
        bench.Click(By.CssSelector("[aria-label='Cancel the run']"));
        bench.Until(() => bench.All("[aria-label='Run']").Count == 1, "the end of the run");
    }
}
