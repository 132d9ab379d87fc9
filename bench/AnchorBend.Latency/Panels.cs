using System.Globalization;
using System.Net.Http.Json;
using System.Text.Json;
using OpenQA.Selenium;

/// <summary>From a switch of an operator panel to the lamp that the run lights by it, in a run paced to real time.</summary>
static class Panels
{
    const string Document = """
        {
          "format": "anchor-bend-model/4", "root": "main",
          "definitions": { "main": { "kind": "diagram", "name": "Lamp",
            "parts": {
              "s": { "type": "BooleanConstant", "name": "Wish", "x": 96, "y": 96, "parameters": { "k": "false" } },
              "n": { "type": "Negation", "name": "Not", "x": 240, "y": 96 },
              "w": { "type": "Sine", "name": "Sea", "x": 96, "y": 200 },
              "l": { "type": "Lag", "name": "Basin", "x": 240, "y": 200 } },
            "wires": {
              "a": { "from": { "part": "s", "port": "y" }, "to": { "part": "n", "port": "u" } },
              "b": { "from": { "part": "w", "port": "y" }, "to": { "part": "l", "port": "u" } } } } },
          "panels": { "p": { "name": "Panel", "items": {
            "i": { "kind": "switch", "target": "s.k", "width": 4, "height": 1 },
            "j": { "kind": "lamp", "target": "n.y", "x": 4, "width": 4, "height": 1 } } } },
          "settings": { "end": "1 h", "live": false }
        }
        """;

    public static async Task Measure(IWebDriver driver, HttpClient client, string address)
    {
        var answer = await client.PostAsJsonAsync("/api/models", new { document = JsonDocument.Parse(Document).RootElement });
        if (!answer.IsSuccessStatusCode)
            throw new InvalidOperationException(await answer.Content.ReadAsStringAsync());
        var made = await answer.Content.ReadFromJsonAsync<JsonElement>();
        driver.Navigate().GoToUrl($"{address}/#/models/{made.GetProperty("id").GetString()}");
        driver.FindElement(By.XPath("//section[@aria-label='Operator panel']//button[normalize-space(.)='Play']")).Click();
        var times =
            (IReadOnlyCollection<object>)
                ((IJavaScriptExecutor)driver).ExecuteAsyncScript(
                    """
                    const done = arguments[arguments.length - 1];
                    const toggle = () => document.querySelector("section[aria-label='Operator panel'] button[role='switch']");
                    const lamp = () => document.querySelector("section[aria-label='Operator panel'] [role='status']")?.getAttribute("aria-label");
                    const took = [];
                    const once = () => setTimeout(() => {
                      if (!toggle() || toggle().disabled || !lamp()) return once();
                      const before = lamp();
                      const begin = performance.now();
                      toggle().click();
                      const look = () => {
                        if (lamp() === before && performance.now() - begin < 5000) return requestAnimationFrame(look);
                        requestAnimationFrame(() => { took.push(performance.now() - begin); took.length < 45 ? once() : done(took); });
                      };
                      requestAnimationFrame(look);
                    }, 300 + 60 * Math.random());
                    setTimeout(once, 1000);
                    """
                )!;
        var sorted = times.Select(t => Convert.ToDouble(t, CultureInfo.InvariantCulture)).Skip(5).Order().ToArray();
        Console.WriteLine(
            $"panel switch to its lamp, paced to real time: median {sorted[sorted.Length / 2]:F0} ms, nine of ten within {sorted[sorted.Length * 9 / 10]:F0} ms"
        );
    }
}
