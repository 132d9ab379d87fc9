using AnchorBend.Verification.Comparing;
using CsCheck;

namespace AnchorBend.Verification.Tests;

public class CurveDifferenceTests
{
    static readonly Tolerance Tight = new(1e-9, 1e-6);

    [Fact]
    public void Curves_with_other_times_are_compared_at_all_of_them()
    {
        // Two straight lines, sampled differently, that part at 2.
        var a = new Curve([0, 1, 4], [0, 1, 4]);
        var b = new Curve([0, 2, 3, 4], [0, 2, 3.5, 5]);
        var difference = CurveDifference.Of(a, b, Tight);
        Assert.Equal((1.0, 4.0, 5.0, 3.0), (difference.Largest, difference.At, difference.Range, difference.Parts));
        Assert.Equal([0, 0, 0, -0.5, -1], CurveDifference.Between(a, b).Values);
    }

    [Fact]
    public void Events_of_both_meet_side_by_side_even_where_rounding_moved_them()
    {
        var a = new Curve([0, 1, 1, 2], [0, 0, 5, 5]);
        var b = new Curve([0, 1 + 1e-14, 1 + 1e-14, 2], [0, 0, 5, 5]);
        Assert.Equal(0, CurveDifference.Of(a, b, Tight).Largest);
        // An event that comes later is a difference until then.
        var late = new Curve([0, 1.5, 1.5, 2], [0, 0, 5, 5]);
        var difference = CurveDifference.Of(a, late, Tight);
        Assert.Equal((5.0, 1.0, 1.0), (difference.Largest, difference.At, difference.Parts));
        Assert.Equal(1, difference.Share);
    }

    [Fact]
    public void Only_what_both_cover_is_compared()
    {
        var difference = CurveDifference.Of(new Curve([0, 10], [0, 10]), new Curve([2, 4], [2, 4]), Tight);
        Assert.Equal((0.0, null), (difference.Largest, difference.Parts));
    }

    [Fact]
    public void A_value_that_only_one_has_is_a_difference()
    {
        var difference = CurveDifference.Of(new Curve([0, 1], [1, double.NaN]), new Curve([0, 1], [1, 2]), Tight);
        Assert.Equal((0.0, 1.0, true), (difference.Largest, difference.Parts, difference.HasGaps));
        Assert.Null(CurveDifference.Of(new Curve([0, 1], [1, double.NaN]), new Curve([0, 1], [1, double.NaN]), Tight).Parts);
    }

    static readonly Gen<Curve> AnyCurve = Gen.Select(Gen.Double[0.01, 1].Array[2, 12], Gen.Double[-5, 5].Array[12])
        .Select(
            (steps, values) =>
            {
                var times = new double[steps.Length];
                for (var i = 1; i < times.Length; i++)
                    // Every third point is an event: it has two sides.
                    times[i] = i % 3 == 2 ? times[i - 1] : times[i - 1] + steps[i];
                return new Curve(times, values[..times.Length]);
            }
        );

    [Fact]
    public void The_difference_is_that_of_the_curves_at_every_time_and_has_a_sign() =>
        Gen.Select(AnyCurve, AnyCurve)
            .Sample(
                (a, b) =>
                {
                    var (there, back) = (CurveDifference.Between(a, b), CurveDifference.Between(b, a));
                    Assert.Equal(there.Times, back.Times);
                    Assert.Equal(there.Values, back.Values.Select(v => -v));
                    Assert.Equal(0, CurveDifference.Of(a, a, new Tolerance(0, 0)).Largest);
                    foreach (var time in there.Times.Where(t => there.Times.Count(o => o == t) == 1))
                        Assert.Equal(a.At(time)!.Value - b.At(time)!.Value, there.At(time)!.Value, 1e-9);
                }
            );
}
