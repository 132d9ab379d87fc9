using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Conditions on delayed signals whose past has its breakpoints just where the condition changes.</summary>
public class DelayedCrossingTests
{
    public static TheoryData<IntegrationMethod, double, double, double> Cases()
    {
        var data = new TheoryData<IntegrationMethod, double, double, double>();
        foreach (
            var method in (IntegrationMethod[])
                [
                    IntegrationMethod.Auto,
                    IntegrationMethod.DormandPrince54,
                    IntegrationMethod.DormandPrince853,
                    IntegrationMethod.Radau5,
                    IntegrationMethod.BackwardDifferences,
                ]
        )
        foreach (
            var (delay, level) in ((double, double)[])
                [(0.25, 0.5), (0.125, 0.375), (0.1, 0.3), (0.2, 0.8), (0.7, 0.4), (1.0 / 3, 2.0 / 3), (0.25, 0.25)]
        )
        foreach (var tolerance in (double[])[1e-4, 1e-6, 1e-9])
            data.Add(method, delay, level, tolerance);
        return data;
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void Each_tooth_is_counted_once(IntegrationMethod method, double delay, double level, double tolerance)
    {
        // The delayed saw tooth passes the level at level + delay + k: within six seconds for all k up to 6 − level − delay.
        var text =
            $"Real x(start = 0, fixed = true); Real y; discrete Integer n(start = 0, fixed = true); equation der(x) = 1; when x >= 1 then reinit(x, 0); end when; "
            + $"y = delay(x, {delay:R}); when y > {level:R} then n = pre(n) + 1; end when;";
        var options = new RunOptions
        {
            End = 6.001,
            Method = method,
            RelativeTolerance = tolerance,
            AbsoluteTolerance = 1e-3 * tolerance,
        };
        Assert.Equal(Math.Floor(6.001 - level - delay) + 1, TextModel.Values(text, "n", [6.001], options)[0]);
    }
}
