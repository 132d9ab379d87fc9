using System.Numerics;
using AnchorBend.Compiler.Preparation;
using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Design;

/// <summary>A linear system from several signals to several: p inputs, q outputs, n states.</summary>
/// <param name="Entries">By output, then input, each whole, with the states in one order; for what each says alone.</param>
public sealed record LinearMatrix(IReadOnlyList<string> From, IReadOnlyList<string> To, IReadOnlyList<IReadOnlyList<LinearSystem>> Entries)
{
    /// <summary>Signals at one side, at most.</summary>
    public const int MostSignals = 12;

    /// <param name="open">Signals at which loops are cut.</param>
    /// <exception cref="DesignException">A name is unknown, a cut cannot be made, or there are too many signals.</exception>
    public static LinearMatrix Between(
        PreparedModel prepared,
        OperatingPoint point,
        IReadOnlyList<string> from,
        IReadOnlyList<string> to,
        IReadOnlyList<string> open,
        CancellationToken cancellation = default
    )
    {
        if (from.Count is 0 or > MostSignals || to.Count is 0 or > MostSignals)
            throw new DesignException("signals", $"A system has 1 to {MostSignals} inputs and outputs.", "Take fewer signals.");
        var entries = to.Select(output =>
                from.Select(input =>
                    {
                        cancellation.ThrowIfCancellationRequested();
                        return Linearizer.Between(prepared, point, input, output, open);
                    })
                    .ToList()
            )
            .ToList();
        var all = entries.SelectMany(row => row).ToList();
        return all.TrueForAll(e => e.States.SequenceEqual(all[0].States))
            ? new LinearMatrix(from, to, [.. LinearSystem.Reduced(all).Chunk(from.Count)])
            : throw new DesignException(
                "states",
                "From these inputs the model has different states, so there is no one system from all of them.",
                "Take one input at a time."
            );
    }

    LinearSystem First => Entries[0][0];

    public IReadOnlyList<string> States => First.States;

    /// <summary>n × n.</summary>
    public double[,] A => First.A;

    /// <summary>n × p.</summary>
    public double[,] B => Filled(First.Order, From.Count, (i, j) => Entries[0][j].B[i]);

    /// <summary>q × n.</summary>
    public double[,] C => Filled(To.Count, First.Order, (i, j) => Entries[i][0].C[j]);

    /// <summary>q × p.</summary>
    public double[,] D => Filled(To.Count, From.Count, (i, j) => Entries[i][j].D);

    /// <summary>Dead times in s; with them A, B, C and D are not all of the system.</summary>
    public double[] Delays => First.Delays;

    static double[,] Filled(int rows, int columns, Func<int, int, double> value)
    {
        var filled = new double[rows, columns];
        for (var i = 0; i < rows; i++)
        for (var j = 0; j < columns; j++)
            filled[i, j] = value(i, j);
        return filled;
    }

    /// <summary>The response at a frequency in rad/s, q × p.</summary>
    public Complex[,] At(double frequency)
    {
        var response = new Complex[To.Count, From.Count];
        for (var i = 0; i < To.Count; i++)
        for (var j = 0; j < From.Count; j++)
            response[i, j] = Entries[i][j].At(new Complex(0, frequency));
        return response;
    }

    /// <summary>The gains that a response has in the directions of its inputs, largest first.</summary>
    public static double[] SingularValues(Complex[,] response) =>
        response.Cast<Complex>().All(Complex.IsFinite)
            ? [.. Matrix<Complex>.Build.DenseOfArray(response).Svd(false).S.Select(s => s.Real)]
            : [];

    /// <summary>
    /// Frequencies at which a square system passes nothing in some direction: of the pencil of A, B, C and D inverted at a place s₀, each
    /// finite zero z gives the eigenvalue 1/(z − s₀) (Laub and Moore, "Calculation of transmission zeros using QZ techniques", Automatica
    /// 14, 1978, for the pencil). Those at infinity give zero, but for rounding; so only what two places agree on counts. Null for a system
    /// that is not square, has dead times, or passes nothing at all.
    /// </summary>
    public Complex[]? TransmissionZeros()
    {
        if (From.Count != To.Count || Delays.Length > 0)
            return null;
        var pace = A.Length == 0 ? 1 : Math.Max(Matrix<double>.Build.DenseOfArray(A).L2Norm(), 1e-12);
        if (From.Count + A.GetLength(0) == 0 || Found(0.37 * pace) is not { } first || Found(0.71 * pace) is not { } second)
            return null;
        return [.. first.Where(z => second.Any(o => (o - z).Magnitude <= 1e-5 * (pace * 1e-3 + z.Magnitude)))];

        Complex[]? Found(double place)
        {
            var (n, p) = (First.Order, From.Count);
            var pencil = Matrix<double>.Build.Dense(n + p, n + p);
            pencil.SetSubMatrix(0, 0, Matrix<double>.Build.DenseOfArray(A) - place * Matrix<double>.Build.DenseIdentity(n));
            pencil.SetSubMatrix(0, n, Matrix<double>.Build.DenseOfArray(B));
            pencil.SetSubMatrix(n, 0, Matrix<double>.Build.DenseOfArray(C));
            pencil.SetSubMatrix(n, n, Matrix<double>.Build.DenseOfArray(D));
            var states = Matrix<double>.Build.Dense(n + p, n + p);
            for (var i = 0; i < n; i++)
                states[i, i] = 1;
            var solved = pencil.Solve(states);
            if (solved.Enumerate().Any(v => !double.IsFinite(v)))
                return null;
            var largest = solved.L2Norm();
            return [.. solved.Evd().EigenValues.Where(v => v.Magnitude > 1e-9 * largest).Select(v => place + 1 / v)];
        }
    }
}
