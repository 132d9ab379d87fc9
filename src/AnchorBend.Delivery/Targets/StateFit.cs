using AnchorBend.Numerics.Linear;

namespace AnchorBend.Delivery.Targets;

/// <summary>
/// Finds values for which what they lead to comes as near as can be to what is wanted, by the method of Levenberg and Marquardt with
/// differences for slopes (D. W. Marquardt, An algorithm for least-squares estimation of nonlinear parameters, 1963). Values that lead
/// to nothing stay where they were.
/// </summary>
static unsafe class StateFit
{
    const int MostSteps = 12;

    /// <summary>Part of a value's size that it is moved by for a slope: less than half the digits of a double are lost.</summary>
    const double Nudge = 1e-6;

    /// <summary>How much a value's way from where it was counts beside outputs: what outputs do not tell stays.</summary>
    const double Trust = 1e-5;

    /// <param name="leadsTo">What values lead to, of the same length as <paramref name="wanted"/>.</param>
    /// <param name="sizes">How large each value is about.</param>
    /// <param name="weights">By which differences are multiplied, so that they may be added.</param>
    /// <returns>The values, and the sum of the squares of weighted differences that is left.</returns>
    public static (double[] Values, double Left) Of(
        Func<double[], double[]> leadsTo,
        double[] wanted,
        double[] weights,
        double[] start,
        double[] sizes,
        CancellationToken canceled = default
    )
    {
        var (x, n) = ((double[])start.Clone(), start.Length);
        var residual = Residual(x);
        var left = Square(residual);
        var damping = 1e-6;
        for (var step = 0; step < MostSteps && n > 0 && left > 0; step++)
        {
            canceled.ThrowIfCancellationRequested();
            var slopes = Slopes(x, residual);
            var matrix = new double[n * n];
            var right = new double[n];
            for (var i = 0; i < n; i++)
            {
                right[i] = -Dot(slopes[i], residual);
                for (var j = 0; j < n; j++)
                    matrix[i * n + j] = Dot(slopes[i], slopes[j]);
            }

            var better = false;
            while (!better && damping < 1e8)
            {
                var move = Solved(matrix, right, damping, n);
                var trial = new double[n];
                for (var i = 0; i < n; i++)
                    trial[i] = x[i] + move[i];
                var there = Residual(trial);
                var square = Square(there);
                better = square < left;
                damping = better ? damping / 10 : damping * 10;
                if (!better)
                    continue;
                var gained = 1 - square / left;
                (x, residual, left) = (trial, there, square);
                if (gained < 1e-6)
                    return (x, left);
            }

            if (!better)
                break;
        }

        return (x, left);

        double[] Residual(double[] at)
        {
            var made = leadsTo(at);
            var apart = new double[wanted.Length + n];
            for (var i = 0; i < wanted.Length; i++)
                apart[i] = double.IsFinite(made[i]) ? (made[i] - wanted[i]) * weights[i] : 1e100;
            for (var i = 0; i < n; i++)
                apart[wanted.Length + i] = Trust * (at[i] - start[i]) / sizes[i];
            return apart;
        }

        double[][] Slopes(double[] at, double[] here)
        {
            var slopes = new double[n][];
            for (var i = 0; i < n; i++)
            {
                var moved = (double[])at.Clone();
                moved[i] += Nudge * Math.Max(sizes[i], Math.Abs(at[i]));
                var there = Residual(moved);
                slopes[i] = new double[here.Length];
                for (var k = 0; k < here.Length; k++)
                    slopes[i][k] = (there[k] - here[k]) / (moved[i] - at[i]);
            }

            return slopes;
        }
    }

    /// <summary>The step of the damped normal equations; a value without influence has a diagonal of its own and stays.</summary>
    static double[] Solved(double[] matrix, double[] right, double damping, int n)
    {
        var damped = (double[])matrix.Clone();
        for (var i = 0; i < n; i++)
            damped[i * n + i] = matrix[i * n + i] > 0 ? matrix[i * n + i] * (1 + damping) : 1;
        var move = (double[])right.Clone();
        var pivots = new int[n];
        fixed (double* factors = damped)
        fixed (double* solution = move)
        fixed (int* order = pivots)
        {
            if (DenseLu.Factorize(factors, order, n) >= 0)
                return new double[n];
            DenseLu.Solve(factors, order, n, solution);
        }

        return Array.TrueForAll(move, double.IsFinite) ? move : new double[n];
    }

    static double Dot(double[] a, double[] b)
    {
        var sum = 0.0;
        for (var i = 0; i < a.Length; i++)
            sum += a[i] * b[i];
        return sum;
    }

    static double Square(double[] a) => Dot(a, a);
}
