using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>Requirements with rules over time.</summary>
[Collection("application")]
public sealed class VerifyTests : IDisposable
{
    readonly BenchPage bench;

    public VerifyTests(Application application) => bench = new BenchPage(application);

    public void Dispose() => bench.Dispose();

    IWebElement Line(string name) => bench.Find(By.XPath($"//table[@aria-label='Requirements']/tbody/tr[contains(., '{name}')]"));

    [Fact]
    public void A_rule_over_time_is_checked_while_it_is_typed_and_tells_each_occasion()
    {
        bench.OpenExample("Tide gate");
        bench.Press("Verify");
        bench.Until(() => Line("Opens for the ebb").Text.Contains("met", StringComparison.Ordinal), "the verdict of a rule");
        Line("Opens for the ebb").Click();
        bench.Until(
            () => bench.Find(By.CssSelector("[aria-label='Occasions']")).Text.Contains("before its time is over", StringComparison.Ordinal),
            "what came of each occasion"
        );

        bench.Press("Add a requirement");
        bench.Find(By.Id("name")).SendKeys("Never shut");
        bench.Choose("of", "A rule over time");
        bench.Find(By.Id("rule")).SendKeys("always openin > 0.1 m");
        bench.Until(
            () => bench.Find(By.CssSelector("[role=dialog]")).Text.Contains("Did you mean 'opening'", StringComparison.Ordinal),
            "the help"
        );
        bench.Find(By.Id("rule")).SendKeys(Keys.Control + "a");
        bench.Find(By.Id("rule")).SendKeys("always opening > 0.1 m");
        bench.Find(By.Id("identifier")).SendKeys("TG-10");
        bench.Press("Save");
        bench.Until(
            () =>
                Line("Never shut").Text is var text
                && text.Contains("met", StringComparison.Ordinal)
                && text.Contains("TG-10", StringComparison.Ordinal),
            "the verdict on the new rule",
            20
        );

        // A rule that is missed says when.
        Line("Never shut").FindElement(By.CssSelector("button")).SendKeys(Keys.Enter);
        bench.Click(By.CssSelector("[aria-label='Change Never shut']"));
        bench.Find(By.Id("rule")).SendKeys(Keys.Control + "a");
        bench.Find(By.Id("rule")).SendKeys("never opening > 0.5 m");
        bench.Press("Save");
        bench.Until(() => Line("Never shut").Text.Contains("missed", StringComparison.Ordinal), "the miss");
        bench.Until(
            () => bench.Find(By.CssSelector(".app-chip.app-missed")).Text.Contains("Never shut", StringComparison.Ordinal),
            "the chip"
        );
        bench.NoConsoleErrors();
    }
}
