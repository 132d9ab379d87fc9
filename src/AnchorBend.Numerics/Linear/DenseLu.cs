namespace AnchorBend.Numerics.Linear;

/// <summary>
/// LU factorisation with partial pivoting of small dense matrices, in place and without allocation
/// (Golub and Van Loan, "Matrix Computations", 4th ed., algorithm 3.4.1). Row-major storage.
/// </summary>
public static unsafe class DenseLu
{
    const double Epsilon = 2.220446049250313e-16;

    /// <summary>Factorises the n × n matrix; <paramref name="pivots"/> receives the row exchanges.</summary>
    /// <returns>−1, or the column in which no pivot larger than n·ε times the column's own scale is left.</returns>
    public static int Factorize(double* a, int* pivots, int n)
    {
        for (var k = 0; k < n; k++)
        {
            var best = k;
            var largest = Math.Abs(a[k * n + k]);
            for (var i = k + 1; i < n; i++)
            {
                var candidate = Math.Abs(a[i * n + k]);
                if (candidate > largest)
                {
                    largest = candidate;
                    best = i;
                }
            }

            pivots[k] = best;
            if (!(largest > 0) || !double.IsFinite(largest))
                return k;
            if (best != k)
                for (var j = 0; j < n; j++)
                    (a[k * n + j], a[best * n + j]) = (a[best * n + j], a[k * n + j]);
            var pivot = a[k * n + k];
            for (var i = k + 1; i < n; i++)
            {
                var factor = a[i * n + k] /= pivot;
                if (factor == 0)
                    continue;
                var scale = 0.0;
                for (var j = k + 1; j < n; j++)
                {
                    scale = Math.Max(scale, Math.Abs(a[i * n + j]));
                    a[i * n + j] -= factor * a[k * n + j];
                }

                // What cancellation leaves of an exactly singular matrix is rounding, not a pivot.
                for (var j = k + 1; j < n; j++)
                    if (Math.Abs(a[i * n + j]) <= 4 * n * Epsilon * scale)
                        a[i * n + j] = 0;
            }
        }

        return -1;
    }

    /// <summary>Solves with the factors; <paramref name="b"/> becomes the solution.</summary>
    public static void Solve(double* lu, int* pivots, int n, double* b)
    {
        // Whole rows were exchanged while factorising, so all exchanges come first.
        for (var k = 0; k < n; k++)
            (b[k], b[pivots[k]]) = (b[pivots[k]], b[k]);
        for (var k = 0; k < n; k++)
        for (var i = k + 1; i < n; i++)
            b[i] -= lu[i * n + k] * b[k];
        for (var i = n - 1; i >= 0; i--)
        {
            for (var j = i + 1; j < n; j++)
                b[i] -= lu[i * n + j] * b[j];
            b[i] /= lu[i * n + i];
        }
    }
}
