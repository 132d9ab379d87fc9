using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Discontinuities and jumps of the equations that make no events: no error estimate holds across them, so steps end
/// there.</summary>
public class DiscontinuityTests
{
    sealed record Problem(string Text, double[] Times, Func<double, double> Exact);

    static readonly Dictionary<string, Problem> Problems = new()
    {
        // Stiffness 4 on one side of rest, 1 on the other: half waves of π/2 and π.
        ["a spring that is stiffer when pressed"] = new(
            "Real x(start = 0, fixed = true), v(start = 1, fixed = true); equation der(x) = v; der(v) = -x - 3 * max(0, x);",
            [0.8, 4, 20.1],
            t => t % (1.5 * Math.PI) is var s && s < Math.PI / 2 ? Math.Sin(2 * s) / 2 : -Math.Sin(s - Math.PI / 2)
        ),
        ["the same by a table"] = new(
            "Real x(start = 0, fixed = true), v(start = 1, fixed = true); equation der(x) = v; der(v) = -interpolate(x, {-9, 0, 9}, {-9, 0, 36}, \"linear\");",
            [0.8, 4, 20.1],
            t => t % (1.5 * Math.PI) is var s && s < Math.PI / 2 ? Math.Sin(2 * s) / 2 : -Math.Sin(s - Math.PI / 2)
        ),
        ["a force that changes sides without an event"] = new(
            "Real x(start = 0, fixed = true); equation der(x) = noEvent(if sin(time) > 0 then 1 else -1);",
            [2, 5, 30],
            t => t % (2 * Math.PI) is var s && s < Math.PI ? s : 2 * Math.PI - s
        ),
        // v' = -|v|v from 1 after v' = -1 down: v = tan(t₀ - t) rising against gravity, -tanh(t - t₀) falling, with t₀ = π/4.
        ["a throw with drag, up and down"] = new("Real v(start = 1, fixed = true); equation der(v) = -1 - abs(v) * v;", [0.4, 1, 3], t =>
            t < Math.PI / 4 ? Math.Tan(Math.PI / 4 - t) : -Math.Tanh(t - Math.PI / 4)
        ),
    };

    public static TheoryData<string, IntegrationMethod> Cases()
    {
        var data = new TheoryData<string, IntegrationMethod>();
        foreach (var name in Problems.Keys)
        foreach (
            var method in new[]
            {
                IntegrationMethod.Auto,
                IntegrationMethod.DormandPrince54,
                IntegrationMethod.DormandPrince853,
                IntegrationMethod.Radau5,
                IntegrationMethod.BackwardDifferences,
            }
        )
            data.Add(name, method);
        return data;
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void Errors_across_corners_stay_within_the_tolerance(string name, IntegrationMethod method)
    {
        var problem = Problems[name];
        foreach (var tolerance in new[] { 1e-3, 1e-5, 1e-7, 1e-9 })
        {
            var options = new RunOptions
            {
                End = problem.Times[^1],
                Method = method,
                RelativeTolerance = tolerance,
                AbsoluteTolerance = tolerance,
            };
            var values = TextModel.Values(
                problem.Text,
                problem.Text.StartsWith("Real x", StringComparison.Ordinal) ? "x" : "v",
                problem.Times,
                options
            );
            for (var i = 0; i < values.Length; i++)
                Assert.Equal(problem.Exact(problem.Times[i]), values[i], 3 * tolerance * (1 + Math.Abs(values[i])));
        }
    }

    [Theory]
    [InlineData("-sign(x)", IntegrationMethod.Auto), InlineData("-sign(x)", IntegrationMethod.Radau5)]
    [
        InlineData("-noEvent(if x > 0 then 1 else -1)", IntegrationMethod.Auto),
        InlineData("-noEvent(if x > 0 then 1 else -1)", IntegrationMethod.DormandPrince853)
    ]
    public void A_motion_that_slides_along_a_jump_is_told_with_the_way_on(string slope, IntegrationMethod method)
    {
        // From 1 down at rate 1 but for the wave: the jump at zero throws it back for ever.
        var result = TextModel.Run(
            $"Real x(start = 1, fixed = true); equation der(x) = {slope} + 0.3 * cos(time);",
            5,
            new RunOptions { End = 5, Method = method }
        );
        Assert.Equal("chattering", result.Failure?.Code);
        Assert.Contains("'x' passes 0", result.Failure!.Message, StringComparison.Ordinal);
        Assert.Equal(1.2880913, result.Failure.Time, 1e-6);
    }

    [Fact]
    public void Friction_at_rest_is_left_to_the_error_estimate()
    {
        // The speed's sign is smoothed by a steep slope, and the motion creeps along its discontinuities: steps must not be cut at each.
        var result = TextModel.Run(
            "Real v(start = 1, fixed = true); equation der(v) = -max(-1, min(1, 1000 * v)) + 0.5 * sin(3 * time);",
            20,
            new RunOptions
            {
                End = 20,
                RelativeTolerance = 1e-6,
                AbsoluteTolerance = 1e-6,
            }
        );
        Assert.Null(result.Failure);
        Assert.InRange(result.Statistics.Steps, 1, 20_000);
    }
}
