using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design.Identification;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>Responses from steps, pulses and relays beside a closed loop, against the plant's formula.</summary>
public class TransientTestTests
{
    /// <summary>2/((s + 1)(0.5 s + 1)) with a PI around it; the test is added behind the controller.</summary>
    const string Loop =
        "PID c(k = 0.6, Ti = 1.5); Lag a(k = 2, T = 1, y0 = 1); Lag b(T = 0.5, y0 = 1); "
        + "equation c.r = 1; c.y = b.y; a.u = c.u; b.u = a.y;";

    static Complex Plant(double w) => 2 / ((new Complex(0, w) + 1) * (0.5 * new Complex(0, w) + 1));

    static TransientTest Test(string text, TestKind kind, double duration, double height = 0.01, double? limit = null, double? at = null)
    {
        var prepared = TextModel.Prepare(text);
        return TransientTest.Run(
            prepared,
            new ParameterSet(prepared.Model),
            "c.u",
            new TransientOptions(
                kind,
                height,
                duration,
                at,
                "c.y",
                limit is { } most ? [("c.y", most)] : [],
                new RunOptions
                {
                    End = 1,
                    RelativeTolerance = 1e-9,
                    AbsoluteTolerance = 1e-11,
                }
            )
        );
    }

    [Theory]
    [InlineData(TestKind.Step, 40)]
    [InlineData(TestKind.Pulse, 40)]
    public void A_step_and_a_pulse_show_the_plant_through_the_closed_loop(TestKind kind, double duration)
    {
        var test = Test(Loop, kind, duration);
        Assert.True(test.Points.Count > 15);
        foreach (var p in test.Points.Where(p => p.Frequency < 6))
            Assert.True((p.Value - Plant(p.Frequency)).Magnitude < 0.01 * Plant(p.Frequency).Magnitude, $"{p.Value} at {p.Frequency}");
        Assert.True(test.Output.Max(Math.Abs) > 1e-3);
        Assert.True(test.Moved < 1e-6);
    }

    [Fact]
    public void A_relay_swings_at_the_frequency_that_limits_the_loop_and_shows_the_plant_there()
    {
        // With a dead time the loop swings where its phase, with the relay's, is a half turn.
        const string late =
            "PID c(k = 0.3, Ti = 2); Lag a(k = 2, T = 1, y0 = 1); DeadTime d(T = 0.4); equation c.r = 1; c.y = d.y; a.u = c.u; d.u = a.y;";
        var test = Test(late, TestKind.Relay, 40);
        Assert.Equal(3, test.Points.Count);
        foreach (var p in test.Points)
        {
            var s = new Complex(0, p.Frequency);
            var plant = 2 / (s + 1) * Complex.Exp(-0.4 * s);
            Assert.True((p.Value - plant).Magnitude < 0.02 * plant.Magnitude, $"{p.Value} instead of {plant} at {p.Frequency}");
        }

        // G/(1 + C G) turns by half a circle there, as the relay sees it, but for what its upper harmonics, a ninth and less, add.
        var at = new Complex(0, test.Points[0].Frequency);
        var loop = 2 / (at + 1) * Complex.Exp(-0.4 * at);
        Assert.Equal(Math.PI, Math.Abs((loop / (1 + 0.3 * (1 + 1 / (2 * at)) * loop)).Phase), 0.06);
    }

    [Fact]
    public void A_signal_that_moves_too_far_ends_the_test()
    {
        var refusal = Assert.Throws<DesignException>(() => Test(Loop, TestKind.Step, 40, height: 1, limit: 0.01));
        Assert.Equal("limit", refusal.Code);
    }

    [Fact]
    public void An_answer_that_has_not_settled_is_no_response()
    {
        Assert.Equal("unsettled", Assert.Throws<DesignException>(() => Test(Loop, TestKind.Step, 2)).Code);
        // A plant that nothing holds is carried away by a step.
        const string open = "PID c(form = PID.Form.P, k = 0); Integrator i(k = 1); equation c.r = 0; c.y = i.y; i.u = c.u;";
        Assert.Equal("unsettled", Assert.Throws<DesignException>(() => Test(open, TestKind.Step, 10)).Code);
    }

    [Fact]
    public void A_model_that_moves_by_itself_is_told()
    {
        var moving = Loop.Replace("c.r = 1", "c.r = if time < 8 then 1 else 3", StringComparison.Ordinal);
        var test = Test(moving, TestKind.Step, 40);
        Assert.True(test.Moved > 1);
        var soon = moving.Replace("time < 8", "time < 1", StringComparison.Ordinal);
        var refusal = Assert.Throws<DesignException>(() => Test(soon, TestKind.Step, 2));
        Assert.Contains("Without the test", refusal.Advice, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(0, 10, "amplitude")]
    [InlineData(0.1, 0, "duration")]
    [InlineData(double.NaN, 10, "amplitude")]
    public void Settings_that_make_no_sense_are_refused(double height, double duration, string code) =>
        Assert.Equal(code, Assert.Throws<DesignException>(() => Test(Loop, TestKind.Step, duration, height)).Code);

    [Fact]
    public void A_form_that_is_too_small_still_comes_near()
    {
        // Three lags by one: no better than some parts in ten, but no nothing either.
        var frequencies = Enumerable.Range(0, 30).Select(i => 0.02 * Math.Pow(1000, i / 29.0)).ToArray();
        var response = frequencies
            .Select(w => 170 / ((67 * new Complex(0, w) + 1) * (15 * new Complex(0, w) + 1) * (10 * new Complex(0, w) + 1)))
            .ToArray();
        var fit = RationalFit.Of(frequencies, response, new FitForm(0, 2, 0, false));
        Assert.InRange(fit.At(frequencies[0]).Magnitude / response[0].Magnitude, 0.3, 3);
        Assert.InRange(fit.At(frequencies[^1]).Magnitude / response[^1].Magnitude, 0.02, 50);
    }
}
