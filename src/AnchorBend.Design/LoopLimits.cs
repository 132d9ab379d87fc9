using System.Numerics;

namespace AnchorBend.Design;

/// <summary>What a loop must keep at all frequencies.</summary>
/// <param name="Sensitivity">Largest |S| = |1/(1 + C G)|.</param>
/// <param name="Complementary">Largest |C G/(1 + C G)|; null for any.</param>
/// <param name="NoiseGain">Largest |C/(1 + C G)|, from the noise of the measurement to the controller's output; null for any.</param>
public sealed record LoopLimits(double Sensitivity, double? Complementary = null, double? NoiseGain = null)
{
    /// <summary>By what factor a limit is passed at most.</summary>
    internal double PassedBy(LoopFigures figures) =>
        Math.Max(
            figures.Sensitivity.Value / Sensitivity,
            Math.Max(figures.Complementary.Value / Complementary ?? 0, figures.NoiseGain.Value / NoiseGain ?? 0)
        );

    /// <exception cref="DesignException">The limits cannot be met by any loop.</exception>
    internal void Check()
    {
        if (!(Sensitivity > 1) || !double.IsFinite(Sensitivity))
            throw new DesignException(
                "max-sensitivity",
                "The limit of the sensitivity peak must be above 1.",
                "1.2 is very robust, 1.4 robust, 2 fast."
            );
    }

    internal LoopLimits Tightened(double factor) => new(Sensitivity / factor, Complementary / factor, NoiseGain / factor);
}

/// <summary>
/// For the rest of a controller given, the gains of one part of it (the integral one, or all of a P or PD) with which a loop keeps its
/// limits and is stable. At each frequency a limit is a quadratic inequality in that gain, which takes an interval out; between the
/// intervals stability does not change, as on its border 1 + C G would be zero, which the limit of the sensitivity excludes (after Åström,
/// Panagopoulos and Hägglund, "Design of PI controllers based on non-convex optimization", Automatica 34, 1998, where the border is
/// followed instead).
/// </summary>
/// <param name="part">The part for a gain of one, at a frequency in rad/s.</param>
/// <param name="integrators">Its poles at zero.</param>
sealed class GainRange(PlantResponse plant, LoopLimits limits, Func<double, Complex> part, int integrators)
{
    readonly List<(double From, double To)> taken = [];
    readonly Complex[] controller = new Complex[plant.Frequencies.Length];

    /// <summary>The stretch of gains with the largest end that keeps all limits.</summary>
    /// <param name="rest">The controller without the part on the grid, the plant's sign left out.</param>
    /// <returns>Null where there is none.</returns>
    public (double From, double To)? Best(Complex[] rest)
    {
        taken.Clear();
        for (var i = 0; i < rest.Length; i++)
        {
            var (w, g, a) = (plant.Frequencies[i], plant.Values[i], rest[i]);
            var c = part(w);
            if (w > plant.Resolved)
            {
                // With any phase: (|a| + x |c|) |G| stays below 1 − 1/Ms, and the noise gain below its limit times what is left of one.
                var (fixedGain, open) = (a.Magnitude * g.Magnitude, 1 - 1 / limits.Sensitivity);
                var left = open - fixedGain;
                if (left <= 0 || limits.NoiseGain is { } noise && a.Magnitude > noise * (1 - fixedGain))
                    return null;
                var most = left / (c.Magnitude * g.Magnitude);
                if (limits.NoiseGain is { } limit)
                    most = Math.Min(most, (limit * (1 - fixedGain) - a.Magnitude) / (c.Magnitude * (1 + limit * g.Magnitude)));
                if (double.IsFinite(most))
                    taken.Add((most, double.PositiveInfinity));
                continue;
            }

            // C = a + x c with the part c, and 1 + C G = q + x p.
            var (q, p) = (Complex.One + a * g, c * g);
            Take(q, p, Complex.One, Complex.Zero, 1 / limits.Sensitivity);
            if (limits.Complementary is { } complementary)
                Take(q, p, a * g, p, 1 / complementary);
            if (limits.NoiseGain is { } loudest)
                Take(q, p, a, c, 1 / loudest);
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
                controller[i] = rest[i] + middle * part(plant.Frequencies[i]);
            if (plant.IsStable(controller, integrators))
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
