using AnchorBend.Language.Terms;

namespace AnchorBend.Language.Tests;

/// <summary>Units whose states the equations integrate: points that they are looked at, and what is computed there.</summary>
public class OutsideFlowTests
{
    /// <summary>Two numbers a and b at a time t: a b + t, and their slopes.</summary>
    sealed class Product : IOutsideFlow
    {
        public double[] Point { get; } = new double[2];

        public int Events { get; private set; }

        public double Begin(double time, int state) => 7 + state;

        public double Value(double time, int place) => Point[0] * Point[1] + time;

        public double Slope(double time, int place, int by) => by < 0 ? 1 : Point[1 - by];

        public double Event(double time) => ++Events;

        public double After(int what) => what < 0 ? 3 : what;

        public byte[] Save() => [];

        public void Restore(byte[] state) { }
    }

    static OutsideUnits With(IOutsideUnit unit)
    {
        var units = new OutsideUnits(new Dictionary<long, IOutsideUnit> { [1] = unit });
        units.Attend();
        return units;
    }

    static double Point(double time, double a, double b) => OutsidePoints.With(1, b, OutsidePoints.With(0, a, OutsidePoints.At(time)));

    [Fact]
    public void A_unit_is_looked_at_at_points_in_any_order()
    {
        using var units = With(new Product());
        var (first, second) = (Point(0.5, 2, 3), Point(1, 4, 5));
        Assert.Equal(21, OutsideUnits.Value(1, 0, second));
        Assert.Equal(6.5, OutsideUnits.Value(1, 0, first));
        Assert.Equal(
            (3.0, 2.0, 1.0),
            (OutsideUnits.Slope(1, 0, 0, first), OutsideUnits.Slope(1, 0, 1, first), OutsideUnits.Slope(1, 0, -1, first))
        );
        // One point with another number is another point.
        Assert.Equal(12.5, OutsideUnits.Value(1, 0, OutsidePoints.With(0, 4, first)));
    }

    [Fact]
    public void Events_and_starts_are_the_units_own()
    {
        var unit = new Product();
        using var units = With(unit);
        Assert.Equal(9, OutsideUnits.Begin(1, 2, Point(0, 1, 1)));
        Assert.Equal(1, OutsideUnits.Event(1, Point(0, 1, 1)));
        Assert.Equal((3.0, 5.0), (OutsideUnits.After(1, -1, 1), OutsideUnits.After(1, 5, 1)));
    }

    /// <summary>Nobody there, or a point that nothing is known of any more, is no number and no fault.</summary>
    [Fact]
    public void What_is_not_known_is_no_number()
    {
        using var units = With(new Product());
        Assert.Equal(double.NaN, OutsideUnits.Value(2, 0, Point(0, 1, 1)));
        Assert.Equal(double.NaN, OutsideUnits.Event(2, Point(0, 1, 1)));
        Assert.Equal(double.NaN, OutsideUnits.After(1, 0, double.NaN));
        var old = Point(0, 1, 1);
        for (var i = 0; i < 1 << 16; i++)
            OutsidePoints.At(i);
        Assert.Equal(double.NaN, OutsidePoints.Read(old, new double[2]));
        Assert.Equal(double.NaN, OutsidePoints.Read(double.NaN, new double[2]));
    }
}
