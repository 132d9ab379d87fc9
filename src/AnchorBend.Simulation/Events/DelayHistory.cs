using System.Runtime.CompilerServices;
using AnchorBend.Compiler.Analysis;
using AnchorBend.Numerics;

namespace AnchorBend.Simulation.Events;

/// <summary>
/// The past of one delayed signal: for every accepted step the polynomial through its values at five equidistant points (order 5, as the
/// integration). Discontinuities lie between steps and come out again after the delay.
/// </summary>
/// <param name="duration">The delay time, or the longest one.</param>
/// <param name="varies">Whether the delay time changes; where a discontinuity comes out is not known in advance then.</param>
sealed class DelayHistory(double duration, bool varies = false)
{
    const int Points = 5;

    /// <summary>
    /// Up to this derivative a jump in it is an event: beyond, no method's order feels it, and every way through an integrator makes it
    /// smoother (Bellen and Zennaro, "Numerical Methods for Delay Differential Equations", section 2.1).
    /// </summary>
    public const int HighestBreak = 7;

    readonly Queue<(double Time, int Level)> breaks = new();
    double[] starts = new double[64];
    double[] lengths = new double[64];
    double[] values = new double[64 * Points];
    int head;
    int count;
    int recent;
    double before;

    public double Duration { get; } = duration;

    public bool Varies => varies;

    /// <summary>The next time at which a past discontinuity comes out; infinity when there is none.</summary>
    public double NextBreak => breaks.Count > 0 ? breaks.Peek().Time : double.PositiveInfinity;

    /// <param name="level">The lowest derivative that may jump at the start; 0 for the value itself.</param>
    public void Begin(double time, double value, int level)
    {
        before = value;
        count = 0;
        head = 0;
        breaks.Clear();
        Break(time, level);
    }

    /// <summary>Notes a discontinuity of the source now.</summary>
    /// <param name="level">The lowest derivative that jumps; 0 for the value itself.</param>
    public void Break(double now, int level)
    {
        if (!varies && level <= HighestBreak)
            breaks.Enqueue((now + Duration, level));
    }

    /// <summary>Drops the discontinuities that have come out.</summary>
    /// <returns>The lowest derivative that jumps in one of them; more than <see cref="HighestBreak"/> where there is none.</returns>
    public int PassBreaks(double now)
    {
        var level = HighestBreak + 1;
        while (breaks.Count > 0 && breaks.Peek().Time <= now)
            level = Math.Min(level, breaks.Dequeue().Level);
        return level;
    }

    /// <summary>Adds one step; <paramref name="points"/> holds the values at its quarters.</summary>
    public void Append(double start, double end, ReadOnlySpan<double> points)
    {
        Drop(end);
        if (head + count == starts.Length)
            MakeRoom();
        var at = head + count++;
        starts[at] = start;
        lengths[at] = end - start;
        Polynomial(points, values.AsSpan(at * Points, Points));
    }

    /// <summary>The polynomial through values at 0, 1, 2, 3 and 4, by powers: Newton's divided differences, multiplied out.</summary>
    static void Polynomial(ReadOnlySpan<double> v, Span<double> c)
    {
        double d1 = v[1] - v[0],
            d2 = (v[2] - 2 * v[1] + v[0]) / 2,
            d3 = (v[3] - 3 * v[2] + 3 * v[1] - v[0]) / 6,
            d4 = (v[4] - 4 * v[3] + 6 * v[2] - 4 * v[1] + v[0]) / 24;
        c[0] = v[0];
        c[1] = d1 - d2 + 2 * d3 - 6 * d4;
        c[2] = d2 - 3 * d3 + 11 * d4;
        c[3] = d3 - 6 * d4;
        c[4] = d4;
    }

    /// <summary>What <see cref="Append"/> would keep, at <paramref name="s"/> from 0 at its start to 4 at its end.</summary>
    public static double Kept(ReadOnlySpan<double> points, double s)
    {
        Span<double> c = stackalloc double[Points];
        Polynomial(points, c);
        return c[0] + s * (c[1] + s * (c[2] + s * (c[3] + s * c[4])));
    }

    public void Transfer(StateArchive archive)
    {
        archive.Transfer(ref before);
        archive.Transfer(ref count);
        if (!archive.IsSaving)
        {
            var size = Math.Max(starts.Length, count);
            (starts, lengths, values, head) = (new double[size], new double[size], new double[size * Points], 0);
        }

        archive.Transfer(starts.AsSpan(head, count));
        archive.Transfer(lengths.AsSpan(head, count));
        archive.Transfer(values.AsSpan(head * Points, count * Points));
        var waiting = breaks.Count;
        archive.Transfer(ref waiting);
        double[] times = archive.IsSaving ? [.. breaks.Select(b => b.Time)] : new double[waiting],
            levels = archive.IsSaving ? [.. breaks.Select(b => (double)b.Level)] : new double[waiting];
        archive.Transfer(times);
        archive.Transfer(levels);
        breaks.Clear();
        foreach (var (time, level) in times.Zip(levels))
            breaks.Enqueue((time, (int)level));
    }

    void Drop(double now)
    {
        var oldest = now - Duration - 1e-9 * Math.Abs(now);
        while (count > 1 && starts[head] + lengths[head] < oldest - (starts[head + 1] - starts[head]) && starts[head + 1] < oldest)
        {
            head++;
            count--;
        }
    }

    void MakeRoom()
    {
        var size = count > starts.Length / 2 ? starts.Length * 2 : starts.Length;
        var (s, l, v) = (new double[size], new double[size], new double[size * Points]);
        Array.Copy(starts, head, s, 0, count);
        Array.Copy(lengths, head, l, 0, count);
        Array.Copy(values, head * Points, v, 0, count * Points);
        (starts, lengths, values, head) = (s, l, v, 0);
    }

    /// <summary>The source's value at a time gone by.</summary>
    /// <param name="fromLeft">Which side counts at a discontinuity.</param>
    public double At(double time, bool fromLeft)
    {
        if (count == 0 || time < starts[head])
            return before;
        int low = head,
            high = head + count - 1;
        // Times are asked for one after the other, so the next one is mostly near the last.
        if (recent >= low && recent < high && starts[recent] <= time)
        {
            if (starts[recent + 1] > time)
                high = recent;
            low = recent;
        }

        while (low < high)
        {
            var middle = (low + high + 1) >>> 1;
            if (starts[middle] <= time)
                low = middle;
            else
                high = middle - 1;
        }

        recent = low;

        // Sums of times round: within this distance of a boundary the wanted side is taken.
        var close = 4e-15 * Math.Abs(time) + 1e-300;
        if (fromLeft && time - starts[low] <= close)
        {
            if (low == head)
                return before;
            low--;
        }
        else if (!fromLeft && low + 1 < head + count && starts[low + 1] - time <= close)
        {
            low++;
        }

        // A delay shorter than the present step reads a little beyond what is recorded. Before its start a stretch says nothing: a tiny
        // one, between an event and what comes out of a delay at the same instant but for rounding, would swing far beyond its values
        // there.
        var s = lengths[low] > 0 ? Math.Clamp((time - starts[low]) / lengths[low], 0, varies ? 1.5 : 1) * (Points - 1) : 0;
        ref var c = ref values[low * Points];
        ref var last = ref values[low * Points + Points - 1];
        return c + s * (Unsafe.Add(ref c, 1) + s * (Unsafe.Add(ref c, 2) + s * (Unsafe.Add(ref c, 3) + s * last)));
    }
}
