namespace AnchorBend.Simulation.Recording;

/// <summary>A curve reduced to what a screen can show.</summary>
public sealed record ReducedCurve(double[] Times, double[] Values);

/// <summary>
/// Reduces curves to what a screen can show: in every column of pixels the first, lowest, highest and last point. Of a long stretch, blocks
/// narrower than half a column are represented by their lowest and highest value, so that the cost does not grow with the run.
/// </summary>
public static class TraceReduction
{
    /// <summary>Blocks in a column of pixels, from which on their extremes stand for their rows.</summary>
    const int BlocksOfColumn = 2;

    /// <summary>Curves of several variables of one trace, from one point before a time to one behind another.</summary>
    /// <exception cref="KeyNotFoundException">A variable was not recorded.</exception>
    public static ReducedCurve[] Reduce(Trace trace, IReadOnlyList<int> variables, double from, double to, int columns)
    {
        var first = Math.Max(0, trace.RowsUpTo(Math.BitDecrement(from)) - 1);
        var end = Math.Min(trace.Rows, trace.RowsUpTo(to) + 1);
        int[] places = [.. variables.Select(trace.ColumnOf)];
        var builders = places.Select(_ => new CurveBuilder(from, (to - from) / columns, end - first > 4 * columns)).ToArray();
        var size = trace.RowsPerBlock;
        var isLong = (end - first) / size >= (long)BlocksOfColumn * columns;
        for (var row = first; row < end; )
        {
            var index = row / size;
            var last = Math.Min(end, (index + 1) * size);
            if (isLong && row % size == 0 && last - row == size && trace.Extremes(index, 0) is { } time)
            {
                for (var k = 0; k < places.Length; k++)
                {
                    var (low, high) = trace.Extremes(index, places[k])!.Value;
                    builders[k].Add(time.Low, low);
                    builders[k].Add(time.High, high);
                }

                row = last;
                continue;
            }

            var block = trace.Block(index);
            var at = row % size * trace.Width;
            for (; row < last; row++, at += trace.Width)
            for (var k = 0; k < places.Length; k++)
                builders[k].Add(block[at], block[at + places[k]]);
        }

        return [.. builders.Select(b => b.Finish())];
    }

    /// <summary>Takes points in rising time and keeps what shows.</summary>
    sealed class CurveBuilder(double from, double width, bool reduces)
    {
        readonly List<double> times = [],
            values = [];
        (double Time, double Value) first,
            low,
            high,
            last;
        double column = double.NaN;

        public void Add(double time, double value)
        {
            if (!reduces)
            {
                times.Add(time);
                values.Add(value);
                return;
            }

            var now = Math.Floor((time - from) / width);
            if (now != column)
            {
                Flush();
                (column, first, low, high, last) = (now, (time, value), (time, value), (time, value), (time, value));
                return;
            }

            last = (time, value);
            // Not "less than": where the first value is missing, any other is lower and higher.
            if (!(value >= low.Value) && !double.IsNaN(value))
                low = last;
            if (!(value <= high.Value) && !double.IsNaN(value))
                high = last;
        }

        void Flush()
        {
            if (double.IsNaN(column))
                return;
            Keep(first);
            var (earlier, later) = low.Time <= high.Time ? (low, high) : (high, low);
            if (earlier != first)
                Keep(earlier);
            if (later != first && later != earlier)
                Keep(later);
            if (last != later && last != earlier && last != first)
                Keep(last);
        }

        void Keep((double Time, double Value) point)
        {
            times.Add(point.Time);
            values.Add(point.Value);
        }

        public ReducedCurve Finish()
        {
            Flush();
            return new ReducedCurve([.. times], [.. values]);
        }
    }
}
