using AnchorBend.Numerics;

namespace AnchorBend.Simulation.Events;

/// <summary>
/// Sample clocks in whole ticks of a common base, so that they never drift and clocks of rational ratio meet exactly. Clocks without a
/// small common base keep their own count.
/// </summary>
public sealed class TickSchedule : ISaved
{
    const long LargestBase = 1_000_000_000_000;

    readonly long[] nextTick,
        interval,
        denominator;
    readonly double[] start,
        period;
    readonly long[] count;

    /// <param name="clocks">Start and interval of each clock, in seconds; intervals are positive.</param>
    public TickSchedule(IReadOnlyList<(double Start, double Interval)> clocks, double from)
    {
        var n = clocks.Count;
        (nextTick, interval, denominator) = (new long[n], new long[n], new long[n]);
        (start, period, count) = (new double[n], new double[n], new long[n]);
        var common = 1L;
        for (var i = 0; i < n; i++)
        {
            (start[i], period[i]) = clocks[i];
            var joint = Join(common, Rational(start[i])?.Denominator, Rational(period[i])?.Denominator);
            if (joint is { } j)
                common = j;
        }

        for (var i = 0; i < n; i++)
        {
            if (Rational(start[i]) is { } s && Rational(period[i]) is { } p && common % s.Denominator == 0 && common % p.Denominator == 0)
            {
                denominator[i] = common;
                nextTick[i] = s.Numerator * (common / s.Denominator);
                interval[i] = p.Numerator * (common / p.Denominator);
                var behind = Math.Ceiling((from * common - nextTick[i]) / interval[i] - 1e-9);
                if (behind > 0)
                    nextTick[i] += (long)behind * interval[i];
            }
            else
            {
                count[i] = (long)Math.Max(0, Math.Ceiling((from - start[i]) / period[i] - 1e-12));
            }
        }
    }

    /// <summary>The time of the next tick of any clock; infinity without clocks.</summary>
    public double Next
    {
        get
        {
            var next = double.PositiveInfinity;
            for (var i = 0; i < start.Length; i++)
                next = Math.Min(next, TimeOf(i));
            return next;
        }
    }

    /// <summary>The next tick of one clock, of any for −1; infinity where there is none.</summary>
    public double NextOf(int clock) =>
        clock < 0 ? Next
        : clock < start.Length ? TimeOf(clock)
        : double.PositiveInfinity;

    /// <summary>Calls back for every clock that ticks now and moves it on.</summary>
    public void Take(double now, Action<int> ticked)
    {
        for (var i = 0; i < start.Length; i++)
        {
            if (TimeOf(i) > now)
                continue;
            ticked(i);
            if (denominator[i] > 0)
                nextTick[i] += interval[i];
            else
                count[i]++;
        }
    }

    public void Transfer(StateArchive archive)
    {
        archive.Transfer(nextTick);
        archive.Transfer(count);
    }

    double TimeOf(int clock) =>
        denominator[clock] > 0 ? (double)nextTick[clock] / denominator[clock] : start[clock] + count[clock] * period[clock];

    static long? Join(long common, long? a, long? b)
    {
        if (a is null || b is null)
            return null;
        var joint = LeastMultiple(LeastMultiple(common, a.Value), b.Value);
        return joint is > 0 and <= LargestBase ? joint : null;
    }

    static long LeastMultiple(long a, long b)
    {
        if (a <= 0 || b <= 0)
            return -1;
        var (x, y) = (a, b);
        while (y != 0)
            (x, y) = (y, x % y);
        var result = (Int128)(a / x) * b;
        return result > LargestBase ? -1 : (long)result;
    }

    /// <summary>The fraction of small denominator a decimal number stands for, by continued fractions; null where there is none.</summary>
    static (long Numerator, long Denominator)? Rational(double value)
    {
        if (Math.Abs(value) > 1e9)
            return null;
        var sign = value < 0 ? -1 : 1;
        var x = Math.Abs(value);
        long p0 = 0,
            q0 = 1,
            p1 = 1,
            q1 = 0;
        for (var step = 0; step < 40; step++)
        {
            var whole = (long)Math.Floor(x);
            (p0, p1) = (p1, whole * p1 + p0);
            (q0, q1) = (q1, whole * q1 + q0);
            if (q1 > 100_000_000)
                return null;
            if (Math.Abs((double)p1 / q1 - Math.Abs(value)) <= 2.3e-16 * Math.Abs(value))
                return (sign * p1, q1);
            var rest = x - whole;
            if (rest < 1e-18)
                return null;
            x = 1 / rest;
        }

        return null;
    }
}
