using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Parts that the user reads, duplicates and writes; models as text.</summary>
[Collection("application")]
public sealed class OwnPartTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    /// <summary>Replaces the whole text, as pasting does.</summary>
    void Paste(string text)
    {
        bench.Find(By.CssSelector(".parts-editor .cm-content")).Click();
        bench.Chord(Keys.Control, "a");
        bench.Driver.ExecuteScript("document.execCommand('insertText', false, arguments[0])", text);
    }

    string Text => (string)bench.Driver.ExecuteScript("return document.querySelector('.parts-editor .cm-content').innerText")!;

    [Fact]
    public void A_part_is_read_duplicated_changed_and_used()
    {
        bench.NewModel();
        bench.Place("constant", 80, 120);
        bench.Place("gain", 260, 120);
        bench.Connect("Constant", "y", "Gain", "u");
        bench.Select("Gain");
        bench.Press("Plot");
        bench.WaitSaved();
        bench.WaitForRun();

        // The catalog's text is there to read; duplicated, the placed part is one of the copies.
        bench.Press("Open text");
        bench.Until(() => bench.Find(By.CssSelector(".parts-editor h2")).Text == "Gain", "the text of the gain");
        Assert.Contains("read only", bench.Find(By.CssSelector(".parts-editor header")).Text, StringComparison.Ordinal);
        bench.Press("Duplicate into the model");
        bench.Until(() => bench.Find(By.CssSelector(".parts-editor h2")).Text == "OwnGain", "the copy");
        bench.Until(() => Text.Contains("block OwnGain", StringComparison.Ordinal), "its text");
        bench.WaitSaved();

        // A mistake is told with its place while it is typed, and an equation too many with the counts.
        Paste("block OwnGain \"Square\"\n  input Real u \"Input\";\n  output Real y \"Output\";\nequation\n  y = sinn(u);\nend OwnGain;");
        bench.Until(
            () =>
                bench.Find(By.CssSelector(".parts-findings")).Text.Contains("5:7", StringComparison.Ordinal)
                && bench.Find(By.CssSelector(".parts-findings")).Text.Contains("sinn", StringComparison.Ordinal),
            "the finding"
        );
        Paste(
            "block OwnGain \"Square\"\n  input Real u \"Input\";\n  output Real y \"Output\";\nequation\n  y = u ^ 2;\n  y = u;\nend OwnGain;"
        );
        bench.Until(
            () => bench.Field("Balance").Text.Contains("3 equations, 2 unknowns: too many", StringComparison.Ordinal),
            "the counts"
        );

        // Closing once does not drop what is not applied.
        bench.Press("Close");
        bench.Until(
            () => bench.Find(By.CssSelector(".parts-editor")).Text.Contains("not applied", StringComparison.Ordinal),
            "the question before the text is dropped"
        );

        // The change runs the model again.
        Paste(
            "block OwnGain \"Square\"\n  input Real u \"Input\";\n  output Real y \"Output\";\nequation\n  y = 7 * (u + 1) ^ 2;\nend OwnGain;"
        );
        bench.Until(() => bench.Field("Balance").Text == "2 equations, 2 unknowns", "the counts in balance");
        bench.Chord(Keys.Control, Keys.Enter);
        bench.WaitSaved();
        bench.Press("Close");
        bench.SetTime(0.5);
        bench.Until(() => Math.Abs(bench.Plotted("Gain.y") - 28) < 1e-9, "7·(1 + 1)²");

        // A port that vanishes leaves a finding; the wire stays, and undo brings all back.
        bench.Select("Gain");
        bench.Press("Open text");
        bench.Until(() => Text.Contains("input Real u", StringComparison.Ordinal), "the text again");
        Paste("block OwnGain \"Square\"\n  input Real w \"Input\";\n  output Real y \"Output\";\nequation\n  y = w;\nend OwnGain;");
        bench.Until(() => bench.Button("Apply").Enabled, "the button");
        bench.Press("Apply");
        bench.WaitSaved();
        bench.Press("Close");
        Assert.Equal(1, bench.Wires);
        bench.ClickAt(bench.Open(700, 60));
        bench.Until(
            () =>
                bench
                    .Find(By.CssSelector(".inspector-panel"))
                    .Text.Contains("ends at 'u' of 'Gain', which has no such port", StringComparison.Ordinal),
            "the finding about the port"
        );
        bench.Chord(Keys.Control, "z");
        bench.Until(
            () => bench.Find(By.CssSelector(".inspector-panel")).Text.Contains("the model can run", StringComparison.Ordinal),
            "the part as it was"
        );
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_part_moves_to_the_package_and_serves_another_model()
    {
        bench.NewModel();
        bench.Press("Catalog");
        bench.Press("New part from equations");
        bench.Until(() => bench.Find(By.CssSelector(".parts-editor h2")).Text == "OwnPart", "a part to begin with");
        Paste("block Kelp \"Grows\"\n  input Real u \"Input\";\n  output Real y \"Output\";\nequation\n  y = 3 * u;\nend Kelp;");
        bench.Until(
            () =>
                bench.Find(By.CssSelector(".parts-made")).Text.Contains("y out", StringComparison.Ordinal) && bench.Button("Apply").Enabled,
            "the live icon"
        );
        bench.Press("Apply");
        bench.Until(() => bench.Find(By.CssSelector(".parts-editor h2")).Text == "Kelp", "the part under its new name");
        bench.WaitSaved();
        bench.Press("Move to my package");
        bench.Until(
            () => bench.Find(By.CssSelector(".parts-editor header")).Text.Contains("In your package", StringComparison.Ordinal),
            "the part in the package"
        );
        bench.Press("Close");
        bench.NewModel();
        bench.Place("kelp", 200, 150);
        Assert.Equal("Kelp", bench.Part("Kelp").GetAttribute("aria-label")!.Split(", ")[1]);
    }

    [Fact]
    public void A_text_from_elsewhere_opens_as_a_diagram()
    {
        var file = Path.Combine(Path.GetTempPath(), $"loop-{Guid.NewGuid():N}.mo");
        File.WriteAllText(file, "model Loop Step set; Gain g(k = 3); Lag l; equation connect(set.y, g.u); connect(g.y, l.u); end Loop;");
        try
        {
            bench.NewModel();
            bench.Click(By.CssSelector("a.app-crumb"));
            bench.Until(() => bench.Driver.FindElements(By.CssSelector(".start-head input[type=file]")).Count == 1, "the file field");
            bench.Driver.FindElement(By.CssSelector(".start-head input[type=file]")).SendKeys(file);
            bench.Until(() => bench.Parts == 3 && bench.Wires == 2, "the diagram");
            var places = new[] { "set", "g", "l" }.Select(n => bench.Center(bench.Part(n)).X).ToArray();
            Assert.True(places[0] < places[1] && places[1] < places[2]);
        }
        finally
        {
            File.Delete(file);
        }
    }
}
