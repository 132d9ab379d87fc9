using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design.Identification;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

public class RejectionTests
{
    /// <summary>Gain over s^order.</summary>
    static LinearSystem Chain(int order, double gain) =>
        order == 1
            ? LinearSystem.Of(new double[1, 1], [gain], [1], 0)
            : LinearSystem.Of(
                new double[,]
                {
                    { 0, 1 },
                    { 0, 0 },
                },
                [0, gain],
                [1, 0],
                0
            );

    /// <summary>1/(s + 1)³, behind a dead time.</summary>
    static LinearSystem Lags(double delay) =>
        CrossingTests.Plant(
            "TransferFunction f(b = {1}, a = {1, 3, 3, 1}); "
                + (
                    delay > 0
                        ? FormattableString.Invariant($"DeadTime d(T = {delay}); equation f.u = 0; connect(f.y, d.u);")
                        : "equation f.u = 0;"
                ),
            "f.u",
            delay > 0 ? "d.y" : "f.y"
        );

    [Theory]
    [InlineData(1, 0.4)]
    [InlineData(2, 0.4)]
    [InlineData(2, -3)]
    public void An_integrator_with_a_known_gain_follows_the_set_point_at_the_bandwidth(int order, double gain)
    {
        // With y exactly estimated what is left is wc^n/(s + wc)^n.
        var closed = new RejectionGains(order, gain, 2, 5).ClosedLoop(Chain(order, gain));
        foreach (var w in (double[])[0.1, 1, 2, 7, 40])
        {
            var expected = Complex.Pow(2 / (new Complex(0, w) + 2), order);
            Assert.True((closed.At(new Complex(0, w)) - expected).Magnitude < 1e-9, $"at {w}");
        }
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public void At_samples_it_does_so_too(int order)
    {
        const double t = 0.1,
            wc = 2;
        var plant = SampledPlane.Of(Discretisation.Of(Chain(order, 0.4), t, Hold.Zoh), t);
        var closed = new RejectionGains(order, 0.4, wc, 5) { Period = t }.ClosedLoop(plant);
        foreach (var w in (double[])[0.1, 1, 5, 20])
        {
            var z = Complex.Exp(new Complex(0, w * t));
            // With the state known, y+ = y + t wc (r − y), or the double integrator with the acceleration wc² (r − y) − 2 wc v.
            var expected =
                order == 1
                    ? t * wc / (z - 1 + t * wc)
                    : wc * wc * t * t / 2 * (z + 1) / ((z - 1) * (z - 1) + 2 * wc * t * (z - 1) + wc * wc * t * t / 2 * (z + 1));
            Assert.True((closed.At(new Complex(0, SampledPlane.Place(w, t))) - expected).Magnitude < 1e-9, $"at {w}");
        }
    }

    [Theory]
    [InlineData(1, 0)]
    [InlineData(2, 0)]
    [InlineData(1, 0.05)]
    [InlineData(2, 0.05)]
    public void The_integrated_error_of_a_load_step_is_the_inverse_of_the_integral_gain(int order, double period)
    {
        var gains = new RejectionGains(order, 0.8, 1.3, 4) { Period = period };
        // Below the frequency at which the terms of the next order would show, which go with its square.
        var s = new Complex(0, 1e-4);
        var loaded = gains.LoadedLoop(Lags(0)).At(s);
        Assert.Equal(1, (loaded / s).Real * gains.IntegralGain, 1e-6);
    }

    [Theory]
    [InlineData("First", 1.2)]
    [InlineData("Second", 0.9)]
    public void The_running_part_does_at_its_samples_what_is_said_of_it(string order, double bandwidth)
    {
        const double t = 0.1;
        var prepared = TextModel.Prepare(
            FormattableString.Invariant(
                $"SampledDisturbanceRejection c(T = {t}, order = SampledDisturbanceRejection.Order.{order}, b0 = 2, wc = {bandwidth}, ratio = 4); "
            ) + "SecondOrder p(w = 2, D = 0.7); equation c.r = 1; connect(c.u, p.u); connect(p.y, c.y);"
        );
        var parameters = new ParameterSet(prepared.Model);
        var point = OperatingPoint.AtTime(prepared, parameters, 1e-6, new RunOptions { End = 1 });
        var design = LoopDesign.Of(prepared, parameters, "c", point);
        Assert.IsType<RejectionGains>(design.Present);
        var expected = StepResponse.Samples(design.Present.ClosedLoop(design.Plant), t).Take(80).ToArray();
        using var run = new RunSession(
            prepared,
            parameters,
            new RunOptions
            {
                End = 8,
                RelativeTolerance = 1e-9,
                AbsoluteTolerance = 1e-11,
            }
        );
        run.Advance(new PauseAt());
        var (times, values) = (
            run.Trace.Times.ToArray(),
            run.Trace.Column(prepared.Compiled!.Plan.Representative[prepared.Model.Find("p.y")!.Index])
        );
        for (var k = 1; k < 80; k++)
        {
            var row = Array.FindIndex(times, x => Math.Abs(x - k * t) < 1e-9);
            Assert.True(row >= 0, $"no sample at {k * t}");
            // The tolerance of the run, over its stretches.
            Assert.Equal(expected[k], values[row], 1e-6);
        }
    }

    [Theory]
    [InlineData(1, 0.3, 1.6)]
    [InlineData(2, 0.5, 1.8)]
    public void A_place_on_the_map_has_the_bandwidth_and_the_peak(int order, double bandwidth, double peak)
    {
        var plant = Lags(0.3);
        var place = DesignMap.At(new PlantResponse(plant, 1), new RejectionGains(order, 1, 1, 5), bandwidth, peak)!;
        var figures = LoopFigures.Of(place.Gains, plant);
        Assert.True(figures.IsStable);
        Assert.Equal(bandwidth, figures.Margins.GainCrossings.Max(c => c.Frequency), bandwidth * 1e-3);
        Assert.Equal(peak, figures.Sensitivity.Value, 5e-3 * peak);
        Assert.Equal(place.PhaseMargin, figures.Margins.Phase!.Margin, 0.1);
        Assert.Equal(place.LoadError, figures.LoadIae!.Value, 0.02 * figures.LoadIae.Value);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public void The_best_of_the_map_is_that_of_a_search_through_all(int order)
    {
        var plant = Lags(0.3);
        var (response, shape) = (new PlantResponse(plant, 1), new RejectionGains(order, 0.5, 1, 5));
        var wishes = new MapWishes(1.6, null, null, null, null);
        var map = DesignMap.Of(response, shape, []);
        var best = MapAdvice.Of(response, shape, map, wishes).Best!;
        var grid = Enumerable.Range(0, 400).Select(i => new Complex(0, 0.01 * Math.Pow(10_000, i / 399.0))).ToArray();
        var values = grid.Select(plant.At).ToArray();
        var kept = new List<RejectionGains>();
        for (var wc = 0.02; wc < 5; wc *= 1.05)
        for (var b0 = 0.03; b0 <= 60; b0 *= 1.08)
        {
            var gains = shape with { Bandwidth = wc, InputGain = b0 };
            var transfer = gains.Transfer();
            if (
                grid.Select((s, i) => 1 / (1 + transfer(s) * values[i]).Magnitude).Max() <= 1.6
                && response.IsStable([.. response.Frequencies.Select(w => transfer(new Complex(0, w)))], 1)
            )
                kept.Add(gains);
        }

        var least = double.PositiveInfinity;
        // No error is below the inverse of the integral gain.
        foreach (var gains in kept.OrderByDescending(g => g.IntegralGain).TakeWhile(g => 1 / g.IntegralGain < least))
            if (LoopFigures.Of(gains, plant) is { IsStable: true, LoadIae: { } error })
                least = Math.Min(least, error);

        // The search goes by steps of some hundredths in both.
        Assert.InRange(best.LoadError / least, 0.9, 1.03);
    }

    [Fact]
    public void The_input_gain_of_an_integrator_is_read_from_its_response()
    {
        Assert.Equal(0.4, RejectionGains.InputGainOf(Chain(1, 0.4), 1, 3, 1), 1e-12);
        Assert.Equal(-7, RejectionGains.InputGainOf(Chain(2, -7), 2, 0.2, -1), 1e-9);
    }

    [Theory]
    [InlineData(1, -3.0)]
    [InlineData(2, 0.02)]
    public void The_order_of_a_chain_is_read_from_what_was_measured_of_it(int order, double gain)
    {
        var plant = Chain(order, gain);
        SweepPoint[] points =
        [
            .. Enumerable
                .Range(0, 12)
                .Select(i => 0.5 * Math.Pow(1.4, i))
                .Select(w => new SweepPoint(w, plant.At(new Complex(0, w)), 1, 1, 1, null)),
            new SweepPoint(2, Complex.Zero, 0, 0, 0, "left its limits"),
        ];
        var read = PlantOrder.Of(points, 2);
        Assert.Equal(order, read.Order);
        Assert.Equal(-order, read.Slope, 1e-9);
        Assert.Equal(Math.Abs(gain), read.InputGain, 1e-9);
        Assert.True(read.IsClear);
        // Beyond what was measured it is read at the end.
        Assert.Equal(points[11].Frequency, PlantOrder.Of(points, 1000).Frequency);
        Assert.Throws<DesignException>(() => PlantOrder.Of(points[..2], 1));
    }
}
