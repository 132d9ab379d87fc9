using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Runs that used to go wrong without a word, or to stop where another method goes on.</summary>
public class RobustRunTests
{
    static readonly IntegrationMethod[] Methods =
    [
        IntegrationMethod.Auto,
        IntegrationMethod.DormandPrince54,
        IntegrationMethod.DormandPrince853,
        IntegrationMethod.Radau5,
        IntegrationMethod.BackwardDifferences,
    ];

    static string Ball(double restitution) =>
        $"Real h(start = 1, fixed = true), v(start = 0, fixed = true); equation der(h) = v; der(v) = -9.81; when h <= 0 then reinit(v, -{restitution:R} * pre(v)); end when;";

    public static TheoryData<double, double> Balls =>
        new()
        {
            { 0.3, 5 },
            { 0.5, 5 },
            { 0.5, 1000 },
            { 0.8, 20 },
            { 0.9, 1000 },
            { 0.99, 100 },
        };

    [Theory]
    [MemberData(nameof(Balls))]
    public void Bounces_that_accumulate_are_told_with_their_instant(double restitution, double end)
    {
        // Falling from 1 m takes √(2/g); flights shrink by e: all end at √(2/g)(1 + e)/(1 − e).
        var instant = Math.Sqrt(2 / 9.81) * (1 + restitution) / (1 - restitution);
        foreach (var method in Methods)
        foreach (var tolerance in (double[])[1e-4, 1e-8])
        {
            var failure = TextModel
                .Run(
                    Ball(restitution),
                    end,
                    new RunOptions
                    {
                        End = end,
                        Method = method,
                        RelativeTolerance = tolerance,
                    }
                )
                .Failure;
            Assert.Equal("chattering", failure?.Code);
            Assert.Equal(instant, failure!.Time, 2e-3 * instant);
            Assert.Contains("h <= 0", failure.Message, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void Bounces_that_end_by_the_model_are_no_fault()
    {
        foreach (var method in Methods)
        {
            var result = TextModel.Run(
                """
                Real h(start = 1, fixed = true), v(start = 0, fixed = true); Boolean rests(start = false, fixed = true);
                equation der(h) = if rests then 0 else v; der(v) = if rests then 0 else -9.81;
                when h <= 0 then rests = abs(v) < 1e-3; reinit(v, if abs(v) < 1e-3 then 0 else -0.5 * pre(v)); end when;
                """,
                10,
                new RunOptions { End = 10, Method = method }
            );
            Assert.Null(result.Failure);
        }
    }

    [Theory]
    [InlineData(0.9, 4)]
    [InlineData(0.99, 30)]
    public void Bounces_before_they_accumulate_are_all_seen(double restitution, double end)
    {
        // Height after flight n, in closed form.
        double start = Math.Sqrt(2 / 9.81),
            speed = 9.81 * start * restitution;
        while (start + 2 * speed / 9.81 < end)
            (start, speed) = (start + 2 * speed / 9.81, speed * restitution);
        var exact = speed * (end - start) - 9.81 / 2 * (end - start) * (end - start);
        foreach (var method in Methods)
            Assert.Equal(exact, TextModel.Values(Ball(restitution), "h", [end], new RunOptions { End = end, Method = method })[0], 1e-5);
    }

    [Theory]
    [InlineData("Real v(start = 0.1, fixed = true); equation der(v) = 4 * sign(0.1 - v) - 4 - 10 * time;", "v", 1, -4.9)]
    [InlineData(
        "Real v(start = 1, fixed = true); discrete Integer n(start = 0, fixed = true); equation der(v) = -sqrt(v); when v < 1e-6 then n = pre(n) + 1; end when;",
        "v",
        2,
        0
    )]
    public void The_automatic_method_goes_on_where_another_one_does(string text, string name, double end, double exact)
    {
        foreach (var tolerance in (double[])[1e-3, 1e-4, 1e-5, 1e-6, 1e-7, 1e-8, 1e-9])
        {
            var result = TextModel.Run(text, end, new RunOptions { End = end, RelativeTolerance = tolerance });
            Assert.True(result.Failure is null, $"{tolerance}: {result.Failure?.Message}");
            var prepared = TextModel.Prepare(text);
            Assert.Equal(exact, result.Trace.At(prepared.Compiled!.Plan.RepresentativeOf(name), end), 100 * tolerance);
        }
    }

    [Fact]
    public void A_method_that_was_replaced_is_told()
    {
        var result = TextModel.Run(
            "Real v(start = 1, fixed = true); discrete Integer n(start = 0, fixed = true); equation der(v) = -sqrt(v); when v < 1e-6 then n = pre(n) + 1; end when;",
            2
        );
        Assert.Null(result.Failure);
        var change = Assert.Single(result.Statistics.Switches, s => s.Instead is not null);
        Assert.Equal(2, change.Time, 0.01);
        Assert.Contains(RunNote.Of(result.Statistics, null), n =>
            n.Code == "method-replaced" && n.Message.Contains(change.Instead!, StringComparison.Ordinal)
        );
    }

    [Fact]
    public void What_no_method_can_pass_still_ends_with_its_reason() =>
        Assert.Contains(
            TextModel.Run("Real x(start = 1, fixed = true); equation der(x) = x ^ 2;", 2).Failure!.Code,
            (string[])["step-collapse", "not-finite"]
        );

    [Theory]
    [InlineData(IntegrationMethod.Auto)]
    [InlineData(IntegrationMethod.Radau5)]
    [InlineData(IntegrationMethod.BackwardDifferences)]
    public void A_largest_step_finds_a_short_pulse_after_a_long_rest(IntegrationMethod method)
    {
        const string text = "Real x(start = 0, fixed = true); equation der(x) = exp(-((time - 5) / 1e-3) ^ 2);";
        Assert.Equal(
            1e-3 * Math.Sqrt(Math.PI),
            TextModel.Values(
                text,
                "x",
                [10],
                new RunOptions
                {
                    End = 10,
                    Method = method,
                    LargestStep = 1e-3,
                }
            )[0],
            1e-8
        );
    }

    [Fact]
    public void A_largest_step_must_be_positive() => Assert.NotNull(new RunOptions { End = 1, LargestStep = 0 }.Problem());

    [Theory]
    [InlineData("Real x(start = 1e-12, fixed = true); equation der(x) = -x;", true)]
    [InlineData("Real x(start = 1e-12, fixed = true, nominal = 1e-12); equation der(x) = -x;", false)]
    [InlineData("Real x(start = 1, fixed = true); equation der(x) = -x;", false)]
    [InlineData("Real x(start = 0, fixed = true); equation der(x) = -x;", false)]
    public void A_state_below_the_tolerance_is_named(string text, bool expected)
    {
        var notes = RunNote.Of(TextModel.Run(text, 1).Statistics, null);
        Assert.Equal(expected, notes.Any(n => n.Code == "small-state" && n.Message.Contains("'x'", StringComparison.Ordinal)));
    }

    [Theory]
    [InlineData(2)]
    [InlineData(12)]
    [InlineData(200)]
    public void A_chain_of_integrators_has_no_steady_start(int count)
    {
        var text = $"Real x[{count}]; equation der(x[1]) = 1; for i in 2:{count} loop der(x[i]) = x[i - 1]; end for;";
        Assert.Equal("steady", TextModel.Run(text, 1, new RunOptions { End = 1, SteadyStart = true }).Failure?.Code);
    }
}
