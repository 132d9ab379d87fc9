using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>A machine with arm and hydraulics: the quay crane moves in its scene, any pressure is found and plotted, its modes are seen.</summary>
[Collection("application")]
public sealed class J18Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    string At => bench.Find(By.CssSelector(".observe-scene canvas")).GetAttribute("aria-label")!;

    int Strips => bench.All("section.observe-tile[aria-label='Angles and pressures'] canvas").Count;

    [Fact]
    public void J18_A_machine_with_arm_and_hydraulics()
    {
        bench.OpenExample("Quay crane");
        bench.Click(By.XPath("//nav//button[contains(., 'Observe')]"));
        bench.Until(() => bench.All(".observe-scene canvas").Count == 1, "the scene", 60);
        bench.Until(() => At.Contains("26", StringComparison.Ordinal), "its end");

        // Forces as arrows, names that lead to parts.
        bench.Press("Forces");
        bench.Until(() => bench.Button("Forces").GetAttribute("aria-pressed") == "true", "the forces");

        // Replayed slowly.
        bench.Choose("Speed of the replay", "1/4");
        bench.Press("Replay");
        bench.Until(() => !At.Contains("26", StringComparison.Ordinal), "an instant within the run");
        var seen = At;
        bench.Until(() => At != seen, "a later instant");
        bench.Press("Stop");
        bench.Click(By.XPath("//*[@aria-label='Camera']//label[normalize-space(.)='Orbit']"));
        bench.Click(By.XPath("//*[@aria-label='Camera']//label[normalize-space(.)='Follow']"));

        // A pressure that nobody chose before.
        var strips = Strips;
        var field = bench.Field("Search signals");
        field.Click();
        field.SendKeys("pressure line");
        bench.Until(
            () => bench.All(".observe-found-signal").Any(b => b.Text.Contains("bar", StringComparison.Ordinal)),
            "the pressure of the line"
        );
        bench.Keys(Keys.Enter);
        bench.Until(() => Strips == strips + 1, "its strip");
        bench.WaitSaved();

        bench.Click(By.XPath("//*[@aria-label='Camera']//label[normalize-space(.)='Fixed']"));
        bench.Press("Names");
        bench.Click(By.XPath("//*[contains(@class,'observe-scene')]//button[normalize-space(.)='Jib']"));
        bench.Until(
            () => bench.Find(By.CssSelector("[aria-label='Inspector']")).Text.Contains("Jib", StringComparison.Ordinal),
            "the part"
        );
        bench.NoConsoleErrors();
    }
}
