using MathNet.Numerics.LinearAlgebra;
using Complex = System.Numerics.Complex;

namespace AnchorBend.Design;

/// <summary>Poles and zeros of a linear system. With delays they are those of a Padé approximation of the delays.</summary>
public static class PolesAndZeros
{
    /// <summary>Eigenvalues of A, slowest first.</summary>
    public static Complex[] Poles(LinearSystem system)
    {
        var free = PadeApproximation.WithoutDelays(system);
        return free.Order == 0 ? [] : Sorted(Joined(Eigenvalues(Balanced(free).A), free.A));
    }

    /// <summary>
    /// Invariant zeros. With relative degree r the zero dynamics live in the null space of c, cA, …, cA^{r−1} under the feedback
    /// u = −cA^r x / (cA^{r−1} b) (Isidori, "Nonlinear Control Systems", section 4.3, for linear systems).
    /// </summary>
    public static Complex[] Zeros(LinearSystem system)
    {
        var free = Balanced(PadeApproximation.WithoutDelays(system));
        var n = free.Order;
        if (n == 0)
            return [];
        var a = Matrix<double>.Build.DenseOfArray(free.A);
        var b = Vector<double>.Build.DenseOfArray(free.B);
        var row = Vector<double>.Build.DenseOfArray(free.C);
        var scale = Math.Max(1e-300, a.FrobeniusNorm());
        if (Math.Abs(free.D) > 1e-12 * (Math.Abs(free.D) + row.L2Norm() * b.L2Norm() / scale))
            return Sorted(Eigenvalues((a - b.OuterProduct(row) / free.D).ToArray()));
        var rows = new List<Vector<double>>();
        for (var degree = 1; degree <= n; degree++)
        {
            rows.Add(row / Math.Max(1e-300, row.L2Norm()));
            var gain = row * b;
            var next = row * a;
            if (Math.Abs(gain) > 1e-10 * row.L2Norm() * b.L2Norm())
            {
                if (degree == n)
                    return [];
                var closed = a - b.OuterProduct(next) / gain;
                var basis = Matrix<double>.Build.DenseOfRowVectors(rows).Svd(true).VT;
                var kernel = basis.SubMatrix(degree, n - degree, 0, n).Transpose();
                return Sorted(Eigenvalues((kernel.Transpose() * closed * kernel).ToArray()));
            }

            // Powers of A overflow where their rows are not kept at one size.
            var length = next.L2Norm();
            if (!(length > 0) || !double.IsFinite(length))
                return [];
            row = next / length;
        }

        return [];
    }

    /// <summary>Eigenvalues; the decomposition of what is no number would not end.</summary>
    internal static Complex[] Eigenvalues(double[,] a)
    {
        foreach (var v in a)
            if (!double.IsFinite(v))
                throw new DesignException(
                    "not-finite",
                    "The linear model holds values that are no numbers.",
                    "Choose another operating point."
                );
        return a.Length == 0 ? [] : [.. Matrix<double>.Build.DenseOfArray(a).Evd(Symmetricity.Asymmetric).EigenValues];
    }

    /// <summary>
    /// A double pole at zero, as of a body that moves freely, is found as two a root of the rounding apart, on opposite sides: of a Jordan
    /// block of two the eigenvalues move by the square root of an error (Golub and Van Loan, "Matrix Computations", section 7.2). Such
    /// pairs are put back to zero where the matrix is singular to rounding, which of a slow swing it is not.
    /// </summary>
    internal static Complex[] Joined(Complex[] values, double[,] given)
    {
        var matrix = Matrix<double>.Build.DenseOfArray(given);
        var near = Rounding * matrix.FrobeniusNorm();
        var joined = (Complex[])values.Clone();
        for (var i = 0; i < joined.Length; i++)
        for (var j = i + 1; j < joined.Length; j++)
            if (
                joined[i] != Complex.Zero
                && joined[i].Magnitude * joined[i].Magnitude <= near
                && (joined[i] + joined[j]).Magnitude <= 1e-3 * joined[i].Magnitude
                && IsSingular(matrix)
            )
                (joined[i], joined[j]) = (Complex.Zero, Complex.Zero);
        return joined;
    }

    /// <summary>Units of states and rates change no rank, so each row and then each column is brought to the size of one first.</summary>
    static bool IsSingular(Matrix<double> matrix)
    {
        static double Size(Vector<double> v) => v.AbsoluteMaximum() is > 0 and var size ? size : 1;
        var rows = Matrix<double>.Build.DenseOfRowVectors(matrix.EnumerateRows().Select(r => r / Size(r)));
        var scaled = Matrix<double>.Build.DenseOfColumnVectors(rows.EnumerateColumns().Select(c => c / Size(c)));
        return scaled.Svd(false).S.Min() <= Rounding * scaled.RowCount;
    }

    /// <summary>Rounding of a decomposition, over the size of its matrix.</summary>
    const double Rounding = 1e-14;

    static Complex[] Sorted(Complex[] values) => [.. values.OrderBy(v => Math.Round(v.Magnitude, 9)).ThenBy(v => v.Imaginary)];

    /// <summary>Scales the states by powers of two so that rows and columns of A are of like size (Osborne, J. ACM 7, 1960).</summary>
    static LinearSystem Balanced(LinearSystem system)
    {
        var n = system.Order;
        var a = (double[,])system.A.Clone();
        var b = (double[])system.B.Clone();
        var c = (double[])system.C.Clone();
        for (var round = 0; round < 20; round++)
        {
            var done = true;
            for (var i = 0; i < n; i++)
            {
                double rowSum = Math.Abs(b[i]),
                    columnSum = Math.Abs(c[i]);
                for (var j = 0; j < n; j++)
                {
                    if (j == i)
                        continue;
                    rowSum += Math.Abs(a[i, j]);
                    columnSum += Math.Abs(a[j, i]);
                }

                if (rowSum == 0 || columnSum == 0)
                    continue;
                var f = Math.Pow(2, Math.Round(Math.Log2(rowSum / columnSum) / 2));
                if (f == 1 || !double.IsFinite(f))
                    continue;
                done = false;
                b[i] /= f;
                c[i] *= f;
                for (var j = 0; j < n; j++)
                {
                    if (j == i)
                        continue;
                    a[i, j] /= f;
                    a[j, i] *= f;
                }
            }

            if (done)
                break;
        }

        return LinearSystem.Of(a, b, c, system.D, system.States);
    }
}
