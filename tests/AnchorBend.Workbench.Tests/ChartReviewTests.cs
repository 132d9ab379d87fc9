using AnchorBend.Modeling;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Written;
using static AnchorBend.Workbench.Tests.ChartParts;

namespace AnchorBend.Workbench.Tests;

/// <summary>What can be seen in a chart without running it.</summary>
public class ChartReviewTests
{
    static WrittenFinding? Found(ChartDefinition chart, string code) => chart.Review().FirstOrDefault(f => f.Code == $"chart-{code}");

    static readonly NameNode[] Inputs =
    [
        Name("x", NameKind.Input, "Real"),
        Name("limit", NameKind.Parameter, "Real"),
        Name("n", NameKind.Input, "Integer"),
        Name("mode", NameKind.Input, "{manual, assisted, track}"),
        Name("ok", NameKind.Input, "Boolean"),
    ];

    static ChartDefinition Two(string first, string second) =>
        Chart(
            [("a", State("A")), ("b", State("B")), ("c", State("C"))],
            [Go("a", "b", first, priority: 1), Go("a", "c", second, priority: 2), Go("b", "a"), Go("c", "a")],
            Inputs
        );

    [Theory]
    [InlineData("x > 1", "x < 3")]
    [InlineData("x >= 2", "x <= 2")]
    [InlineData("x > limit", "x < 10")]
    [InlineData("ok", "mode == track")]
    [InlineData("mode <> manual", "mode <> track")]
    [InlineData("x > 1 km", "x < 1001")]
    [InlineData("sin(x) > 0", "x < 0")]
    public void Two_guards_that_one_value_meets_are_told_and_which_goes_first(string first, string second)
    {
        var found = Found(Two(first, second), "both")!;
        Assert.Equal("A → B and A → C can be true at once: A → B goes first.", found.Message);
        Assert.Equal(("t1", "t0"), (found.Item, found.Other));
    }

    [Theory]
    [InlineData("x > 3", "x < 1")]
    [InlineData("x > 2", "x <= 2")]
    [InlineData("x > limit", "x <= limit")]
    [InlineData("limit < x", "x <= limit")]
    [InlineData("mode == manual", "mode == track")]
    [InlineData("n > 1 and n < 3", "n <> 2")]
    [InlineData("mode <> manual and mode <> assisted", "mode <> track")]
    [InlineData("ok and x > 1", "not ok")]
    [InlineData("not (x > 1 or ok)", "ok")]
    [InlineData("x > 1 km", "x < 999")]
    public void Guards_that_exclude_each_other_are_not(string first, string second) => Assert.Null(Found(Two(first, second), "both"));

    [Theory]
    [InlineData("x > 3 and x < 1")]
    [InlineData("n > 1 and n < 2")]
    [InlineData("mode == manual and mode == track")]
    [InlineData("ok and not ok")]
    public void A_guard_that_nothing_meets_is_told(string guard) => Assert.Equal("t0", Found(Two(guard, "x > 99"), "never")!.Item);

    [Fact]
    public void What_comes_behind_one_without_a_guard_is_never_taken()
    {
        var chart = Chart(
            [("a", State("A")), ("b", State("B"))],
            [Go("a", "b", priority: 1), Go("a", "a", "ok", priority: 2), Go("b", "a")],
            Inputs
        );
        Assert.Equal(("t1", Severity.Warning), (Found(chart, "hidden")!.Item, Found(chart, "hidden")!.Severity));
    }

    [Fact]
    public void States_that_nothing_leads_to_or_out_of_are_told()
    {
        var chart = Chart(
            [("a", State("A")), ("b", State("B")), ("c", State("C")), ("d", State("Done", kind: ChartStateKind.Final))],
            [Go("a", "b", "ok"), Go("a", "d", "x > 1")],
            Inputs
        );
        Assert.Equal("c", Found(chart, "unreachable")!.Item);
        Assert.Equal("b", Found(chart, "dead-end")!.Item);
    }

    [Fact]
    public void A_memory_reaches_all_that_it_may_stand_for()
    {
        var chart = Chart(
            [
                ("out", State("Out")),
                ("s", State("S", initial: "a")),
                ("a", State("A", "s")),
                ("b", State("B", "s")),
                ("h", State("Last", "s", ChartStateKind.History)),
            ],
            [Go("out", "h", "ok"), Go("s", "out", "not ok"), Go("b", "a", "x > 1")],
            Inputs
        );
        Assert.Null(Found(chart, "unreachable"));
    }

    [Fact]
    public void Outputs_that_two_regions_set_or_a_state_forgets_are_told()
    {
        var regions = Chart(
            [
                ("p", State("P", kind: ChartStateKind.Parallel)),
                ("r", State("R", "p", during: "y := 1")),
                ("q", State("Q", "p", entry: "y := 2")),
            ],
            [],
            Name("y", NameKind.Output)
        );
        Assert.Contains("set in R and in Q", Found(regions, "two-regions")!.Message, StringComparison.Ordinal);
        var forgets = Chart(
            [("a", State("A", during: "y := 1")), ("b", State("B"))],
            [Go("a", "b", "ok"), Go("b", "a", "not ok")],
            [Name("y", NameKind.Output), .. Inputs]
        );
        Assert.Equal("b", Found(forgets, "kept")!.Item);
    }

    [Fact]
    public void Names_that_nothing_uses_or_sets_are_told()
    {
        var chart = Chart(
            [("a", State("A", during: "if x > 1 then y := x; end if; x := 2"))],
            [],
            Name("x", NameKind.Input, "Real"),
            Name("y", NameKind.Output, "Real"),
            Name("z", NameKind.Output, "Real"),
            Name("spare", NameKind.Local, "Real")
        );
        Assert.Equal("n0", Found(chart, "set-input")!.Item);
        Assert.Equal("n2", Found(chart, "never-set")!.Item);
        Assert.Equal("n3", Found(chart, "unused")!.Item);
    }
}
