using System.Numerics;

namespace AnchorBend.Design;

/// <summary>Small dense complex linear systems.</summary>
static class ComplexLinear
{
    /// <summary>Solves in place by elimination with partial pivoting; <paramref name="b"/> becomes the solution.</summary>
    /// <returns>False where the matrix is singular.</returns>
    public static bool Solve(Complex[,] a, Complex[] b)
    {
        var n = b.Length;
        for (var k = 0; k < n; k++)
        {
            var best = k;
            for (var i = k + 1; i < n; i++)
                if (Complex.Abs(a[i, k]) > Complex.Abs(a[best, k]))
                    best = i;
            if (!(Complex.Abs(a[best, k]) > 0))
                return false;
            if (best != k)
            {
                for (var j = k; j < n; j++)
                    (a[k, j], a[best, j]) = (a[best, j], a[k, j]);
                (b[k], b[best]) = (b[best], b[k]);
            }

            for (var i = k + 1; i < n; i++)
            {
                if (a[i, k] == Complex.Zero)
                    continue;
                var factor = a[i, k] / a[k, k];
                for (var j = k + 1; j < n; j++)
                    a[i, j] -= factor * a[k, j];
                b[i] -= factor * b[k];
            }
        }

        for (var i = n - 1; i >= 0; i--)
        {
            for (var j = i + 1; j < n; j++)
                b[i] -= a[i, j] * b[j];
            b[i] /= a[i, i];
        }

        return true;
    }

    /// <summary>The determinant as a number of modulus one and the logarithm of its modulus, so that it neither overflows nor vanishes;
    /// the matrix is used up.</summary>
    public static (Complex Unit, double Log) Determinant(Complex[,] a)
    {
        var n = a.GetLength(0);
        var unit = Complex.One;
        var log = 0.0;
        for (var k = 0; k < n; k++)
        {
            var best = k;
            for (var i = k + 1; i < n; i++)
                if (Complex.Abs(a[i, k]) > Complex.Abs(a[best, k]))
                    best = i;
            if (best != k)
            {
                for (var j = k; j < n; j++)
                    (a[k, j], a[best, j]) = (a[best, j], a[k, j]);
                unit = -unit;
            }

            var size = Complex.Abs(a[k, k]);
            if (size == 0)
                return (Complex.One, double.NegativeInfinity);
            unit *= a[k, k] / size;
            log += Math.Log(size);
            for (var i = k + 1; i < n; i++)
            {
                if (a[i, k] == Complex.Zero)
                    continue;
                var factor = a[i, k] / a[k, k];
                for (var j = k + 1; j < n; j++)
                    a[i, j] -= factor * a[k, j];
            }
        }

        return (unit / Complex.Abs(unit), log);
    }

    public static Complex[,] Multiply(Complex[,] a, Complex[,] b)
    {
        var n = a.GetLength(0);
        var result = new Complex[n, n];
        for (var i = 0; i < n; i++)
        for (var k = 0; k < n; k++)
        {
            var factor = a[i, k];
            if (factor == Complex.Zero)
                continue;
            for (var j = 0; j < n; j++)
                result[i, j] += factor * b[k, j];
        }

        return result;
    }

    /// <summary>exp(t A), as that of the real matrix that has twice the size.</summary>
    public static Complex[,] Exponential(Complex[,] a, double t)
    {
        var n = a.GetLength(0);
        var real = new double[2 * n, 2 * n];
        for (var i = 0; i < n; i++)
        for (var j = 0; j < n; j++)
        {
            real[i, j] = real[n + i, n + j] = t * a[i, j].Real;
            real[i, n + j] = -t * a[i, j].Imaginary;
            real[n + i, j] = t * a[i, j].Imaginary;
        }

        var grown = StepResponse.Exponential(real);
        var result = new Complex[n, n];
        for (var i = 0; i < n; i++)
        for (var j = 0; j < n; j++)
            result[i, j] = new Complex(grown[i, j], grown[n + i, j]);
        return result;
    }
}
