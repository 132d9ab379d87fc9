using AnchorBend.Delivery.Targets;

namespace AnchorBend.Delivery.Tests;

/// <summary>What targets are made of: costs by classes, and values that are fitted.</summary>
public class TargetPartsTests
{
    [Fact]
    public void Costs_stand_in_classes_of_equal_ratio()
    {
        var costs = new StepCosts();
        foreach (var cost in new[] { 100.0, 101, 102, 103, 5000 })
            costs.Note(cost);
        var view = costs.View();
        Assert.Equal((5, 100.0, 5000.0), (view.Steps, view.Least, view.Most));
        Assert.Equal(5406 / 5.0, view.Mean, 1e-9);
        Assert.Equal(5, view.Classes.Sum(c => c.Count));
        Assert.All(view.Classes, c => Assert.Equal(Math.Pow(2, 1.0 / 8), c.To / c.From, 1e-12));
        // The one long step stands alone at the end, and the median is one of the short ones.
        Assert.Equal(1, view.Classes[^1].Count);
        Assert.InRange(5000, view.Classes[^1].From, view.Classes[^1].To);
        Assert.InRange(view.Median, 100, 110);
    }

    [Fact]
    public void Costs_beyond_all_classes_are_kept_at_their_ends()
    {
        var costs = new StepCosts();
        Assert.Equal(0, costs.View().Steps);
        foreach (var cost in new[] { -5.0, 0, 1e30 })
            costs.Note(cost);
        var view = costs.View();
        Assert.Equal((0.0, 1e30, 3), (view.Least, view.Most, (int)view.Classes.Sum(c => c.Count)));
    }

    static (double[] Values, double Left) Fit(Func<double[], double[]> leadsTo, double[] wanted, double[] start) =>
        StateFit.Of(leadsTo, wanted, [.. wanted.Select(_ => 1.0)], start, [.. start.Select(_ => 1.0)]);

    /// <summary>A line through three points by least squares: y = 1 + x/2 exactly, and the known misfit of others.</summary>
    [Fact]
    public void A_line_is_fitted_as_by_the_normal_equations()
    {
        static double[] Line(double[] p) => [p[0], p[0] + p[1], p[0] + 2 * p[1]];
        var (through, none) = Fit(Line, [1, 1.5, 2], [0, 0]);
        Assert.Equal([1, 0.5], through, (a, b) => Math.Abs(a - b) < 1e-6);
        Assert.InRange(none, 0, 1e-9);
        // (0, 0), (1, 1), (2, 0): the best line is level at 1/3, and 2/3 are left.
        var (best, left) = Fit(Line, [0, 1, 0], [5, -3]);
        Assert.Equal([1 / 3.0, 0], best, (a, b) => Math.Abs(a - b) < 1e-6);
        Assert.Equal(2 / 3.0, left, 1e-6);
    }

    [Fact]
    public void Where_nothing_leads_anywhere_values_stay()
    {
        // At its limit an output says nothing.
        var (held, left) = Fit(p => [Math.Min(1, p[0])], [0.5], [7]);
        Assert.Equal((7.0, 0.25), (held[0], Math.Round(left, 9)));
        // What gives no numbers is left as soon as there is a way out of it.
        var (found, _) = Fit(p => [p[0] > 2 ? double.NaN : p[0] * p[0]], [1], [1.9]);
        Assert.Equal(1, found[0], 1e-4);
    }
}
