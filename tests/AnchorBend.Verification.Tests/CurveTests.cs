namespace AnchorBend.Verification.Tests;

public class CurveTests
{
    static readonly Curve Tent = new([0, 1, 3], [0, 2, 0]);

    [Fact]
    public void A_window_is_closed_with_interpolated_ends()
    {
        var window = Tent.Window(0.5, 2);
        Assert.Equal([0.5, 1, 2], window.Times);
        Assert.Equal([1.0, 2, 1], window.Values);
    }

    [Fact]
    public void Crossings_are_found_between_points_and_from_a_time_on()
    {
        Assert.Equal(0.75, Tent.FirstCrossing(1.5, 0));
        Assert.Equal(1.5, Tent.FirstCrossing(1.5, 0.9), 12);
        Assert.True(double.IsNaN(Tent.FirstCrossing(3, 0)));
    }

    [Fact]
    public void A_peak_between_points_is_found_by_a_parabola()
    {
        var times = Enumerable.Range(0, 21).Select(i => i * 0.1).ToArray();
        var curve = new Curve(times, [.. times.Select(t => 5 - (t - 0.97) * (t - 0.97))]);
        var (time, value) = curve.Maximum();
        Assert.Equal(0.97, time, 1e-9);
        Assert.Equal(5, value, 1e-9);
        Assert.Equal(curve.Values.Min(), curve.Minimum().Value);
    }

    [Fact]
    public void A_jump_is_no_parabola()
    {
        var curve = new Curve([0, 1, 1, 2], [0, 0, 3, 3]);
        Assert.Equal((1.0, 3.0), curve.Maximum());
    }

    [Fact]
    public void The_band_is_entered_for_the_last_time()
    {
        var curve = new Curve([0, 1, 2, 3, 4], [0, 1.5, 0.9, 1.2, 1]);
        Assert.Equal(3.5, curve.EntersBand(1, 0.1), 1e-12);
        Assert.True(double.IsNaN(new Curve([0, 1], [0, 3]).EntersBand(1, 0.1)));
        Assert.Equal(0, new Curve([0, 1], [1, 1]).EntersBand(1, 0.1));
    }
}
