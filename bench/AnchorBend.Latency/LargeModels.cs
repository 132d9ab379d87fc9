using System.Globalization;
using System.Net.Http.Json;
using System.Text.Json;
using OpenQA.Selenium;

/// <summary>Large diagrams in the browser: opening, frames of gestures near and from far, scrubbing, and from Enter to the new
/// curve.</summary>
static class LargeModels
{
    public static async Task Measure(IWebDriver driver, HttpClient client, string address, int count)
    {
        var made = await (
            await client.PostAsJsonAsync("/api/models", new { document = Document(count) })
        ).Content.ReadFromJsonAsync<JsonElement>();
        driver.Navigate().GoToUrl($"{address}/#/");
        driver.FindElement(By.CssSelector("body"));
        var opened = (string)Script(
            driver,
            $$"""
            const begin = performance.now();
            location.hash = "#/models/{{made.GetProperty("id").GetString()}}";
            const look = () => document.querySelector(".build-diagram .canvas-part, .build-diagram canvas.canvas-far") ? requestAnimationFrame(() => done((performance.now() - begin).toFixed(0))) : requestAnimationFrame(look);
            look();
            """
        );
        Console.WriteLine($"{count} parts: on screen after {opened} ms");
        Script(driver, Wait("document.querySelector('.observe-strips')"));
        driver.FindElement(By.CssSelector(".run-track")).Click();
        Script(driver, Wait("document.querySelector('[data-signal-value]')"));
        Console.WriteLine($"  from far: pan {Frames(driver, "pan")}; drag {Frames(driver, "drag")}; scrub {Scrub(driver)}");
        // Nearer, about the middle.
        driver.ExecuteScript(
            """
            const d = document.querySelector('.build-diagram'), r = d.getBoundingClientRect();
            d.dispatchEvent(new KeyboardEvent('keydown', { key: '0', code: 'Digit0', bubbles: true }));
            for (let i = 0; i < 14; i++)
              d.dispatchEvent(new WheelEvent('wheel', { bubbles: true, cancelable: true, deltaY: -120, clientX: r.x + r.width / 2, clientY: r.y + r.height / 2 }));
            """
        );
        Script(
            driver,
            Wait("document.querySelector('.build-diagram .canvas-part') && !document.querySelector('.build-diagram canvas.canvas-far')")
        );
        Console.WriteLine($"  from near: pan {Frames(driver, "pan")}; drag {Frames(driver, "drag")}; scrub {Scrub(driver)}");
        Console.WriteLine($"  from Enter to the new curve: {Enter(driver)}");
    }

    static string Wait(string condition) => $"const look = () => ({condition}) ? done('') : requestAnimationFrame(look); look();";

    static object Script(IWebDriver driver, string body) =>
        ((IJavaScriptExecutor)driver).ExecuteAsyncScript("const done = arguments[arguments.length - 1];" + body)!;

    static void ExecuteScript(this IWebDriver driver, string body) => ((IJavaScriptExecutor)driver).ExecuteScript(body);

    const string Summary =
        "const sum = (gaps) => { gaps.sort((a, b) => a - b); return `${(gaps.reduce((a, b) => a + b) / gaps.length).toFixed(0)} ms, worst of twenty ${gaps[Math.floor(gaps.length * 0.95)].toFixed(0)} ms`; };";

    /// <summary>Distances of frames while a gesture goes on over eighty of them.</summary>
    static string Frames(IWebDriver driver, string gesture) =>
        (string)Script(
            driver,
            Summary
                + $$"""
                const host = document.querySelector(".build-diagram");
                host.setPointerCapture = () => {};
                const isPan = "{{gesture}}" === "pan";
                const part = document.querySelector(".build-diagram .canvas-part .canvas-part-name");
                const box = (part ?? host).getBoundingClientRect();
                // From far the first part lies at the upper left of the drawing.
                const [x, y] = part ? [box.x + 4, box.y + 4] : [box.x + box.width / 2, box.y + box.height / 2];
                const target = isPan || !part ? host : part;
                const fire = (type, x, y) => target.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, button: isPan ? 2 : 0, buttons: isPan ? 2 : 1, clientX: x, clientY: y }));
                fire("pointerdown", x, y);
                const gaps = [];
                let n = 0, last = performance.now();
                const step = () => {
                  const now = performance.now();
                  gaps.push(now - last);
                  last = now;
                  fire("pointermove", x + 3 * n, y + 2 * n);
                  if (++n < 80) return requestAnimationFrame(step);
                  fire("pointerup", x + 3 * n, y + 2 * n);
                  done(sum(gaps));
                };
                requestAnimationFrame(step);
                """
        );

    /// <summary>From a key on the time bar to the value of that instant on screen.</summary>
    static string Scrub(IWebDriver driver) =>
        (string)Script(
            driver,
            Summary
                + """
                const track = document.querySelector(".run-track");
                const r = track.getBoundingClientRect();
                track.setPointerCapture = () => {};
                const fire = (type, x) => track.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 2, buttons: 1, clientX: x, clientY: r.y + r.height / 2 }));
                fire("pointerdown", r.x + 20);
                const gaps = [];
                let n = 0, last = performance.now();
                const step = () => {
                  const now = performance.now();
                  gaps.push(now - last);
                  last = now;
                  fire("pointermove", r.x + 20 + 4 * n);
                  if (++n < 60) return requestAnimationFrame(step);
                  fire("pointerup", r.x + 20 + 4 * n);
                  done(sum(gaps));
                };
                requestAnimationFrame(step);
                """
        );

    static string Enter(IWebDriver driver)
    {
        // Tab chooses the first part, wherever it is.
        driver.ExecuteScript(
            "const d = document.querySelector('.build-diagram'); for (const key of ['Escape', 'PageDown']) d.dispatchEvent(new KeyboardEvent('keydown', { key, code: key, bubbles: true }));"
        );
        var times =
            (IReadOnlyCollection<object>)
                Script(
                    driver,
                    """
                    const took = [];
                    const put = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set;
                    const legend = () => document.querySelector("[data-signal-value]").textContent;
                    const once = (n) => {
                      const field = [...document.querySelectorAll(".inspector-panel .inspector-row input")].find((i) => i.id.endsWith("-k"));
                      field.focus();
                      put.call(field, `${(1 + 0.01 * n).toFixed(3)}`);
                      field.dispatchEvent(new Event("input", { bubbles: true }));
                      setTimeout(() => {
                        const before = legend();
                        const begin = performance.now();
                        field.dispatchEvent(new KeyboardEvent("keydown", { key: "Enter", code: "Enter", bubbles: true }));
                        const look = () => {
                          if (legend() === before && performance.now() - begin < 8000) return requestAnimationFrame(look);
                          requestAnimationFrame(() => { took.push(performance.now() - begin); n < 12 ? once(n + 1) : done(took); });
                        };
                        requestAnimationFrame(look);
                      }, 600);
                    };
                    once(1);
                    """
                );
        var sorted = times.Select(t => Convert.ToDouble(t, CultureInfo.InvariantCulture)).Skip(2).Order().ToArray();
        return $"median {sorted[sorted.Length / 2]:F0} ms, worst {sorted[^1]:F0} ms ({sorted.Length} edits)";
    }

    /// <summary>Chains of ten parts that start from a source each; the first chain's end is plotted.</summary>
    static object Document(int count)
    {
        string[] types = ["Sine", "Gain", "Lag", "Gain", "Lag", "Gain", "Lag", "Gain", "Lag", "Integrator"];
        var parts = new Dictionary<string, object>();
        var wires = new Dictionary<string, object>();
        for (var i = 0; i < count; i++)
        {
            var (chain, place) = (i / 10, i % 10);
            // The first part can be edited and moves the plotted curve.
            var type = i == 0 ? "Constant" : types[place];
            parts[$"p{i}"] = new
            {
                type,
                name = $"{type} {i}",
                x = chain % 10 * 1440 + place * 136,
                y = chain / 10 * 104,
                parameters = new { },
            };
            if (place > 0)
                wires[$"w{i}"] = new
                {
                    from = new { part = $"p{i - 1}", port = "y" },
                    to = new { part = $"p{i}", port = "u" },
                    bends = Array.Empty<object>(),
                };
        }

        return new
        {
            format = "anchor-bend-model/1",
            name = $"{count} parts",
            parts,
            wires,
            signals = new Dictionary<string, object> { ["p9.y"] = new { probe = 0 } },
            settings = new { live = true, end = "10 s" },
        };
    }
}
