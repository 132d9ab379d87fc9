using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace AnchorBend.Numerics.Linear;

/// <summary>
/// Sparse LU factorisation, left-looking with partial pivoting that prefers the diagonal (Gilbert and Peierls, SIAM J. Sci. Stat. Comput.
/// 9, 1988), columns in a minimum-degree order. Later matrices of the same pattern keep the pivots and the structure of the factors as long
/// as the pivots stay large enough (Davis and Palamadai Natarajan, ACM TOMS 37, 2010).
/// </summary>
sealed unsafe class SparseShiftedMatrix<T> : ShiftedMatrix<T>
    where T : unmanaged, INumberBase<T>
{
    /// <summary>A diagonal pivot is taken when it is at least this part of the largest.</summary>
    const double DiagonalPreference = 0.1;

    /// <summary>Kept pivots must be at least this part of the largest in their column.</summary>
    const double LeastKept = 1e-3;

    readonly SparsePattern pattern;
    readonly int n;
    readonly int[] order,
        pivotRow,
        positionOf,
        lowerStart,
        upperStart,
        reach,
        mark,
        stackNode,
        stackNext;
    readonly T[] pivotInverse;
    int[] lowerRow = [],
        upperPosition = [];
    T[] lower = [],
        upper = [];
    T* work;
    int stamp;
    bool structured;

    public SparseShiftedMatrix(SparsePattern pattern)
    {
        this.pattern = pattern;
        n = pattern.ColumnCount;
        order = MinimumDegree.Order(pattern);
        (pivotRow, positionOf) = (new int[n], new int[n]);
        (lowerStart, upperStart) = (new int[n + 1], new int[n + 1]);
        (reach, mark, stackNode, stackNext) = (new int[n], new int[n], new int[n], new int[n]);
        pivotInverse = new T[n];
        work = (T*)NativeMemory.AllocZeroed((nuint)(2 * n + 1), (nuint)sizeof(T));
    }

    /// <summary>Entries of both factors, for measurements.</summary>
    public int FactorCount => structured ? lowerStart[n] + upperStart[n] + n : 0;

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public override bool Factorize(T sigma, double* jacobian)
    {
        if (structured && Refactorize(sigma, jacobian))
            return true;
        return structured = FactorizeAnew(sigma, jacobian);
    }

    public override void Forget() => structured = false;

    void Scatter(int column, T sigma, double* jacobian)
    {
        for (var p = pattern.Starts[column]; p < pattern.Starts[column + 1]; p++)
            work[pattern.Rows[p]] = Of(-jacobian[p]);
        work[column] += sigma;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    bool Refactorize(T sigma, double* jacobian)
    {
        for (var k = 0; k < n; k++)
        {
            Scatter(order[k], sigma, jacobian);
            for (var p = upperStart[k]; p < upperStart[k + 1]; p++)
            {
                var j = upperPosition[p];
                var value = upper[p] = work[pivotRow[j]];
                work[pivotRow[j]] = T.Zero;
                if (T.IsZero(value))
                    continue;
                for (var q = lowerStart[j]; q < lowerStart[j + 1]; q++)
                    work[lowerRow[q]] -= lower[q] * value;
            }

            var pivot = work[pivotRow[k]];
            work[pivotRow[k]] = T.Zero;
            var largest = 0.0;
            for (var q = lowerStart[k]; q < lowerStart[k + 1]; q++)
                largest = Math.Max(largest, Size(work[lowerRow[q]]));
            var size = Size(pivot);
            var poor = !(size > 0) || !double.IsFinite(size) || size < LeastKept * largest;
            var inverse = pivotInverse[k] = poor ? T.Zero : T.One / pivot;
            for (var q = lowerStart[k]; q < lowerStart[k + 1]; q++)
            {
                lower[q] = work[lowerRow[q]] * inverse;
                work[lowerRow[q]] = T.Zero;
            }

            if (poor)
                return false;
        }

        return true;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    bool FactorizeAnew(T sigma, double* jacobian)
    {
        Array.Fill(positionOf, -1);
        int lowerCount = 0,
            upperCount = 0;
        for (var k = 0; k < n; k++)
        {
            (lowerStart[k], upperStart[k]) = (lowerCount, upperCount);
            var column = order[k];
            var top = Reach(column);
            Room(ref lowerRow, ref lower, lowerCount + n);
            Room(ref upperPosition, ref upper, upperCount + n);
            Scatter(column, sigma, jacobian);
            for (var r = top; r < n; r++)
            {
                var j = positionOf[reach[r]];
                if (j < 0)
                    continue;
                var value = work[reach[r]];
                upperPosition[upperCount] = j;
                upper[upperCount++] = value;
                for (var q = lowerStart[j]; q < lowerStart[j + 1]; q++)
                    work[lowerRow[q]] -= lower[q] * value;
            }

            var best = -1;
            var largest = 0.0;
            for (var r = top; r < n; r++)
            {
                var row = reach[r];
                if (positionOf[row] >= 0)
                    continue;
                var size = Size(work[row]);
                if (size <= largest)
                    continue;
                largest = size;
                best = row;
            }

            if (best >= 0 && positionOf[column] < 0 && mark[column] == stamp && Size(work[column]) >= DiagonalPreference * largest)
                best = column;
            if (best < 0 || !double.IsFinite(largest))
            {
                for (var r = top; r < n; r++)
                    work[reach[r]] = T.Zero;
                return false;
            }

            pivotRow[k] = best;
            positionOf[best] = k;
            var inverse = pivotInverse[k] = T.One / work[best];
            for (var r = top; r < n; r++)
            {
                var row = reach[r];
                if (positionOf[row] < 0)
                {
                    lowerRow[lowerCount] = row;
                    lower[lowerCount++] = work[row] * inverse;
                }

                work[row] = T.Zero;
            }
        }

        (lowerStart[n], upperStart[n]) = (lowerCount, upperCount);
        return true;
    }

    /// <summary>Rows that the column fills, by depth-first search through the lower factor; in topological order from the returned place
    /// on.</summary>
    int Reach(int column)
    {
        stamp++;
        var top = n;
        for (var p = pattern.Starts[column] - 1; p < pattern.Starts[column + 1]; p++)
        {
            var root = p < pattern.Starts[column] ? column : pattern.Rows[p];
            if (mark[root] == stamp)
                continue;
            var depth = 0;
            stackNode[0] = root;
            stackNext[0] = -1;
            mark[root] = stamp;
            while (depth >= 0)
            {
                var node = stackNode[depth];
                var position = positionOf[node];
                if (stackNext[depth] < 0)
                    stackNext[depth] = position < 0 ? 0 : lowerStart[position];
                // A finished column ends where the next one starts.
                var end = position < 0 ? 0 : lowerStart[position + 1];
                var descended = false;
                for (var q = stackNext[depth]; q < end; q++)
                {
                    var row = lowerRow[q];
                    if (mark[row] == stamp)
                        continue;
                    mark[row] = stamp;
                    stackNext[depth] = q + 1;
                    stackNode[++depth] = row;
                    stackNext[depth] = -1;
                    descended = true;
                    break;
                }

                if (descended)
                    continue;
                reach[--top] = node;
                depth--;
            }
        }

        return top;
    }

    static void Room(ref int[] index, ref T[] values, int count)
    {
        if (index.Length >= count)
            return;
        var size = Math.Max(count, 2 * index.Length);
        Array.Resize(ref index, size);
        Array.Resize(ref values, size);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public override void Solve(T* b)
    {
        var z = work + n;
        for (var k = 0; k < n; k++)
        {
            var value = z[k] = b[pivotRow[k]];
            if (T.IsZero(value))
                continue;
            for (var q = lowerStart[k]; q < lowerStart[k + 1]; q++)
                b[lowerRow[q]] -= lower[q] * value;
        }

        for (var k = n - 1; k >= 0; k--)
        {
            var value = z[k] *= pivotInverse[k];
            b[order[k]] = value;
            if (T.IsZero(value))
                continue;
            for (var p = upperStart[k]; p < upperStart[k + 1]; p++)
                z[upperPosition[p]] -= upper[p] * value;
        }
    }

    public override void Dispose()
    {
        if (work != null)
            NativeMemory.Free(work);
        work = null;
    }
}
