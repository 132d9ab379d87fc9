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
}
