using System.Numerics;

namespace AnchorBend.Design;

/// <summary>What a loop must keep at all frequencies.</summary>
/// <param name="Sensitivity">Largest |S| = |1/(1 + C G)|.</param>
/// <param name="Complementary">Largest |C G/(1 + C G)|; null for any.</param>
/// <param name="NoiseGain">Largest |C/(1 + C G)|, from the noise of the measurement to the controller's output; null for any.</param>
public sealed record LoopLimits(double Sensitivity, double? Complementary = null, double? NoiseGain = null);

/// <summary>
/// For given proportional and derivative gains, the integral gains with which a loop keeps its limits and is stable. At each frequency a
/// limit is a quadratic inequality in the integral gain, which takes an interval out; between the intervals stability does not change, as
/// on its border 1 + C G would be zero, which the limit of the sensitivity excludes (after Åström, Panagopoulos and Hägglund, "Design of PI
/// controllers based on non-convex optimization", Automatica 34, 1998, where the border is followed instead).
/// </summary>
/// <param name="shape">Whose integral part is meant.</param>
sealed class IntegralRange(PlantResponse plant, LoopLimits limits, PidGains shape)
{
    readonly List<(double From, double To)> taken = [];
    readonly Complex[] controller = new Complex[plant.Frequencies.Length];

    /// <summary>The stretch of integral gains with the largest end that keeps all limits.</summary>
    /// <param name="rest">The controller without its integral part on the grid, the plant's sign left out.</param>
    /// <returns>Null where there is none.</returns>
    public (double From, double To)? Best(Complex[] rest)
    {
        taken.Clear();
        for (var i = 0; i < rest.Length; i++)
        {
            var (w, g, a) = (plant.Frequencies[i], plant.Values[i], rest[i]);
            if (w > plant.Resolved)
            {
                // With any phase.
                var gain = a.Magnitude * g.Magnitude;
                if (gain > 1 - 1 / limits.Sensitivity || limits.NoiseGain is { } noise && a.Magnitude > noise * (1 - gain))
                    return null;
                continue;
            }

            // C = a + x c with the integral part c, and 1 + C G = q + x p.
            var c = shape.Integral(w);
            var (q, p) = (Complex.One + a * g, c * g);
            Take(q, p, Complex.One, Complex.Zero, 1 / limits.Sensitivity);
            if (limits.Complementary is { } complementary)
                Take(q, p, a * g, p, 1 / complementary);
            if (limits.NoiseGain is { } most)
                Take(q, p, a, c, 1 / most);
        }

        taken.Sort();
        var end = 0.0;
        var free = new List<(double From, double To)>();
        foreach (var (from, to) in taken)
        {
            if (from > end)
                free.Add((end, from));
            end = Math.Max(end, to);
        }

        free.Add((end, double.PositiveInfinity));
        for (var k = free.Count - 1; k >= 0; k--)
        {
            var (from, to) = free[k];
            var middle =
                double.IsInfinity(to) ? 2 * Math.Max(from, 1e-300)
                : from > 0 ? Math.Sqrt(from * to)
                : to / 2;
            if (double.IsInfinity(middle) || middle == 0)
                continue;
            for (var i = 0; i < rest.Length; i++)
                controller[i] = rest[i] + middle * shape.Integral(plant.Frequencies[i]);
            if (plant.IsStable(controller, 1))
                return (from, to);
        }

        return null;
    }

    /// <summary>Takes out where |q + x p| &lt; m |r + x s|.</summary>
    void Take(Complex q, Complex p, Complex r, Complex s, double m)
    {
        double Squared(Complex z) => z.Real * z.Real + z.Imaginary * z.Imaginary;
        double Dot(Complex u, Complex v) => u.Real * v.Real + u.Imaginary * v.Imaginary;
        var a = Squared(p) - m * m * Squared(s);
        var b = Dot(q, p) - m * m * Dot(r, s);
        var c = Squared(q) - m * m * Squared(r);
        var discriminant = b * b - a * c;
        if (a > 0)
        {
            if (discriminant <= 0)
                return;
            var root = Math.Sqrt(discriminant);
            // The larger root without cancellation, the other from their product.
            var sum = b > 0 ? -b - root : -b + root;
            double x1 = sum / a,
                x2 = sum != 0 ? c / sum : 0;
            var (from, to) = x1 < x2 ? (x1, x2) : (x2, x1);
            if (to > 0)
                taken.Add((from, to));
            return;
        }

        if (a == 0)
        {
            if (b == 0)
            {
                if (c < 0)
                    taken.Add((double.NegativeInfinity, double.PositiveInfinity));
                return;
            }

            var edge = -c / (2 * b);
            taken.Add(b > 0 ? (double.NegativeInfinity, edge) : (edge, double.PositiveInfinity));
            return;
        }

        if (discriminant <= 0)
        {
            taken.Add((double.NegativeInfinity, double.PositiveInfinity));
            return;
        }

        var half = Math.Sqrt(discriminant);
        var first = (-b + half) / a;
        var second = (-b - half) / a;
        taken.Add((double.NegativeInfinity, Math.Min(first, second)));
        taken.Add((Math.Max(first, second), double.PositiveInfinity));
    }
}
