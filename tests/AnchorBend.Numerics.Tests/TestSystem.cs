using AnchorBend.Numerics.Integration;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Numerics.Tests;

/// <summary>An equation from plain functions, with a full Jacobian by rows.</summary>
sealed unsafe class TestSystem(
    int dimension,
    Action<double, double[], double[]> slope,
    Action<double, double[], double[,]>? jacobian = null
) : OdeSystem
{
    readonly double[] argument = new double[dimension],
        result = new double[dimension];

    public override int Dimension => dimension;

    public override SparsePattern JacobianPattern { get; } = SparsePattern.Dense(dimension);

    public override void Derivatives(double t, double* x, double* dx)
    {
        for (var i = 0; i < dimension; i++)
            argument[i] = x[i];
        slope(t, argument, result);
        for (var i = 0; i < dimension; i++)
            dx[i] = result[i];
    }

    public override void Jacobian(double t, double* x, double* values)
    {
        for (var i = 0; i < dimension; i++)
            argument[i] = x[i];
        var matrix = new double[dimension, dimension];
        if (jacobian is null)
            throw new InvalidOperationException("this system has no Jacobian");
        jacobian(t, argument, matrix);
        for (var j = 0; j < dimension; j++)
        for (var i = 0; i < dimension; i++)
            values[j * dimension + i] = matrix[i, j];
    }

    public static TestSystem Oscillator() =>
        new(2, (_, x, dx) => (dx[0], dx[1]) = (x[1], -x[0]), (_, _, j) => (j[0, 1], j[1, 0]) = (1, -1));

    public static ErrorScale Scale(int n, double tolerance, double? absolute = null) =>
        new(tolerance, [.. Enumerable.Repeat(absolute ?? tolerance, n)]);

    public static double[] Integrate(Integrator integrator, double[] start, double end)
    {
        var x = new double[start.Length];
        fixed (double* s = start)
            integrator.Restart(0, s);
        while (integrator.Time < end)
            integrator.Step(end);
        for (var i = 0; i < x.Length; i++)
            x[i] = integrator.State[i];
        return x;
    }
}
