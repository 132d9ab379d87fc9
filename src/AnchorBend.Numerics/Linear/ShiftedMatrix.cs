using System.Numerics;
using System.Runtime.CompilerServices;

namespace AnchorBend.Numerics.Linear;

/// <summary>
/// The matrices <c>σI − J</c> that implicit methods solve with, real or complex, for one Jacobian pattern. Small or full ones are
/// factorised densely, others sparsely with an order that keeps fill-in low.
/// </summary>
/// <typeparam name="T"><see cref="double"/> or <see cref="Complex"/>.</typeparam>
public abstract unsafe class ShiftedMatrix<T> : IDisposable
    where T : unmanaged, INumberBase<T>
{
    /// <summary>Up to this size a dense factorisation is faster at any density.</summary>
    const int DenseSize = 24;

    public static ShiftedMatrix<T> For(SparsePattern pattern)
    {
        var n = pattern.ColumnCount;
        return n <= DenseSize || n <= 1000 && pattern.Count > 0.2 * n * n
            ? new DenseShiftedMatrix<T>(pattern)
            : new SparseShiftedMatrix<T>(pattern);
    }

    /// <summary>Forms and factorises <c>σI − J</c>.</summary>
    /// <param name="jacobian">Values in the order of the pattern.</param>
    /// <returns>False when the matrix is singular.</returns>
    public abstract bool Factorize(T sigma, double* jacobian);

    /// <summary>Drops what was learnt of pivots, so that the next factorisation depends on its matrix alone.</summary>
    public virtual void Forget() { }

    /// <summary>Solves with the factors in place.</summary>
    public abstract void Solve(T* b);

    public abstract void Dispose();

    /// <summary>A cheap size of a number, |re| + |im|.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    protected static double Size(T value)
    {
        if (typeof(T) == typeof(double))
            return Math.Abs(Unsafe.As<T, double>(ref value));
        var c = Unsafe.As<T, Complex>(ref value);
        return Math.Abs(c.Real) + Math.Abs(c.Imaginary);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    protected static T Of(double value)
    {
        if (typeof(T) == typeof(double))
            return Unsafe.As<double, T>(ref value);
        var c = new Complex(value, 0);
        return Unsafe.As<Complex, T>(ref c);
    }
}
