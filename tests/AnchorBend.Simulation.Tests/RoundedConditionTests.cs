using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Conditions that are near zero for so long that rounding alone decides about them.</summary>
public class RoundedConditionTests
{
    [Theory]
    [InlineData(1e-3), InlineData(1e-5), InlineData(1e-7), InlineData(1e-9)]
    public void Waves_that_cross_slowly_cross_once(double tolerance)
    {
        // sin 2π0.4t = sin 2π0.77t at t = j/0.37 and t = (2k + 1)/2.34: 14 times until 9 s. Beside the crossings both are rounded to and
        // fro.
        const string text =
            "Sine a(f = 0.4); Sine b(f = 0.77); Compare c(twoInputs = true); Counter n; equation connect(a.y, c.u1); connect(b.y, c.u2); connect(c.y, n.u);";
        var prepared = TextModel.Prepare(text);
        var result = TextModel.Run(
            prepared,
            new RunOptions
            {
                End = 9,
                RelativeTolerance = tolerance,
                AbsoluteTolerance = tolerance,
            }
        );
        Assert.Null(result.Failure);
        Assert.Equal(7, result.Trace[result.Trace.Rows - 1, prepared.Compiled!.Plan.RepresentativeOf("n.y")]);
    }

    [Theory]
    [InlineData(IntegrationMethod.Auto), InlineData(IntegrationMethod.BackwardDifferences), InlineData(IntegrationMethod.Radau5)]
    public void What_rounding_leaves_of_a_mean_is_no_event(IntegrationMethod method)
    {
        // While the trapezoid rests at zero its sliding mean is a difference of two equal numbers; the integrator asks for its sign. Each
        // false event came back from the delay for ever.
        const string text =
            "Trapezoid w; SlidingMean m(T = 0.2257); Gain g(k = -0.7); LimitedIntegrator i(upper = 1.339); equation connect(w.y, m.u); connect(m.y, g.u); connect(g.y, i.u);";
        var result = TextModel.Run(text, 5, new RunOptions { End = 5, Method = method });
        Assert.Null(result.Failure);
        Assert.InRange(result.Statistics.Events, 40, 400);
    }
}
