namespace AnchorBend.Media.Tests;

/// <summary>Functions that equations call: their slopes are those of their values.</summary>
public class FluidFunctionTests
{
    static FluidProperty Named(string name) => FluidFunctions.All.Single(f => f.Name == name);

    [Theory]
    [InlineData("fluidTemperature", 2e5, 2e5)]
    [InlineData("fluidDensity", 2e5, 2e5)]
    [InlineData("fluidDensity", 2e5, 1.5e6)]
    [InlineData("fluidDensity", 2e5, 2.9e6)]
    [InlineData("fluidPressure", 990, 2e5)]
    [InlineData("fluidPressure", 995, 1e5)]
    [InlineData("fluidPressure", 40, 1e6)]
    [InlineData("fluidPressure", 2, 2.6e6)]
    [InlineData("fluidViscosity", 2e5, 2e5)]
    [InlineData("fluidEnthalpy", 2e5, 330)]
    [InlineData("pipeReynolds", 3e5, 1e-3)]
    [InlineData("pipeReynolds", 3e9, 1e-3)]
    [InlineData("pipeReynolds", -100, 1e-3)]
    [InlineData("pipeNusselt", 5000, 6)]
    public void A_slope_is_that_of_the_value(string name, double x, double y)
    {
        var f = Named(name);
        var first = f.Arity == 4 ? 2 : 0;
        double At(double dx, double dy) => f.Arity == 4 ? f.Value(1, 0, x + dx, y + dy) : f.Value(x + dx, y + dy, 0.01, 0);
        for (var k = 0; k < 2; k++)
        {
            if (f.Slopes[first + k] is not { } slope)
                continue;
            var step = 1e-6 * Math.Abs(k == 0 ? x : y);
            var difference = k == 0 ? (At(step, 0) - At(-step, 0)) / (2 * step) : (At(0, step) - At(0, -step)) / (2 * step);
            var told = f.Arity == 4 ? slope(1, 0, x, y) : slope(x, y, 0.01, 0);
            Assert.Equal(difference, told, 2e-3 * Math.Abs(difference) + 1e-12);
        }
    }

    [Fact]
    public void Friction_is_smooth_where_its_law_changes()
    {
        foreach (var roughness in new[] { 0, 1e-4, 1e-2 })
        {
            var before = 0.0;
            for (var k = 1e4; k < 1e8; k *= 1.001)
            {
                var re = PipeFlow.Reynolds(k, roughness);
                Assert.True(re > before, $"{k}");
                // No step anywhere: a thousandth more of what drives moves it by at most a few thousandths.
                Assert.True(before == 0 || re < 1.003 * before, $"{k}: {before} to {re}");
                before = re;
            }
        }

        Assert.Equal(2000, PipeFlow.Reynolds(128000, 0), 1e-9);
        Assert.Equal(-PipeFlow.Reynolds(5e6, 1e-3), PipeFlow.Reynolds(-5e6, 1e-3));
    }
}
