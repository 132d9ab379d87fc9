using System.Numerics;

namespace AnchorBend.Design;

/// <summary>
/// A linear system with one input and one output about an operating point, delays kept exact:
/// <c>dx/dt = A x + b u + E w</c>, <c>y = c x + d u + f w</c>, <c>z = G x + h u + K w</c>, <c>wᵢ(t) = zᵢ(t − Tᵢ)</c>.
/// Sizes: n states, m delays; arrays may be empty.
/// </summary>
public sealed record LinearSystem
{
    public required double[,] A { get; init; }
    public required double[] B { get; init; }
    public required double[] C { get; init; }
    public required double D { get; init; }
    public required double[,] E { get; init; }
    public required double[] F { get; init; }
    public required double[,] G { get; init; }
    public required double[] H { get; init; }
    public required double[,] K { get; init; }

    /// <summary>Delay times in s.</summary>
    public required double[] Delays { get; init; }

    /// <summary>Names of the states.</summary>
    public required IReadOnlyList<string> States { get; init; }

    public int Order => B.Length;

    /// <summary>A system without delays.</summary>
    public static LinearSystem Of(double[,] a, double[] b, double[] c, double d, IReadOnlyList<string>? states = null) =>
        new()
        {
            A = a,
            B = b,
            C = c,
            D = d,
            E = new double[b.Length, 0],
            F = [],
            G = new double[0, b.Length],
            H = [],
            K = new double[0, 0],
            Delays = [],
            States = states ?? [.. Enumerable.Range(1, b.Length).Select(i => $"x{i}")],
        };

    /// <summary>The frequency response at the complex frequency <paramref name="s"/>; delays enter as exp(−sT).</summary>
    /// <returns>NaN where s is a pole.</returns>
    public Complex At(Complex s)
    {
        int n = Order,
            m = Delays.Length;
        // Unknowns x and w: (sI − A) x − E w = b u, w − e^{−sT}(G x + K w) = e^{−sT} h u, with u = 1.
        var matrix = new Complex[n + m, n + m];
        var right = new Complex[n + m];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                matrix[i, j] = -A[i, j];
            matrix[i, i] += s;
            for (var j = 0; j < m; j++)
                matrix[i, n + j] = -E[i, j];
            right[i] = B[i];
        }

        for (var i = 0; i < m; i++)
        {
            var shift = Complex.Exp(-s * Delays[i]);
            for (var j = 0; j < n; j++)
                matrix[n + i, j] = -shift * G[i, j];
            for (var j = 0; j < m; j++)
                matrix[n + i, n + j] = -shift * K[i, j];
            matrix[n + i, n + i] += 1;
            right[n + i] = shift * H[i];
        }

        if (!ComplexLinear.Solve(matrix, right))
            return new Complex(double.NaN, double.NaN);
        Complex y = D;
        for (var i = 0; i < n; i++)
            y += C[i] * right[i];
        for (var i = 0; i < m; i++)
            y += F[i] * right[n + i];
        return y;
    }

    /// <summary>
    /// The part that matters between input and output: states (and delays) that the input reaches and that reach the output. What is left
    /// out cancels structurally, not by numbers.
    /// </summary>
    public LinearSystem Reduced() => Reduced([this])[0];

    /// <summary>The same of several systems of the same states: what lies on a way from any input to any output stays.</summary>
    internal static IReadOnlyList<LinearSystem> Reduced(IReadOnlyList<LinearSystem> together)
    {
        var first = together[0];
        var (kept, lags) = first.OnWays(
            i => together.Any(s => i < s.Order ? s.B[i] != 0 : s.H[i - s.Order] != 0),
            i => together.Any(s => i < s.Order ? s.C[i] != 0 : s.F[i - s.Order] != 0)
        );
        return [.. together.Select(s => s.Of(kept, lags))];
    }

    /// <summary>States and delays on a way from one kind of place to another.</summary>
    (int[] States, int[] Delays) OnWays(Func<int, bool> isIn, Func<int, bool> isOut)
    {
        int n = Order,
            m = Delays.Length,
            all = n + m;
        bool Feeds(int from, int to) =>
            (from < n, to < n) switch
            {
                (true, true) => A[to, from] != 0,
                (false, true) => E[to, from - n] != 0,
                (true, false) => G[to - n, from] != 0,
                _ => K[to - n, from - n] != 0,
            };
        var reached = Spread(all, isIn, Feeds);
        var reaching = Spread(all, isOut, (from, to) => Feeds(to, from));
        return (
            [.. Enumerable.Range(0, n).Where(i => reached[i] && reaching[i])],
            [.. Enumerable.Range(0, m).Where(i => reached[n + i] && reaching[n + i])]
        );
    }

    LinearSystem Of(int[] keep, int[] lags) =>
        new()
        {
            A = Pick(A, keep, keep),
            B = [.. keep.Select(i => B[i])],
            C = [.. keep.Select(i => C[i])],
            D = D,
            E = Pick(E, keep, lags),
            F = [.. lags.Select(i => F[i])],
            G = Pick(G, lags, keep),
            H = [.. lags.Select(i => H[i])],
            K = Pick(K, lags, lags),
            Delays = [.. lags.Select(i => Delays[i])],
            States = [.. keep.Select(i => States[i])],
        };

    static bool[] Spread(int count, Func<int, bool> start, Func<int, int, bool> feeds)
    {
        var seen = new bool[count];
        var work = new Stack<int>();
        for (var i = 0; i < count; i++)
            if (start(i))
            {
                seen[i] = true;
                work.Push(i);
            }

        while (work.Count > 0)
        {
            var from = work.Pop();
            for (var to = 0; to < count; to++)
                if (!seen[to] && feeds(from, to))
                {
                    seen[to] = true;
                    work.Push(to);
                }
        }

        return seen;
    }

    static double[,] Pick(double[,] m, int[] rows, int[] columns)
    {
        var result = new double[rows.Length, columns.Length];
        for (var i = 0; i < rows.Length; i++)
        for (var j = 0; j < columns.Length; j++)
            result[i, j] = m[rows[i], columns[j]];
        return result;
    }
}
