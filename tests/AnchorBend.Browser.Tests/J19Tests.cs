using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>J19: signals that keep their names.</summary>
[Collection("application")]
public sealed class J19Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    /// <summary>Pairs of wires of different signals that lie on each other somewhere, read from what is drawn.</summary>
    long Overlaps() =>
        (long)
            bench.Driver.ExecuteScript(
                """
                const ways = [...document.querySelectorAll(".canvas-wire[d]")].map((p) =>
                  p.getAttribute("d").match(/-?[\d.]+ -?[\d.]+/g).map((t) => t.split(" ").map(Number)));
                let count = 0;
                for (let i = 0; i < ways.length; i++)
                  for (let j = i + 1; j < ways.length; j++) {
                    if (String(ways[i][0]) === String(ways[j][0])) continue;
                    for (let a = 1; a < ways[i].length; a++)
                      for (let b = 1; b < ways[j].length; b++)
                        for (const [along, across] of [[0, 1], [1, 0]]) {
                          const [p, q, r, s] = [ways[i][a - 1], ways[i][a], ways[j][b - 1], ways[j][b]];
                          if (p[across] !== q[across] || r[across] !== s[across] || p[across] !== r[across]) continue;
                          const low = Math.max(Math.min(p[along], q[along]), Math.min(r[along], s[along]));
                          if (Math.min(Math.max(p[along], q[along]), Math.max(r[along], s[along])) > low) count++;
                        }
                  }
                return count;
                """
            )!;

    /// <summary>Selects the first wire of a part by keyboard.</summary>
    void SelectWireOf(string part)
    {
        bench.Select(part);
        bench.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        bench.Keys("]");
        bench.Find(By.CssSelector("[aria-label='Name of the signal']"));
    }

    [Fact]
    public void J19_Signals_that_keep_their_names()
    {
        // A loop and two more readers: no wire lies on another, wherever the parts are dragged.
        bench.NewModel();
        bench.Place("sine", 80, 120);
        bench.Place("sum", 240, 120);
        bench.Place("integrator", 380, 120);
        bench.Place("gain", 380, 260);
        bench.Place("lag", 620, 300);
        bench.Connect("Sine", "y", "Sum", "u[1]");
        bench.Connect("Sum", "y", "Integrator", "u");
        bench.Connect("Integrator", "y", "Gain", "u");
        bench.Connect("Gain", "y", "Sum", "u[2]");
        bench.Connect("Sine", "y", "Lag", "u");
        Assert.Equal(0, Overlaps());
        var (x, y) = bench.Center(bench.Part("Gain"));
        bench.Drag((x, y), (x - 120, y - 40));
        bench.WaitSaved();
        Assert.Equal(0, Overlaps());

        // A name and a record for the signal that leaves the source.
        SelectWireOf("Sine");
        bench.SetField("Name of the signal", "swell");
        bench.SetField("Unit of the signal", "m");
        bench.Click(By.CssSelector("[aria-label='Plot this signal'], [aria-label='Plot the signal']"));
        bench.WaitSaved();
        bench.WaitForRun();
        bench.SetTime(0.5);
        var before = bench.Plotted("swell");

        // The source goes; the next one takes over the name and the record.
        bench.Select("Sine");
        bench.Keys(Keys.Delete);
        bench.WaitSaved();
        bench.Place("constant", 80, 120);
        bench.Select("Constant");
        bench.SetField("Value", "3");
        bench.Connect("Constant", "y", "Sum", "u[1]");
        bench.Until(() => Math.Abs(bench.Plotted("swell") - 3) < 1e-9, "the constant under the name of the swell");
        Assert.NotEqual(3, before, 3);
        SelectWireOf("Constant");
        Assert.Equal("swell", bench.Field("Name of the signal").GetAttribute("value"));

        bench.Driver.Navigate().Refresh();
        bench.Until(() => bench.Parts == 5, "the model again");
        bench.SetTime(0.5);
        bench.Until(() => Math.Abs(bench.Plotted("swell") - 3) < 1e-9, "the name after reading it anew");

        // What was recorded is written as a table.
        var table = "";
        bench.Driver.ExecuteScript(
            "const made = URL.createObjectURL; "
                + "URL.createObjectURL = (b) => { b.text().then((t) => window.written = t); return made.call(URL, b); };"
        );
        bench.Chord(Keys.Control, "k");
        bench.Until(() => bench.All("[role=dialog] input, [role=combobox]").Any(e => e.Displayed), "the finder");
        bench.Keys("plotted curves" + Keys.Enter);
        bench.Until(() => (table = (string?)bench.Driver.ExecuteScript("return window.written ?? ''") ?? "").Length > 0, "the table");
        var lines = table.Split(["\r\n", "\n"], StringSplitOptions.RemoveEmptyEntries);
        Assert.Contains("swell", lines[0], StringComparison.Ordinal);
        Assert.Equal("3", lines[^1].Split(',')[1]);
        bench.NoConsoleErrors();
    }
}
