using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Design;

/// <summary>The stabilising solution P of A'P + P A − P B B'P/r + Q = 0.</summary>
static class Riccati
{
    const int Rounds = 80,
        MostRefined = 24;

    /// <summary>
    /// By the sign of the Hamiltonian matrix (Roberts, "Linear model reduction and solution of the algebraic Riccati equation by use of the
    /// sign function", Int. J. Control 32, 1980), scaled by its norms; then two steps of Newton's method (Kleinman, IEEE Trans. Autom.
    /// Control 13, 1968), each a Lyapunov equation solved as one linear system.
    /// </summary>
    /// <param name="b">n, of one input.</param>
    /// <exception cref="DesignException">There is none: a state that does not decay is not reached, or not seen.</exception>
    public static Matrix<double> Solve(Matrix<double> a, Vector<double> b, Matrix<double> q, double r)
    {
        var n = a.RowCount;
        var input = b.OuterProduct(b) / r;
        var hamiltonian = Matrix<double>.Build.Dense(2 * n, 2 * n);
        hamiltonian.SetSubMatrix(0, 0, a);
        hamiltonian.SetSubMatrix(0, n, -input);
        hamiltonian.SetSubMatrix(n, 0, -q);
        hamiltonian.SetSubMatrix(n, n, -a.Transpose());
        if (Sign(hamiltonian) is not { } sign)
            throw None();
        var one = Matrix<double>.Build.DenseIdentity(n);
        var left = sign.SubMatrix(0, n, n, n).Stack(sign.SubMatrix(n, n, n, n) + one);
        var right = -(sign.SubMatrix(0, n, 0, n) + one).Stack(sign.SubMatrix(n, n, 0, n));
        var p = left.QR().Solve(right);
        p = (p + p.Transpose()) / 2;
        for (var step = 0; step < 2 && n <= MostRefined; step++)
        {
            var gain = b * p / r;
            p = Lyapunov(a - b.OuterProduct(gain), q + r * gain.OuterProduct(gain));
            p = (p + p.Transpose()) / 2;
        }

        var missed = (a.Transpose() * p + p * a - p * input * p + q).FrobeniusNorm();
        var size = q.FrobeniusNorm() + 2 * a.FrobeniusNorm() * p.FrobeniusNorm();
        var closed = a - b.OuterProduct(b * p / r);
        return missed <= 1e-7 * size && PolesAndZeros.Eigenvalues(closed.ToArray()).All(v => v.Real < 0) ? p : throw None();
    }

    static DesignException None() =>
        new(
            "riccati",
            "There is no state feedback that makes this plant stable with these weights, or it was not found.",
            "A state that does not decay by itself must be moved by the input and seen in the output; take out what is not."
        );

    static Matrix<double>? Sign(Matrix<double> z)
    {
        for (var round = 0; round < Rounds; round++)
        {
            var inverse = z.Inverse();
            if (inverse.Enumerate().Any(v => !double.IsFinite(v)))
                return null;
            var scale = Math.Sqrt(inverse.FrobeniusNorm() / z.FrobeniusNorm());
            var next = (scale * z + inverse / scale) / 2;
            var change = (next - z).FrobeniusNorm();
            z = next;
            if (change <= 1e-13 * z.FrobeniusNorm())
                return z;
        }

        return z;
    }

    /// <summary>P of F'P + P F + Q = 0.</summary>
    static Matrix<double> Lyapunov(Matrix<double> f, Matrix<double> q)
    {
        var n = f.RowCount;
        var one = Matrix<double>.Build.DenseIdentity(n);
        var transposed = f.Transpose();
        var whole = one.KroneckerProduct(transposed) + transposed.KroneckerProduct(one);
        var solved = whole.Solve(-Vector<double>.Build.DenseOfArray(q.ToColumnMajorArray()));
        return Matrix<double>.Build.DenseOfColumnMajor(n, n, solved.ToArray());
    }
}
