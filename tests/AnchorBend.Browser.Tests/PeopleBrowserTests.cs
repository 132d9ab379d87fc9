using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Two people in two browsers on a server that serves whom it knows.</summary>
public sealed class PeopleBrowserTests(GuardedApplication application) : IClassFixture<GuardedApplication>, IDisposable
{
    const string Password = "kelp and cold water";

    readonly BenchPage ines = new(application);
    readonly BenchPage mats = new(application);

    public void Dispose()
    {
        ines.Dispose();
        mats.Dispose();
    }

    void Open(BenchPage browser, string place = "") => browser.Driver.Navigate().GoToUrl($"{application.Address}/#/{place}");

    static void Type(BenchPage browser, string label, string text) =>
        browser.Find(By.XPath($"//input[@id=//label[normalize-space()='{label}']/@for]")).SendKeys(text);

    static void IsIn(BenchPage browser, string name) =>
        browser.Until(() => browser.Find(By.CssSelector($"[aria-label='{name}: account']")).Displayed, "to be in");

    /// <summary>The administrator, who makes the account where it is not there yet.</summary>
    void ComeIn()
    {
        Open(ines);
        ines.Until(() => ines.All("input[type=password]").Count == 1, "the way in");
        if (ines.Driver.FindElements(By.XPath("//label[normalize-space()='Code from the console']")).Count > 0)
            Type(ines, "Code from the console", application.Code);
        Type(ines, "Name", "ines");
        Type(ines, "Password", Password);
        ines.Click(By.CssSelector("button[type=submit]"));
        IsIn(ines, "ines");
    }

    [Fact]
    public void The_first_lets_the_second_in_who_looks_and_is_seen_but_does_not_change()
    {
        ComeIn();

        Open(ines, "people");
        Type(ines, "Name", "mats");
        Type(ines, "First password", Password);
        ines.Press("Add");
        ines.Until(() => ines.All("[aria-label='mats may sign in']").Count == 1, "the account");

        Open(mats);
        Type(mats, "Name", "mats");
        Type(mats, "Password", "not that one at all");
        mats.Press("Sign in");
        mats.Until(
            () => mats.Find(By.CssSelector("[role=alert]")).Text.Contains("do not belong together", StringComparison.Ordinal),
            "to be refused"
        );
        mats.Find(By.CssSelector("input[type=password]")).SendKeys(Keys.Control + "a");
        mats.Find(By.CssSelector("input[type=password]")).SendKeys(Password);
        mats.Press("Sign in");
        IsIn(mats, "mats");

        // Both look at one model; each sees where the other is.
        ines.OpenExample("Hatchery tank, first loop");
        var address = ines.Driver.Url;
        mats.Driver.Navigate().GoToUrl(address);
        mats.Find(By.CssSelector(".build-diagram .canvas-part"));
        mats.Until(() => mats.Find(By.CssSelector(".app-only-view")).Displayed, "the word that it is to look at only");
        mats.Part("Sensor").Click();
        ines.Until(() => ines.Find(By.CssSelector(".build-other")).Text == "mats", "what the other has selected");
        ines.Find(By.CssSelector("[aria-label='Go to mats']"));

        // What one may not change stays as it is, with the reason.
        mats.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        mats.Keys(Keys.Delete);
        mats.Until(() => mats.Find(By.CssSelector("[role=alert]")).Text.Contains("not change it", StringComparison.Ordinal), "the reason");
        mats.Until(() => mats.Parts == 7, "the part to be back");

        // What the one changes, the other sees.
        ines.Part("Sensor").Click();
        ines.Driver.ExecuteScript("document.querySelector('.build-diagram').focus()");
        ines.Keys(Keys.Delete);
        mats.Until(() => mats.Parts == 6, "the change");
    }

    [Fact]
    public void Who_is_signed_out_meanwhile_signs_in_again_and_loses_no_edit()
    {
        ComeIn();
        ines.NewModel();
        ines.Place("gain", 400, 200);
        ines.WaitSaved();
        ines.Driver.ExecuteAsyncScript("const done = arguments[0]; fetch('/api/sign-out', { method: 'POST' }).then(() => done());");
        ines.Part("Gain").Click();
        ines.Chord(Keys.Control, "d");
        Type(ines, "Name", "ines");
        Type(ines, "Password", Password);
        ines.Click(By.CssSelector("[role=dialog] button[type=submit]"));
        ines.WaitSaved();
        ines.Driver.Navigate().Refresh();
        ines.Until(() => ines.Parts == 2, "both parts, stored");
    }
}
