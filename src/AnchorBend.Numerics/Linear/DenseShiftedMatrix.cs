using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace AnchorBend.Numerics.Linear;

/// <summary>LU factorisation with partial pivoting (Golub and Van Loan, "Matrix Computations", 4th ed., algorithm 3.4.1), row-major, in
/// place.</summary>
sealed unsafe class DenseShiftedMatrix<T> : ShiftedMatrix<T>
    where T : unmanaged, INumberBase<T>
{
    readonly SparsePattern pattern;
    readonly int n;
    readonly int[] pivots;
    T* a;

    public DenseShiftedMatrix(SparsePattern pattern)
    {
        this.pattern = pattern;
        n = pattern.ColumnCount;
        pivots = new int[n];
        a = (T*)NativeMemory.AllocZeroed((nuint)Math.Max(1, n * n), (nuint)sizeof(T));
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public override bool Factorize(T sigma, double* jacobian)
    {
        new Span<T>(a, n * n).Clear();
        for (var j = 0; j < n; j++)
        {
            for (var p = pattern.Starts[j]; p < pattern.Starts[j + 1]; p++)
                a[pattern.Rows[p] * n + j] = Of(-jacobian[p]);
            a[j * n + j] += sigma;
        }

        for (var k = 0; k < n; k++)
        {
            var best = k;
            var largest = Size(a[k * n + k]);
            for (var i = k + 1; i < n; i++)
            {
                var candidate = Size(a[i * n + k]);
                if (candidate <= largest)
                    continue;
                largest = candidate;
                best = i;
            }

            pivots[k] = best;
            if (!(largest > 0) || !double.IsFinite(largest))
                return false;
            T* row = a + k * n;
            if (best != k)
            {
                var other = a + best * n;
                for (var j = 0; j < n; j++)
                    (row[j], other[j]) = (other[j], row[j]);
            }

            // The pivot's reciprocal stands in its place: solving then multiplies.
            var inverse = row[k] = T.One / row[k];
            for (var i = k + 1; i < n; i++)
            {
                T* target = a + i * n;
                if (T.IsZero(target[k]))
                    continue;
                var factor = target[k] *= inverse;
                for (var j = k + 1; j < n; j++)
                    target[j] -= factor * row[j];
            }
        }

        return true;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public override void Solve(T* b)
    {
        for (var k = 0; k < n; k++)
            (b[k], b[pivots[k]]) = (b[pivots[k]], b[k]);
        for (var i = 1; i < n; i++)
        {
            T* row = a + i * n;
            var sum = b[i];
            for (var j = 0; j < i; j++)
                sum -= row[j] * b[j];
            b[i] = sum;
        }

        for (var i = n - 1; i >= 0; i--)
        {
            T* row = a + i * n;
            var sum = b[i];
            for (var j = i + 1; j < n; j++)
                sum -= row[j] * b[j];
            b[i] = sum * row[i];
        }
    }

    public override void Dispose()
    {
        if (a != null)
            NativeMemory.Free(a);
        a = null;
    }
}
