using System.Net.Http.Json;
using System.Text.Json;
using OpenQA.Selenium;

/// <summary>Pictures a second while a run of many bodies is replayed in its scene.</summary>
static class Scenes
{
    const int Bodies = 100,
        Seconds = 10;

    public static async Task Measure(IWebDriver driver, HttpClient client, string address)
    {
        var answer = await client.PostAsJsonAsync("/api/models", new { document = Document() });
        if (!answer.IsSuccessStatusCode)
            throw new InvalidOperationException(await answer.Content.ReadAsStringAsync());
        var made = await answer.Content.ReadFromJsonAsync<JsonElement>();
        driver.Navigate().GoToUrl($"{address}/#/models/{made.GetProperty("id").GetString()}/build");
        driver.FindElement(By.XPath("//button[@aria-label='Scene' or normalize-space(.)='Scene']")).Click();
        driver.FindElement(By.CssSelector("[aria-label='Replay']"));
        // A picture begins with a cleared canvas. Pictures that never reach the screen hold the next frame back, so what is counted was shown.
        var drawn = ((IJavaScriptExecutor)driver).ExecuteAsyncScript(
            $$"""
            const done = arguments[arguments.length - 1];
            let count = 0;
            for (const kind of [WebGLRenderingContext, WebGL2RenderingContext]) {
              const clear = kind.prototype.clear;
              kind.prototype.clear = function (...a) { count++; return clear.apply(this, a); };
            }
            document.querySelector("[aria-label='Replay']").click();
            setTimeout(() => {
              const [from, begin] = [count, performance.now()];
              setTimeout(() => done((count - from) / (performance.now() - begin) * 1000), {{Seconds}} * 1000);
            }, 2000);
            """
        );
        Console.WriteLine($"replay of {Bodies} bodies: {drawn:F0} pictures a second");
    }

    /// <summary>Bodies of two shapes each in rows of ten, that rise and turn by waves of their own.</summary>
    static object Document()
    {
        var parts = new Dictionary<string, object>();
        var wires = new Dictionary<string, object>();
        for (var i = 0; i < Bodies; i++)
        {
            var (x, y) = (i % 10 * 320, i / 10 * 160);
            parts[$"s{i}"] = new
            {
                type = "Sine",
                name = $"Wave {i}",
                x,
                y,
                parameters = new { f = $"{0.2 + 0.01 * i} Hz" },
            };
            parts[$"b{i}"] = new
            {
                type = "SpaceFrame",
                name = $"Float {i}",
                x = x + 160,
                y,
                parameters = new
                {
                    useX = "false",
                    useRoll = "true",
                    x0 = $"{i % 10 * 4} m",
                    y0 = $"{i / 10 * 4} m",
                },
                shapes = new { hull = Shape("box", 1, 0, new(2, 1, 1)), mast = Shape("cylinder", 2, 1, new(0.3, 0.3, 1)) },
            };
            foreach (var port in (string[])["z", "roll"])
                wires[$"{port}{i}"] = new
                {
                    from = new { part = $"s{i}", port = "y" },
                    to = new { part = $"b{i}", port },
                    bends = Array.Empty<object>(),
                };
        }

        return new
        {
            format = "anchor-bend-model/4",
            root = "main",
            definitions = new
            {
                main = new
                {
                    kind = "diagram",
                    name = "Floats",
                    parts,
                    wires,
                },
            },
            settings = new { end = "60 s" },
        };
    }

    static object Shape(string kind, int order, double above, Sides size) =>
        new
        {
            kind,
            order,
            ink = "face",
            at = new Sides(0, 0, above),
            turn = new Sides(0, 0, 0),
            size,
            measure = 1.0,
            outline = Array.Empty<object>(),
        };

    sealed record Sides(double X, double Y, double Z);
}
