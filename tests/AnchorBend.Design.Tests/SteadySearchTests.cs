using AnchorBend.Compiler.Preparation;
using AnchorBend.Tests;

namespace AnchorBend.Design.Tests;

/// <summary>States at rest with wanted values against what the equations say.</summary>
public class SteadySearchTests
{
    /// <summary>Rests where q = c √h.</summary>
    const string Tank =
        "parameter Real q(unit = \"m3/s\") = 1; parameter Real c = 2; Real h(start = 1); equation der(h) = q - c * sqrt(h);";

    [Fact]
    public void A_tank_stands_at_a_wanted_level_with_the_flow_for_it()
    {
        var found = SteadySearch.Of(TextModel.Prepare(Tank), [new WantedValue("h", 4)], [new FreeParameter("q")]);
        Assert.True(found.IsMet);
        Assert.Equal(4, found.Reached[0], 1e-7);
        Assert.Equal(4, found.Found[0], 1e-7);
        Assert.Empty(found.AtBounds);
    }

    [Fact]
    public void Two_wanted_values_take_two_free_ones()
    {
        // x = a + b, y = a − 2 b: with x = 5 and y = −1 a = 3 and b = 2.
        var model = TextModel.Prepare(
            "parameter Real a = 1; parameter Real b = 1; Real x(start = 0); Real y(start = 0); equation der(x) = a + b - x; der(y) = a - 2 * b - y;"
        );
        var found = SteadySearch.Of(
            model,
            [new WantedValue("x", 5), new WantedValue("y", -1)],
            [new FreeParameter("a"), new FreeParameter("b")]
        );
        Assert.True(found.IsMet);
        Assert.Equal([3, 2], found.Found.Select(v => Math.Round(v, 7)));
    }

    [Fact]
    public void Of_more_free_ones_than_needed_the_nearest_are_taken()
    {
        var model = TextModel.Prepare("parameter Real a = 1; parameter Real b = 1; Real x(start = 0); equation der(x) = a + b - x;");
        var found = SteadySearch.Of(model, [new WantedValue("x", 3)], [new FreeParameter("a"), new FreeParameter("b")]);
        Assert.True(found.IsMet);
        Assert.Equal([1.5, 1.5], found.Found.Select(v => Math.Round(v, 5)));
    }

    [Fact]
    public void What_cannot_be_met_within_the_bounds_gives_the_nearest_and_names_the_bound()
    {
        var found = SteadySearch.Of(TextModel.Prepare(Tank), [new WantedValue("h", 4)], [new FreeParameter("q", null, 0.5, 3)]);
        Assert.False(found.IsMet);
        Assert.Equal(["q"], found.AtBounds);
        Assert.Equal(3, found.Found[0]);
        Assert.Equal(2.25, found.Reached[0], 1e-6);
    }

    [Fact]
    public void A_bound_that_one_stands_at_leaves_the_rest_to_the_others()
    {
        var model = TextModel.Prepare("parameter Real a = 1; parameter Real b = 1; Real x(start = 0); equation der(x) = a + b - x;");
        var found = SteadySearch.Of(model, [new WantedValue("x", 5)], [new FreeParameter("a", null, 0, 1.2), new FreeParameter("b")]);
        Assert.True(found.IsMet);
        Assert.Equal([1.2, 3.8], found.Found.Select(v => Math.Round(v, 6)));
    }

    [Fact]
    public void Without_wishes_it_is_the_state_at_rest()
    {
        var found = SteadySearch.Of(TextModel.Prepare(Tank), [], []);
        Assert.True(found.IsMet);
        Assert.Equal(0.25, found.Point.Values[found.Prepared.Model.Find("h")!.Index], 1e-9);
    }

    [Theory]
    [InlineData("level", "q", "unknown-name")]
    [InlineData("h", "flow", "unknown-name")]
    [InlineData("h", "h", "free")]
    [InlineData("h", null, "free")]
    public void What_cannot_be_searched_says_why(string wanted, string? free, string code)
    {
        FreeParameter[] frees = free is null ? [] : [new FreeParameter(free)];
        var error = Assert.Throws<DesignException>(() => SteadySearch.Of(TextModel.Prepare(Tank), [new WantedValue(wanted, 1)], frees));
        Assert.Equal(code, error.Code);
    }

    [Fact]
    public void Where_every_state_is_held_and_still_moves_there_is_no_rest()
    {
        var prepared = TextModel.Prepare("Real x(start = 1, fixed = true); equation der(x) = 1;");

        var refusal = Assert.Throws<DesignException>(() => OperatingPoint.Steady(prepared, new ParameterSet(prepared.Model)));

        Assert.Equal("steady", refusal.Code);
    }
}
