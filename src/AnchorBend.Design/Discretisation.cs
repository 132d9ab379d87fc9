using MathNet.Numerics.LinearAlgebra;
using Complex = System.Numerics.Complex;

namespace AnchorBend.Design;

/// <summary>How a continuous system is turned into a discrete one.</summary>
public enum Hold
{
    /// <summary>Exact for an input that is held between the samples.</summary>
    Zoh,

    /// <summary>s = 2/T (z − 1)/(z + 1): the trapezoidal rule.</summary>
    Tustin,

    /// <summary>Poles and zeros go to exp(sT), zeros at infinity but one to −1, the gain is that at low frequencies.</summary>
    Matched,
}

/// <summary>Discrete systems of continuous ones (Franklin, Powell and Workman, "Digital Control of Dynamic Systems", chapters 4 and
/// 6).</summary>
public static class Discretisation
{
    /// <summary>The discrete system as <c>x' = A x + b u, y = c x + d u</c> from sample to sample; its response at a frequency ω is
    /// <see cref="LinearSystem.At"/> at exp(jωT).</summary>
    /// <param name="period">T, s.</param>
    /// <param name="exactAt">Frequency in rad/s at which Tustin's rule gives the response of the continuous system, by s = ω/tan(ωT/2)
    /// (z − 1)/(z + 1); null for zero.</param>
    /// <exception cref="DesignException">The period is not positive, or the system cannot be converted so.</exception>
    public static LinearSystem Of(LinearSystem system, double period, Hold hold, double? exactAt = null)
    {
        if (!(period > 0) || !double.IsFinite(period))
            throw new DesignException(
                "period",
                "The sampling period must be positive.",
                "Some ten samples in the fastest time constant suit most loops."
            );
        if (exactAt is { } exact && (hold != Hold.Tustin || !(exact > 0) || !(exact < Math.PI / period)))
            throw new DesignException(
                "prewarp",
                "A frequency at which it is exact belongs to Tustin's rule and lies between zero and half the sample rate.",
                FormattableString.Invariant($"With this period it lies below {Math.PI / period:G4} rad/s.")
            );
        if (system.Delays.Length > 0 && hold != Hold.Zoh)
            throw new DesignException(
                "delay",
                "The system has dead times, for which this rule knows no discrete system.",
                "Take zoh, which is exact for an input that is held."
            );
        return hold switch
        {
            Hold.Zoh => Held(system, period),
            Hold.Tustin => Trapezoidal(system, exactAt is { } w ? 2 * Math.Tan(w * period / 2) / w : period),
            _ => Matched(system, period),
        };
    }

    /// <summary>Samples of dead time that are kept.</summary>
    const int MostSamples = 100;

    /// <summary>A dead time τ = m T − r is m samples of which the output is seen r after a sample (Åström and Wittenmark,
    /// "Computer-Controlled Systems", section 2.3).</summary>
    static LinearSystem Held(LinearSystem system, double period)
    {
        if (DeadTime.Of(system) is not var (without, time))
            throw new DesignException(
                "delay",
                "Ways with different dead times meet between the signals, for which there is no discrete system of finite order.",
                "Look at one of the ways alone."
            );
        // What is a whole number but for rounding is one.
        var samples = (int)Math.Min(Math.Ceiling(time / period - 1e-9), MostSamples + 1);
        if (samples > MostSamples)
            throw new DesignException(
                "delay",
                $"The dead time is longer than {MostSamples} sampling periods.",
                "Sample more slowly: ten to thirty times within the dead time are enough."
            );
        var ahead = Math.Max(0, samples * period - time);
        var (now, later) = (Transition(without, period), ahead > 0 ? Transition(without, ahead) : default);
        var (c, d) = (without.C, without.D);
        if (ahead > 0)
        {
            c = [.. Enumerable.Range(0, without.Order).Select(j => without.C.Select((v, i) => v * later.A[i, j]).Sum())];
            d += without.C.Select((v, i) => v * later.B[i]).Sum();
        }

        return Later(LinearSystem.Of(now.A, now.B, c, d, without.States), samples);
    }

    /// <summary>The output some samples later: the newest in the first of the states that are added.</summary>
    static LinearSystem Later(LinearSystem system, int samples)
    {
        if (samples == 0)
            return system;
        var (n, all) = (system.Order, system.Order + samples);
        var (a, b, c) = (new double[all, all], new double[all], new double[all]);
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                a[i, j] = system.A[i, j];
            (b[i], a[n, i]) = (system.B[i], system.C[i]);
        }

        b[n] = system.D;
        for (var k = 1; k < samples; k++)
            a[n + k, n + k - 1] = 1;
        c[all - 1] = 1;
        return LinearSystem.Of(a, b, c, 0, [.. system.States, .. Enumerable.Range(1, samples).Select(k => $"dead time {k}")]);
    }

    /// <summary>How the states go on over a time in which the input is held.</summary>
    static (double[,] A, double[] B) Transition(LinearSystem system, double period)
    {
        var n = system.Order;
        var extended = new double[n + 1, n + 1];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                extended[i, j] = system.A[i, j] * period;
            extended[i, n] = system.B[i] * period;
        }

        var transition = StepResponse.Exponential(extended);
        var (a, b) = (new double[n, n], new double[n]);
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                a[i, j] = transition[i, j];
            b[i] = transition[i, n];
        }

        return (a, b);
    }

    static LinearSystem Trapezoidal(LinearSystem system, double period)
    {
        var n = system.Order;
        if (n == 0)
            return system;
        var a = Matrix<double>.Build.DenseOfArray(system.A) * (period / 2);
        var one = Matrix<double>.Build.DenseIdentity(n);
        var b = Vector<double>.Build.DenseOfArray(system.B);
        var c = Vector<double>.Build.DenseOfArray(system.C);
        var before = (one - a).LU();
        var input = before.Solve(b);
        if (input.Any(v => !double.IsFinite(v)))
            throw new DesignException(
                "period",
                "A pole lies at 2/T, which Tustin's rule sends to infinity.",
                "Take another period, or another hold."
            );
        return LinearSystem.Of(
            before.Solve(one + a).ToArray(),
            [.. input * period],
            [.. (one - a).Transpose().LU().Solve(c)],
            system.D + c * input * (period / 2),
            system.States
        );
    }

    static LinearSystem Matched(LinearSystem system, double period)
    {
        var poles = PolesAndZeros.Poles(system).Select(p => Complex.Exp(p * period)).ToArray();
        var zeros = PolesAndZeros.Zeros(system).Select(z => Complex.Exp(z * period)).ToList();
        while (zeros.Count < poles.Length - 1)
            zeros.Add(-1);
        // At a frequency so low that both are their asymptotes, but where poles at zero do no harm.
        var slowest = PolesAndZeros
            .Poles(system)
            .Concat(PolesAndZeros.Zeros(system))
            .Select(p => p.Magnitude)
            .Where(m => m > 1e-9)
            .DefaultIfEmpty(1)
            .Min();
        var low = Math.Min(1e-4 * slowest, 1e-3 / period);
        var z0 = Complex.Exp(new Complex(0, low * period));
        var shape = zeros.Aggregate(Complex.One, (p, z) => p * (z0 - z)) / poles.Aggregate(Complex.One, (p, z) => p * (z0 - z));
        var gain = (system.At(new Complex(0, low)) / shape).Real;
        return OfPolynomials(Polynomial(zeros).Select(v => v * gain).ToArray(), Polynomial(poles));
    }

    /// <summary>Coefficients of the polynomial with given roots, of rising powers; complex roots come in pairs.</summary>
    internal static double[] Polynomial(IEnumerable<Complex> roots)
    {
        Complex[] c = [1];
        foreach (var root in roots)
        {
            var next = new Complex[c.Length + 1];
            for (var i = 0; i < c.Length; i++)
            {
                next[i + 1] += c[i];
                next[i] -= root * c[i];
            }

            c = next;
        }

        return [.. c.Select(v => v.Real)];
    }

    /// <summary>The system of a fraction with a monic denominator, in the form of controllers; coefficients of rising powers.</summary>
    static LinearSystem OfPolynomials(double[] numerator, double[] denominator)
    {
        var n = denominator.Length - 1;
        var direct = numerator.Length > n ? numerator[n] : 0;
        var (a, b, c) = (new double[n, n], new double[n], new double[n]);
        for (var i = 0; i < n; i++)
        {
            if (i + 1 < n)
                a[i, i + 1] = 1;
            a[n - 1, i] = -denominator[i];
            c[i] = (i < numerator.Length ? numerator[i] : 0) - direct * denominator[i];
        }

        if (n > 0)
            b[n - 1] = 1;
        return LinearSystem.Of(a, b, c, direct);
    }
}
