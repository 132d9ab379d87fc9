namespace AnchorBend.Design;

/// <summary>Replaces delays by rational all-passes of order 5, for poles, zeros and step responses; frequency responses stay
/// exact.</summary>
public static class PadeApproximation
{
    const int DelayOrder = 5;

    /// <summary>
    /// The system with each delay exp(−sT) replaced by its diagonal Padé approximation
    /// (Golub and Van Loan, "Matrix Computations", 4th ed., section 9.3.1), realised in controller canonical form.
    /// </summary>
    public static LinearSystem WithoutDelays(LinearSystem system)
    {
        int n = system.Order,
            m = system.Delays.Length;
        if (m == 0)
            return system;
        var total = n + m * DelayOrder;
        // w = sign·z + cd·xd with sign = (−1)^order = −1; the loop through K needs (I − sign K)⁻¹.
        const double sign = -1;
        var inner = new double[m, m];
        for (var i = 0; i < m; i++)
        for (var j = 0; j < m; j++)
            inner[i, j] = (i == j ? 1 : 0) - system.K[i, j] * sign;
        var inverse = MathNet.Numerics.LinearAlgebra.Matrix<double>.Build.DenseOfArray(inner).Inverse();
        var lines = Enumerable.Range(0, m).Select(i => AllPass(system.Delays[i])).ToArray();

        // z = inverse (G x + h u + K cd xd), so every quantity is linear in (x, xd, u).
        var z = new double[m, total + 1];
        var raw = new double[m, total + 1];
        for (var i = 0; i < m; i++)
        {
            for (var j = 0; j < n; j++)
                raw[i, j] = system.G[i, j];
            raw[i, total] = system.H[i];
            for (var k = 0; k < m; k++)
            for (var q = 0; q < DelayOrder; q++)
                raw[i, n + k * DelayOrder + q] += system.K[i, k] * lines[k].C[q];
        }

        for (var i = 0; i < m; i++)
        for (var j = 0; j <= total; j++)
        for (var k = 0; k < m; k++)
            z[i, j] += inverse[i, k] * raw[k, j];
        var w = new double[m, total + 1];
        for (var i = 0; i < m; i++)
        {
            for (var j = 0; j <= total; j++)
                w[i, j] = sign * z[i, j];
            for (var q = 0; q < DelayOrder; q++)
                w[i, n + i * DelayOrder + q] += lines[i].C[q];
        }

        var a = new double[total, total];
        var b = new double[total];
        var c = new double[total];
        var d = system.D;
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
                a[i, j] = system.A[i, j];
            b[i] = system.B[i];
            c[i] = system.C[i];
            for (var k = 0; k < m; k++)
            {
                for (var j = 0; j < total; j++)
                    a[i, j] += system.E[i, k] * w[k, j];
                b[i] += system.E[i, k] * w[k, total];
            }
        }

        for (var k = 0; k < m; k++)
        {
            for (var j = 0; j < total; j++)
                c[j] += system.F[k] * w[k, j];
            d += system.F[k] * w[k, total];
            for (var q = 0; q < DelayOrder; q++)
            {
                var row = n + k * DelayOrder + q;
                if (q < DelayOrder - 1)
                {
                    a[row, row + 1] = 1 / lines[k].Scale;
                    continue;
                }

                for (var p = 0; p < DelayOrder; p++)
                    a[row, n + k * DelayOrder + p] -= lines[k].A[p] / lines[k].Scale;
                for (var j = 0; j < total; j++)
                    a[row, j] += z[k, j] / lines[k].Scale;
                b[row] += z[k, total] / lines[k].Scale;
            }
        }

        return LinearSystem.Of(
            a,
            b,
            c,
            d,
            [.. system.States, .. Enumerable.Range(0, m * DelayOrder).Select(i => $"delay {i / DelayOrder + 1}, {i % DelayOrder + 1}")]
        );
    }

    /// <summary>Coefficients in the scaled variable p = sT: denominator Σ aᵢpⁱ + p⁵ and the strictly proper rest's numerator.</summary>
    static (double[] A, double[] C, double Scale) AllPass(double delay)
    {
        var coefficients = new double[DelayOrder + 1];
        coefficients[0] = 1;
        for (var k = 1; k <= DelayOrder; k++)
            coefficients[k] = coefficients[k - 1] * (DelayOrder - k + 1) / (k * (2.0 * DelayOrder - k + 1));
        var lead = coefficients[DelayOrder];
        var a = new double[DelayOrder];
        var c = new double[DelayOrder];
        for (var k = 0; k < DelayOrder; k++)
        {
            a[k] = coefficients[k] / lead;
            var numerator = (k % 2 == 0 ? 1 : -1) * coefficients[k] / lead;
            c[k] = numerator - -1 * a[k];
        }

        return (a, c, delay);
    }
}
