using System.Numerics;
using MathNet.Numerics.IntegralTransforms;

namespace AnchorBend.Numerics.Spectra;

/// <summary>A one-sided spectrum.</summary>
/// <param name="Frequencies">From 0 to half the sampling rate, in equal steps.</param>
/// <param name="Values">Amplitudes of sines (not root mean squares), or power densities.</param>
public sealed record Spectrum(double[] Frequencies, double[] Values)
{
    /// <summary>
    /// Amplitude spectrum: 2|X|/Σw, so that a sine in the middle of a line shows its amplitude; the mean at frequency 0. The
    /// mean is not taken
    /// away.
    /// </summary>
    /// <param name="samples">Equidistant values.</param>
    /// <param name="rate">Samples in a unit of time.</param>
    /// <param name="averages">Stretches, each half over the next, whose squares are averaged (P. D. Welch, "The use of fast Fourier
    /// transform for the estimation of power spectra", IEEE Transactions on Audio and Electroacoustics 15, 1967).</param>
    public static Spectrum Amplitude(ReadOnlySpan<double> samples, double rate, string window, int averages)
    {
        var (squares, weights, length) = Squares(samples, window, averages);
        var sum = weights.Sum();
        var values = new double[squares.Length];
        for (var k = 0; k < values.Length; k++)
            values[k] = Math.Sqrt(squares[k]) * (IsDouble(k, length) ? 2 : 1) / sum;
        return new Spectrum(Lines(values.Length, length, rate), values);
    }

    /// <summary>Power spectral density: 2|X|²/(rate · Σw²), so that its integral over frequency is the mean square; parameters as for
    /// <see cref="Amplitude"/>.</summary>
    public static Spectrum Density(ReadOnlySpan<double> samples, double rate, string window, int averages)
    {
        var (squares, weights, length) = Squares(samples, window, averages);
        var power = rate * weights.Sum(w => w * w);
        var values = new double[squares.Length];
        for (var k = 0; k < values.Length; k++)
            values[k] = squares[k] * (IsDouble(k, length) ? 2 : 1) / power;
        return new Spectrum(Lines(values.Length, length, rate), values);
    }

    /// <summary>Lines that stand for themselves and their mirror image.</summary>
    static bool IsDouble(int k, int length) => k > 0 && 2 * k != length;

    static double[] Lines(int count, int length, double rate) => [.. Enumerable.Range(0, count).Select(k => k * rate / length)];

    /// <summary>Averaged squares of the transform of each stretch.</summary>
    static (double[] Squares, double[] Weights, int Length) Squares(ReadOnlySpan<double> samples, string window, int averages)
    {
        if (samples.Length < 2)
            throw new ArgumentException("A spectrum needs at least two samples.", nameof(samples));
        // K stretches that lie half over each other fill (K + 1)/2 lengths.
        var length = Math.Max(2, 2 * samples.Length / (Math.Max(1, averages) + 1));
        var weights = WindowFunction.Of(window, length);
        var squares = new double[length / 2 + 1];
        var count = 0;
        for (var start = 0; start + length <= samples.Length && count < averages; start += Math.Max(1, length / 2), count++)
        {
            var transform = new Complex[length];
            for (var i = 0; i < length; i++)
                transform[i] = samples[start + i] * weights[i];
            Fourier.Forward(transform, FourierOptions.AsymmetricScaling);
            for (var k = 0; k < squares.Length; k++)
                squares[k] += transform[k].Real * transform[k].Real + transform[k].Imaginary * transform[k].Imaginary;
        }

        for (var k = 0; k < squares.Length; k++)
            squares[k] /= count;
        return (squares, weights, length);
    }
}
