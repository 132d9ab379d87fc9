using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Physical parts joined on the bench.</summary>
[Collection("application")]
public sealed class NetworkTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    [Fact]
    public void A_circuit_is_joined_gets_its_ground_and_shows_voltage_and_current()
    {
        bench.NewModel();
        bench.Place("voltage source", 120, 260);
        bench.Place("resistor", 320, 120);
        bench.Place("capacitor", 520, 260);
        bench.Connect("Voltage source", "p", "Resistor", "p");
        bench.Connect("Resistor", "n", "Capacitor", "p");
        // Wires have no direction: this one is drawn from the end to the beginning of the loop.
        bench.Connect("Capacitor", "n", "Voltage source", "n");
        Assert.Equal(3, bench.Wires);
        Assert.Equal(3, bench.All(".canvas-wire.canvas-physical.canvas-electrical").Count);

        // Another domain cannot be joined, which is told; in the open fitting parts are offered.
        bench.Place("mass", 320, 330);
        bench.Drag(bench.Port("Mass", "b"), bench.Port("Capacitor", "p"));
        bench.Until(
            () => bench.All(".app-notice").Any(n => n.Text.Contains("a translational port", StringComparison.Ordinal)),
            "the reason why these cannot be joined"
        );
        bench.Drag(bench.Port("Mass", "b"), bench.Open(700, 420));
        bench.Until(() => bench.All(".build-quick-place").Count == 1, "parts that fit a mechanical connection");
        Assert.Contains(bench.All(".build-quick-place li"), e => e.Text.Contains("Translational", StringComparison.Ordinal));
        Assert.DoesNotContain(bench.All(".build-quick-place li"), e => e.Text.Contains("Electrical", StringComparison.Ordinal));
        bench.Keys(Keys.Escape);
        Assert.Equal(3, bench.Wires);
        bench.Select("Mass");
        bench.Diagram.SendKeys(Keys.Delete);
        bench.Until(() => bench.Parts == 3, "the mass to go");

        // The missing ground is told, with a way to mend it.
        bench.ClickAt(bench.Open(700, 60));
        bench.Until(
            () => bench.Find(By.CssSelector(".inspector-panel")).Text.Contains("has no ground", StringComparison.Ordinal),
            "the finding about the ground"
        );
        bench.Press("Connect a ground");
        bench.Until(() => bench.Parts == 4 && bench.Wires == 4, "the ground");
        bench.Select("Resistor");
        bench.SetField("Resistance at the reference temperature", "2 kOhm");
        bench.Select("Capacitor");
        bench.SetField("Capacitance", "1 mF");
        bench.WaitSaved();
        bench.WaitForRun();

        // Potential and flow of a connection, at the time bar and in the inspector.
        var time = bench.SetTime(0.2);
        bench.ClickAt(Middle("Connection between Resistor and Capacitor"));
        bench.Until(
            () => bench.Find(By.CssSelector(".inspector-panel h2")).Text == "electrical connection",
            "the connection in the inspector"
        );
        bench.Click(By.CssSelector("[aria-label='Plot the potential']"));
        bench.WaitSaved();
        // The ground went to the source's plus or to another point; the voltage of the capacitor is what the difference says.
        var current = 24.0 / 2000 * Math.Exp(-time / 2);
        bench.Until(
            () =>
                bench
                    .All(".inspector-panel .inspector-sub.mono")
                    .Any(e =>
                        e.Text.Contains(" A at the time bar", StringComparison.Ordinal)
                        && Math.Abs(
                            Math.Abs(
                                double.Parse(
                                    e.Text.Split(' ')[0].Replace("−", "-", StringComparison.Ordinal),
                                    System.Globalization.CultureInfo.InvariantCulture
                                )
                            ) - current
                        )
                            < 2e-3 * current
                    ),
            $"the current {current}"
        );

        // A new connection joins one that is there, and all is kept.
        bench.Place("voltage sensor", 560, 60);
        var wire = Middle("Connection between Resistor and Capacitor");
        bench.Drag(bench.Port("Voltage sensor", "p"), wire);
        bench.Until(() => bench.Wires == 5, "the branch");
        bench.WaitSaved();
        bench.Driver.Navigate().Refresh();
        bench.Until(() => bench.Parts == 5 && bench.Wires == 5, "the circuit after a reload");
        bench.NoConsoleErrors();
    }

    /// <summary>A point on a wire, at the middle of its length.</summary>
    (int X, int Y) Middle(string label)
    {
        var p = bench.Until(
            () =>
                (Dictionary<string, object>?)
                    bench.Driver.ExecuteScript(
                        """
                        const path = document.querySelector(`g[aria-label='${arguments[0]}'] path.canvas-catch`);
                        if (!path) return null;
                        const p = path.getPointAtLength(path.getTotalLength() / 2), m = path.getScreenCTM();
                        return { x: p.x * m.a + m.e, y: p.y * m.d + m.f };
                        """,
                        label
                    ),
            label
        )!;
        return (
            (int)Math.Round(Convert.ToDouble(p["x"], System.Globalization.CultureInfo.InvariantCulture)),
            (int)Math.Round(Convert.ToDouble(p["y"], System.Globalization.CultureInfo.InvariantCulture))
        );
    }

    [Fact]
    public void The_catalog_shows_every_face_within_its_frame_and_finds_by_unit()
    {
        // Its subsystems are own parts with drawn symbols, larger than the frames.
        bench.OpenExample("Plankton winch");
        bench.Press("Catalog");
        bench.Until(() => bench.All(".build-catalog-part").Count >= 200, "the catalog");
        var wide = (System.Collections.ObjectModel.ReadOnlyCollection<object>)
            bench.Driver.ExecuteScript(
                """
                return [...document.querySelectorAll('.build-catalog-face')].filter(f => {
                  const a = f.getBoundingClientRect(), b = f.firstElementChild.getBoundingClientRect();
                  return b.left < a.left - 1 || b.right > a.right + 1 || b.top < a.top - 1 || b.bottom > a.bottom + 1;
                }).map(f => f.parentElement.textContent);
                """
            )!;
        Assert.Empty(wide);
        bench.Field("Search parts").SendKeys("kg.m2");
        bench.Until(
            () =>
                bench.All(".build-catalog-part").Any(p => p.Text.Contains("Inertia", StringComparison.Ordinal))
                && bench.All(".build-catalog-part").Count < 12,
            "the part with a moment of inertia"
        );
        bench.NoConsoleErrors();
    }

    /// <summary>Every part of the catalog on the diagram, as it comes and with six ports where their number can be chosen.</summary>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void Faces_stay_within_their_parts_on_the_diagram_at_every_size(bool many)
    {
        bench.NewModel();
        const int columns = 6,
            rows = 4;
        var count = Convert.ToInt32(
            Call(
                "return fetch('/api/catalog').then(r => r.json()).then(c => { window.names = c.map(p => p.name); window.sized = new Set(c.filter(p => p.parameters.some(q => q.name === 'n' && q.type === 'Integer')).map(p => p.name)); return c.length; })"
            ),
            System.Globalization.CultureInfo.InvariantCulture
        );
        var all = new List<object>();
        for (var first = 0; first < count; first += columns * rows)
        {
            var expected = Math.Min(columns * rows, count - first);
            Call(
                $$"""
                const names = window.names.slice({{first}}, {{first + columns * rows}}), parts = {};
                names.forEach((n, i) => parts['p' + i] = { type: n, name: n, x: 80 + 144 * (i % {{columns}}), y: 80 + 112 * Math.floor(i / {{columns}}), parameters: {{(
                    many ? "window.sized.has(n) ? { n: '6' } : {}" : "{}"
                )}} });
                const document = { format: 'anchor-bend-model/1', name: 'Faces', parts, wires: {}, signals: {}, parameters: {}, requirements: {}, areas: {}, classes: {}, settings: { live: false } };
                return fetch('/api/models', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ document }) }).then(r => r.json()).then(m => { location.hash = '#/models/' + m.id; return m.id; })
                """
            );
            bench.Until(
                () =>
                    bench.Parts == expected
                    && bench.All("[data-part] .canvas-face, [data-part] .canvas-strands").Count == expected
                    && bench.Find(By.CssSelector("[data-part]")).GetAttribute("aria-label")!.Length > 0,
                $"{expected} parts"
            );
            all.AddRange(WideFaces());
        }

        Assert.Empty(all);
    }

    /// <summary>Parts on the diagram whose face is larger than they are.</summary>
    IEnumerable<object> WideFaces() =>
        (System.Collections.ObjectModel.ReadOnlyCollection<object>)
            bench.Driver.ExecuteScript(
                """
                return [...document.querySelectorAll('[data-part] .canvas-face')].filter(f => { const a = f.parentElement.getBoundingClientRect(), b = f.firstElementChild.getBoundingClientRect();
                  return b.width > a.width + 1 || b.height > a.height + 1; }).map(f => f.parentElement.getAttribute('aria-label'));
                """
            )!;

    /// <summary>Runs a script that gives a promise, and waits for what it gives.</summary>
    object Call(string script) =>
        bench.Driver.ExecuteAsyncScript(
            $"const done = arguments[arguments.length - 1]; (() => {{ {script} }})().then(done, e => done('failed: ' + e))"
        )!;

    [Fact]
    public void A_table_is_filled_from_a_file_and_shown_as_a_curve()
    {
        var file = Path.Combine(Path.GetTempPath(), $"curve-{Guid.NewGuid():N}.csv");
        File.WriteAllText(file, "x;y\n0;0\n1,5;3\n4;2\n9;7\n");
        try
        {
            bench.NewModel();
            bench.Place("table", 200, 150);
            bench.Until(() => bench.All(".inspector-table svg").Count == 1, "the curve");
            bench.Driver.FindElement(By.CssSelector(".inspector-table input[type=file]")).SendKeys(file);
            bench.Until(
                () => bench.Find(By.CssSelector(".inspector-table svg")).GetAttribute("aria-label") == "Curve of 4 points",
                "the points of the file"
            );
            Assert.Equal("{0, 1.5, 4, 9}", bench.Find(By.CssSelector("[id$='-x']")).GetAttribute("value"));
        }
        finally
        {
            File.Delete(file);
        }
    }

    [Theory]
    [InlineData("Plankton winch, on one level", "4 met")]
    [InlineData("Tide gate", "12 met")]
    [InlineData("Lamp buoy", "2 met")]
    [InlineData("Hatchery loop", "2 met")]
    [InlineData("Winch, two ways", "")]
    [InlineData("Survey boat", "2 met")]
    [InlineData("Crane drive line", "1 met")]
    public void A_demo_of_physical_parts_opens_and_runs(string name, string chip)
    {
        bench.OpenExample(name);
        if (chip.Length > 0)
            bench.Until(
                () => bench.Find(By.CssSelector(".app-chip.app-met")).Text.Contains(chip, StringComparison.Ordinal),
                "the verdicts"
            );
        bench.SetTime(0.5);
        bench.Until(() => bench.All(".canvas-signal-tag .canvas-value").Count > 1, "values on the connections");
        Assert.Empty(bench.All(".canvas-flag.canvas-error"));
        Assert.Empty(WideFaces());
        bench.NoConsoleErrors();
    }
}
