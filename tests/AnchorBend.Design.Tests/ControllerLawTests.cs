using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

public class ControllerLawTests
{
    /// <summary>A loop that is cut at its controller: from the measured value to the output, with the sign left out.</summary>
    static (LinearSystem Part, PidGains Gains, ControllerLaw Law) Cut(string controller)
    {
        var (part, gains, law) = CutAny(controller);
        return (part, (PidGains)gains, law);
    }

    static (LinearSystem Part, LoopController Gains, ControllerLaw Law) CutAny(string controller)
    {
        var prepared = TextModel.Prepare($"{controller}; Real y; equation y = 0; c.y = y; c.r = 0;");
        var parameters = new ParameterSet(prepared.Model);
        var (law, gains) = LoopDesign.Controller(prepared, parameters, "c");
        return (
            Linearizer.Between(prepared, OperatingPoint.AtTime(prepared, parameters, 1e-6, new RunOptions { End = 1 }), "y", "c.u"),
            gains,
            law
        );
    }

    [Theory]
    [InlineData("ParallelPID c(kp = 2, ki = 3, kd = 0.4, Tf = 0.02)")]
    [InlineData("ParallelPID c(kp = 2, ki = 3)")]
    [InlineData("ParallelPID c(kp = -2, ki = -3, kd = -0.4)")]
    [InlineData("SeriesPID c(k = 2, Ti = 1.5, Td = 0.3, N = 12)")]
    [InlineData("SeriesPID c(k = 2, Ti = 1.5, Td = 0)")]
    [InlineData("PID c(form = PID.Form.PID, k = 2, Ti = 1.5, Td = 0.3)")]
    [InlineData("DisturbanceRejection c(b0 = 0.7, wc = 2, ratio = 4)")]
    [InlineData("DisturbanceRejection c(order = DisturbanceRejection.Order.Second, b0 = -0.7, wc = 2, ratio = 4)")]
    public void Gains_that_are_read_do_what_the_part_does(string controller)
    {
        var (part, gains, _) = CutAny(controller);
        foreach (var w in (double[])[0.1, 1, 10, 300])
        {
            var (expected, found) = (-part.At(new Complex(0, w)), gains.Feedback(new Complex(0, w)));
            Assert.True((expected - found).Magnitude < 1e-9 * expected.Magnitude, $"{found} instead of {expected} at {w}");
        }
    }

    [Theory]
    [InlineData("ParallelPID c", PidForm.PID)]
    [InlineData("ParallelPID c", PidForm.PD)]
    [InlineData("ParallelPID c", PidForm.P)]
    [InlineData("SeriesPID c", PidForm.PID)]
    [InlineData("SeriesPID c", PidForm.PI)]
    public void Gains_that_are_written_are_read_again(string controller, PidForm form)
    {
        var (_, present, law) = Cut(controller);
        var wanted = present with { Form = form, K = 1.7, Ti = 2, Td = form is PidForm.PI or PidForm.P ? 0 : 0.3, N = 10 };
        var written = law.Write(wanted).ToDictionary(p => p.Name, p => p.Value);
        var read = law.Read(name => written.TryGetValue(name, out var v) ? v : 1);
        foreach (var w in (double[])[0.1, 1, 30])
        {
            var (expected, found) = (wanted.Feedback(new Complex(0, w)), read.Feedback(new Complex(0, w)));
            Assert.True((expected - found).Magnitude < 1e-9 * expected.Magnitude, $"{found} instead of {expected} at {w}");
        }
    }

    [Fact]
    public void A_series_form_has_no_complex_zeros_and_says_so()
    {
        var (_, present, law) = Cut("SeriesPID c");
        var refused = Assert.Throws<DesignException>(() => law.Write(present with { Form = PidForm.PID, K = 1, Ti = 1, Td = 0.8, N = 10 }));
        Assert.Equal("series", refused.Code);
    }

    [Fact]
    public void The_best_gains_of_a_series_form_can_be_written()
    {
        var plant = LinearSystem.Of(
            new double[,]
            {
                { -1, 0, 0 },
                { 1, -1, 0 },
                { 0, 1, -1 },
            },
            [1, 0, 0],
            [0, 0, 1],
            0
        );
        var (_, present, law) = Cut("SeriesPID c");
        var shape = present with { Form = PidForm.PID, N = 10 };
        var series = RobustPid.Best(plant, shape, new LoopLimits(1.6), LoopGoal.IntegralGain)!;
        Assert.NotEmpty(law.Write(series.Gains));
        Assert.InRange(series.Pid().Ti / series.Pid().ShortestTi(series.Pid().Td), 0.9999, 100);
        // All times with real zeros by steps, each with the largest gain that keeps the peak.
        var grid = Enumerable.Range(0, 200).Select(i => new Complex(0, 0.03 * Math.Pow(1000, i / 199.0))).ToArray();
        var largest = 0.0;
        for (var td = 0.1; td < 2; td *= 1.05)
        for (var ti = shape.ShortestTi(td); ti < 8; ti *= 1.05)
        {
            var loop = grid.Select(s => (1 + 1 / (ti * s) + td * s / (1 + td / 10 * s)) * plant.At(s)).ToArray();
            for (var k = Math.Max(0.2, largest * ti); loop.Max(l => 1 / (1 + k * l).Magnitude) <= 1.6 && k < 20; k *= 1.01)
                largest = Math.Max(largest, k / ti);
        }

        Assert.InRange(series.Pid().Parallel.Ki / largest, 0.98, 1.1);
    }

    [Fact]
    public void A_part_without_the_parameters_of_a_controller_is_none()
    {
        var prepared = TextModel.Prepare("Gain c(k = 2); equation c.u = 1;");
        Assert.Equal(
            "not-a-controller",
            Assert.Throws<DesignException>(() => LoopDesign.Controller(prepared, new ParameterSet(prepared.Model), "c")).Code
        );
    }

    [Fact]
    public void A_part_with_a_parameter_T_and_no_samples_is_no_sampled_controller()
    {
        var prepared = TextModel.Prepare(
            "block Own input Real r; input Real y; output Real u; parameter Real k = 1; parameter Real Ti = 1; parameter Real T = 0.1; "
                + "Real x(start = 0); equation T * der(x) = k * (r - y) / Ti - x; u = x; end Own; "
                + "model M Own c; Lag p(T = 1); equation c.r = 1; connect(c.u, p.u); connect(p.y, c.y); end M;"
        );
        Assert.Equal(
            "not-a-controller",
            Assert.Throws<DesignException>(() => LoopDesign.Controller(prepared, new ParameterSet(prepared.Model), "c")).Code
        );
    }

    [Fact]
    public void A_schedule_is_read_where_the_model_stands_and_kept_at_its_ends()
    {
        (double K, double Ti, double Td) At(double quantity)
        {
            var prepared = TextModel.Prepare(
                "ScheduledPID c(at = {1, 3, 4}, k = {2, 6, 5}, Ti = {1, 2, 2}, Td = {0, 0.4, 0.4}); Real y; equation y = 0; c.y = y; c.r = 0; "
                    + FormattableString.Invariant($"c.s = {quantity};")
            );
            var parameters = new ParameterSet(prepared.Model);
            var point = OperatingPoint.AtTime(prepared, parameters, 1e-6, new RunOptions { End = 1 });
            var (law, gains) = LoopDesign.Controller(prepared, parameters, "c", point);
            Assert.True(law.IsScheduled);
            // The part itself does the same about that point.
            var part = Linearizer.Between(prepared, point, "y", "c.u");
            foreach (var w in (double[])[0.3, 3, 30])
                Assert.True((-part.At(new Complex(0, w)) / gains.Feedback(new Complex(0, w)) - 1).Magnitude < 1e-9);
            return gains is PidGains pid ? (pid.K, pid.Ti, pid.Td) : default;
        }

        Assert.Equal((4, 1.5, 0.2), At(2));
        Assert.Equal((5, 2, 0.4), At(9));
        Assert.Equal((2, 1), (At(0).K, At(0).Ti));
    }
}
