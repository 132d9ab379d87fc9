using System.Numerics;

namespace AnchorBend.Design;

/// <summary>A rational function in descending powers of s, or of z.</summary>
public sealed record TransferFunction(double[] Numerator, double[] Denominator)
{
    /// <summary>Coefficients of more would be no numbers to trust.</summary>
    const int MostOrder = 30;

    /// <summary>Made of poles, zeros and the gain at a place away from them; what a zero takes away of the poles is left out.</summary>
    /// <returns>Null for a system with dead times, or of too high an order.</returns>
    public static TransferFunction? Of(LinearSystem system)
    {
        if (system.Delays.Length > 0 || system.Order > MostOrder)
            return null;
        var poles = PolesAndZeros.Poles(system).ToList();
        var zeros = PolesAndZeros.Zeros(system).ToList();
        foreach (var zero in zeros.ToList())
        {
            var same = poles.FindIndex(p => (p - zero).Magnitude <= 1e-7 * Math.Max(p.Magnitude, 1e-9));
            if (same < 0)
                continue;
            poles.RemoveAt(same);
            zeros.Remove(zero);
        }

        // Far from all roots each factor is known to rounding.
        var place = new Complex(1.7 * poles.Concat(zeros).Select(r => r.Magnitude).DefaultIfEmpty(1).Max() + 1e-9, 0);
        var shape = zeros.Aggregate(Complex.One, (v, z) => v * (place - z)) / poles.Aggregate(Complex.One, (v, p) => v * (place - p));
        var gain = (system.At(place) / shape).Real;
        return double.IsFinite(gain)
            ? new TransferFunction(
                [.. Discretisation.Polynomial(zeros).Reverse().Select(v => v * gain)],
                [.. Discretisation.Polynomial(poles).Reverse()]
            )
            : null;
    }
}
