using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>Loops whose controller works at samples, against what is computed on the unit circle by hand.</summary>
public class SampledLoopTests
{
    const double T = 0.1;

    static LoopDesign Design(string text, string part = "c")
    {
        var prepared = TextModel.Prepare(text);
        var parameters = new ParameterSet(prepared.Model);
        return LoopDesign.Of(prepared, parameters, part, OperatingPoint.Steady(prepared, parameters));
    }

    static string Loop(string controller, string plant = "Lag p(T = 1)") =>
        $"Constant r(k = 1); {controller}; {plant}; equation connect(r.y, c.r); connect(c.u, p.u); connect(p.y, c.y);";

    const string Pi = "SampledPI c(k = 2, Ti = 0.8, T = 0.1)";

    /// <summary>The loop of the PI above around a lag, by z.</summary>
    static Complex Around(Complex z, double k = 2, double ti = 0.8)
    {
        var a = Math.Exp(-T);
        return k * (1 + T / ti / (z - 1)) * (1 - a) / (z - a);
    }

    [Theory]
    [InlineData(0.4)]
    [InlineData(6)]
    [InlineData(25)]
    public void The_loop_on_the_plane_of_samples_is_that_on_the_unit_circle(double w)
    {
        var design = Design(Loop(Pi));
        var found = design.Present.OpenLoop(design.Plant).At(new Complex(0, SampledPlane.Place(w, T)));
        var expected = Around(Complex.Exp(new Complex(0, w * T)));
        Assert.True((found - expected).Magnitude < 1e-10 * expected.Magnitude, $"{found} instead of {expected}");
    }

    [Fact]
    public void The_law_of_a_sampled_controller_is_that_of_its_differences()
    {
        var gains = new PidGains(PidForm.PID, 3, 0.7, 0.2, 8, 1, 0) { Period = T };
        var ad = 0.2 / (0.2 + 8 * T);
        foreach (var w in (double[])[0.3, 4, 29])
        {
            var z = Complex.Exp(new Complex(0, w * T));
            var expected = 3 * (1 + T / 0.7 / (z - 1) + ad * 8 * (1 - 1 / z) / (1 - ad / z));
            var found = gains.Feedback(new Complex(0, SampledPlane.Place(w, T)));
            Assert.True((found - expected).Magnitude < 1e-12 * expected.Magnitude, $"{found} instead of {expected}");
        }
    }

    [Fact]
    public void Peak_and_margins_are_those_of_the_samples()
    {
        var design = Design(Loop(Pi));
        var figures = LoopFigures.Of(design.Present, design.Plant);
        var grid = Enumerable.Range(1, 20_000).Select(i => Math.PI / T * i / 20_000).ToArray();
        var peak = grid.MaxBy(w => 1 / (1 + Around(Complex.Exp(new Complex(0, w * T)))).Magnitude);
        Assert.Equal(1 / (1 + Around(Complex.Exp(new Complex(0, peak * T)))).Magnitude, figures.Sensitivity.Value, 1e-6);
        var crossing = figures.Margins.Phase!;
        var there = Around(Complex.Exp(new Complex(0, crossing.Frequency * T)));
        Assert.Equal(1, there.Magnitude, 1e-8);
        Assert.Equal(180 + there.Phase * 180 / Math.PI, crossing.Margin, 1e-6);
    }

    [Fact]
    public void At_its_gain_margin_a_sampled_loop_has_a_pole_on_the_circle()
    {
        var design = Design(Loop(Pi));
        var factor = LoopFigures.Of(design.Present, design.Plant).Margins.Gain!.Margin;
        double Largest(double by)
        {
            var (a, k) = (Math.Exp(-T), 2 * by);
            var (p, q) = (-(a + 1) + (1 - a) * k, a - (1 - a) * k * (1 - T / 0.8));
            var root = Complex.Sqrt(p * p / 4 - q);
            return Math.Max((-p / 2 + root).Magnitude, (-p / 2 - root).Magnitude);
        }

        Assert.Equal(1, Largest(factor), 1e-7);
        Assert.True(LoopFigures.Of(design.Shape with { K = 2 * factor * 1.01 }, design.Plant).IsStable == false);
        Assert.True(LoopFigures.Of(design.Shape with { K = 2 * factor * 0.99 }, design.Plant).IsStable);
    }

    [Fact]
    public void The_answers_at_the_samples_are_those_of_the_run()
    {
        var text = Loop("SampledPID c(k = 2, Ti = 0.8, Td = 0.05, T = 0.1)", "SecondOrder p(w = 3, D = 0.5)")
            .Replace("Constant r(k = 1)", "Step r(startTime = 0)", StringComparison.Ordinal);
        var design = Design(text);
        var predicted = StepResponse.Samples(design.Present.ClosedLoop(design.Plant), T).Skip(1).Take(30).ToArray();
        var run = TextModel.Values(text, "p.y", [.. Enumerable.Range(1, 30).Select(k => k * T)]);
        for (var i = 0; i < 30; i++)
            Assert.Equal(run[i], predicted[i], 1e-5);
    }

    [Theory]
    [InlineData(0.25)]
    [InlineData(0.3)]
    [InlineData(0.03)]
    public void A_dead_time_of_any_length_is_kept_exactly(double dead)
    {
        // h(z) of e^(−sτ)/(s + 1): with τ = m T − r the output r after a sample, m samples later.
        var design = Design(
            Loop(Pi, $"Lag a(T = 1); DeadTime p(T = {dead.ToString(System.Globalization.CultureInfo.InvariantCulture)})")
                .Replace("connect(c.u, p.u)", "connect(c.u, a.u); connect(a.y, p.u)", StringComparison.Ordinal)
        );
        var m = (int)Math.Ceiling(dead / T - 1e-9);
        var r = m * T - dead;
        var (a, ar) = (Math.Exp(-T), Math.Exp(-r));
        foreach (var w in (double[])[0.5, 8, 27])
        {
            var z = Complex.Exp(new Complex(0, w * T));
            var expected = Complex.Pow(z, -m) * ((1 - ar) + ar * (1 - a) / (z - a));
            var found = design.Plant.At(new Complex(0, SampledPlane.Place(w, T)));
            Assert.True((found - expected).Magnitude < 1e-9, $"{found} instead of {expected} at {w}");
        }
    }

    [Fact]
    public void A_delay_of_computation_counts_as_one_sample_more()
    {
        var with = Design(
            Loop(Pi, "Lag p(T = 1); SampleDelay d(T = 0.1)")
                .Replace("connect(c.u, p.u)", "connect(c.u, d.u); connect(d.y, p.u)", StringComparison.Ordinal)
        );
        var without = Design(Loop(Pi));
        var s = new Complex(0, SampledPlane.Place(7, T));
        var expected = without.Plant.At(s) * Complex.Exp(new Complex(0, -7 * T));
        Assert.True((with.Plant.At(s) - expected).Magnitude < 1e-10);
    }

    [Theory]
    [InlineData(1.4)]
    [InlineData(2)]
    public void The_largest_integral_gain_is_that_of_a_search_through_all(double most)
    {
        var design = Design(Loop(Pi, "SecondOrder p(w = 2, D = 0.7)"));
        var best = RobustPid.Best(design.Plant, design.Shape, new LoopLimits(most), LoopGoal.IntegralGain)!;
        var circle = Enumerable.Range(1, 1500).Select(i => Complex.Exp(new Complex(0, Math.PI * Math.Pow(i / 1500.0, 2)))).ToArray();
        var plant = circle.Select(z => design.Plant.At(2 / T * (z - 1) / (z + 1 == Complex.Zero ? 1e-9 : z + 1))).ToArray();
        var largest = 0.0;
        for (var k = 0.02; k < 4; k *= 1.02)
        for (var ki = largest * 1.001 + 0.01; ki < 10; ki *= 1.01)
        {
            var peak = circle.Select((z, i) => 1 / (1 + (k + ki * T / (z - 1)) * plant[i]).Magnitude).Max();
            if (peak <= most && LoopFigures.Of(design.Shape with { K = k, Ti = k / ki }, design.Plant).IsStable == true)
                largest = ki;
        }

        // The search goes by steps of a hundredth.
        Assert.InRange(best.Pid().Parallel.Ki / largest, 0.999, 1.03);
        Assert.InRange(best.Sensitivity.Value, most * 0.99, most * 1.0002);
    }

    [Theory]
    [InlineData(PidForm.PI)]
    [InlineData(PidForm.PID)]
    public void A_bandwidth_and_a_margin_are_met_at_the_samples(PidForm form)
    {
        var design = Design(Loop(Pi.Replace("SampledPI c(", "SampledPID c(", StringComparison.Ordinal), "SecondOrder p(w = 2, D = 0.7)"));
        var candidate = PidTuning.Solve(design.Plant, design.Shape with { Form = form }, 0.8, 60);
        Assert.True(candidate.IsExact, candidate.Remark);
        Assert.Equal(0.8, candidate.Bandwidth!.Value, 1e-6);
        Assert.Equal(60, candidate.Margins.Phase!.Margin, 1e-4);
    }

    [Fact]
    public void The_map_of_a_sampled_loop_ends_where_samples_end_and_its_places_are_what_they_say()
    {
        var design = Design(Loop(Pi));
        var response = new PlantResponse(design.Plant, 1, T);
        var map = DesignMap.Of(response, design.Present, []);
        Assert.True(map.Bandwidths[^1] < Math.PI / T);
        var places = map.Places.SelectMany(row => row).OfType<MapPlace>().ToList();
        Assert.NotEmpty(places);
        foreach (var place in places.Where((_, i) => i % 40 == 0))
        {
            var figures = LoopFigures.Of(place.Gains, design.Plant);
            Assert.True(figures.IsStable);
            Assert.Equal(place.Sensitivity, figures.Sensitivity.Value, 2e-2 * place.Sensitivity);
            Assert.Equal(place.Bandwidth, figures.Margins.GainCrossings.Max(c => c.Frequency), 1e-3 * place.Bandwidth);
        }
    }

    [Fact]
    public void The_error_after_a_load_is_that_of_the_run_at_its_samples()
    {
        var design = Design(Loop(Pi));
        var error = LoopFigures.Of(design.Present, design.Plant).LoadIae!.Value;
        var run = TextModel.Values(
            "Step l(startTime = 0); "
                + Loop(Pi)
                    .Replace("connect(c.u, p.u)", "p.u = c.u + l.y", StringComparison.Ordinal)
                    .Replace("k = 1)", "k = 0)", StringComparison.Ordinal),
            "p.y",
            [.. Enumerable.Range(1, 300).Select(k => k * T)]
        );
        Assert.Equal(run.Sum(Math.Abs) * T, error, 1e-4 * error);
    }
}
