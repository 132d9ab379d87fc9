using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>The page one begins on: models in folders, the trash, examples, lessons, and the help.</summary>
[Collection("application")]
public sealed class StartTests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    void Open(string place = "") => bench.Driver.Navigate().GoToUrl($"{application.Address}/#/{place}");

    static By Row(string name) => By.XPath($"//li[contains(@class, 'start-row')][.//*[text()='{name}']]");

    void Do(string name, string action)
    {
        bench.Field($"What can be done with {name}").Click();
        bench.Click(By.XPath($"//li[@role='menuitem'][contains(., '{action}')]"));
    }

    bool IsThere(string name) => bench.Driver.FindElements(Row(name)).Count > 0;

    [Fact]
    public void Models_show_their_level_their_course_and_their_verdicts_and_open_by_keyboard()
    {
        Open();
        IWebElement Shown() => bench.Find(Row("Hatchery tank, first loop"));
        bench.Until(() => Shown().FindElements(By.CssSelector(".start-thumb svg")).Count == 1, "the picture");
        bench.Until(() => Shown().FindElements(By.CssSelector(".start-curve path")).Count == 1, "the course");
        Assert.Contains("met", Shown().FindElement(By.CssSelector(".start-verdicts")).Text);
        bench.Keys("/winch");
        bench.Until(() => IsThere("Plankton winch") && !IsThere("Hatchery tank, first loop"), "the models that are found");
        bench.Driver.ExecuteScript("document.activeElement.blur()");
        bench.Keys(Keys.ArrowDown + Keys.Enter);
        bench.Find(By.CssSelector(".build-diagram"));
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_model_is_renamed_put_into_a_folder_with_a_tag_into_the_trash_and_taken_out_again()
    {
        bench.NewModel();
        bench.WaitSaved();
        Open();
        bench.Find(Row("Untitled model"));
        Do("Untitled model", "Rename");
        bench.Field("Name of the model").SendKeys("Lock gate" + Keys.Enter);
        bench.Until(() => IsThere("Lock gate"), "the new name");

        Do("Lock gate", "Folder and tags");
        bench.Find(By.CssSelector("[role=dialog] [aria-label='Folder'], [role=dialog] input[role=combobox]")).SendKeys("Trials/Spring");
        bench.Find(By.CssSelector("[role=dialog] .ant-select-multiple input")).SendKeys("urgent,");
        bench.Press("Put it there");
        bench.Until(() => bench.All(".start-choice").Any(c => c.Text.StartsWith("Spring", StringComparison.Ordinal)), "the folder");
        bench.Click(By.XPath("//button[contains(@class, 'start-choice')][.//span[text()='urgent']]"));
        bench.Until(() => bench.All(".start-row").Count == 1 && IsThere("Lock gate"), "the models with the tag");
        bench.Click(By.XPath("//button[contains(@class, 'start-choice')][.//span[text()='urgent']]"));

        Do("Lock gate", "Put into the trash");
        bench.Until(() => !IsThere("Lock gate"), "the model to go");
        bench.Click(By.XPath("//button[contains(@class, 'start-choice')][.//span[text()='Trash']]"));
        bench.Until(() => IsThere("Lock gate"), "the model in the trash");
        Do("Lock gate", "Take out of the trash");
        bench.Until(() => !IsThere("Lock gate"), "the trash to be empty");
        bench.Click(By.XPath("//button[contains(@class, 'start-choice')][.//span[text()='All models']]"));
        bench.Until(() => IsThere("Lock gate"), "the model to be back");
        // What was done is still so after another start of the page.
        bench.Driver.Navigate().Refresh();
        bench.Until(() => IsThere("Lock gate"), "the model");
        Do("Lock gate", "Put into the trash");
        bench.Until(() => !IsThere("Lock gate"), "the model to go");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void A_lesson_follows_what_one_does_and_is_taken_up_again()
    {
        Open();
        bench.Click(By.XPath("//section[@aria-label='Your first loop in ten steps']//button[contains(., 'Begin')]"));
        IWebElement Card() => bench.Find(By.CssSelector("section[aria-label='Your first loop in ten steps']"));
        bench.Until(() => Card().Text.Contains("Place a tank", StringComparison.Ordinal), "the first step");
        bench.Place("integrator", 560, 220);
        bench.Until(() => Card().Text.Contains("Fill it by a valve", StringComparison.Ordinal), "the second step");
        bench.Place("lag", 360, 220);
        bench.Connect("Lag", "y", "Integrator", "u");
        bench.Until(() => Card().Text.Contains("Open the valve", StringComparison.Ordinal), "the third step");
        bench.Press("Pass this over");
        bench.Until(() => Card().Text.Contains("see the level", StringComparison.Ordinal), "the fourth step");
        bench.WaitSaved();

        Open();
        bench.Click(By.XPath("//button[contains(., 'Go on: run it, see the level')]"));
        bench.Until(() => Card().Text.Contains("see the level", StringComparison.Ordinal), "where one was");
        bench.Press("End the lesson");
        bench.Until(() => bench.All("section[aria-label='Your first loop in ten steps']").Count == 0, "the lesson to go");
        bench.NoConsoleErrors();
    }

    [Fact]
    public void Help_is_found_by_words_and_opened_for_what_is_selected()
    {
        Open("help");
        bench.Until(() => bench.Find(By.CssSelector(".help-article h2")).Text == "The bench", "the first topic");
        bench.Field("Find in the help").SendKeys("unit-clash");
        bench.Click(By.LinkText("unit-clash"));
        bench.Until(() => bench.Find(By.CssSelector(".help-article")).Text.Contains("Remedy", StringComparison.Ordinal), "the finding");

        bench.OpenExample("Hatchery tank, first loop");
        bench.Part("Sensor").Click();
        bench.Keys(Keys.F1);
        bench.Until(() => bench.Find(By.CssSelector("[role=dialog] .help-article h2")).Text == "Lag", "the help for the selected part");
        Assert.NotEmpty(bench.All("[role=dialog] .katex"));
        bench.NoConsoleErrors();
    }
}
