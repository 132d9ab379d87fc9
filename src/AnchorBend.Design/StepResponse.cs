namespace AnchorBend.Design;

/// <summary>The answer of a linear system to a unit step.</summary>
/// <param name="Times">s.</param>
public sealed record StepResponse(double[] Times, double[] Values)
{
    /// <summary>Steps that delays may ask for.</summary>
    const int MostSteps = 200_000;

    /// <summary>Steps the exact solution over a grid: the matrix exponential of the system extended by its input
    /// (Van Loan, IEEE Trans. Autom. Control 23, 1978). Delays are kept (<see cref="TimeResponse"/>) where their length allows; those far
    /// shorter than the response are approximated.</summary>
    public static StepResponse Of(LinearSystem system, double end, int count = 400)
    {
        if (system.Delays.Length > 0 && system.Delays.All(d => d > 0))
        {
            var parts = Math.Ceiling(end / count / TimeResponse.StepFor(system, end / count));
            if (parts * count <= MostSteps)
                return WithDelays(system, end, count, (int)parts);
        }

        var free = PadeApproximation.WithoutDelays(system);
        var n = free.Order;
        var h = end / count;
        var extended = new double[n + 1, n + 1];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                extended[i, j] = free.A[i, j] * h;
            extended[i, n] = free.B[i] * h;
        }

        var transition = Exponential(extended);
        var x = new double[n + 1];
        x[n] = 1;
        var times = new double[count + 1];
        var values = new double[count + 1];
        for (var k = 0; k <= count; k++)
        {
            times[k] = k * h;
            values[k] = free.D;
            for (var i = 0; i < n; i++)
                values[k] += free.C[i] * x[i];
            var next = new double[n + 1];
            for (var i = 0; i <= n; i++)
            for (var j = 0; j <= n; j++)
                next[i] += transition[i, j] * x[j];
            x = next;
        }

        return new StepResponse(times, values);
    }

    /// <summary>The samples of a sampled loop after a unit step, from the first on, without end.</summary>
    /// <param name="plane">The loop on the plane of <see cref="SampledPlane"/>.</param>
    public static IEnumerable<double> Samples(LinearSystem plane, double period)
    {
        var discrete = Discretisation.Of(plane, period, Hold.Tustin);
        var n = discrete.Order;
        var (now, next) = (new double[n], new double[n]);
        while (true)
        {
            var y = discrete.D;
            for (var i = 0; i < n; i++)
            {
                y += discrete.C[i] * now[i];
                next[i] = discrete.B[i];
                for (var j = 0; j < n; j++)
                    next[i] += discrete.A[i, j] * now[j];
            }

            yield return y;
            (now, next) = (next, now);
        }
    }

    /// <summary>The answer of a sampled loop.</summary>
    /// <param name="isHeld">Whether values are held from sample to sample, as the output of a controller; else they are joined.</param>
    public static StepResponse OfSampled(LinearSystem plane, double period, double end, int count, bool isHeld)
    {
        if (end / period > MostSteps)
            throw new DesignException(
                "range",
                FormattableString.Invariant($"{end:G4} s hold more than {MostSteps} samples."),
                "Look at a shorter stretch."
            );
        var samples = Samples(plane, period).Take((int)Math.Ceiling(end / period) + 2).ToArray();
        var times = Enumerable.Range(0, count + 1).Select(k => k * end / count).ToArray();
        double At(double time)
        {
            // A time that is a sample's but for rounding is its.
            var k = (int)Math.Floor(time / period + 1e-9);
            return isHeld ? samples[k] : samples[k] + Math.Max(0, time / period - k) * (samples[k + 1] - samples[k]);
        }

        return new StepResponse(times, [.. times.Select(At)]);
    }

    static StepResponse WithDelays(LinearSystem system, double end, int count, int parts)
    {
        var response = new TimeResponse(system, end / count / parts);
        var times = new double[count + 1];
        var values = new double[count + 1];
        for (var k = 0; k <= count; k++)
        {
            times[k] = k * end / count;
            values[k] = response.Next();
            for (var i = 1; i < parts && k < count; i++)
                response.Next();
        }

        return new StepResponse(times, values);
    }

    /// <summary>Scaling and squaring with a Taylor polynomial of order 16 on a matrix of norm below 1/2.</summary>
    internal static double[,] Exponential(double[,] m)
    {
        var n = m.GetLength(0);
        var norm = 0.0;
        for (var i = 0; i < n; i++)
        {
            var sum = 0.0;
            for (var j = 0; j < n; j++)
                sum += Math.Abs(m[i, j]);
            norm = Math.Max(norm, sum);
        }

        var squarings = norm > 0.5 ? (int)Math.Ceiling(Math.Log2(norm / 0.5)) : 0;
        var scaled = (double[,])m.Clone();
        for (var i = 0; i < n; i++)
        for (var j = 0; j < n; j++)
            scaled[i, j] *= Math.Pow(2, -squarings);
        var result = new double[n, n];
        for (var i = 0; i < n; i++)
            result[i, i] = 1;
        for (var k = 16; k >= 1; k--)
        {
            result = Multiply(scaled, result);
            for (var i = 0; i < n; i++)
            {
                for (var j = 0; j < n; j++)
                    result[i, j] /= k;
                result[i, i] += 1;
            }
        }

        for (var s = 0; s < squarings; s++)
            result = Multiply(result, result);
        return result;
    }

    internal static double[,] Multiply(double[,] a, double[,] b)
    {
        var n = a.GetLength(0);
        var result = new double[n, n];
        for (var i = 0; i < n; i++)
        for (var k = 0; k < n; k++)
        {
            var factor = a[i, k];
            if (factor == 0)
                continue;
            for (var j = 0; j < n; j++)
                result[i, j] += factor * b[k, j];
        }

        return result;
    }
}
