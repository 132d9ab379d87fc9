using MathNet.Numerics.LinearAlgebra;
using Complex = System.Numerics.Complex;

namespace AnchorBend.Design;

/// <summary>How much a state takes part in a mode.</summary>
/// <param name="Shape">The state's entry of the right eigenvector; the largest entry of all is 1.</param>
/// <param name="Participation">Share of the state in the mode: |v_k w_k|, all of one mode sum to 1. Where modes fall together, as those of
/// a double integrator, w is not there, and the share is that of the shape.</param>
public sealed record ModeState(string State, Complex Shape, double Participation);

/// <summary>A natural motion of a model about an operating point.</summary>
/// <param name="Pole">With an imaginary part of zero or above: a pair is one mode.</param>
/// <param name="States">Those that take part, the strongest first.</param>
public sealed record Mode(Complex Pole, IReadOnlyList<ModeState> States)
{
    /// <summary>Natural frequency, rad/s.</summary>
    public double Frequency => Pole.Magnitude;

    /// <summary>Damping ratio; 1 for a decaying real pole, below zero for a growing motion.</summary>
    public double Damping => Pole.Magnitude > 0 ? -Pole.Real / Pole.Magnitude : 0;

    /// <summary>The time in which it falls to 1/e, s; negative where it grows.</summary>
    public double TimeConstant => -1 / Pole.Real;

    public bool IsOscillating => Pole.Imaginary > 1e-9 * Pole.Magnitude;

    /// <summary>States below this share are not listed.</summary>
    const double Least = 1e-3;

    /// <summary>Left vectors longer than this tell that right ones fall together.</summary>
    const double Together = 1e7;

    /// <summary>
    /// All modes of a system, slowest first, with their shapes and participation factors (Pérez-Arriaga, Verghese and Schweppe, IEEE Trans.
    /// Power Apparatus and Systems 101, 1982). Delays enter by their approximation, whose own states are not named.
    /// </summary>
    public static IReadOnlyList<Mode> Of(LinearSystem system)
    {
        var whole = PadeApproximation.WithoutDelays(system);
        // A state that nothing moves and that moves nothing is a number.
        int[] kept =
        [
            .. Enumerable
                .Range(0, whole.Order)
                .Where(i => Enumerable.Range(0, whole.Order).Any(j => whole.A[i, j] != 0 || whole.A[j, i] != 0)),
        ];
        var n = kept.Length;
        if (n == 0)
            return [];
        var own = new double[n, n];
        for (var i = 0; i < n; i++)
        for (var j = 0; j < n; j++)
            own[i, j] = whole.A[kept[i], kept[j]];
        // Balanced, so that states of other units do not spoil the vectors; they are scaled back.
        var (a, scale) = Scaled(own);
        var decomposition = Matrix<double>.Build.DenseOfArray(a).Evd();
        var values = PolesAndZeros.Joined([.. decomposition.EigenValues], a);
        var right = Vectors(decomposition);
        var left = right.Inverse();
        var fallTogether = left.Enumerate().Any(v => !Complex.IsFinite(v) || v.Magnitude > Together);
        var modes = new List<Mode>();
        for (var k = 0; k < n; k++)
        {
            if (values[k].Imaginary < 0)
                continue;
            var parts = Enumerable.Range(0, n).Select(i => (right[i, k] * (fallTogether ? right[i, k] : left[k, i])).Magnitude).ToArray();
            var all = parts.Sum();
            var shape = Enumerable.Range(0, n).Select(i => right[i, k] * scale[i]).ToArray();
            var largest = shape.MaxBy(s => s.Magnitude);
            modes.Add(
                new Mode(
                    values[k],
                    [
                        .. Enumerable
                            .Range(0, n)
                            .Where(i => kept[i] < system.Order)
                            .Select(i => new ModeState(
                                system.States[kept[i]],
                                largest == 0 ? 0 : shape[i] / largest,
                                all > 0 ? parts[i] / all : 0
                            ))
                            .Where(s => s.Participation >= Least)
                            .OrderByDescending(s => s.Participation),
                    ]
                )
            );
        }

        return [.. modes.OrderBy(m => m.Frequency)];
    }

    /// <summary>Eigenvectors as columns, from the real form in which pairs lie beside one another.</summary>
    static Matrix<Complex> Vectors(MathNet.Numerics.LinearAlgebra.Factorization.Evd<double> decomposition)
    {
        var (real, values) = (decomposition.EigenVectors, decomposition.EigenValues);
        var n = values.Count;
        var vectors = Matrix<Complex>.Build.Dense(n, n);
        for (var k = 0; k < n; k++)
        {
            var isPair = values[k].Imaginary != 0 && k + 1 < n;
            for (var i = 0; i < n; i++)
            {
                if (!isPair)
                {
                    vectors[i, k] = real[i, k];
                    continue;
                }

                vectors[i, k] = new Complex(real[i, k], real[i, k + 1]);
                vectors[i, k + 1] = new Complex(real[i, k], -real[i, k + 1]);
            }

            if (isPair)
                k++;
        }

        return vectors;
    }

    /// <summary>Rows and columns of one size, by powers of two (Parlett and Reinsch, Numer. Math. 13, 1969): D⁻¹ A D, and D.</summary>
    static (double[,] A, double[] Scale) Scaled(double[,] given)
    {
        var a = (double[,])given.Clone();
        var n = a.GetLength(0);
        var scale = Enumerable.Repeat(1.0, n).ToArray();
        for (var round = 0; round < 20; round++)
        {
            var changed = false;
            for (var i = 0; i < n; i++)
            {
                var (column, row) = (0.0, 0.0);
                for (var j = 0; j < n; j++)
                    if (j != i)
                        (column, row) = (column + Math.Abs(a[j, i]), row + Math.Abs(a[i, j]));
                if (column == 0 || row == 0)
                    continue;
                var factor = Math.Pow(2, Math.Round(Math.Log2(row / column) / 2));
                if (factor == 1)
                    continue;
                changed = true;
                scale[i] *= factor;
                for (var j = 0; j < n; j++)
                {
                    a[j, i] *= factor;
                    a[i, j] /= factor;
                }
            }

            if (!changed)
                break;
        }

        return (a, scale);
    }
}
