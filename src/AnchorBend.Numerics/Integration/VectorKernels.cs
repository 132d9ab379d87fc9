using System.Runtime.Intrinsics;

namespace AnchorBend.Numerics.Integration;

/// <summary>Linear combinations of vectors: four at a time above four states, plain loops below, the same order of operations in both.</summary>
static unsafe class VectorKernels
{
    /// <summary><c>result = x + h (c₀k₀ + c₁k₁ + …)</c> for 1 ≤ m ≤ 6 vectors laid one behind another with the given stride.</summary>
    /// <remarks>Written out for each m: loops over the coefficients would cost more than the arithmetic.</remarks>
    public static void Combine(double* result, double* x, double h, double* k, int stride, ReadOnlySpan<double> c, int n)
    {
        switch (c.Length)
        {
            case 1:
            {
                double c0 = c[0];
                double* k0 = k;
                var i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h), v0 = Vector256.Create(c0);
                    for (; i <= n - 4; i += 4) (Vector256.Load(x + i) + step * (v0 * Vector256.Load(k0 + i))).Store(result + i);
                }

                for (; i < n; i++) result[i] = x[i] + h * (c0 * k0[i]);
                break;
            }

            case 2:
            {
                double c0 = c[0], c1 = c[1];
                double* k0 = k, k1 = k + 1 * stride;
                var i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h), v0 = Vector256.Create(c0), v1 = Vector256.Create(c1);
                    for (; i <= n - 4; i += 4) (Vector256.Load(x + i) + step * (v0 * Vector256.Load(k0 + i) + v1 * Vector256.Load(k1 + i))).Store(result + i);
                }

                for (; i < n; i++) result[i] = x[i] + h * (c0 * k0[i] + c1 * k1[i]);
                break;
            }

            case 3:
            {
                double c0 = c[0], c1 = c[1], c2 = c[2];
                double* k0 = k, k1 = k + 1 * stride, k2 = k + 2 * stride;
                var i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h), v0 = Vector256.Create(c0), v1 = Vector256.Create(c1), v2 = Vector256.Create(c2);
                    for (; i <= n - 4; i += 4) (Vector256.Load(x + i) + step * (v0 * Vector256.Load(k0 + i) + v1 * Vector256.Load(k1 + i) + v2 * Vector256.Load(k2 + i))).Store(result + i);
                }

                for (; i < n; i++) result[i] = x[i] + h * (c0 * k0[i] + c1 * k1[i] + c2 * k2[i]);
                break;
            }

            case 4:
            {
                double c0 = c[0], c1 = c[1], c2 = c[2], c3 = c[3];
                double* k0 = k, k1 = k + 1 * stride, k2 = k + 2 * stride, k3 = k + 3 * stride;
                var i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h), v0 = Vector256.Create(c0), v1 = Vector256.Create(c1), v2 = Vector256.Create(c2), v3 = Vector256.Create(c3);
                    for (; i <= n - 4; i += 4) (Vector256.Load(x + i) + step * (v0 * Vector256.Load(k0 + i) + v1 * Vector256.Load(k1 + i) + v2 * Vector256.Load(k2 + i) + v3 * Vector256.Load(k3 + i))).Store(result + i);
                }

                for (; i < n; i++) result[i] = x[i] + h * (c0 * k0[i] + c1 * k1[i] + c2 * k2[i] + c3 * k3[i]);
                break;
            }

            case 5:
            {
                double c0 = c[0], c1 = c[1], c2 = c[2], c3 = c[3], c4 = c[4];
                double* k0 = k, k1 = k + 1 * stride, k2 = k + 2 * stride, k3 = k + 3 * stride, k4 = k + 4 * stride;
                var i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h), v0 = Vector256.Create(c0), v1 = Vector256.Create(c1), v2 = Vector256.Create(c2), v3 = Vector256.Create(c3), v4 = Vector256.Create(c4);
                    for (; i <= n - 4; i += 4) (Vector256.Load(x + i) + step * (v0 * Vector256.Load(k0 + i) + v1 * Vector256.Load(k1 + i) + v2 * Vector256.Load(k2 + i) + v3 * Vector256.Load(k3 + i) + v4 * Vector256.Load(k4 + i))).Store(result + i);
                }

                for (; i < n; i++) result[i] = x[i] + h * (c0 * k0[i] + c1 * k1[i] + c2 * k2[i] + c3 * k3[i] + c4 * k4[i]);
                break;
            }

            case 6:
            {
                double c0 = c[0], c1 = c[1], c2 = c[2], c3 = c[3], c4 = c[4], c5 = c[5];
                double* k0 = k, k1 = k + 1 * stride, k2 = k + 2 * stride, k3 = k + 3 * stride, k4 = k + 4 * stride, k5 = k + 5 * stride;
                var i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h), v0 = Vector256.Create(c0), v1 = Vector256.Create(c1), v2 = Vector256.Create(c2), v3 = Vector256.Create(c3), v4 = Vector256.Create(c4), v5 = Vector256.Create(c5);
                    for (; i <= n - 4; i += 4) (Vector256.Load(x + i) + step * (v0 * Vector256.Load(k0 + i) + v1 * Vector256.Load(k1 + i) + v2 * Vector256.Load(k2 + i) + v3 * Vector256.Load(k3 + i) + v4 * Vector256.Load(k4 + i) + v5 * Vector256.Load(k5 + i))).Store(result + i);
                }

                for (; i < n; i++) result[i] = x[i] + h * (c0 * k0[i] + c1 * k1[i] + c2 * k2[i] + c3 * k3[i] + c4 * k4[i] + c5 * k5[i]);
                break;
            }

            default:
                throw new ArgumentException("one to six coefficients", nameof(c));
        }
    }

    /// <summary>Copies n numbers; few of them without a call.</summary>
    public static void Copy(double* to, double* from, int n)
    {
        if (n > 16) Buffer.MemoryCopy(from, to, n * sizeof(double), n * sizeof(double));
        else
            for (var i = 0; i < n; i++) to[i] = from[i];
    }

    /// <summary>Whether all numbers are finite: zero times infinity or no number is no number.</summary>
    public static bool AllFinite(double* x, int n)
    {
        var i = 0;
        var sum = 0.0;
        if (n > 4 && Vector256.IsHardwareAccelerated)
        {
            var total = Vector256<double>.Zero;
            for (; i <= n - 4; i += 4) total += Vector256.Load(x + i) * Vector256<double>.Zero;
            sum = Vector256.Sum(total);
        }

        for (; i < n; i++) sum += x[i] * 0;
        return sum == 0;
    }

    /// <summary><c>result = x + h Σ cⱼ k_{used[j]}</c> for any number of vectors.</summary>
    public static void Combine(double* result, double* x, double h, double*[] k, int[] used, double[] c, int n)
    {
        var m = used.Length;
        double** v = stackalloc double*[m];
        for (var j = 0; j < m; j++) v[j] = k[used[j]];
        fixed (double* w = c)
        {
            var i = 0;
            if (n > 4 && Vector256.IsHardwareAccelerated)
            {
                var step = Vector256.Create(h);
                for (; i <= n - 4; i += 4)
                {
                    var sum = Vector256.Create(w[0]) * Vector256.Load(v[0] + i);
                    for (var j = 1; j < m; j++) sum += Vector256.Create(w[j]) * Vector256.Load(v[j] + i);
                    (Vector256.Load(x + i) + step * sum).Store(result + i);
                }
            }

            for (; i < n; i++)
            {
                var sum = w[0] * v[0][i];
                for (var j = 1; j < m; j++) sum += w[j] * v[j][i];
                result[i] = x[i] + h * sum;
            }
        }
    }

    /// <summary><c>result = x + h (k₁ + 2 k₂ + 2 k₃ + k₄)</c>.</summary>
    public static void Simpson(double* result, double* x, double h, double* k1, double* k2, double* k3, double* k4, int n)
    {
        var i = 0;
        if (n > 4 && Vector256.IsHardwareAccelerated)
        {
            Vector256<double> step = Vector256.Create(h), two = Vector256.Create(2.0);
            for (; i <= n - 4; i += 4)
            {
                var sum = Vector256.Load(k1 + i) + Vector256.Load(k4 + i) + two * (Vector256.Load(k2 + i) + Vector256.Load(k3 + i));
                (Vector256.Load(x + i) + step * sum).Store(result + i);
            }
        }

        for (; i < n; i++) result[i] = x[i] + h * (k1[i] + k4[i] + 2 * (k2[i] + k3[i]));
    }
}
