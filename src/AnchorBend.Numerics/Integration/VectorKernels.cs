using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace AnchorBend.Numerics.Integration;

/// <summary>Linear combinations of vectors: four at a time above four states, plain loops below, the same order of operations in both.</summary>
static unsafe class VectorKernels
{
    /// <summary><c>result = x + h (c₀k₀ + c₁k₁ + …)</c> for 1 ≤ m ≤ 7 vectors laid one behind another with the given stride.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Combine(double* result, double* x, double h, double* k, int stride, ReadOnlySpan<double> c, int n)
    {
        var i = 0;
        if (n > 4 && Vector256.IsHardwareAccelerated)
        {
            var hv = Vector256.Create(h);
            for (; i <= n - 4; i += 4)
            {
                var sum = Vector256.Create(c[0]) * Vector256.Load(k + i);
                for (var j = 1; j < c.Length; j++) sum += Vector256.Create(c[j]) * Vector256.Load(k + j * stride + i);
                (Vector256.Load(x + i) + hv * sum).Store(result + i);
            }
        }

        for (; i < n; i++)
        {
            var sum = c[0] * k[i];
            for (var j = 1; j < c.Length; j++) sum += c[j] * k[j * stride + i];
            result[i] = x[i] + h * sum;
        }
    }
}
