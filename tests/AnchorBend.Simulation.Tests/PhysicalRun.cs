using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Models of physical parts, run closely enough that what is left is the model and not the method.</summary>
static class PhysicalRun
{
    public static RunOptions Tight { get; } =
        new()
        {
            End = 1,
            RelativeTolerance = 1e-9,
            AbsoluteTolerance = 1e-11,
        };

    /// <summary>A variable at instants, the last of which is the end of the run.</summary>
    public static double[] Values(string text, string name, params double[] times) =>
        [.. TextModel.Values(text, name, [0, .. times], Tight with { End = times[^1] }).Skip(1)];

    public static double Value(string text, string name, double time) => Values(text, name, time)[0];

    /// <summary>Asserts that a value is the expected one up to a part of it.</summary>
    public static void Near(double expected, double actual, double relative = 1e-6) =>
        Assert.True(Math.Abs(actual - expected) <= relative * Math.Max(1e-6, Math.Abs(expected)), $"{actual:R}, not {expected:R}");
}
