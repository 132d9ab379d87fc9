using System.Globalization;
using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>The tune stage: the design map, designs beside one another, and their way into the model.</summary>
[Collection("application")]
public sealed class TuneTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void OpenTune(string example)
    {
        bench.OpenExample(example);
        bench.Click(By.XPath("//nav//button[contains(., 'Tune')]"));
        bench.Until(() => bench.All("[data-design='in hand']").Count == 1, "a design in hand");
    }

    IWebElement Map => bench.Find(By.CssSelector("[aria-label='Design in hand']"));

    double Bandwidth => double.Parse(Map.GetAttribute("aria-valuenow")!, CultureInfo.InvariantCulture);

    string Figure(string row, int column) =>
        bench.Find(By.XPath($"//table[@aria-label='Candidates']//tr[starts-with(normalize-space(th), '{row}')]/td[{column}]")).Text;

    void Apply(string what) => bench.Click(By.CssSelector($"[aria-label='Apply {what}']"));

    [Fact]
    public void J12_A_point_of_the_map_is_dragged_kept_and_applied()
    {
        OpenTune("Plankton winch");
        // The inner loop first: it stands inside the other one.
        var boxes = bench.All(".tune-loop-box");
        Assert.Equal(2, boxes.Count);
        Assert.Contains("Speed controller", boxes[0].FindElement(By.CssSelector(".tune-loop-box")).Text);
        Assert.StartsWith("Speed controller", bench.Find(By.CssSelector(".tune-tune-pane h2")).Text);

        var (x, y) = bench.Center(Map);
        var before = Bandwidth;
        bench.Drag((x, y), (x - 60, y + 30));
        bench.Until(() => Bandwidth < 0.95 * before, "a slower loop");
        var peak = double.Parse(Figure("Ms", 2), CultureInfo.InvariantCulture);
        Assert.True(peak > 1.2);
        Map.SendKeys(Keys.ArrowRight);
        var dragged = Bandwidth;
        Map.SendKeys(Keys.ArrowRight);
        bench.Until(() => Bandwidth > dragged, "faster with an arrow key");
        bench.Until(() => bench.All("[aria-label^='True run'] [data-curve='in hand']").Count == 1, "the true run with it");

        bench.Press("Keep in hand as a candidate");
        bench.Until(() => bench.All("[data-design='A']").Count == 1, "the candidate on the map");
        var gain = Figure("k", 2);
        Apply("A");
        bench.WaitSaved();
        bench.Until(() => Figure("k", 1) == gain, "the gain of A applied");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => Figure("k", 1) == "0.35", "the gain of before");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Gains_that_make_the_loop_unstable_are_not_applied_without_a_word()
    {
        OpenTune("Plankton winch");
        bench.Click(By.XPath("//div[contains(@class,'tune-loop-box')]/button[contains(., 'Depth controller')]"));
        bench.Until(() => bench.Find(By.CssSelector(".tune-tune-pane h2")).Text == "Depth controller", "the outer loop");
        bench.Until(() => bench.All("[data-design='in hand']").Count == 1, "a design in hand");
        var field = bench.Find(By.CssSelector("[aria-label='Gain in hand']"));
        field.SendKeys(Keys.Control + "a");
        field.SendKeys("60" + Keys.Enter);
        bench.Until(() => bench.All(".tune-warning").Any(w => w.Text.Contains("unstable")), "the warning");
        Assert.Equal("unstable", Figure("bandwidth", 2));

        Apply("what is in hand");
        bench.Press("Leave them");
        Assert.Equal("1.3", Figure("k", 1));
        Apply("what is in hand");
        bench.Press("Apply them");
        bench.WaitSaved();
        bench.Until(() => Figure("k", 1) == "60", "the gains, as they were wanted");
    }

    [Fact]
    public void Wishes_move_the_best_place_and_the_best_gains_become_a_candidate()
    {
        OpenTune("Plankton winch");
        bench.Click(By.XPath("//div[contains(@class,'tune-loop-box')]/button[contains(., 'Depth controller')]"));
        bench.Until(() => bench.All(".tune-note").Any(n => n.Text.Contains("stops it")), "what stops it");
        var limit = bench.Find(By.CssSelector("[aria-label='Keep Ms below']"));
        limit.SendKeys(Keys.Control + "a");
        limit.SendKeys("1.4" + Keys.Enter);
        bench.Until(() => bench.Find(By.CssSelector(".tune-note")).Text.Contains("Ms 1.4"), "the best place with the stronger wish");

        bench.Press("Ask for gains…");
        bench.Press("Find gains");
        bench.Until(() => bench.All("[data-design='A']").Count == 1, "the best gains");
        Assert.InRange(double.Parse(Figure("Ms", 2), CultureInfo.InvariantCulture), 1.2, 1.404);
        // The form without an integral part has no load error to be the least.
        bench.Choose("Form of the controller", "PID");
        bench.Until(() => Map.GetAttribute("data-form") == "PID", "the map of PID");
        Assert.Contains("No PID gets here", bench.Find(By.CssSelector(".tune-map")).Text);
    }

    void View(string name) => bench.Click(By.XPath($"//div[@aria-label='Views']/button[.='{name}']"));

    [Fact]
    public void A_response_is_measured_beside_the_linear_one_and_a_model_fitted()
    {
        OpenTune("Hatchery tank, first loop");
        View("Linear");
        bench.Until(() => bench.Find(By.CssSelector("[aria-label='Figures of the loop']")).Text.Contains("states"), "the figures");
        bench.Find(By.XPath("//*[@aria-label='Gain, dB']//*[@data-curve='gain']"));

        View("Measured");
        bench.Click(By.XPath("//label[contains(., 'to the measured value')]"));
        bench.Click(By.XPath("//button[normalize-space(.)='Measure']"));
        bench.Until(() => bench.All("[aria-label^='Gain, dB'] circle").Count == 16, "sixteen points", 60);
        bench.Click(By.XPath("//button[normalize-space(.)='Fit']"));
        bench.Until(
            () =>
                double.Parse(
                    bench.Find(By.XPath("//table[@aria-label='Fitted model']//tr[th='quality']/td")).Text.Split(' ')[0],
                    CultureInfo.InvariantCulture
                ) > 95,
            "a good model"
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void J16_Modes_lead_to_their_parts_and_rest_is_found()
    {
        OpenTune("Plankton winch");
        View("Modes");
        bench.Until(() => bench.All("[aria-label='Modes'] tbody tr").Count > 4, "the modes");
        bench.Until(() => bench.All("[aria-label='Modes'] tr.tune-chosen").Count == 1, "the least damped one");
        bench.Click(By.XPath("//table[@aria-label='Modes']//tr[td[contains(., 'Net')]]"));
        bench.Until(() => bench.Find(By.CssSelector("[aria-label='Shape of the mode']")).Text.Contains("Net"), "its shape");

        bench.Click(By.CssSelector("[aria-label='What moves the mode'] tbody button"));
        bench.Until(() => bench.All("[aria-label^='Poles over'] [data-curve^='branch']").Count > 4, "the branches of the poles");
        var highest = bench.Find(By.CssSelector("[aria-label='Highest value']"));
        highest.SendKeys("-1" + Keys.Enter);
        bench.Until(() => bench.All("[role='alert']").Any(a => a.Text.Contains("must rise")), "the refusal of a range that falls");
        bench.Click(By.XPath("//form[@aria-label='Root locus']//button[normalize-space(.)='Close']"));

        View("Operating point");
        bench.Click(By.XPath("//button[normalize-space(.)='Find the state at rest']"));
        bench.Until(() => bench.All("[aria-label='Signals at rest'] tbody tr").Count > 20, "the signals at rest");
        Assert.Contains("Nothing changes here", bench.Find(By.CssSelector(".tune-good")).Text);
        bench.Find(By.CssSelector("[aria-label='Filter the signals at rest']")).SendKeys("depth sensor");
        bench.Until(() => bench.All("[aria-label='Signals at rest'] tbody tr").Count == 3, "what is left of them");
        bench.NoConsoleErrors();
    }

    void Type(string label, string text)
    {
        var field = bench.Find(By.CssSelector($"[aria-label='{label}']"));
        field.SendKeys(Keys.Control + "a");
        field.SendKeys(text);
    }

    void Choose(string label, string option)
    {
        bench.Click(By.CssSelector($"[aria-label='{label}']"));
        bench.Click(
            By.XPath(
                $"//div[contains(@class, 'ant-select-item-option') and @title='{option}' or @class and contains(@class, 'ant-select-item-option') and normalize-space(.)='{option}']"
            )
        );
    }

    [Fact]
    public void J16_Points_over_a_level_are_saved_looked_from_begun_at_and_fill_the_schedule()
    {
        OpenTune("Header tank");
        View("Operating point");
        bench.Press("Many, over a quantity");
        Type("Quantity of the series", "Wanted level.first");
        Type("First value of the series", "0.5 m");
        Type("Last value of the series", "1.7 m");
        Type("Number of points", "3");
        bench.Press("Find the points");
        bench.Until(() => bench.All("[aria-label='Series of operating points'] tbody tr").Count == 3, "the points");
        bench.Press("Save all points");
        bench.WaitSaved();
        bench.Until(() => bench.All("[aria-label='Saved operating points'] tbody tr").Count == 3, "the saved points");

        bench.Click(By.CssSelector("[aria-label='Look from first 1.7 m']"));
        bench.Until(() => bench.Find(By.CssSelector(".tune-loops-body")).Text.Contains("first 1.7 m"), "the point that is looked from");
        bench.Click(By.CssSelector("[aria-label='Runs begin at first 0.5 m']"));
        bench.WaitSaved();
        bench.Until(() => bench.All("[aria-label='Runs begin at first 0.5 m']:checked").Count == 1, "the point that runs begin at");

        View("At all points");
        bench.Until(() => bench.All("[aria-label='The loop at the saved points'] tbody tr").Count == 3, "the loop at them");
        Choose("Gains at the points", "the best at each");
        bench.Press("Fill the schedule");
        bench.WaitSaved();
        bench.Until(
            () => bench.All("[aria-label='The loop at the saved points'] tbody tr td:nth-child(8)").All(c => c.Text == "1.6"),
            "the peak that was wished at each point, with the schedule"
        );

        View("Linear");
        bench.Until(() => bench.All("[aria-label='Gain, dB'] [data-curve]").Count >= 1, "the response");
        Choose("Other operating points", "first 1.1 m");
        bench.Until(() => bench.All("[aria-label='Figures at the points'] tbody tr").Count == 2, "two points beside one another");
        bench.Keys(Keys.Escape);
        bench.Press("Keep as a sheet");
        bench.Until(
            () => bench.All("[data-kind=response]").Count(t => t.Text.Contains("first 1.1 m", StringComparison.Ordinal)) == 4,
            "gain, phase, plane and step of both points on a sheet"
        );
        bench.WaitSaved();
        bench.Chord(Keys.Control, "z");
        bench.WaitSaved();
        bench.Until(() => bench.All("[data-kind=response]").Count == 0, "no sheet after undo");
        bench.Press("Tune");
        View("Operating point");
        for (var edits = 3; edits > 0; edits--)
        {
            bench.Chord(Keys.Control, "z");
            bench.WaitSaved();
        }

        bench.Until(() => bench.All("[aria-label='Saved operating points']").Count == 0, "no saved points after undo");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_step_of_the_running_model_gives_a_response_and_a_model_for_it()
    {
        OpenTune("Header tank");
        View("Measured");
        Choose("Kind of test", "step");
        Type("Duration of the test, s", "1100" + Keys.Enter);
        bench.Click(By.XPath("//button[normalize-space(.)='Measure']"));
        bench.Until(() => bench.All("[aria-label^='What answered'] [data-curve]").Count == 1, "what answered");
        Choose("Usual forms of models", "second order with dead time");
        bench.Press("Fit");
        bench.Until(() => bench.All("[aria-label='Fitted model'] tbody tr").Count == 5, "the fitted model");
        bench.Press("Place it on the diagram");
        bench.WaitSaved();
        bench.Chord(Keys.Control, "z");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void J12_A_disturbance_rejecting_controller_is_compared_and_takes_the_place_of_the_PI()
    {
        OpenTune("Header tank");
        bench.Press("Keep in hand as a candidate");
        Choose("Form of the controller", "rejecting, 1st order: another part");
        bench.Until(() => Figure("form", 3) == "rej. 1", "such a controller in hand");
        bench.Until(() => bench.All("[aria-label^='True run'] [data-curve]").Count == 3, "true runs of both kinds");
        bench.Press("Measure it with a step…");
        bench.Press("Step");
        bench.Until(() => bench.All("[aria-label='The step and what answered']").Count == 1, "what a step showed");
        Type("Own bandwidth in hand", "0.03" + Keys.Enter);
        bench.Until(
            () =>
                Figure("ωc", 3).Length == 0
                && bench.Find(By.CssSelector("[aria-label='Own bandwidth in hand']")).GetAttribute("value") == "0.03",
            "it"
        );
        bench.Click(By.CssSelector("[aria-label='Replace the controller by what is in hand']"));
        // The other part does not follow a schedule.
        bench.Until(() => bench.Find(By.CssSelector(".ant-popconfirm")).Text.Contains("no port for 1 of its wires"), "what it costs");
        bench.Press("Apply them");
        bench.WaitSaved();
        bench.Until(() => Figure("form", 1) == "rej. 1", "it is the model's own controller now");
        bench.Until(() => bench.All("[aria-label='Replace the controller by A']").Count == 1, "and the PI would be another part");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => Figure("form", 1) == "PI", "the PI back");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void The_gain_of_the_loop_is_drawn_by_mouse_and_keys()
    {
        OpenTune("Header tank");
        bench.Press("Draw");
        bench.Until(() => bench.All("[aria-label^='Drawn gain']").Count == 3, "a course to begin with");
        bench.Until(() => bench.Find(By.CssSelector(".tune-tune-pane")).Text.Contains("off what is drawn"), "the nearest gains");
        var before = Bandwidth;
        var point = bench.Center(bench.Find(By.CssSelector("[aria-label='Drawn gain 3']")));
        bench.Drag(point, (point.X, point.Y - 25));
        bench.Until(() => Bandwidth > 1.1 * before, "a faster loop");
        var dragged = bench.Find(By.CssSelector("[aria-label='Drawn gain 3']")).GetAttribute("aria-valuetext");
        bench.Keys(Keys.ArrowDown);
        bench.Until(() => bench.Find(By.CssSelector("[aria-label='Drawn gain 3']")).GetAttribute("aria-valuetext") != dragged, "a key");
        bench.Keys(Keys.Delete);
        bench.Until(() => bench.All("[aria-label^='Drawn gain']").Count == 2, "a point less");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_notch_is_looked_at_and_put_behind_the_controller()
    {
        OpenTune("Quay crane, slewing");
        bench.Press("Put an element in…");
        bench.Until(() => bench.All("[aria-label='The loop without and with it'] tbody tr").Count == 4, "what it does");
        Assert.StartsWith("87.", bench.Find(By.CssSelector("[aria-label='Frequency of the element, rad/s']")).GetAttribute("value"));
        bench.Press("Place it in the loop");
        bench.WaitSaved();
        bench.Click(By.XPath("//nav//button[contains(., 'Build')]"));
        bench.Until(() => bench.All("[data-part][aria-label='Notch, SampledNotch']").Count == 1, "the notch on the diagram");
        bench.WaitForRun();
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_state_feedback_is_designed_and_placed()
    {
        OpenTune("Header tank");
        View("Linear");
        bench.Click(By.XPath("//*[contains(@class, 'ant-segmented-item') and normalize-space(.)='State feedback']"));
        bench.Until(() => bench.All("[aria-label='Gains of the state feedback'] tbody tr").Count == 4, "the gains");
        var before = bench.Find(By.CssSelector("[aria-label='Gains of the state feedback']")).Text;
        Type("Bandwidth of the feedback, rad/s", "0.05" + Keys.Enter);
        bench.Until(() => bench.Find(By.CssSelector("[aria-label='Gains of the state feedback']")).Text != before, "other gains");
        bench.Press("Place it on the diagram");
        bench.WaitSaved();
        bench.Chord(Keys.Control, "z");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void J15_A_mode_moves_on_the_diagram()
    {
        OpenTune("Quay crane, slewing");
        View("Modes");
        bench.Until(() => bench.All("[aria-label='Modes'] tr.tune-chosen").Count == 1, "the least damped mode");
        bench.Click(By.XPath("//*[contains(@class, 'ant-segmented-item') and normalize-space(.)='On the diagram']"));
        bench.Until(() => bench.All("[data-arrow]").Count == 2, "an arrow at each of the two masses");
        Assert.Equal(["boom", "rotor"], bench.All("[data-arrow]").Select(a => a.GetAttribute("data-arrow")).Order());
        bench.NoConsoleErrors();
    }
}
