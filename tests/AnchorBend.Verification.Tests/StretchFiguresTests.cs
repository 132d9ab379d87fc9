using AnchorBend.Verification.Measures;

namespace AnchorBend.Verification.Tests;

/// <summary>What a signal does between two instants, on curves of straight lines that have exact figures.</summary>
public class StretchFiguresTests
{
    /// <summary>Up from 0 to 2 in the first second, a jump to 4, down to 0 at three seconds.</summary>
    static readonly Curve Roof = new([0, 1, 1, 3], [0, 2, 4, 0]);

    [Fact]
    public void They_are_those_of_the_straight_lines()
    {
        var figures = StretchFigures.Of(Roof, 0, 3)!;
        Assert.Equal((0, 0, 0), (figures.First, figures.Last, figures.Slope));
        // Areas: 1 under the rise, 4 under the fall; of the squares: 4/3 and 32/3.
        Assert.Equal(5.0 / 3, figures.Mean, 1e-14);
        Assert.Equal(Math.Sqrt(12.0 / 3), figures.RootMeanSquare, 1e-14);
        Assert.Equal((4, 1), (figures.Highest, figures.HighestAt));
        Assert.Equal((0, 0), (figures.Lowest, figures.LowestAt));
    }

    [Fact]
    public void They_end_at_the_instants_and_look_behind_an_event()
    {
        var figures = StretchFigures.Of(Roof, 1, 2)!;
        // At the jump the value behind it counts.
        Assert.Equal((4, 2, -2), (figures.First, figures.Last, figures.Slope));
        Assert.Equal(3, figures.Mean, 1e-14);
        Assert.Equal(0.5, StretchFigures.Of(Roof, 0.25, 0.75)!.Mean * 0.5, 1e-14);
    }

    [Fact]
    public void They_are_read_in_another_unit_with_its_zero()
    {
        var (plain, read) = (StretchFigures.Of(Roof, 0, 3)!, StretchFigures.Of(Roof, 0, 3, 2, -1)!);
        Assert.Equal(2 * plain.Mean - 1, read.Mean, 1e-14);
        Assert.Equal((7, -1), (read.Highest, read.Lowest));
        // The mean square of 2 v − 1: 4 · 4 − 4 · 5/3 + 1.
        Assert.Equal(Math.Sqrt(16 - 20.0 / 3 + 1), read.RootMeanSquare, 1e-14);
        Assert.Equal(2 * StretchFigures.Of(Roof, 1, 2)!.Slope, StretchFigures.Of(Roof, 1, 2, 2, -1)!.Slope, 1e-14);
    }

    [Theory]
    [InlineData(2, 2)]
    [InlineData(3, 1)]
    [InlineData(-1, 2)]
    [InlineData(1, 4)]
    public void Without_a_stretch_within_the_curve_there_are_none(double from, double to) => Assert.Null(StretchFigures.Of(Roof, from, to));

    [Fact]
    public void A_gap_leaves_none_and_neither_does_what_no_number_can_hold()
    {
        Assert.Null(StretchFigures.Of(new Curve([0, 1, 2], [0, double.NaN, 1]), 0, 2));
        Assert.Null(StretchFigures.Of(Roof, 0, 3, 1e308, 1e308));
    }
}
