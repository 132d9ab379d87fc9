using System.Numerics;
using Matrix = MathNet.Numerics.LinearAlgebra.Double.Matrix;
using Vector = MathNet.Numerics.LinearAlgebra.Double.Vector;

namespace AnchorBend.Design;

/// <summary>A linear controller with two inputs: x' = A x + Br r − By y, u = C x + Kr r − Ky y.</summary>
/// <param name="A">n × n.</param>
/// <param name="SetPoint">Br.</param>
/// <param name="Measured">By.</param>
/// <param name="C">n.</param>
/// <param name="DirectSetPoint">Kr.</param>
/// <param name="DirectMeasured">Ky.</param>
/// <param name="States">What its states are called.</param>
public sealed record LinearController(
    double[,] A,
    double[] SetPoint,
    double[] Measured,
    double[] C,
    double DirectSetPoint,
    double DirectMeasured,
    IReadOnlyList<string> States
)
{
    /// <summary>Where the input of a connected loop enters.</summary>
    public enum Entry
    {
        /// <summary>In place of −y, without a set-point: the open loop.</summary>
        Open,
        SetPoint,

        /// <summary>Added to the controller's output.</summary>
        Load,
    }

    /// <summary>From the measured value to the output, sign left out: the polynomials of Faddeev and Leverrier (Gantmacher, "The Theory of
    /// Matrices", volume 1, chapter 4). For a few states.</summary>
    public Func<Complex, Complex> Transfer()
    {
        var n = C.Length;
        var (a, by, c) = (Matrix.Build.DenseOfArray(A), Vector.Build.DenseOfArray(Measured), Vector.Build.DenseOfArray(C));
        var (top, bottom) = (new double[n], new double[n]);
        var adjoint = Matrix.Build.DenseIdentity(n);
        for (var k = 0; k < n; k++)
        {
            top[k] = c * (adjoint * by);
            var next = a * adjoint;
            bottom[k] = -next.Trace() / (k + 1);
            adjoint = next + bottom[k] * Matrix.Build.DenseIdentity(n);
        }

        return s =>
        {
            Complex numerator = 0,
                denominator = 1;
            for (var k = 0; k < n; k++)
                (numerator, denominator) = (numerator * s + top[k], denominator * s + bottom[k]);
            return DirectMeasured + numerator / denominator;
        };
    }

    /// <summary>The controller with a plant.</summary>
    /// <param name="asksForOutput">Whether the output is that of the controller; else that of the plant.</param>
    public LinearSystem Connect(LinearSystem plant, Entry entry, bool asksForOutput = false)
    {
        var closed = entry != Entry.Open;
        int n = plant.Order,
            m = plant.Delays.Length,
            own = C.Length,
            total = n + own;
        // u = Ux·(xp, xc) + ur·input + Uw·w, with y = (c x + d u + f w) fed back where closed.
        var loop = closed ? 1 / (1 + plant.D * DirectMeasured) : 1;
        var ux = new double[total];
        for (var j = 0; j < n; j++)
            ux[j] = closed ? -loop * DirectMeasured * plant.C[j] : 0;
        for (var j = 0; j < own; j++)
            ux[n + j] = loop * C[j];
        var ur = entry switch
        {
            Entry.Open => DirectMeasured,
            Entry.SetPoint => loop * DirectSetPoint,
            _ => loop,
        };
        var uw = plant.F.Select(f => closed ? -loop * DirectMeasured * f : 0).ToArray();
        var a = new double[total, total];
        var b = new double[total];
        var c = new double[total];
        var e = new double[total, m];
        var f2 = new double[m];
        for (var j = 0; j < total; j++)
            c[j] = (j < n ? plant.C[j] : 0) + plant.D * ux[j];
        var d = plant.D * ur;
        for (var j = 0; j < m; j++)
            f2[j] = plant.F[j] + plant.D * uw[j];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < total; j++)
                a[i, j] = (j < n ? plant.A[i, j] : 0) + plant.B[i] * ux[j];
            b[i] = plant.B[i] * ur;
            for (var j = 0; j < m; j++)
                e[i, j] = plant.E[i, j] + plant.B[i] * uw[j];
        }

        for (var i = 0; i < own; i++)
        {
            var row = n + i;
            for (var j = 0; j < own; j++)
                a[row, n + j] = A[i, j];
            b[row] = entry switch
            {
                Entry.Open => Measured[i],
                Entry.SetPoint => SetPoint[i],
                _ => 0,
            };
            if (!closed)
                continue;
            for (var j = 0; j < total; j++)
                a[row, j] -= Measured[i] * c[j];
            b[row] -= Measured[i] * d;
            for (var j = 0; j < m; j++)
                e[row, j] -= Measured[i] * f2[j];
        }

        double[,] g = new double[m, total],
            k = new double[m, m];
        var h = new double[m];
        for (var i = 0; i < m; i++)
        {
            for (var j = 0; j < total; j++)
                g[i, j] = (j < n ? plant.G[i, j] : 0) + plant.H[i] * ux[j];
            h[i] = plant.H[i] * ur;
            for (var j = 0; j < m; j++)
                k[i, j] = plant.K[i, j] + plant.H[i] * uw[j];
        }

        return new LinearSystem
        {
            A = a,
            B = b,
            C = asksForOutput ? ux : c,
            D = asksForOutput ? ur : d,
            E = e,
            F = asksForOutput ? uw : f2,
            G = g,
            H = h,
            K = k,
            Delays = plant.Delays,
            States = [.. plant.States, .. States],
        };
    }
}
