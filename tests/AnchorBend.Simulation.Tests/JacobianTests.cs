using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Simulation.Tests;

/// <summary>Derivatives along the states, made by rule from the plan, against differences, for every part of the catalog at work.</summary>
public unsafe class JacobianTests
{
    public static TheoryData<string> Parts => [.. PartCatalog.Standard.Parts.Select(p => p.Name)];

    [Theory, MemberData(nameof(Parts))]
    public void The_slopes_of_a_parts_example_are_those_of_differences(string part)
    {
        var document = PartExample.Of(part, PartCatalog.Standard);
        var prepared = DocumentPreparation.Prepare(document, PartCatalog.Standard);
        var plan = prepared.Compiled!;
        if (plan.Plan.States.Length == 0 || plan.Plan.Model.Delays.Count > 0)
            return;
        var options = DocumentRun.OptionsOf(document);
        var parameters = new ParameterSet(prepared.Model);
        using var simulator = new Simulator(plan, parameters, options with { End = options.End / 3 });
        var result = simulator.Run();
        var (row, time) = (result.Trace.Rows - 1, result.Trace.Times[^1]);
        using var instance = new ModelInstance(plan, parameters);
        instance.Reset();
        var x = plan.Plan.States.Select(s => result.Trace[row, s]).ToArray();
        Compare(instance, time, x, part);
    }

    static void Compare(ModelInstance instance, double time, double[] x, string part)
    {
        var ode = instance.Ode;
        var pattern = ode.JacobianPattern;
        var n = x.Length;
        var values = new double[pattern.Count];
        fixed (double* state = x)
        fixed (double* exact = values)
            ode.Jacobian(time, state, exact);
        for (var column = 0; column < n; column++)
        {
            // A central difference is right to h², its rounding grows with 1/h: the cube root of the precision balances both.
            var h = Math.Cbrt(2.2e-16) * Math.Max(Math.Abs(x[column]), 0.1);
            var (up, at, down) = (
                Slopes(instance, time, x, column, h),
                Slopes(instance, time, x, column, 0),
                Slopes(instance, time, x, column, -h)
            );
            var (upHalf, downHalf) = (Slopes(instance, time, x, column, h / 2), Slopes(instance, time, x, column, -h / 2));
            // A loop that a cold start does not solve has no slopes to compare with.
            if (up.Concat(at).Concat(down).Concat(upHalf).Concat(downHalf).Any(s => !double.IsFinite(s)))
                continue;
            for (var row = 0; row < n; row++)
            {
                var difference = (up[row] - down[row]) / (2 * h);
                var oneSided = Math.Abs((up[row] - at[row]) / h - (at[row] - down[row]) / h);
                // About a point where the slope itself bends, as that of v·|v| at rest, the error goes with h instead: twice what halving
                // it changes.
                var halving = 2.5 * Math.Abs(difference - (upHalf[row] - downHalf[row]) / h);
                var size = Math.Max(Math.Abs(difference), (Math.Abs(up[row]) + Math.Abs(down[row])) * 2.2e-16 / h);
                // What comes into a derivative is rounded in the size of the largest state.
                var rounding = 2.2e-16 * x.Max(Math.Abs) / h;
                var tolerance = 1e-5 * size + 1e-6 + oneSided + halving + rounding;
                // Where both sides differ much there is no slope to compare with; what is not in the pattern is zero all the same.
                Assert.True(
                    Math.Abs(Exact(pattern, values, row, column) - difference) <= tolerance,
                    $"{part}: row {row}, column {column}: {Exact(pattern, values, row, column):R}, by differences {difference:R}"
                );
            }
        }
    }

    static double[] Slopes(ModelInstance instance, double time, double[] x, int column, double h)
    {
        var moved = (double[])x.Clone();
        moved[column] += h;
        var slopes = new double[x.Length];
        fixed (double* state = moved)
        fixed (double* dx = slopes)
            instance.Ode.Derivatives(time, state, dx);
        return slopes;
    }

    static double Exact(Numerics.Linear.SparsePattern pattern, double[] values, int row, int column)
    {
        for (var i = pattern.Starts[column]; i < pattern.Starts[column + 1]; i++)
            if (pattern.Rows[i] == row)
                return values[i];
        return 0;
    }
}
