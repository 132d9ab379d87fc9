namespace AnchorBend.Delivery.Targets;

/// <summary>How many steps cost so much.</summary>
/// <param name="From">ns.</param>
/// <param name="To">ns.</param>
public sealed record CostClass(double From, double To, long Count);

/// <summary>What the steps of a unit cost on a target, in ns; zeros where it has made none.</summary>
public sealed record StepCostView(long Steps, double Least, double Mean, double Most, double Median, IReadOnlyList<CostClass> Classes);

/// <summary>Counts what steps cost in classes of equal ratio, so that a rare long one stands beside many short ones.</summary>
sealed class StepCosts
{
    /// <summary>Classes for each doubling of a cost, from the shortest that is told apart, ns.</summary>
    const int PerDoubling = 8;

    const double Shortest = 8;

    readonly long[] counts = new long[PerDoubling * 28];
    long steps;
    double least = double.PositiveInfinity,
        most,
        sum;

    public void Note(double cost)
    {
        cost = Math.Max(0, cost);
        steps++;
        sum += cost;
        (least, most) = (Math.Min(least, cost), Math.Max(most, cost));
        var place = cost <= Shortest ? 0 : (int)(PerDoubling * Math.Log2(cost / Shortest));
        counts[Math.Min(place, counts.Length - 1)]++;
    }

    static double Edge(int place) => Shortest * Math.Pow(2, (double)place / PerDoubling);

    public StepCostView View()
    {
        if (steps == 0)
            return new StepCostView(0, 0, 0, 0, 0, []);
        var first = Array.FindIndex(counts, c => c > 0);
        var last = Array.FindLastIndex(counts, c => c > 0);
        var (before, median) = (0L, 0.0);
        for (var i = first; i <= last; i++)
        {
            if (before <= steps / 2 && before + counts[i] > steps / 2)
                median = (Edge(i) + Edge(i + 1)) / 2;
            before += counts[i];
        }

        return new StepCostView(
            steps,
            least,
            sum / steps,
            most,
            Math.Clamp(median, least, most),
            [.. Enumerable.Range(first, last - first + 1).Select(i => new CostClass(Edge(i), Edge(i + 1), counts[i]))]
        );
    }
}
