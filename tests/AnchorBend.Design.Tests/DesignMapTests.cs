using System.Numerics;

namespace AnchorBend.Design.Tests;

/// <summary>The plane of speed against robustness: what each place says is so, and nothing better has the same place.</summary>
public class DesignMapTests
{
    static LinearSystem Text(string text) => CrossingTests.Plant(text, "f.u", "f.y");

    static LinearSystem Late(string fraction, double delay) =>
        CrossingTests.Plant($"TransferFunction f({fraction}); DeadTime d(T = {delay}); equation f.u = 0; connect(f.y, d.u);", "f.u", "d.y");

    static LinearSystem Of(string name) =>
        name switch
        {
            "four lags" => Text("TransferFunction f(b = {1}, a = {1, 4, 6, 4, 1}); equation f.u = 0;"),
            "a lag with dead time" => Late("b = {1}, a = {2, 1}", 1),
            "an integrator with dead time" => Late("b = {1}, a = {1, 0}", 1),
            "a resonance" => Text("TransferFunction f(b = {9}, a = {1, 3, 11, 9}); equation f.u = 0;"),
            "an unstable lag" => Text("TransferFunction f(b = {1}, a = {0.005, 0.149, 0.97, -0.2}); equation f.u = 0;"),
            "a lag" => Text("TransferFunction f(b = {3}, a = {2, 1}); equation f.u = 0;"),
            _ => throw new ArgumentException(name),
        };

    static readonly PidGains Shape = new(PidForm.PID, 1, 1, 0, 10, 1, 0);

    static PidGains Form(PidForm form) => Shape with { Form = form };

    [Theory]
    [InlineData("four lags", PidForm.PI)]
    [InlineData("a lag with dead time", PidForm.PID)]
    [InlineData("an integrator with dead time", PidForm.PI)]
    [InlineData("a resonance", PidForm.PID)]
    [InlineData("an unstable lag", PidForm.PI)]
    public void Each_place_has_what_it_says(string name, PidForm form)
    {
        var system = Of(name);
        var map = DesignMap.Of(new PlantResponse(system, 1), Form(form), []);
        var places = map.Places.SelectMany(row => row).OfType<MapPlace>().ToList();

        Assert.True(places.Count > 100);
        for (var i = 0; i < places.Count; i += places.Count / 12)
        {
            var place = places[i];
            var figures = LoopFigures.Of(place.Gains, system);
            Assert.True(figures.IsStable);
            Assert.Equal(1, place.Gains.OpenLoop(system).At(new Complex(0, place.Bandwidth)).Magnitude, 1e-9);
            Assert.DoesNotContain(figures.Margins.GainCrossings, c => c.Frequency > 1.02 * place.Bandwidth);
            // The map looks at twenty frequencies a decade: near a peak's top that misses no more than this.
            Assert.Equal(figures.Sensitivity.Value, place.Sensitivity, 0.025 * place.Sensitivity);
            Assert.Equal(figures.NoiseGain.Value, place.NoiseGain, 0.03 * place.NoiseGain);
            Assert.Equal(figures.LoadIae!.Value, place.LoadError, 0.02 * place.LoadError);
        }
    }

    [Theory]
    [InlineData("four lags")]
    [InlineData("a lag with dead time")]
    [InlineData("a resonance")]
    [InlineData("an unstable lag")]
    public void No_other_gains_with_the_same_place_have_less_load_error(string name)
    {
        var system = Of(name);
        var plant = new PlantResponse(system, 1);
        var random = new Random(5);
        var compared = 0;
        for (var tried = 0; tried < 400 && compared < 8; tried++)
        {
            double Drawn(double least, double most) => least * Math.Pow(most / least, random.NextDouble());
            var gains = Form(PidForm.PID) with { K = Drawn(0.1, 10), Ti = Drawn(0.2, 5), Td = Drawn(0.03, 2) };
            if (RightHalfPlane.Count(gains.ClosedLoop(system)) != 0)
                continue;
            var figures = LoopFigures.Of(gains, system);
            if (figures.LoadIae is not { } error || figures.Sensitivity.Value > 2.5 || figures.Margins.GainCrossings.Count == 0)
                continue;
            compared++;
            var place = DesignMap.At(
                plant,
                Form(PidForm.PID),
                figures.Margins.GainCrossings.Max(c => c.Frequency),
                figures.Sensitivity.Value
            )!;

            Assert.Equal(figures.Sensitivity.Value, place.Sensitivity, 0.005 * place.Sensitivity);
            Assert.True(place.LoadError <= 1.01 * error, $"{place.LoadError} with {place.Gains}, but {error} with {gains}");
        }

        Assert.True(compared >= 4);
    }

    /// <summary>A PI on 1/s makes a loop of second order, with |S|² = x²/((x − 1)² + 4 ζ² x) where x = ω²/ω₀².</summary>
    [Fact]
    public void A_PI_of_an_integrator_follows_the_formula_of_second_order()
    {
        var plant = new PlantResponse(Text("TransferFunction f(b = {1}, a = {1, 0}); equation f.u = 0;"), 1);

        var place = DesignMap.At(plant, Form(PidForm.PI), 2, 1.25)!;

        double ki = place.Pid().K / place.Pid().Ti,
            damping = place.Pid().K / (2 * Math.Sqrt(ki));
        var peak = Enumerable
            .Range(1, 200_000)
            .Select(i => i * 1e-4)
            .Max(x => x / Math.Sqrt((x - 1) * (x - 1) + 4 * damping * damping * x));
        Assert.Equal(1.25, peak, 1e-3);
        // |L| = 1 at the bandwidth: ω⁴ = K²ω² + ki².
        Assert.Equal(16, place.Pid().K * place.Pid().K * 4 + ki * ki, 1e-9);
    }

    [Fact]
    public void Where_a_dead_time_leaves_no_phase_there_is_no_place()
    {
        // A PI on 1/s e^(−s): phase −90° − ω and less than nothing from the controller, so no bandwidth beyond π/2.
        var map = DesignMap.Of(new PlantResponse(Of("an integrator with dead time"), 1), Form(PidForm.PI), []);

        Assert.Contains(map.Places.SelectMany(r => r), p => p is not null && p.Bandwidth > 0.5);
        Assert.DoesNotContain(map.Places.SelectMany(r => r), p => p is not null && p.Bandwidth > Math.PI / 2);
        Assert.Null(DesignMap.At(new PlantResponse(Of("an integrator with dead time"), 1), Form(PidForm.PI), 1.6, 2));
    }
}
