using AnchorBend.Modeling.Charts;
using AnchorBend.Workbench.Coverage;
using static AnchorBend.Workbench.Tests.ChartParts;

namespace AnchorBend.Workbench.Tests;

/// <summary>Transitions one after the other, counted from courses of how often each was taken.</summary>
public class TransitionPairsTests
{
    /// <summary>a ⇄ b, b → c → a, and b to itself.</summary>
    static readonly ChartDefinition Chart = ChartParts.Chart(
        [("a", State("A")), ("b", State("B")), ("c", State("C"))],
        [Go("a", "b", "x"), Go("b", "a", "x"), Go("b", "c", "x"), Go("c", "a", "x"), Go("b", "b", "x")]
    );

    static string Of(params string[] rows)
    {
        var counts = Enumerable.Range(0, 5).ToDictionary(i => $"t{i}", _ => new double[rows.Length]);
        for (var row = 0; row < rows.Length; row++)
            foreach (var (id, taken) in counts)
                taken[row] = (row == 0 ? 0 : taken[row - 1]) + (rows[row].Split(' ').Contains(id) ? 1 : 0);
        return string.Join(' ', TransitionPairs.Of(Chart, counts).Where(p => p.Value > 0).Select(p => $"{p.Key}:{p.Value}").Order());
    }

    [Fact]
    public void All_that_can_follow_each_other_are_asked_for()
    {
        var none = TransitionPairs.Of(Chart, Enumerable.Range(0, 5).ToDictionary(i => $"t{i}", _ => new double[1]));
        // Into a lead 1 and 3, out of it 0; into b lead 0 and 4, out of it 1, 2, 4; into c leads 2, out of it 3.
        Assert.Equal(
            ["t0>t1", "t0>t2", "t0>t4", "t1>t0", "t2>t3", "t3>t0", "t4>t1", "t4>t2", "t4>t4"],
            none.Keys.Order(StringComparer.Ordinal)
        );
        Assert.All(none.Values, v => Assert.Equal(0, v));
    }

    [Fact]
    public void Those_that_do_are_counted_through_the_state_between_them()
    {
        Assert.Equal("t0>t1:2 t1>t0:1", Of("", "t0", "t1", "t0", "t1"));
        Assert.Equal("t0>t2:1 t2>t3:1", Of("", "t0", "", "t2", "t3"));
        Assert.Equal("t0>t4:1 t4>t1:1 t4>t4:1", Of("t0", "t4", "t4", "t1"));
    }

    [Fact]
    public void Several_of_one_instant_follow_each_other_too() => Assert.Equal("t0>t2:1 t2>t3:1", Of("", "t3 t0 t2"));
}
