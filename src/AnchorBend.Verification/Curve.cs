namespace AnchorBend.Verification;

/// <summary>A recorded signal: rising times (equal neighbours are the sides of an event) and values.</summary>
public sealed record Curve(IReadOnlyList<double> Times, double[] Values)
{
    /// <summary>The part within a window; interpolated points close its ends.</summary>
    public Curve Window(double from, double to)
    {
        var times = new List<double>();
        var values = new List<double>();
        void Add(double t, double v)
        {
            times.Add(t);
            values.Add(v);
        }

        for (var i = 0; i < Times.Count; i++)
        {
            if (i > 0 && Times[i - 1] < from && Times[i] > from)
                Add(from, Between(i, from));
            if (Times[i] >= from && Times[i] <= to)
                Add(Times[i], Values[i]);
            if (i > 0 && Times[i - 1] < to && Times[i] > to)
                Add(to, Between(i, to));
        }

        return new Curve(times, [.. values]);
    }

    /// <summary>The part from one row to another, both with it.</summary>
    public Curve Rows(int first, int last)
    {
        var times = new double[last - first + 1];
        for (var i = 0; i < times.Length; i++)
            times[i] = Times[first + i];
        return new Curve(times, Values[first..(last + 1)]);
    }

    /// <summary>The value at an instant, the right side of an event; null outside.</summary>
    public double? At(double t)
    {
        int low = 0,
            high = Times.Count;
        while (low < high)
        {
            var middle = (low + high) >>> 1;
            if (Times[middle] <= t)
                low = middle + 1;
            else
                high = middle;
        }

        return low == 0 ? null
            : Times[low - 1] == t ? Values[low - 1]
            : low < Times.Count ? Between(low, t)
            : null;
    }

    double Between(int i, double t) => Values[i - 1] + (Values[i] - Values[i - 1]) * (t - Times[i - 1]) / (Times[i] - Times[i - 1]);

    /// <summary>The largest value and its instant; a parabola through the neighbours of an inner maximum of a smooth curve refines
    /// it.</summary>
    public (double Time, double Value) Maximum() => Extreme(1);

    public (double Time, double Value) Minimum() => Extreme(-1);

    (double Time, double Value) Extreme(int sign)
    {
        var best = 0;
        for (var i = 1; i < Values.Length; i++)
            if (sign * Values[i] > sign * Values[best])
                best = i;
        if (best > 0 && best < Values.Length - 1 && IsSmoothAt(best))
        {
            double t0 = Times[best - 1] - Times[best],
                t2 = Times[best + 1] - Times[best],
                y0 = Values[best - 1] - Values[best],
                y2 = Values[best + 1] - Values[best];
            if (t0 < 0 && t2 > 0)
            {
                var a = (y0 / t0 - y2 / t2) / (t0 - t2);
                var b = y0 / t0 - a * t0;
                if (a * sign < 0)
                {
                    var peak = Math.Clamp(-b / (2 * a), t0, t2);
                    return (Times[best] + peak, Values[best] + (a * peak + b) * peak);
                }
            }
        }

        return (Times[best], Values[best]);
    }

    /// <summary>Whether the curve bends beside a point as it does at it: not at a corner, a jump or in noise.</summary>
    bool IsSmoothAt(int i)
    {
        var bend = Bend(i);
        return double.IsFinite(bend) && IsAlike(Bend(i - 1), bend) && IsAlike(Bend(i + 1), bend);
    }

    static bool IsAlike(double beside, double bend) => double.IsNaN(beside) || beside / bend is > 0.5 and < 2;

    /// <summary>The second divided difference about a point; NaN at the ends of the curve, infinite at a jump.</summary>
    double Bend(int i)
    {
        if (i < 1 || i > Values.Length - 2)
            return double.NaN;
        double before = Times[i] - Times[i - 1],
            after = Times[i + 1] - Times[i];
        return before > 0 && after > 0
            ? ((Values[i + 1] - Values[i]) / after - (Values[i] - Values[i - 1]) / before) / (before + after)
            : double.PositiveInfinity;
    }

    /// <summary>The first instant at or behind <paramref name="from"/> at which the curve crosses a level; NaN when it does not.</summary>
    public double FirstCrossing(double level, double from)
    {
        for (var i = 1; i < Values.Length; i++)
        {
            if (Times[i] < from)
                continue;
            double a = Values[i - 1] - level,
                b = Values[i] - level;
            if (a == 0 && Times[i - 1] >= from)
                return Times[i - 1];
            if (a < 0 == b < 0 && b != 0)
                continue;
            if (b == 0)
                return Times[i];
            var crossing = Times[i - 1] + (Times[i] - Times[i - 1]) * a / (a - b);
            if (crossing >= from)
                return crossing;
        }

        return double.NaN;
    }

    /// <summary>The last instant at which the curve enters the band about a value; NaN when it ends outside, the start when it is always
    /// inside.</summary>
    public double EntersBand(double centre, double halfWidth)
    {
        for (var i = Values.Length - 1; i >= 0; i--)
        {
            var distance = Math.Abs(Values[i] - centre);
            if (distance <= halfWidth)
                continue;
            if (i == Values.Length - 1)
                return double.NaN;
            var inside = Math.Abs(Values[i + 1] - centre);
            var part = distance == inside ? 1 : (distance - halfWidth) / (distance - inside);
            return Times[i] + Math.Clamp(part, 0, 1) * (Times[i + 1] - Times[i]);
        }

        return Times.Count > 0 ? Times[0] : double.NaN;
    }
}
