using System.Diagnostics;

namespace AnchorBend.Workbench.Runs;

/// <summary>Simulated time against the clock on the wall.</summary>
/// <param name="from">Simulated time at the start, s.</param>
/// <param name="pace">Simulated seconds in a real one.</param>
sealed class PaceClock(double from, double pace)
{
    /// <summary>Real time over which the true pace is told, s.</summary>
    const double Span = 1;

    readonly long start = Stopwatch.GetTimestamp();
    readonly Queue<(double Wall, double Simulated)> passed = new([(0, from)]);

    double Wall => Stopwatch.GetElapsedTime(start).TotalSeconds;

    /// <summary>The simulated time that should be reached now.</summary>
    public double Due => from + pace * Wall;

    public void Reached(double time)
    {
        var now = Wall;
        passed.Enqueue((now, time));
        while (passed.Count > 2 && now - passed.Peek().Wall > Span)
            passed.Dequeue();
    }

    /// <summary>Simulated seconds in a real one, lately.</summary>
    public double TruePace
    {
        get
        {
            var (wall, simulated) = passed.Peek();
            var (lastWall, last) = passed.Last();
            return lastWall > wall ? (last - simulated) / (lastWall - wall) : 0;
        }
    }
}
