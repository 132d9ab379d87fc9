using AnchorBend.Language;
using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.Optimization;

namespace AnchorBend.Design.Stores;

/// <summary>Searches the time constants with which exponentials leave least of all rests: from the best of a grid by the simplex of Nelder
/// and Mead, over their logarithms.</summary>
sealed class TimeConstantSearch(IReadOnlyList<PulseRest> rests, int branches)
{
    const int GridPoints = 12,
        MostSteps = 2000;

    /// <summary>The simplex ends where its values differ by this part. Below the floor, a part of what the grid leaves, a sum of squares
    /// is that of rounded values and their differences say nothing.</summary>
    const double Settled = 1e-6,
        Floor = 1e-9;

    /// <summary>Time constants that are this near to each other are one.</summary>
    const double Apart = 1.5;

    /// <exception cref="DesignException">The data do not tell them apart.</exception>
    public double[] Best()
    {
        var (least, most) = (rests.Min(r => r.Shortest), 2 * rests.Max(r => r.Duration));
        var grid = Enumerable.Range(0, GridPoints).Select(k => Math.Log(least) + k * Math.Log(most / least) / (GridPoints - 1)).ToArray();
        var start = Subsets(grid, branches).MinBy(Left)!;
        var rough = Math.Max(Left(start), double.Epsilon);
        try
        {
            var found = new NelderMeadSimplex(Settled, MostSteps).FindMinimum(
                ObjectiveFunction.Value(v => Left([.. v]) / rough + Floor),
                Vector<double>.Build.DenseOfArray(start)
            );
            return [.. found.MinimizingPoint.Order().Select(Math.Exp)];
        }
        catch (MaximumIterationsException)
        {
            throw PulseTest.Refused(
                "The time constants of the branches do not settle on this test.",
                "Try fewer branches, or a test with longer rests and more samples."
            );
        }
    }

    /// <summary>The sum of squares that is left of all rests; much where two time constants are nearly one.</summary>
    double Left(double[] logarithms)
    {
        WorkBudget.Current.Check();
        var order = logarithms.Order().ToArray();
        for (var i = 1; i < order.Length; i++)
            if (order[i] - order[i - 1] < Math.Log(Apart))
                return double.MaxValue / 1e100;
        var taus = order.Select(Math.Exp).ToArray();
        return rests.Sum(r => r.Sizes(taus).Left);
    }

    static IEnumerable<double[]> Subsets(double[] grid, int size)
    {
        if (size == 0)
            return
            [
                [],
            ];
        return grid.SelectMany((value, i) => Subsets(grid[(i + 1)..], size - 1).Select(rest => (double[])[value, .. rest]));
    }
}
