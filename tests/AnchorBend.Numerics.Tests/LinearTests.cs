using System.Numerics;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Numerics.Tests;

public unsafe class LinearTests
{
    static (SparsePattern Pattern, double[] Values) RandomMatrix(int n, double density, int seed)
    {
        var random = new Random(seed);
        var starts = new int[n + 1];
        var rows = new List<int>();
        var values = new List<double>();
        for (var j = 0; j < n; j++)
        {
            for (var i = 0; i < n; i++)
                if (random.NextDouble() < density)
                {
                    rows.Add(i);
                    values.Add(random.NextDouble() * 2 - 1);
                }

            starts[j + 1] = rows.Count;
        }

        return (new SparsePattern(n, starts, [.. rows]), [.. values]);
    }

    /// <summary>The residual of the solved system must be at rounding level, which for these sizes is some 1e-12 of the numbers in
    /// it.</summary>
    [Theory]
    [InlineData(1, 1.0)]
    [InlineData(7, 0.5)]
    [InlineData(60, 0.05)]
    [InlineData(300, 0.01)]
    [InlineData(300, 0.002)]
    public void A_shifted_matrix_solves_real_and_complex_systems_again_and_again(int n, double density)
    {
        for (var seed = 0; seed < 5; seed++)
        {
            var (pattern, values) = RandomMatrix(n, density, seed);
            using var real = ShiftedMatrix<double>.For(pattern);
            using var complex = ShiftedMatrix<Complex>.For(pattern);
            foreach (var sigma in new[] { 3.7, 0.9, 50.0 })
            {
                var b = Enumerable.Range(0, n).Select(i => Math.Sin(i + seed)).ToArray();
                var x = (double[])b.Clone();
                var z = b.Select(v => new Complex(v, -v)).ToArray();
                var shift = new Complex(sigma, 0.7 * sigma);
                fixed (
                    double* j = values,
                        xs = x
                )
                fixed (Complex* zs = z)
                {
                    Assert.True(real.Factorize(sigma, j));
                    real.Solve(xs);
                    Assert.True(complex.Factorize(shift, j));
                    complex.Solve(zs);
                }

                var size = 1 + x.Max(Math.Abs) * (sigma + n);
                for (var i = 0; i < n; i++)
                {
                    var sum = sigma * x[i];
                    var pair = shift * z[i];
                    for (var c = 0; c < n; c++)
                    for (var p = pattern.Starts[c]; p < pattern.Starts[c + 1]; p++)
                        if (pattern.Rows[p] == i)
                        {
                            sum -= values[p] * x[c];
                            pair -= values[p] * z[c];
                        }

                    Assert.Equal(b[i], sum, 1e-12 * size);
                    Assert.Equal(b[i], pair.Real, 1e-12 * size);
                    Assert.Equal(-b[i], pair.Imaginary, 1e-12 * size);
                }
            }
        }
    }

    [Fact]
    public void A_singular_matrix_is_told_and_a_regular_one_after_it_solved()
    {
        // Column 2 depends on column 0 where the shift is zero.
        var n = 30;
        var pattern = new SparsePattern(n, [.. Enumerable.Range(0, n + 1)], [.. Enumerable.Range(0, n).Select(j => j == 2 ? 0 : j)]);
        using var matrix = ShiftedMatrix<double>.For(pattern);
        var values = Enumerable.Repeat(1.0, n).ToArray();
        var b = new double[n];
        b[5] = 2;
        fixed (
            double* j = values,
                x = b
        )
        {
            Assert.False(matrix.Factorize(0, j));
            Assert.True(matrix.Factorize(3, j));
            matrix.Solve(x);
        }

        Assert.Equal(1.0, b[5], 1e-15);
    }
}
