namespace AnchorBend.Simulation.Recording;

/// <summary>Reduces a curve to what a screen can show: in every column of pixels the first, lowest, highest and last point.</summary>
public static class TraceReduction
{
    /// <returns>Indices of the points to draw, rising; all of them where there are few.</returns>
    public static int[] Indices(IReadOnlyList<double> times, double[] values, double from, double to, int columns)
    {
        int first = LowerBound(times, from),
            end = LowerBound(times, Math.BitIncrement(to));
        first = Math.Max(0, first - 1);
        end = Math.Min(times.Count, end + 1);
        if (end - first <= 4 * columns)
            return [.. Enumerable.Range(first, end - first)];
        var result = new List<int>(4 * columns);
        var width = (to - from) / columns;
        for (var i = first; i < end; )
        {
            var column = Math.Floor((times[i] - from) / width);
            int low = i,
                high = i,
                last = i;
            while (last + 1 < end && Math.Floor((times[last + 1] - from) / width) == column)
            {
                last++;
                if (values[last] < values[low])
                    low = last;
                if (values[last] > values[high])
                    high = last;
            }

            foreach (var index in (int[])[i, Math.Min(low, high), Math.Max(low, high), last])
                if (result.Count == 0 || result[^1] < index)
                    result.Add(index);
            i = last + 1;
        }

        return [.. result];
    }

    static int LowerBound(IReadOnlyList<double> times, double time)
    {
        int low = 0,
            high = times.Count;
        while (low < high)
        {
            var middle = (low + high) >>> 1;
            if (times[middle] < time)
                low = middle + 1;
            else
                high = middle;
        }

        return low;
    }
}
