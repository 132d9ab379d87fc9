namespace AnchorBend.Numerics.Spectra;

/// <summary>
/// Windows for spectra in their periodic form (F. J. Harris, "On the use of windows for harmonic analysis with the discrete Fourier
/// transform", Proceedings of the IEEE 66, 1978; the flat top is that of ISO 18431-2).
/// </summary>
public static class WindowFunction
{
    /// <summary>Coefficients of w(i) = Σ (−1)ᵏ aₖ cos(2πki/n).</summary>
    static readonly Dictionary<string, double[]> Coefficients = new()
    {
        ["rectangular"] = [1],
        ["hann"] = [0.5, 0.5],
        ["hamming"] = [0.54, 0.46],
        ["blackman"] = [0.42, 0.5, 0.08],
        ["flattop"] = [1, 1.933, 1.286, 0.388, 0.0322],
    };

    public static IReadOnlyCollection<string> Names => Coefficients.Keys;

    /// <exception cref="ArgumentException">There is no window of that name.</exception>
    public static double[] Of(string name, int length)
    {
        if (!Coefficients.TryGetValue(name, out var a))
            throw new ArgumentException($"There is no window '{name}'; take {string.Join(", ", Names)}.", nameof(name));
        var window = new double[length];
        for (var i = 0; i < length; i++)
        for (var k = 0; k < a.Length; k++)
            window[i] += (k % 2 == 0 ? a[k] : -a[k]) * Math.Cos(2 * Math.PI * k * i / length);
        return window;
    }
}
