using AnchorBend.Numerics.Spectra;

namespace AnchorBend.Verification.Tests;

/// <summary>Spectra, histograms and orders of signals whose content is known.</summary>
public class SpectrumTests
{
    static Curve Of(Func<double, double> signal, double to, int rows) =>
        new(
            [.. Enumerable.Range(0, rows + 1).Select(i => to * i / rows)],
            [.. Enumerable.Range(0, rows + 1).Select(i => signal(to * i / rows))]
        );

    [Theory]
    [InlineData("rectangular")]
    [InlineData("hann")]
    [InlineData("hamming")]
    [InlineData("blackman")]
    [InlineData("flattop")]
    public void A_sine_on_a_line_shows_its_amplitude_in_every_window(string window)
    {
        var curve = Of(t => 0.7 + 3 * Math.Sin(2 * Math.PI * 12 * t) + 0.5 * Math.Cos(2 * Math.PI * 40 * t), 4, 4096);
        var (samples, rate) = Resampling.Evenly(curve, 0, 4);
        Assert.Equal(1024, rate, 1e-9);
        var spectrum = Spectrum.Amplitude(samples, rate, window, 1);
        double At(double f) => spectrum.Values[(int)Math.Round(f / spectrum.Frequencies[1])];
        Assert.Equal(3, At(12), 1e-9);
        Assert.Equal(0.5, At(40), 1e-9);
        Assert.Equal(0.7, At(0), 1e-9);
        Assert.Equal(0, At(200), 1e-9);
    }

    [Theory]
    [InlineData("hann", 1)]
    [InlineData("hann", 9)]
    [InlineData("flattop", 4)]
    public void The_density_of_noise_integrates_to_its_mean_square(string window, int averages)
    {
        var random = new Random(3);
        var samples = Enumerable.Range(0, 1 << 16).Select(_ => random.NextDouble() - 0.5).ToArray();
        var spectrum = Spectrum.Density(samples, 1000, window, averages);
        // Uniform noise has the variance 1/12; its estimate scatters by some 1/√65536.
        Assert.Equal(1 / 12.0, spectrum.Values.Sum() * spectrum.Frequencies[1], 2e-3);
    }

    [Fact]
    public void Averages_make_the_lines_wider_and_the_scatter_smaller()
    {
        var random = new Random(5);
        var samples = Enumerable.Range(0, 1 << 14).Select(_ => random.NextDouble() - 0.5).ToArray();
        double Scatter(Spectrum s) => s.Values.Skip(2).Max() / s.Values.Skip(2).Average();
        var (one, many) = (Spectrum.Density(samples, 1, "hann", 1), Spectrum.Density(samples, 1, "hann", 31));
        Assert.Equal(16 * one.Frequencies[1], many.Frequencies[1], 1e-9);
        Assert.True(Scatter(many) < Scatter(one) / 3);
    }

    [Fact]
    public void A_histogram_has_the_time_spent_in_each_class()
    {
        // A saw spends equal times everywhere; a pulse is where it is.
        var saw = Resampling.Histogram(new Curve([0, 1, 1, 2], [0, 4, 0, 4]), 0, 2, 4);
        Assert.Equal([0, 1, 2, 3, 4], saw.Edges);
        Assert.All(saw.Shares, s => Assert.Equal(0.25, s, 1e-12));
        var pulse = Resampling.Histogram(new Curve([0, 3, 3, 4], [0, 0, 10, 10]), 0, 4, 10);
        Assert.Equal(0.75, pulse.Shares[0], 1e-12);
        Assert.Equal(0.25, pulse.Shares[9], 1e-12);
        Assert.Equal(1, Resampling.Histogram(new Curve([0, 1], [2, 2]), 0, 1, 5).Shares.Sum(), 1e-12);
    }

    [Fact]
    public void Orders_stand_still_while_the_shaft_runs_up()
    {
        // Speed from 20 to 60 rad/s in 20 s; the third order with amplitude 2, the order 4.5 with 0.5.
        double Angle(double t) => 20 * t + t * t;
        var signal = Of(t => 2 * Math.Sin(3 * Angle(t)) + 0.5 * Math.Sin(4.5 * Angle(t)), 20, 100_000);
        var speed = Of(t => 20 + 2 * t, 20, 2000);
        var map = OrderMap.Of(signal, speed, 0, 20)!;
        Assert.Equal(12, map.Speeds.Length);
        Assert.Equal(map.Speeds.Order(), map.Speeds);
        foreach (var line in map.Amplitudes)
        {
            Assert.Equal(2, line[30], 0.01);
            Assert.Equal(0.5, line[45], 0.01);
            Assert.Equal(0, line[60], 0.01);
        }

        Assert.Null(OrderMap.Of(signal, speed, 0, 0.5));
    }
}
