using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace AnchorBend.Numerics.Integration;

/// <summary>Linear combinations of vectors: four at a time above four states, plain loops below (vector loads right behind the model's
/// single stores would wait for them), the same order of operations in both.</summary>
/// <remarks>Code for vectors is not compiled ahead; these loops are compiled well at once, as they do most of the work of large
/// models.</remarks>
static unsafe class VectorKernels
{
    /// <summary><c>result = x + h (c₀k₀ + c₁k₁ + …)</c> for 1 ≤ m ≤ 6 vectors laid one behind another with the given stride.</summary>
    /// <remarks>Written out for each m: loops over the coefficients would cost more than the arithmetic.</remarks>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Combine(double* result, double* x, double h, double* k, int stride, ReadOnlySpan<double> c, int n)
    {
        switch (c.Length)
        {
            case 1:
            {
                double c0 = c[0];
                double* k0 = k;
                nint i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h),
                        v0 = Vector256.Create(c0);
                    for (; i <= n - 4; i += 4)
                        (Vector256.Load(x + i) + step * (v0 * Vector256.Load(k0 + i))).Store(result + i);
                }

                for (; i < n; i++)
                    result[i] = x[i] + h * (c0 * k0[i]);
                break;
            }

            case 2:
            {
                double c0 = c[0],
                    c1 = c[1];
                double* k0 = k,
                    k1 = k + 1 * stride;
                nint i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h),
                        v0 = Vector256.Create(c0),
                        v1 = Vector256.Create(c1);
                    for (; i <= n - 4; i += 4)
                        (Vector256.Load(x + i) + step * (v0 * Vector256.Load(k0 + i) + v1 * Vector256.Load(k1 + i))).Store(result + i);
                }

                for (; i < n; i++)
                    result[i] = x[i] + h * (c0 * k0[i] + c1 * k1[i]);
                break;
            }

            case 3:
            {
                double c0 = c[0],
                    c1 = c[1],
                    c2 = c[2];
                double* k0 = k,
                    k1 = k + 1 * stride,
                    k2 = k + 2 * stride;
                nint i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h),
                        v0 = Vector256.Create(c0),
                        v1 = Vector256.Create(c1),
                        v2 = Vector256.Create(c2);
                    for (; i <= n - 4; i += 4)
                        (
                            Vector256.Load(x + i)
                            + step * (v0 * Vector256.Load(k0 + i) + v1 * Vector256.Load(k1 + i) + v2 * Vector256.Load(k2 + i))
                        ).Store(result + i);
                }

                for (; i < n; i++)
                    result[i] = x[i] + h * (c0 * k0[i] + c1 * k1[i] + c2 * k2[i]);
                break;
            }

            case 4:
            {
                double c0 = c[0],
                    c1 = c[1],
                    c2 = c[2],
                    c3 = c[3];
                double* k0 = k,
                    k1 = k + 1 * stride,
                    k2 = k + 2 * stride,
                    k3 = k + 3 * stride;
                nint i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h),
                        v0 = Vector256.Create(c0),
                        v1 = Vector256.Create(c1),
                        v2 = Vector256.Create(c2),
                        v3 = Vector256.Create(c3);
                    for (; i <= n - 4; i += 4)
                        (
                            Vector256.Load(x + i)
                            + step
                                * (
                                    v0 * Vector256.Load(k0 + i)
                                    + v1 * Vector256.Load(k1 + i)
                                    + v2 * Vector256.Load(k2 + i)
                                    + v3 * Vector256.Load(k3 + i)
                                )
                        ).Store(result + i);
                }

                for (; i < n; i++)
                    result[i] = x[i] + h * (c0 * k0[i] + c1 * k1[i] + c2 * k2[i] + c3 * k3[i]);
                break;
            }

            case 5:
            {
                double c0 = c[0],
                    c1 = c[1],
                    c2 = c[2],
                    c3 = c[3],
                    c4 = c[4];
                double* k0 = k,
                    k1 = k + 1 * stride,
                    k2 = k + 2 * stride,
                    k3 = k + 3 * stride,
                    k4 = k + 4 * stride;
                nint i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h),
                        v0 = Vector256.Create(c0),
                        v1 = Vector256.Create(c1),
                        v2 = Vector256.Create(c2),
                        v3 = Vector256.Create(c3),
                        v4 = Vector256.Create(c4);
                    for (; i <= n - 4; i += 4)
                        (
                            Vector256.Load(x + i)
                            + step
                                * (
                                    v0 * Vector256.Load(k0 + i)
                                    + v1 * Vector256.Load(k1 + i)
                                    + v2 * Vector256.Load(k2 + i)
                                    + v3 * Vector256.Load(k3 + i)
                                    + v4 * Vector256.Load(k4 + i)
                                )
                        ).Store(result + i);
                }

                for (; i < n; i++)
                    result[i] = x[i] + h * (c0 * k0[i] + c1 * k1[i] + c2 * k2[i] + c3 * k3[i] + c4 * k4[i]);
                break;
            }

            case 6:
            {
                double c0 = c[0],
                    c1 = c[1],
                    c2 = c[2],
                    c3 = c[3],
                    c4 = c[4],
                    c5 = c[5];
                double* k0 = k,
                    k1 = k + 1 * stride,
                    k2 = k + 2 * stride,
                    k3 = k + 3 * stride,
                    k4 = k + 4 * stride,
                    k5 = k + 5 * stride;
                nint i = 0;
                if (n > 4 && Vector256.IsHardwareAccelerated)
                {
                    Vector256<double> step = Vector256.Create(h),
                        v0 = Vector256.Create(c0),
                        v1 = Vector256.Create(c1),
                        v2 = Vector256.Create(c2),
                        v3 = Vector256.Create(c3),
                        v4 = Vector256.Create(c4),
                        v5 = Vector256.Create(c5);
                    for (; i <= n - 4; i += 4)
                        (
                            Vector256.Load(x + i)
                            + step
                                * (
                                    v0 * Vector256.Load(k0 + i)
                                    + v1 * Vector256.Load(k1 + i)
                                    + v2 * Vector256.Load(k2 + i)
                                    + v3 * Vector256.Load(k3 + i)
                                    + v4 * Vector256.Load(k4 + i)
                                    + v5 * Vector256.Load(k5 + i)
                                )
                        ).Store(result + i);
                }

                for (; i < n; i++)
                    result[i] = x[i] + h * (c0 * k0[i] + c1 * k1[i] + c2 * k2[i] + c3 * k3[i] + c4 * k4[i] + c5 * k5[i]);
                break;
            }

            default:
                throw new ArgumentException("one to six coefficients", nameof(c));
        }
    }

    /// <summary>Copies n numbers; few of them without a call.</summary>
    public static void Copy(double* to, double* from, int n)
    {
        if (n > 16)
            Buffer.MemoryCopy(from, to, n * sizeof(double), n * sizeof(double));
        else
            for (nint i = 0; i < n; i++)
                to[i] = from[i];
    }

    /// <summary>Whether all numbers are finite: zero times infinity or no number is no number.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static bool AllFinite(double* x, int n)
    {
        nint i = 0;
        var sum = 0.0;
        if (n > 4 && Vector256.IsHardwareAccelerated)
        {
            var total = Vector256<double>.Zero;
            for (; i <= n - 4; i += 4)
                total += Vector256.Load(x + i) * Vector256<double>.Zero;
            sum = Vector256.Sum(total);
        }

        for (; i < n; i++)
            sum += x[i] * 0;
        return sum == 0;
    }

    /// <summary><c>result = x + h Σ cⱼ k_{used[j]}</c> for any number of vectors laid one behind another with the given stride.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Combine(double* result, double* x, double h, double* k, int stride, int[] used, double[] c, int n)
    {
        var m = used.Length;
        fixed (double* w = c)
        fixed (int* u = used)
        {
            nint i = 0;
            if (n > 4 && Vector256.IsHardwareAccelerated)
            {
                var step = Vector256.Create(h);
                for (; i <= n - 4; i += 4)
                {
                    var sum = Vector256.Create(w[0]) * Vector256.Load(k + u[0] * stride + i);
                    for (var j = 1; j < m; j++)
                        sum += Vector256.Create(w[j]) * Vector256.Load(k + u[j] * stride + i);
                    (Vector256.Load(x + i) + step * sum).Store(result + i);
                }
            }

            // Two sums at a time, as each waits for its last addition.
            for (; i <= n - 2; i += 2)
            {
                var first = k + u[0] * stride + i;
                double a = w[0] * first[0],
                    b = w[0] * first[1];
                for (var j = 1; j < m; j++)
                {
                    var v = k + u[j] * stride + i;
                    a += w[j] * v[0];
                    b += w[j] * v[1];
                }

                result[i] = x[i] + h * a;
                result[i + 1] = x[i + 1] + h * b;
            }

            for (; i < n; i++)
            {
                var sum = w[0] * k[u[0] * stride + i];
                for (var j = 1; j < m; j++)
                    sum += w[j] * k[u[j] * stride + i];
                result[i] = x[i] + h * sum;
            }
        }
    }

    /// <summary><c>result = x + h (k₁ + 2 k₂ + 2 k₃ + k₄)</c>.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Simpson(double* result, double* x, double h, double* k1, double* k2, double* k3, double* k4, int n)
    {
        nint i = 0;
        if (n > 4 && Vector256.IsHardwareAccelerated)
        {
            Vector256<double> step = Vector256.Create(h),
                two = Vector256.Create(2.0);
            for (; i <= n - 4; i += 4)
            {
                var sum = Vector256.Load(k1 + i) + Vector256.Load(k4 + i) + two * (Vector256.Load(k2 + i) + Vector256.Load(k3 + i));
                (Vector256.Load(x + i) + step * sum).Store(result + i);
            }
        }

        for (; i < n; i++)
            result[i] = x[i] + h * (k1[i] + k4[i] + 2 * (k2[i] + k3[i]));
    }

    /// <summary>
    /// Root mean square of <c>h (e₀k₀ + e₁k₁ + …) / (aᵢ + r max(|xᵢ|, |yᵢ|))</c> for the six weights of an embedded pair without its second
    /// slope. The elements are summed in their order, so that the sum does not depend on the width of vectors.
    /// </summary>
    /// <param name="scaled">Receives the scaled differences.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static double EmbeddedError(
        double* scaled,
        double h,
        double* k,
        int stride,
        ReadOnlySpan<double> e,
        double* absolute,
        double relative,
        double* x,
        double* y,
        int n
    )
    {
        double e0 = e[0],
            e1 = e[1],
            e2 = e[2],
            e3 = e[3],
            e4 = e[4],
            e5 = e[5];
        double* k1 = k,
            k3 = k + 2 * stride,
            k4 = k + 3 * stride,
            k5 = k + 4 * stride,
            k6 = k + 5 * stride,
            k7 = k + 6 * stride;
        nint i = 0;
        if (n > 4 && Vector256.IsHardwareAccelerated)
        {
            Vector256<double> step = Vector256.Create(h),
                r = Vector256.Create(relative);
            for (; i <= n - 4; i += 4)
            {
                var difference =
                    step
                    * (
                        e0 * Vector256.Load(k1 + i)
                        + e1 * Vector256.Load(k3 + i)
                        + e2 * Vector256.Load(k4 + i)
                        + e3 * Vector256.Load(k5 + i)
                        + e4 * Vector256.Load(k6 + i)
                        + e5 * Vector256.Load(k7 + i)
                    );
                var size = Vector256.Max(Vector256.Abs(Vector256.Load(x + i)), Vector256.Abs(Vector256.Load(y + i)));
                (difference / (Vector256.Load(absolute + i) + r * size)).Store(scaled + i);
            }
        }

        for (; i < n; i++)
        {
            var difference = h * (e0 * k1[i] + e1 * k3[i] + e2 * k4[i] + e3 * k5[i] + e4 * k6[i] + e5 * k7[i]);
            scaled[i] = difference / (absolute[i] + relative * Math.Max(Math.Abs(x[i]), Math.Abs(y[i])));
        }

        var sum = 0.0;
        for (i = 0; i < n; i++)
            sum += scaled[i] * scaled[i];
        return Math.Sqrt(sum / n);
    }
}
