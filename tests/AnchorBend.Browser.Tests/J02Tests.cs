using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>
/// From blocks to a reusable part: a motor of five blocks becomes a subsystem with a face and is used twice. With R = 0.8 Ω, k = 0.1 and
/// b = 0.002 the speed comes to rest at k / (R b + k²) = 0.1 / 0.0116 = 8.6207 for one volt.
/// </summary>
[Collection("application")]
public sealed class J02Tests(Application application) : IDisposable
{
    const double AtRest = 0.1 / 0.0116;

    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    string[] Way => [.. bench.All(".app-way button, .app-way b").Select(e => e.Text)];

    bool IsNear(string signal, double value) => Math.Abs(bench.Plotted(signal) - value) < 1e-3 * Math.Abs(value);

    [Fact]
    public void J02_From_blocks_to_a_reusable_part_by_mouse()
    {
        bench.NewModel();
        bench.Place("step", 30, 120);
        bench.Place("sum", 150, 120);
        bench.Place("lag", 230, 120);
        bench.Place("gain", 370, 120);
        bench.Place("lag", 480, 120);
        bench.Place("gain", 370, 240);
        Name("Lag", "Armature");
        Name("Gain", "Torque");
        Name("Lag 2", "Rotor");
        Name("Gain 2", "Back voltage");
        bench.Select("Back voltage");
        bench.Chord(Keys.Control, "m");
        bench.WaitSaved();
        bench.Connect("Step", "y", "Sum", "u[1]");
        bench.Connect("Sum", "y", "Armature", "u");
        bench.Connect("Armature", "y", "Torque", "u");
        bench.Connect("Torque", "y", "Rotor", "u");
        bench.Connect("Rotor", "y", "Back voltage", "u");
        bench.Connect("Back voltage", "y", "Sum", "u[2]");
        Assert.Equal(6, bench.Wires);
        bench.Select("Step");
        bench.SetField("Time of the step", "0 s");
        bench.Press("Plot");
        foreach (var (part, gain, lag) in ((string, string, string?)[])[("Armature", "1/0.8", "0.5 s"), ("Rotor", "1/0.002", "0.5 s")])
        {
            bench.Select(part);
            bench.SetField("Gain", gain);
            bench.SetField("Time constant", lag!);
        }

        foreach (var gain in (string[])["Torque", "Back voltage"])
        {
            bench.Select(gain);
            bench.SetField("Gain", "0.1");
        }

        bench.Select("Rotor");
        bench.Press("Plot");
        bench.WaitSaved();
        bench.SetTime(0.999);
        bench.Until(() => IsNear("Rotor.y", AtRest), "the motor's speed at rest");
        Assert.Single(bench.All(".observe-strip"));

        // The five parts in a box become one.
        bench.ClickAt(bench.Open(20, 380));
        var (corner, end) = (bench.Center(bench.Part("Sum")), bench.Center(bench.Part("Rotor")));
        bench.Drag((corner.X - 24, corner.Y - 60), (end.X + 60, bench.Center(bench.Part("Back voltage")).Y + 40));
        bench.Until(() => bench.All(".canvas-part.canvas-selected").Count == 5, "the five parts");
        bench.Press("Make a subsystem of the selection");
        bench.Until(() => bench.All(".build-name-field").Count == 1 || bench.Parts == 2, "the subsystem");
        if (bench.All(".build-name-field").Count == 1)
            bench.Keys("Motor" + Keys.Enter);
        else
            Name("Subsystem", "Motor");
        bench.Until(() => bench.Part("Motor").Displayed, "the motor");
        bench.WaitSaved();

        bench.DoubleClick(() => bench.PartNow("Motor"), () => Way is [_, "Motor"], "the level of the motor");
        var input = bench.All("[data-part]").Single(p => p.GetAttribute("aria-label")!.EndsWith("InputPort", StringComparison.Ordinal));
        Name(input.GetAttribute("aria-label")!.Split(',')[0], "voltage");
        // Nothing outside took the speed, so it has no port yet.
        bench.Place("output of a level", 820, 200);
        bench.WaitSaved();
        bench.Keys(Keys.F2);
        bench.Until(() => bench.All(".build-name-field").Count == 1, "the field for its name");
        bench.Chord(Keys.Control, "a");
        bench.Keys("speed" + Keys.Enter);
        bench.Until(() => bench.Part("speed").Displayed, "the port");
        bench.WaitSaved();
        bench.Connect("Rotor", "y", "speed", "port");
        Face("R", "Armature resistance", "0.8 Ohm", "Ohm");
        Face("L", "Armature inductance", "0.4 H", "H");
        bench.Select("Armature");
        bench.SetField("Gain", "1/R");
        bench.SetField("Time constant", "L/R");
        bench.ClickAt(bench.Open(20, 380));
        bench.Keys(Keys.Escape);
        bench.Until(() => Way.Length == 0, "the root");

        // A second use with other values.
        bench.Select("Motor");
        bench.Chord(Keys.Control, "d");
        bench.Until(() => bench.Parts == 3, "the second motor");
        bench.WaitSaved();
        bench.Drag(bench.Center(bench.Part("Motor 2")), (bench.Center(bench.Part("Motor")).X, bench.Center(bench.Part("Motor")).Y + 150));
        bench.WaitSaved();
        bench.Connect("Step", "y", "Motor 2", "voltage");
        bench.Select("Motor 2");
        bench.SetField("Armature resistance", "1.6 Ohm");
        // What is plotted of a definition is plotted of all its uses.
        bench.Until(() => IsNear("Motor 2.Rotor.y", 0.1 / (1.6 * 0.002 + 0.01)), "the second motor's speed");
        bench.Until(() => IsNear("Motor.Rotor.y", AtRest), "the first motor's speed as it was");

        // Half the inductance: the same at rest, sooner there, with the run before beside it.
        bench.SetTime(0.02);
        var before = bench.Plotted("Motor.Rotor.y");
        bench.Select("Motor");
        bench.SetField("Armature inductance", "0.2 H");
        bench.Until(() => bench.Plotted("Motor.Rotor.y") > 1.2 * before, "the quicker motor");
        bench.Until(() => bench.All(".observe-ghost").Count == 1, "the run before");
        bench.SetTime(0.999);
        bench.Until(() => IsNear("Motor.Rotor.y", AtRest), "the same speed at rest");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void J02_From_blocks_to_a_reusable_part_by_keyboard_alone()
    {
        bench.NewModel();
        bench.Until(
            () => (bool)bench.Driver.ExecuteScript("return document.activeElement === document.querySelector('.build-diagram')")!,
            "the diagram to have the keyboard"
        );
        Typed("step", "Step", -4);
        Typed("sum", "Sum", -3);
        Typed("lag", "Armature", -2);
        Typed("gain", "Torque", -1);
        Typed("lag", "Rotor", 0);
        Typed("gain", "Back voltage", 1);

        WireTo("Sum", "y to u of armature");
        WireTo("Armature", "y to u of torque");
        WireTo("Torque", "y to u of rotor");
        WireTo("Rotor", "y to u of back");
        WireTo("Back voltage", "y to u[2] of sum");
        WireTo("Step", "y to u[1] of sum");
        Reach("Step");
        InField("Time of the step", "0 s");
        Reach("Armature");
        InField("Gain", "1/0.8");
        Reach("Armature");
        InField("Time constant", "0.5 s");
        Reach("Torque");
        InField("Gain", "0.1");
        Reach("Rotor");
        InField("Gain", "1/0.002");
        Reach("Back voltage");
        InField("Gain", "0.1");

        // All but the step.
        bench.Chord(Keys.Control, "a");
        bench.Until(() => bench.All(".canvas-part.canvas-selected").Count == 6, "all parts");
        Reach("Sum");
        foreach (var part in (string[])["Armature", "Torque", "Rotor", "Back voltage"])
            Reach(part, also: true);
        bench.Chord(Keys.Shift, Keys.Enter);
        bench.Until(() => bench.All(".build-name-field").Count == 1, "the field for its name");
        bench.Keys("Motor" + Keys.Enter);
        bench.Until(() => bench.Part("Motor").Displayed && bench.Parts == 2, "the motor");
        bench.WaitSaved();
        bench.Keys(Keys.Enter);
        bench.Until(() => Way is [_, "Motor"], "its level");
        bench.Keys(Keys.Escape);
        bench.Until(() => Way.Length == 0, "the root");
        bench.Chord(Keys.Control, "d");
        bench.Until(() => bench.Parts == 3, "the second motor");
        bench.WaitSaved();
        WireTo("Motor 2", "from y of step");
        bench.Until(() => bench.Wires == 2, "the second motor's wire");
        bench.NoConsoleErrors();
    }

    /// <summary>Gives a part a name where it stands.</summary>
    void Name(string part, string name)
    {
        bench.DoubleClick(
            () => bench.PartNow(part).FindElement(By.CssSelector(".canvas-part-name")),
            () => bench.All(".build-name-field").Count == 1,
            "the field for a name"
        );
        bench.Keys(name + Keys.Enter);
        bench.Until(() => bench.Part(name).Displayed, $"{part} called {name}");
        bench.WaitSaved();
    }

    /// <summary>Puts a parameter on the face of the level at hand, with its prompt, unit and default.</summary>
    void Face(string name, string prompt, string value, string unit)
    {
        bench.ClickAt(bench.Open(20, 380));
        var field = bench.Field("Name of a new parameter");
        field.SendKeys(name + Keys.Enter);
        bench.Until(() => bench.All($"[id='model-{name}']").Count == 1, name);
        bench.WaitSaved();
        bench.Click(By.CssSelector($"[aria-label='Prompt, unit and limits of {name}']"));
        bench.SetField($"Unit of {name}", unit);
        bench.SetField($"Prompt of {name}", prompt);
        bench.SetField($"{name} {prompt}", value);
    }

    /// <summary>Places a part by keys alone, names it and moves it out of the way of the next.</summary>
    void Typed(string what, string name, int column)
    {
        var before = bench.Parts;
        bench.Keys("/");
        bench.Until(() => bench.All(".build-quick-place input").Count == 1, "the field for a part");
        bench.Keys(what + Keys.Enter);
        bench.Until(() => bench.Parts == before + 1, what);
        bench.WaitSaved();
        bench.Keys(Keys.F2);
        bench.Until(() => bench.All(".build-name-field").Count == 1, "the field for its name");
        bench.Chord(Keys.Control, "a");
        bench.Keys(name + Keys.Enter);
        bench.Until(() => bench.Part(name).Displayed, name);
        bench.WaitSaved();
        for (var n = 0; n < Math.Abs(column); n++)
            bench.Chord(Keys.Shift, column < 0 ? Keys.ArrowLeft : Keys.ArrowDown);
        bench.WaitSaved();
    }

    /// <summary>Goes through the parts until one is selected.</summary>
    void Reach(string part, bool also = false)
    {
        if (!also)
            bench.Keys(Keys.Escape);
        for (var n = 0; n < 2 * bench.Parts; n++)
        {
            var selected = bench.All(".canvas-part.canvas-selected").Select(p => p.GetAttribute("aria-label")!.Split(',')[0]).ToList();
            if (also ? selected.Contains(part) : selected is [var only] && only == part)
                return;
            if (also)
                bench.Chord(Keys.Shift, Keys.PageDown);
            else
                bench.Keys(Keys.PageDown);
        }

        throw new InvalidOperationException($"{part} is not reached by Page Down.");
    }

    /// <summary>Lays a wire from a part by its name in the list.</summary>
    void WireTo(string part, string typed)
    {
        var before = bench.Wires;
        Reach(part);
        bench.Keys(".");
        bench.Until(() => bench.All("[aria-label='Port to wire to']").Count == 1, "the list of wires");
        bench.Keys(typed + Keys.Enter);
        bench.Until(() => bench.Wires == before + 1, $"the wire {typed}");
        bench.WaitSaved();
    }

    /// <summary>Goes to the inspector's fields by Enter and on by Tab, types, and comes back to the diagram.</summary>
    void InField(string label, string text)
    {
        bench.Keys(Keys.Enter);
        bench.Until(
            () => (bool)bench.Driver.ExecuteScript("return !!document.activeElement.closest('[aria-label=Inspector]')")!,
            "the inspector to have the keyboard"
        );
        for (var n = 0; n < 30 && Focused() != label; n++)
            bench.Keys(Keys.Tab);
        Assert.Equal(label, Focused());
        bench.Chord(Keys.Control, "a");
        bench.Keys(text + Keys.Enter);
        bench.WaitSaved();
        bench.Keys(Keys.Escape);
        bench.Until(
            () => (bool)bench.Driver.ExecuteScript("return document.activeElement === document.querySelector('.build-diagram')")!,
            "the diagram to have the keyboard again"
        );
    }

    string? Focused() => (string?)bench.Driver.ExecuteScript("return document.activeElement.getAttribute('aria-label')");
}
