using System.Diagnostics;
using AnchorBend.Simulation.Recording;
using Trace = AnchorBend.Simulation.Recording.Trace;

/// <summary>How long it takes to show six curves of a long run: the whole of it, and a hundredth.</summary>
static class TraceFigures
{
    const int Curves = 6,
        Width = 1400,
        Repeats = 7;

    public static void Print()
    {
        Console.WriteLine("Six curves reduced to a plot of 1,400 pixels, of all rows and of a hundredth of them (ms):");
        double? before = null;
        foreach (var rows in (int[])[1_000_000, 10_000_000])
        {
            var variables = Enumerable.Range(0, Curves).ToArray();
            var times = new double[rows];
            for (var i = 0; i < rows; i++)
                times[i] = i * 1e-3;
            var columns = variables.Select(v => Array.ConvertAll(times, t => Math.Sin(t * (v + 1)) + Math.Cos(37.1 * t))).ToArray();
            using var trace = Trace.Of(variables, times, columns);
            var end = times[^1];
            var whole = Median(() => TraceReduction.Reduce(trace, variables, 0, end, Width));
            var part = Median(() => TraceReduction.Reduce(trace, variables, 0.47 * end, 0.48 * end, Width));
            Console.WriteLine($"  {rows, 10:N0} rows: {whole:F1} and {part:F1}{(before is { } b ? $"; ratio {whole / b:F2}" : "")}");
            before = whole;
        }
    }

    static double Median(Action work)
    {
        work();
        return Enumerable
            .Range(0, Repeats)
            .Select(_ =>
            {
                var watch = Stopwatch.StartNew();
                work();
                return watch.Elapsed.TotalMilliseconds;
            })
            .Order()
            .ElementAt(Repeats / 2);
    }
}
