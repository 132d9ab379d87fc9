using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Json;
using System.Text.Json;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

// Measures in the browser: from Enter in a parameter field to the new curve on screen, and frames while a large diagram moves.
CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
var folder = Directory.CreateTempSubdirectory("anchor-bend-latency-").FullName;
var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true };
foreach (var argument in new[] { ".build/server/AnchorBend.Server.dll", "--urls", "http://127.0.0.1:0", "--data", folder })
    start.ArgumentList.Add(argument);
using var server = Process.Start(start)!;
try
{
    string line;
    do line = server.StandardOutput.ReadLine() ?? throw new InvalidOperationException("the server did not start");
    while (!line.Contains("ready at", StringComparison.Ordinal));
    var address = line[line.IndexOf("http", StringComparison.Ordinal)..].Trim();
    using var client = new HttpClient { BaseAddress = new Uri(address) };
    var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
    options.AddArguments(
        "--headless=new",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--window-size=1280,900",
        "--user-data-dir=" + Directory.CreateTempSubdirectory("anchor-bend-chromium-").FullName
    );
    using var driver = new ChromeDriver(ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver"), options);
    driver.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(60);
    driver.Manage().Timeouts().ImplicitWait = TimeSpan.FromSeconds(10);
    try
    {
        var demo = (
            await (await client.PostAsJsonAsync("/api/models", new { example = "winch-flat" })).Content.ReadFromJsonAsync<JsonElement>()
        )
            .GetProperty("id")
            .GetString();
        driver.Navigate().GoToUrl($"{address}/#/models/{demo}");
        driver.FindElement(By.CssSelector("[aria-label^='Depth controller'] .canvas-part-name")).Click();
        driver.FindElement(By.CssSelector(".run-track")).Click();
        driver.FindElement(By.CssSelector("[data-signal-value='payout speed']"));
        var times =
            (IReadOnlyCollection<object>)
                driver.ExecuteAsyncScript(
                    """
                    const done = arguments[arguments.length - 1];
                    const took = [];
                    const put = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set;
                    const once = (n) => {
                      const field = document.querySelector("[aria-label='Gain']");
                      const legend = document.querySelector("[data-signal-value='payout speed']");
                      field.focus();
                      put.call(field, `${(n % 2 ? 0.5 + 0.005 * n : 1 + 0.005 * n).toFixed(3)} 1/s`);
                      field.dispatchEvent(new Event("input", { bubbles: true }));
                      setTimeout(() => {
                        const before = legend.textContent;
                        const begin = performance.now();
                        field.dispatchEvent(new KeyboardEvent("keydown", { key: "Enter", code: "Enter", bubbles: true }));
                        const look = () => {
                          if (document.querySelector("[data-signal-value='payout speed']").textContent === before) { requestAnimationFrame(look); return; }
                          requestAnimationFrame(() => { took.push(performance.now() - begin); n < 40 ? once(n + 1) : done(took); });
                        };
                        requestAnimationFrame(look);
                      }, 400);
                    };
                    once(1);
                    """
                )!;
        var sorted = times.Select(t => Convert.ToDouble(t, CultureInfo.InvariantCulture)).Skip(5).Order().ToArray();
        Console.WriteLine(
            $"Enter to new curve on the demo: median {sorted[sorted.Length / 2]:F0} ms, nine of ten within {sorted[sorted.Length * 9 / 10]:F0} ms ({sorted.Length} edits)"
        );

        await Panels.Measure(driver, client, address);
        await Scenes.Measure(driver, client, address);
        if (args is ["scene"])
            return;

        // The catalog with parts of the user's own, to 250 in all.
        var shipped = (await client.GetFromJsonAsync<JsonElement>("/api/catalog")).GetArrayLength();
        for (var i = shipped; i < 250; i++)
            (
                await client.PutAsJsonAsync(
                    $"/api/package/Own{i}",
                    new
                    {
                        text = $"block Own{i} \"Own part {i}\" input Real u \"In\"; output Real y \"Out\"; equation y = {i} * u; end Own{i};",
                    }
                )
            ).EnsureSuccessStatusCode();
        driver.Navigate().GoToUrl($"{address}/#/models/{demo}");
        driver.Navigate().Refresh();
        driver.FindElement(By.CssSelector("[aria-label^='Depth controller'] .canvas-part-name"));
        string Search(string open, string field, string list) =>
            driver
                .ExecuteAsyncScript(
                    $$"""
                    const done = arguments[arguments.length - 1];
                    const put = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set;
                    const waitFor = (f) => new Promise((ok) => { const look = () => { const e = f(); e ? ok(e) : requestAnimationFrame(look); }; look(); });
                    const painted = () => new Promise((ok) => requestAnimationFrame(() => setTimeout(ok, 0)));
                    (async () => {
                      const took = [], letters = [];
                      for (let n = 0; n < 12; n++) {
                        const begin = performance.now();
                        {{open}}
                        const field = await waitFor(() => document.querySelector("{{field}}"));
                        await waitFor(() => document.querySelector("{{list}}"));
                        await painted();
                        took.push(performance.now() - begin);
                        for (const text of ["g", "ga", "gai", "gain", "ow", "der", "kg.m2"]) {
                          const start = performance.now();
                          put.call(field, text);
                          field.dispatchEvent(new Event("input", { bubbles: true }));
                          await painted();
                          letters.push(performance.now() - start);
                        }
                        put.call(field, ""); field.dispatchEvent(new Event("input", { bubbles: true })); await painted();
                        field.dispatchEvent(new KeyboardEvent("keydown", { key: "Escape", code: "Escape", bubbles: true }));
                        if (document.querySelector("{{field}}")) [...document.querySelectorAll("button")].find((b) => b.ariaLabel === "Close the left pane")?.click();
                        await waitFor(() => !document.querySelector("{{field}}"));
                      }
                      took.sort((a, b) => a - b); letters.sort((a, b) => a - b);
                      return `open ${took[6].toFixed(0)} ms, a letter ${letters[letters.length >> 1].toFixed(0)} ms, worst ${letters[letters.length - 1].toFixed(0)} ms`;
                    })().then(done, (e) => done("failed: " + e));
                    """
                )!
                .ToString()!;
        Console.WriteLine(
            $"placing with 250 parts: {Search("document.querySelector('.build-diagram').focus(); document.querySelector('.build-diagram').dispatchEvent(new KeyboardEvent('keydown', { key: '/', code: 'Slash', bubbles: true }));", ".build-quick-place input", ".build-quick-place li")}"
        );
        Console.WriteLine(
            $"the catalog drawer with 250 parts: {Search("[...document.querySelectorAll('button')].find((b) => b.textContent === 'Catalog').click();", "[aria-label='Search parts']", ".build-catalog-part")}"
        );

        foreach (var count in (int[])[200, 2000])
            await LargeModels.Measure(driver, client, address, count);
    }
    finally
    {
        driver.Quit();
    }
}
finally
{
    server.Kill(true);
    server.WaitForExit();
    Directory.Delete(folder, true);
}
