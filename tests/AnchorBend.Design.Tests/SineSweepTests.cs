using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design.Identification;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>Responses measured on running models, beside formulas and describing functions.</summary>
public class SineSweepTests
{
    static readonly RunOptions Method = new()
    {
        End = 1,
        RelativeTolerance = 1e-8,
        AbsoluteTolerance = 1e-10,
    };

    static IReadOnlyList<SweepPoint> Measure(
        string text,
        string at,
        double[] frequencies,
        double amplitude,
        Action<SweepOptionsChange>? change = null
    )
    {
        var prepared = TextModel.Prepare(text);
        var wanted = new SweepOptionsChange();
        change?.Invoke(wanted);
        return SineSweep.Run(
            prepared,
            new ParameterSet(prepared.Model),
            at,
            new SweepOptions(frequencies, amplitude, wanted.At, wanted.From, wanted.To, wanted.Limits, Method)
        );
    }

    sealed class SweepOptionsChange
    {
        public double? At { get; set; }
        public string? From { get; set; }
        public string? To { get; set; }
        public IReadOnlyList<(string, double)> Limits { get; set; } = [];
    }

    static void Near(Complex expected, SweepPoint point, double share)
    {
        Assert.Null(point.Problem);
        Assert.True((point.Value - expected).Magnitude < share * expected.Magnitude, $"{point.Value} for {expected} at {point.Frequency}");
    }

    const string Loop =
        "PID c(k = 2, Ti = 1.5); TransferFunction f(b = {1}, a = {1, 2, 1}); equation c.r = 1; connect(c.u, f.u); connect(f.y, c.y);";

    [Fact]
    public void The_loop_of_a_linear_model_is_its_open_loop()
    {
        foreach (var p in Measure(Loop, "c.u", [0.3, 1, 3], 0.01))
        {
            var s = new Complex(0, p.Frequency);
            // Waves count as settled when a thousandth is left.
            Near(2 * (1 + 1 / (1.5 * s)) / ((s + 1) * (s + 1)), p, 2e-3);
            Assert.InRange(p.Coherence, 0.9999, 1);
            Assert.InRange(p.Purity, 0.999, 1);
        }
    }

    [Fact]
    public void The_plant_is_measured_in_the_closed_loop()
    {
        foreach (var p in Measure(Loop, "c.u", [0.5, 2], 0.01, o => (o.From, o.To) = ("f.u", "f.y")))
        {
            var s = new Complex(0, p.Frequency);
            Near(1 / ((s + 1) * (s + 1)), p, 2e-3);
        }
    }

    /// <summary>A dead zone passes (2/π)(π/2 − asin x − x √(1 − x²)) of a sine, x = half width over amplitude (the describing function,
    /// Khalil, "Nonlinear Systems", section 7.2): one number for each amplitude, which no linear model has.</summary>
    [Theory]
    [InlineData(2.0)]
    [InlineData(5.0)]
    public void A_dead_zone_answers_as_its_describing_function(double amplitude)
    {
        var point = Measure(
            "Gain g(k = 1); DeadZone z(lower = -1, upper = 1); Integrator i; equation g.u = 0; connect(g.y, z.u); connect(z.y, i.u);",
            "g.y",
            [2],
            amplitude,
            o => (o.At, o.From, o.To) = (0.1, "z.u", "z.y")
        )[0];

        var x = 1 / amplitude;
        Near(2 / Math.PI * (Math.PI / 2 - Math.Asin(x) - x * Math.Sqrt(1 - x * x)), point, 2e-3);
        Assert.True(point.Purity < 0.999);
    }

    /// <summary>A sample and hold delays by half its period on the mean: (1 − e^(−sT))/(sT).</summary>
    [Fact]
    public void A_hold_answers_as_its_formula()
    {
        const double T = 0.1;
        var point = Measure(
            "Gain g(k = 1); SampleHold h(T = 0.1); Integrator i; equation g.u = 0; connect(g.y, h.u); connect(h.y, i.u);",
            "g.y",
            [2 * Math.PI / 1.0],
            1,
            o => (o.At, o.From, o.To) = (0.5, "h.u", "h.y")
        )[0];

        var s = new Complex(0, point.Frequency);
        Near((1 - Complex.Exp(-s * T)) / (s * T), point, 5e-3);
    }

    [Fact]
    public void What_moves_by_itself_is_no_part_of_the_answer()
    {
        var disturbed =
            "PID c(k = 2, Ti = 1.5); TransferFunction f(b = {1}, a = {1, 2, 1}); "
            + "Sine w(amplitude = 1, f = 0.11); Sum d(signs = {1, 1}); equation c.r = 1; "
            + "connect(c.u, d.u[1]); connect(w.y, d.u[2]); connect(d.y, f.u); connect(f.y, c.y);";
        foreach (var p in Measure(disturbed, "c.u", [0.5, 2], 0.01, o => o.At = 3))
        {
            var s = new Complex(0, p.Frequency);
            Near(2 * (1 + 1 / (1.5 * s)) / ((s + 1) * (s + 1)), p, 4e-3);
            Assert.True(p.Purity < 0.5);
        }
    }

    [Fact]
    public void What_moves_further_than_it_may_ends_the_test()
    {
        var point = Measure(Loop, "c.u", [0.3], 5, o => o.Limits = [("f.y", 0.1)])[0];

        Assert.Contains("f.y", point.Problem!, StringComparison.Ordinal);
        Assert.Contains("smaller amplitude", point.Problem!, StringComparison.Ordinal);
    }

    [Fact]
    public void Behind_pulses_that_never_fit_into_a_window_the_mean_of_many_is_the_answer()
    {
        // Pulses of 6.3 ms make a ripple that is another one in each window; on the whole they are the signal itself.
        const string text =
            "Constant c(k = 0.4); Sawtooth saw(period = 0.0063); Lag l(T = 0.05); equation l.u = if c.y > saw.y then 1 else 0;";
        foreach (var p in Measure(text, "c.y", [10, 31], 0.1, w => w.To = "l.y"))
        {
            Near(1 / new Complex(1, 0.05 * p.Frequency), p, 0.03);
            Assert.InRange(p.Coherence, 0.9, 1);
        }
    }

    [Fact]
    public void What_still_rises_is_waited_for()
    {
        // A slow part of a thousandth of the frequency: its windows change by little, and all the same way.
        const string text = "Constant c(k = 0); Lag slow(T = 40), l(T = 0.05); equation connect(c.y, l.u); slow.u = c.y;";
        foreach (var p in Measure(text, "c.y", [2], 0.1, w => w.To = "slow.y"))
            Near(1 / new Complex(1, 40 * p.Frequency), p, 5e-3);
    }

    [Fact]
    public void A_wave_that_a_fixed_step_cannot_follow_is_not_measured()
    {
        var prepared = TextModel.Prepare(Loop);
        var fixedStep = new RunOptions
        {
            End = 1,
            Method = IntegrationMethod.RungeKutta4,
            Step = 0.01,
        };
        var points = SineSweep.Run(
            prepared,
            new ParameterSet(prepared.Model),
            "c.u",
            new SweepOptions([1, 100], 0.01, null, null, null, [], fixedStep)
        );

        Assert.Null(points[0].Problem);
        Assert.Contains("step", points[1].Problem!, StringComparison.Ordinal);
    }

    [Fact]
    public void A_model_without_rest_says_so_at_each_frequency()
    {
        var points = Measure("Gain g(k = 1); Integrator i; equation g.u = 1; connect(g.y, i.u);", "g.y", [1, 2], 0.1);

        Assert.All(points, p => Assert.NotEmpty(p.Problem!));
    }

    [Fact]
    public void Names_and_settings_that_make_no_sense_are_refused()
    {
        Assert.Equal("unknown-name", Assert.Throws<DesignException>(() => Measure(Loop, "c.uu", [1], 1)).Code);
        Assert.Equal("amplitude", Assert.Throws<DesignException>(() => Measure(Loop, "c.u", [1], 0)).Code);
        Assert.Equal("frequency", Assert.Throws<DesignException>(() => Measure(Loop, "c.u", [-1], 1)).Code);
    }
}
