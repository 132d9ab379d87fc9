using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Design;

/// <summary>
/// The plane w = 2/T (z − 1)/(z + 1), on which a discrete system is a continuous one with the same values along its frequencies: what is
/// inside the unit circle lies left of the axis, and exp(jωT) lies at jν with ν = 2/T tan(ωT/2). Stability, margins and peaks found there
/// are those of the sampled loop (Franklin, Powell and Workman, "Digital Control of Dynamic Systems", section 7.4).
/// </summary>
public static class SampledPlane
{
    /// <summary>Share of the highest frequency of samples, π/T, up to which frequencies are looked at.</summary>
    public const double Highest = 0.995;

    /// <summary>The place of a frequency on the plane.</summary>
    /// <param name="frequency">rad/s; beyond the highest of samples it is taken to be there.</param>
    /// <param name="period">T, s; 0 where nothing is sampled.</param>
    public static double Place(double frequency, double period) =>
        period > 0 ? 2 / period * Math.Tan(Math.Min(frequency * period, Highest * Math.PI) / 2) : frequency;

    /// <summary>The frequency at a place, rad/s.</summary>
    public static double Frequency(double place, double period) => period > 0 ? 2 / period * Math.Atan(place * period / 2) : place;

    public static Peak Told(Peak peak, double period) => peak with { Frequency = Frequency(peak.Frequency, period) };

    /// <summary>Margins of an open loop that is on the plane, at their frequencies.</summary>
    public static StabilityMargins Margins(LinearSystem loop, double period, CancellationToken cancellation = default)
    {
        var margins = StabilityMargins.Of(loop, cancellation);
        if (period == 0)
            return margins;
        Crossing Moved(Crossing c) => c with { Frequency = Frequency(c.Frequency, period) };
        List<Crossing> phases = [.. margins.PhaseCrossings.Select(Moved)];
        // The highest frequency of samples, z = −1, lies at infinity; values are real there.
        if (loop.D < 0)
            phases.Add(new Crossing(Math.PI / period, -1 / loop.D));
        var worst = margins.Worst is { } w ? Moved(w) : null;
        if (loop.D < 0 && !(Math.Abs(Math.Log(worst?.Margin ?? double.PositiveInfinity)) <= Math.Abs(Math.Log(-1 / loop.D))))
            worst = phases[^1];
        return new StabilityMargins(
            [.. margins.GainCrossings.Select(Moved)],
            phases,
            margins.Further is { } f ? f with { From = Frequency(f.From, period) } : null,
            worst
        );
    }

    /// <summary>A discrete system on the plane; <see cref="Discretisation"/> by the trapezoidal rule is the way back.</summary>
    /// <exception cref="DesignException">It has a pole at −1, which lies at infinity there.</exception>
    public static LinearSystem Of(LinearSystem discrete, double period)
    {
        var n = discrete.Order;
        if (n == 0)
            return discrete;
        // A = (1 − aT/2)⁻¹(1 + aT/2) and its like, solved for a.
        var one = Matrix<double>.Build.DenseIdentity(n);
        var a = Matrix<double>.Build.DenseOfArray(discrete.A);
        var sum = (a + one).LU();
        var b = sum.Solve(Vector<double>.Build.DenseOfArray(discrete.B));
        var c = (a + one).Transpose().LU().Solve(Vector<double>.Build.DenseOfArray(discrete.C));
        if (!b.Concat(c).All(double.IsFinite))
            throw new DesignException(
                "period",
                "The sampled plant turns its sign from sample to sample without end.",
                "Take another sample time, or damp what swings with half of it."
            );
        return LinearSystem.Of(
            (sum.Solve(a - one) * (2 / period)).ToArray(),
            [.. b * (2 / period)],
            [.. c * 2],
            discrete.D - Vector<double>.Build.DenseOfArray(discrete.C) * b,
            discrete.States
        );
    }
}
