using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

[Collection("application")]
public sealed class BuildTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    [Fact]
    public void From_an_empty_model_to_a_tuned_and_verified_loop()
    {
        bench.NewModel();
        bench.Place("step", 60, 120);
        bench.Place("pid", 220, 120);
        bench.Place("lag", 420, 120);
        bench.Connect("Step", "y", "PID", "r");
        bench.Connect("PID", "u", "Lag", "u");
        bench.Connect("Lag", "y", "PID", "y");
        Assert.Equal(3, bench.Wires);

        // Plant 1/(2s + 1) under PI with k = 4, Ti = 2 s: the closed loop is 1/(0.5s + 1).
        bench.Select("Lag");
        bench.SetField("Time constant", "2000 ms");
        bench.Select("PID");
        bench.SetField("Gain", "4");
        bench.SetField("Integral time", "2");
        bench.Select("Lag");
        bench.Press("Plot");
        bench.WaitSaved();
        bench.WaitForRun();
        var time = bench.SetTime(0.17);
        Assert.InRange(time, 1.2, 2.2);
        var expected = 1 - Math.Exp(-(time - 1) / 0.5);
        bench.Until(() => Math.Abs(bench.Plotted("Lag.y") - expected) < 6e-4, $"the value {expected} at {time}");

        // Tune for 8 rad/s and 70 degrees and take the PI over.
        bench.Select("PID");
        bench.Press("Tune this loop");
        bench.Press("Ask for gains…");
        bench.Choose("What is asked for", "bandwidth and phase margin");
        SetNumber("Bandwidth asked for, rad/s", "8");
        SetNumber("Phase margin asked for, degrees", "70");
        bench.Press("Find gains");
        bench.Until(() => bench.All(".tune-candidates li").Any(l => l.Text.Contains("asked: 8 rad/s, 70°")), "the PI with 70 degrees");
        bench.Click(By.CssSelector("[aria-label='Apply A']"));
        bench.WaitSaved();
        // Exactly: C(8j) = e^(j(70° − 180°))/G(8j).
        var c = System.Numerics.Complex.FromPolarCoordinates(1, (70 - 180) * Math.PI / 180) * (2 * new System.Numerics.Complex(0, 8) + 1);
        // What was selected on the diagram still is.
        bench.Click(By.XPath("//nav//button[contains(., 'Build')]"));
        bench.Until(
            () =>
                Math.Abs(
                    double.Parse(bench.Field("Gain").GetAttribute("value")!, System.Globalization.CultureInfo.InvariantCulture) - c.Real
                ) < 1e-3,
            $"the gain {c.Real}"
        );

        // A requirement, met and shown as a chip.
        bench.Click(By.XPath("//nav//button[contains(., 'Verify')]"));
        bench.Press("Add a requirement");
        bench.Find(By.Id("name")).SendKeys("Not too high");
        bench.Choose("of", "Lag.y");
        bench.Find(By.Id("limit")).SendKeys(Keys.Control + "a");
        bench.Find(By.Id("limit")).SendKeys("1.5");
        bench.Press("Save");
        bench.Until(() => bench.Find(By.CssSelector(".app-chip.app-met")).Text.Contains("1 met", StringComparison.Ordinal), "the verdict");

        // All is kept.
        bench.WaitSaved();
        var revision = bench.Revision;
        bench.Driver.Navigate().Refresh();
        bench.Until(() => bench.Find(By.CssSelector("section[aria-label='Verify']")).Displayed, "the stage after a reload");
        bench.Click(By.XPath("//nav//button[contains(., 'Build')]"));
        bench.Until(() => bench.Parts == 3 && bench.Wires == 3, "the diagram after a reload");
        Assert.Equal(revision, bench.Revision);
        bench.Until(
            () => bench.Find(By.CssSelector(".app-chip.app-met")).Text.Contains("1 met", StringComparison.Ordinal),
            "the verdict after a reload"
        );
        bench.NoConsoleErrors();
    }

    void SetNumber(string label, string value)
    {
        var field = bench.Field(label);
        field.SendKeys(Keys.Control + "a");
        field.SendKeys(value + Keys.Enter);
    }

    [Fact]
    public void A_wire_let_go_in_the_open_offers_fitting_parts_and_joins_the_chosen()
    {
        bench.NewModel();
        bench.Place("compare", 80, 120);
        var from = bench.Port("Compare", "y");
        bench.Drag(from, (from.X + 160, from.Y + 60));
        bench.Until(() => bench.All(".build-quick-place li").Count > 0, "the offer");
        Assert.DoesNotContain(bench.All(".build-quick-place li").Select(l => l.Text), t => t.Contains("Gain", StringComparison.Ordinal));
        bench.Keys("logic" + Keys.Enter);
        bench.Until(() => bench.Parts == 2 && bench.Wires == 1, "the part and its wire");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Wires_branch_bend_reconnect_and_take_parts_in()
    {
        bench.NewModel();
        bench.Place("step", 40, 140);
        bench.Place("lag", 420, 140);
        bench.Place("gain", 420, 300);
        bench.Connect("Step", "y", "Lag", "u");

        // Branch from the middle of the wire to the gain.
        var a = bench.Port("Step", "y");
        var b = bench.Port("Lag", "u");
        bench.Drag(((a.X + b.X) / 2, a.Y), bench.Port("Gain", "u"), Keys.Alt);
        bench.Until(() => bench.Wires == 2, "the branch");
        bench.Until(() => bench.All(".canvas-wires circle").Count >= 1, "the dot of the branch");

        // A part dropped on the wire goes into it.
        bench.Place("saturation", 200, 320);
        var name = bench.Center(bench.Part("Saturation").FindElement(By.CssSelector(".canvas-part-name")));
        bench.Drag(name, ((a.X * 3 + b.X) / 4, a.Y - 12));
        bench.Until(() => bench.Wires == 3, "the part in the wire");
        bench.WaitSaved();

        // Pulling at the gain's input takes its wire away from it.
        var gain = bench.Port("Gain", "u");
        bench.Drag(gain, (gain.X - 60, gain.Y + 80));
        bench.Until(() => bench.Wires == 2, "the wire taken off");
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.Wires == 3, "the wire back");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Signs_of_a_sum_are_edited_on_it()
    {
        bench.NewModel();
        bench.Place("sum", 200, 140);
        var sign = bench.Until(
            () => bench.Driver.FindElements(By.CssSelector("[data-sign='u[2]']")) is [var s] && s.Text == "−" ? s : null,
            "the minus"
        )!;
        bench.ClickAt(bench.Center(sign));
        bench.Until(() => bench.Find(By.CssSelector("[data-sign='u[2]']")).Text == "+", "the plus");
        bench.Click(By.CssSelector("[data-part]"));
        bench.Press("Add an input");
        bench.Until(() => bench.All("[data-sign]").Count == 3, "the third input");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Keyboard_alone_places_connects_moves_copies_and_undoes()
    {
        bench.NewModel();
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys("/");
        bench.Until(() => bench.All(".build-quick-place input").Count == 1, "the field");
        bench.Keys("sine" + Keys.Enter);
        bench.Until(() => bench.Parts == 1, "the sine");
        bench.Keys(Keys.ArrowLeft + Keys.ArrowLeft);
        bench.WaitSaved();
        bench.Chord(Keys.Shift, Keys.ArrowLeft);
        bench.WaitSaved();
        bench.Keys("/");
        bench.Until(() => bench.All(".build-quick-place input").Count == 1, "the field");
        bench.Keys("integrator" + Keys.Enter);
        bench.Until(() => bench.Parts == 2, "the integrator");
        bench.Chord(Keys.Control, "a");
        bench.Chord(Keys.Control, "k");
        bench.Until(() => bench.All(".app-palette").Count == 1, "the search");
        bench.Keys("connect" + Keys.Enter);
        bench.Until(() => bench.Wires == 1, "the wire");
        bench.WaitSaved();
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Chord(Keys.Control, "a");
        bench.Chord(Keys.Control, "d");
        bench.Until(() => bench.Parts == 4 && bench.Wires == 2, "the copy");
        bench.WaitSaved();
        bench.Keys(Keys.Delete);
        bench.Until(() => bench.Parts == 2, "the deletion");
        bench.WaitSaved();
        bench.Chord(Keys.Control, "z");
        bench.Until(() => bench.Parts == 4, "undo");
        bench.Chord(Keys.Control, "y");
        bench.Until(() => bench.Parts == 2, "redo");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Parts_are_dragged_out_of_the_catalog_boxed_and_copied_with_a_modifier()
    {
        bench.NewModel();
        bench.Press("Catalog");
        var lag = bench.Find(By.XPath("//section[@aria-label='Catalog of parts']//button[contains(., 'Saturation')]"));
        bench.Driver.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", lag);
        bench.Drag(bench.Center(lag), bench.Open(500, 200));
        bench.Until(() => bench.Parts == 1, "the part from the drawer");
        bench.Click(By.CssSelector("[aria-label='Close the left pane']"));
        bench.WaitSaved();
        bench.Drag(bench.Open(420, 120), bench.Open(600, 280));
        bench.Until(() => bench.All(".canvas-part.canvas-selected").Count == 1, "the boxed part");
        var name = bench.Center(bench.Part("Saturation").FindElement(By.CssSelector(".canvas-part-name")));
        bench.Drag(name, (name.X, name.Y + 120), Keys.Control);
        bench.Until(() => bench.Parts == 2, "the copy");
        bench.NoConsoleErrors();
    }
}
