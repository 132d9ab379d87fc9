using System.Collections.ObjectModel;
using System.Globalization;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Interactions;

namespace AnchorBend.Browser.Tests;

/// <summary>The bench as a user sees it: finds things by their names and drives mouse and keyboard.</summary>
public sealed class BenchPage : IDisposable
{
    readonly Application application;
    readonly string address;
    readonly string profile = Application.NewProfile();

    public BenchPage(Application application)
    {
        this.application = application;
        if (application.Ended is { } why)
            throw new InvalidOperationException(why);
        address = application.Address;
        Driver = Application.Browser(profile);
    }

    public ChromeDriver Driver { get; }

    public void Dispose() => Application.Close(Driver, profile);

    /// <summary>Waits for a condition, as long as a machine with other work may need; the last error is told when it does not
    /// come.</summary>
    public T Until<T>(Func<T> condition, string what, double seconds = 45)
    {
        var end = DateTime.UtcNow.AddSeconds(seconds);
        Exception? last = null;
        while (DateTime.UtcNow < end)
        {
            try
            {
                var value = condition();
                if (value is not null && !value.Equals(false))
                    return value;
            }
            catch (Exception e) when (e is WebDriverException or InvalidOperationException or FormatException)
            {
                last = e;
            }

            // The browser works while nothing is asked of it.
            Thread.Sleep(20);
        }

        throw new TimeoutException($"waited in vain for {what}. {last?.Message} {application.Ended}\n{Shown()}");
    }

    /// <summary>Where the browser is, what it shows and what its console says, as the message of a test that failed.</summary>
    string Shown()
    {
        try
        {
            var text = Driver.FindElement(By.TagName("body")).Text;
            var console = Driver.Manage().Logs.GetLog(LogType.Browser).TakeLast(5).Select(e => e.Message);
            return $"at {Driver.Url}:\n{text[..Math.Min(text.Length, 800)]}\nconsole: {string.Join(" | ", console)}";
        }
        catch (WebDriverException e)
        {
            return $"the browser does not answer: {e.Message}";
        }
    }

    public IWebElement Find(By by) => Until(() => Driver.FindElement(by), by.ToString());

    public ReadOnlyCollection<IWebElement> All(string css) => Driver.FindElements(By.CssSelector(css));

    public IWebElement Button(string text) => Find(ButtonWith(text));

    /// <summary>Clicks a button as soon as it can be: one in a list that is still unfolding takes no click yet.</summary>
    public void Press(string text) => Click(ButtonWith(text));

    static By ButtonWith(string text) => By.XPath($"//button[contains(normalize-space(.), \"{text}\")]");

    public void Click(By by) =>
        Until(
            () =>
            {
                Driver.FindElement(by).Click();
                return true;
            },
            $"a click on {by}"
        );

    public void Keys(string keys) => new Actions(Driver).SendKeys(keys).Perform();

    public void Chord(string modifier, string key) => new Actions(Driver).KeyDown(modifier).SendKeys(key).KeyUp(modifier).Perform();

    public void NewModel()
    {
        Driver.Navigate().GoToUrl(address);
        Click(By.XPath("//button[contains(., 'New model')]"));
        Find(By.CssSelector(".build-diagram"));
    }

    public void OpenExample(string name)
    {
        Driver.Navigate().GoToUrl($"{address}/#/examples");
        Click(By.XPath($"//li[h3[text()='{name}']]//button"));
        Find(By.CssSelector(".build-diagram .canvas-part"));
        WaitForRun();
    }

    public IWebElement Diagram => Find(By.CssSelector(".build-diagram"));

    public IWebElement Part(string name) => Find(By.XPath($"//*[@data-part and starts-with(@aria-label, '{name}, ')]"));

    public int Parts => All("[data-part]").Count;

    public int Wires => All(".canvas-wire").Count;

    public long Revision => long.Parse(Find(By.CssSelector(".app-saved")).GetAttribute("data-revision")!, CultureInfo.InvariantCulture);

    /// <summary>Waits until all edits are stored.</summary>
    public void WaitSaved() => Until(() => Find(By.CssSelector(".app-saved")).GetAttribute("data-saving") == "0", "the edits to be saved");

    public (int X, int Y) Center(IWebElement element)
    {
        var r =
            (Dictionary<string, object>)
                Driver.ExecuteScript(
                    "const r = arguments[0].getBoundingClientRect(); return { x: r.left + r.width / 2, y: r.top + r.height / 2 };",
                    element
                )!;
        return (
            (int)Math.Round(Convert.ToDouble(r["x"], CultureInfo.InvariantCulture)),
            (int)Math.Round(Convert.ToDouble(r["y"], CultureInfo.InvariantCulture))
        );
    }

    public (int X, int Y) Port(string part, string port) =>
        Center(Until(() => Part(part).FindElement(By.CssSelector($"[data-port='{port}']")), $"port {port} of {part}"));

    /// <summary>Presses, moves in steps and lets go, in coordinates of the window.</summary>
    public void Drag((int X, int Y) from, (int X, int Y) to, string? modifier = null)
    {
        var mouse = new PointerInputDevice(PointerKind.Mouse);
        var keyboard = new KeyInputDevice();
        var steps = new ActionBuilder();
        if (modifier is not null)
            steps.AddAction(keyboard.CreateKeyDown(modifier[0]));
        steps.AddAction(mouse.CreatePointerMove(CoordinateOrigin.Viewport, from.X, from.Y, TimeSpan.Zero));
        steps.AddAction(mouse.CreatePointerDown(MouseButton.Left));
        steps.AddAction(
            mouse.CreatePointerMove(
                CoordinateOrigin.Viewport,
                from.X + Math.Sign(to.X - from.X) * 4,
                from.Y + Math.Sign(to.Y - from.Y) * 4,
                TimeSpan.FromMilliseconds(20)
            )
        );
        steps.AddAction(
            mouse.CreatePointerMove(CoordinateOrigin.Viewport, (from.X + to.X) / 2, (from.Y + to.Y) / 2, TimeSpan.FromMilliseconds(30))
        );
        steps.AddAction(mouse.CreatePointerMove(CoordinateOrigin.Viewport, to.X, to.Y, TimeSpan.FromMilliseconds(30)));
        steps.AddAction(mouse.CreatePointerUp(MouseButton.Left));
        if (modifier is not null)
            steps.AddAction(keyboard.CreateKeyUp(modifier[0]));
        Driver.PerformActions(steps.ToActionSequenceList());
    }

    public void ClickAt((int X, int Y) at) => Click(at, MouseButton.Left, 1);

    /// <summary>Double-clicks, and once more where that did not arrive: what is being fitted into view may move away from under the
    /// pointer, and a busy machine may take the two presses too far apart.</summary>
    public void DoubleClick(Func<IWebElement> on, Func<bool> done, string what)
    {
        var again = DateTime.MinValue;
        Until(
            () =>
            {
                if (done())
                    return true;
                if (DateTime.UtcNow < again)
                    return false;
                Click(Center(on()), MouseButton.Left, 2);
                again = DateTime.UtcNow.AddSeconds(2);
                return false;
            },
            what
        );
    }

    public IWebElement PartNow(string name) => Driver.FindElement(By.XPath($"//*[@data-part and starts-with(@aria-label, '{name}, ')]"));

    public void ContextClickAt((int X, int Y) at) => Click(at, MouseButton.Right, 1);

    void Click((int X, int Y) at, MouseButton button, int times)
    {
        var mouse = new PointerInputDevice(PointerKind.Mouse);
        var steps = new ActionBuilder();
        steps.AddAction(mouse.CreatePointerMove(CoordinateOrigin.Viewport, at.X, at.Y, TimeSpan.Zero));
        for (var n = 0; n < times; n++)
        {
            steps.AddAction(mouse.CreatePointerDown(button));
            steps.AddAction(mouse.CreatePointerUp(button));
        }

        Driver.PerformActions(steps.ToActionSequenceList());
    }

    /// <summary>Clicks on something that shows only under the pointer.</summary>
    public void HoverAndClick(By by) => new Actions(Driver).MoveToElement(Find(by)).Click().Perform();

    /// <summary>Clicks into the open diagram at a place relative to its corner, so that keys go there.</summary>
    public (int X, int Y) Open(int x, int y)
    {
        var r =
            (Dictionary<string, object>)
                Driver.ExecuteScript("const r = arguments[0].getBoundingClientRect(); return { x: r.left, y: r.top };", Diagram)!;
        return (
            (int)Convert.ToDouble(r["x"], CultureInfo.InvariantCulture) + x,
            (int)Convert.ToDouble(r["y"], CultureInfo.InvariantCulture) + y
        );
    }

    /// <summary>Places a part by typing its name on the canvas.</summary>
    public void Place(string typed, int x, int y)
    {
        var before = Parts;
        ClickAt(Open(x, y));
        Keys(typed[..1]);
        Until(() => Driver.FindElements(By.CssSelector(".build-quick-place input")).Count == 1, "the field for a part's name");
        Keys(typed[1..] + OpenQA.Selenium.Keys.Enter);
        Until(() => Parts == before + 1, $"the part {typed}");
    }

    public void Connect(string from, string output, string to, string input)
    {
        Drag(Port(from, output), Port(to, input));
        WaitSaved();
    }

    public IWebElement Field(string label) => Find(By.CssSelector($"[aria-label='{label}']"));

    /// <summary>Types into a field of the inspector and presses Enter.</summary>
    public void SetField(string label, string text)
    {
        var field = Field(label);
        field.Click();
        field.SendKeys(OpenQA.Selenium.Keys.Control + "a");
        field.SendKeys(text + OpenQA.Selenium.Keys.Enter);
        WaitSaved();
    }

    /// <summary>Chooses in a selection list until it shows the choice; a list that opens or is drawn anew may lose a click.</summary>
    public void Choose(string label, string option)
    {
        Until(
            () =>
            {
                var list = Driver.FindElement(
                    By.XPath($"//*[@aria-label='{label}' or @id='{label}']/ancestor-or-self::div[contains(@class,'ant-select')][last()]")
                );
                if (list.Text.Contains(option, StringComparison.Ordinal))
                    return true;
                // Lists that were opened before stay in the page, unseen.
                var options = Driver.FindElements(By.XPath($"//div[contains(@class,'ant-select-item-option')][contains(., '{option}')]"));
                if (options.FirstOrDefault(o => o.Displayed) is { } found)
                    found.Click();
                else if (!list.GetAttribute("class")!.Contains("ant-select-open", StringComparison.Ordinal))
                    list.Click();
                return false;
            },
            $"the choice {option} of {label}"
        );
        WaitSaved();
    }

    /// <summary>Selects a part by its name's tab, which no port covers.</summary>
    public void Select(string name)
    {
        ClickAt(Center(Part(name).FindElement(By.CssSelector(".canvas-part-name"))));
        Until(
            () => (Driver.FindElements(By.CssSelector(".inspector-title")) is [var title] ? title.GetAttribute("value") : "") == name,
            $"{name} in the inspector"
        );
    }

    public void WaitForRun() =>
        Until(() => Find(By.CssSelector(".run-took")).Text.Contains("ms", StringComparison.Ordinal), "a run to finish");

    /// <summary>Sets the time bar to a fraction of the run and reads the instant.</summary>
    public double SetTime(double part)
    {
        var r =
            (Dictionary<string, object>)
                Driver.ExecuteScript(
                    "const r = document.querySelector('.run-track').getBoundingClientRect(); return { x: r.left, y: r.top, w: r.width };"
                )!;
        ClickAt(
            (
                (int)(
                    Convert.ToDouble(r["x"], CultureInfo.InvariantCulture) + part * Convert.ToDouble(r["w"], CultureInfo.InvariantCulture)
                ),
                (int)Convert.ToDouble(r["y"], CultureInfo.InvariantCulture) + 22
            )
        );
        return double.Parse(Find(By.CssSelector(".run-track")).GetAttribute("aria-valuenow")!, CultureInfo.InvariantCulture);
    }

    /// <summary>The value the legend shows for a plotted signal at the time bar.</summary>
    public double Plotted(string signal) =>
        Until(
            () =>
            {
                var text = Driver
                    .FindElement(By.CssSelector($"[data-signal-value='{signal}']"))
                    .Text.Split(' ')[0]
                    .Replace("−", "-", StringComparison.Ordinal);
                return (double?)double.Parse(text, CultureInfo.InvariantCulture);
            },
            $"the value of {signal}"
        )!.Value;

    /// <summary>Fails with all that the page wrote to its console as errors; edits and models that are refused are no faults of
    /// it.</summary>
    public void NoConsoleErrors()
    {
        var errors = Driver
            .Manage()
            .Logs.GetLog(LogType.Browser)
            .Where(e => e.Level == LogLevel.Severe)
            .Select(e => e.Message)
            .Where(m => !m.Contains("422", StringComparison.Ordinal) && !m.Contains("409", StringComparison.Ordinal))
            .ToArray();
        if (errors.Length > 0)
            Assert.Fail("The page wrote errors to its console:\n" + string.Join('\n', errors));
    }
}
