using AnchorBend.Simulation.Recording;
using Stopwatch = System.Diagnostics.Stopwatch;

namespace AnchorBend.Simulation;

/// <summary>Watches the budgets of a run and its cancellation, and tells its progress.</summary>
sealed class RunWatch(RunOptions options, RunRecord record, Func<double> time)
{
    readonly Stopwatch clock = new();
    CancellationToken runCancellation;
    Action<double>? runProgress;

    /// <summary>Milliseconds between two looks at budgets, where steps take long.</summary>
    const long WatchEvery = 20;

    /// <summary>The clock is read after every eighth step.</summary>
    const long WatchMask = 7;

    long lastWatch,
        advances;

    /// <summary>The time spent running, in s.</summary>
    public double Seconds => record.Spent + clock.Elapsed.TotalSeconds;

    public void Begin(CancellationToken cancellation, Action<double>? progress)
    {
        (runCancellation, runProgress) = (cancellation, progress);
        clock.Start();
    }

    public void Pause()
    {
        clock.Stop();
        record.Spent += clock.Elapsed.TotalSeconds;
        clock.Reset();
    }

    /// <summary>Called before every step: looks now and then.</summary>
    public void BeforeStep()
    {
        var isEighth = (advances & WatchMask) == 0;
        advances++;
        if (runCancellation.IsCancellationRequested || isEighth && (advances == 1 || Environment.TickCount64 - lastWatch >= WatchEvery))
            Look();
    }

    public static SimulationFailure Canceled(double time) =>
        new("canceled", $"The run was stopped at {time:G6} s.", "", null, time, "The traces up to then are kept.");

    /// <exception cref="SimulationException">A budget is spent, or the run is to stop.</exception>
    public void Look()
    {
        lastWatch = Environment.TickCount64;
        var reached = time();
        runProgress?.Invoke(reached);
        if (runCancellation.IsCancellationRequested)
            throw new SimulationException(Canceled(reached));
        if (Seconds > options.TimeBudget.TotalSeconds)
            throw new SimulationException(
                new SimulationFailure(
                    "time-budget",
                    $"The run took longer than {options.TimeBudget.TotalSeconds:G4} s; it reached {reached:G6} s.",
                    "",
                    null,
                    reached,
                    "Raise the limit, shorten the run, or look for a part that forces tiny steps."
                )
            );
        if (record.Trace.Bytes > options.TraceBudget)
            throw new SimulationException(
                new SimulationFailure(
                    "trace-budget",
                    $"The traces take more than {options.TraceBudget >> 20} MiB; the run reached {reached:G6} s.",
                    "",
                    null,
                    reached,
                    "Record fewer signals or fewer points."
                )
            );
    }
}
