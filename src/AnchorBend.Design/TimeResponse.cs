namespace AnchorBend.Design;

/// <summary>
/// The answer of a linear system with delays to a unit step at time 0, from rest. Between grid points the states are exact for delayed
/// signals that go in straight lines: one step is the matrix exponential of the states, extended by their inputs and these inputs' slopes
/// (Van Loan, IEEE Trans. Autom. Control 23, 1978), so without delays all is exact and with them the error is of second order in the step.
/// </summary>
public sealed class TimeResponse
{
    readonly LinearSystem system;
    readonly double[,] transition;
    readonly double[] later,
        next;
    readonly double[] x;
    readonly double[][] past;
    readonly int[] whole;
    readonly double[] part;
    readonly double step;
    int count;

    /// <param name="step">s; shorter than any delay.</param>
    public TimeResponse(LinearSystem system, double step)
    {
        (this.system, this.step) = (system, step);
        int n = system.Order,
            m = system.Delays.Length;
        var extended = new double[n + 1 + 2 * m, n + 1 + 2 * m];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                extended[i, j] = system.A[i, j] * step;
            extended[i, n] = system.B[i] * step;
            for (var j = 0; j < m; j++)
                extended[i, n + 1 + j] = system.E[i, j] * step;
        }

        // The delayed signals have their slopes behind them.
        for (var j = 0; j < m; j++)
            extended[n + 1 + j, n + 1 + m + j] = 1;
        transition = StepResponse.Exponential(extended);
        x = new double[n + 1 + 2 * m];
        (later, next) = (new double[m], new double[n]);
        x[n] = 1;
        whole = [.. system.Delays.Select(d => (int)Math.Floor(d / step + 1e-9))];
        part = [.. system.Delays.Select((d, i) => Math.Max(0, d / step - whole[i]))];
        past = [.. whole.Select(w => new double[w + 2])];
    }

    /// <summary>A step for a response of some length: as wished, or so short that the shortest delay holds some.</summary>
    /// <param name="least">Steps that the shortest delay holds at least.</param>
    public static double StepFor(LinearSystem system, double wished, int least = 10)
    {
        var shortest = system.Delays.Where(d => d > 0).DefaultIfEmpty(double.PositiveInfinity).Min();
        return shortest < least * wished ? shortest / Math.Ceiling(Math.Max(least, shortest / wished)) : wished;
    }

    public double Time => (count - 1) * step;

    /// <summary>The output at the next grid point, from time 0 on.</summary>
    public double Next()
    {
        int n = system.Order,
            m = system.Delays.Length;
        if (count > 0)
        {
            for (var j = 0; j < m; j++)
            {
                later[j] = Delayed(j, count);
                x[n + 1 + m + j] = later[j] - x[n + 1 + j];
            }

            for (var i = 0; i < n; i++)
            {
                var sum = 0.0;
                for (var j = 0; j < x.Length; j++)
                    sum += transition[i, j] * x[j];
                next[i] = sum;
            }

            Array.Copy(next, x, n);
            for (var j = 0; j < m; j++)
                x[n + 1 + j] = later[j];
        }

        var y = system.D;
        for (var i = 0; i < n; i++)
            y += system.C[i] * x[i];
        for (var j = 0; j < m; j++)
            y += system.F[j] * x[n + 1 + j];
        for (var d = 0; d < m; d++)
        {
            var z = system.H[d];
            for (var i = 0; i < n; i++)
                z += system.G[d, i] * x[i];
            for (var j = 0; j < m; j++)
                z += system.K[d, j] * x[n + 1 + j];
            past[d][count % past[d].Length] = z;
        }

        count++;
        return y;
    }

    /// <summary>What comes out of a delay at a grid point, on the line between two of them.</summary>
    double Delayed(int delay, int at)
    {
        var (newer, older) = (at - whole[delay], at - whole[delay] - 1);
        var ring = past[delay];
        double At(int k) => k < 0 ? 0 : ring[k % ring.Length];
        return part[delay] == 0 ? At(newer) : (1 - part[delay]) * At(newer) + part[delay] * At(older);
    }
}
