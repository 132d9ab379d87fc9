using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>J12, the plant: a winch with a synchronous machine, its control as a level and in the open, by PI and by rejection.</summary>
[Collection("application")]
public sealed class J12Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    /// <summary>Waits until the speed is what is wanted, within a part in fifty.</summary>
    void IsFollowed(double wanted) =>
        bench.Until(
            () => bench.Plotted("speed wanted") == wanted && Math.Abs(bench.Plotted("speed") - wanted) < 0.02 * Math.Abs(wanted),
            $"the speed {wanted}"
        );

    [Fact]
    public void J12_The_control_of_a_synchronous_machine_is_exchanged()
    {
        bench.OpenExample("Winch with synchronous machine");
        bench.WaitForRun();
        // Steps to 80 at 0.5 s, to 160 at 2 s, back to −80 at 3.5 s; the net fills at 5 s.
        bench.SetTime(0.5);
        IsFollowed(160);

        foreach (var law in (string[])["Proportional-integral", "Disturbance-rejecting"])
        {
            bench.Select("Drive control");
            var revision = bench.Revision;
            bench.Click(By.CssSelector($"input[aria-label='Put {law} in']"));
            bench.Until(() => bench.Revision > revision, "the edit");
            bench.WaitSaved();
            bench.WaitForRun();
            IsFollowed(160);
            bench.SetTime(0.98);
            IsFollowed(-80);
            bench.SetTime(0.5);
        }

        bench.NoConsoleErrors();
    }

    /// <summary>Both laws as code on this machine: the speed comes from the panel, and the other law takes over while it turns.</summary>
    [Fact]
    public void J12_Code_has_the_machine_and_is_exchanged_while_it_turns()
    {
        bench.OpenExample("Winch with synchronous machine");
        bench.WaitForRun();
        bench.Press("Deliver");
        bench.Until(() => Told("What is handed on").Contains("proportional_integral.c", StringComparison.Ordinal), "the code");
        bench.Press("This machine");
        bench.Until(() => Target.Contains("connected", StringComparison.Ordinal), "the target", 60);
        // From the panel, while it stands: the slider goes one step, and the other law gets the machine.
        bench.Click(By.CssSelector("button[aria-label='Pause']"));
        bench.Until(() => bench.All("button[aria-label='Go on']").Count == 1, "that it stands");
        bench.Find(By.CssSelector("[aria-label='Operator panel'] [role='slider'][aria-label='Speed by hand']")).SendKeys(Keys.ArrowRight);
        bench.Click(By.CssSelector("button[title='Hand over to Disturbance-rejecting']"));
        bench.Until(() => bench.All("button[title='Hand over to Proportional-integral']").Count == 1, "the choice");
        bench.Click(By.CssSelector("button[aria-label='Go on']"));
        bench.Until(() => Target.Contains("Handed over at", StringComparison.Ordinal), "the other law");
        bench.Until(() => Target.Contains("ended", StringComparison.Ordinal), "the end", 60);
        Assert.NotEqual(-80, bench.Plotted("speed wanted"));
        // Both have made steps, and the machine follows to the end.
        Assert.DoesNotContain("no step yet", Target, StringComparison.Ordinal);
        Assert.Equal(bench.Plotted("speed wanted"), bench.Plotted("speed"), 3.0);
        bench.NoConsoleErrors();
    }

    string Told(string label) => bench.Find(By.CssSelector($"[aria-label='{label}']")).Text;

    string Target => Told("Code on a target");
}
