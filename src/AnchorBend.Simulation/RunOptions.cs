namespace AnchorBend.Simulation;

public enum IntegrationMethod { Auto, DormandPrince54, RungeKutta4 }

/// <summary>Settings of one run; times in seconds.</summary>
public sealed record RunOptions
{
    public double Start { get; init; }

    public required double End { get; init; }

    public IntegrationMethod Method { get; init; } = IntegrationMethod.Auto;

    /// <summary>Step of a fixed-step method.</summary>
    public double Step { get; init; } = 1e-3;

    public double RelativeTolerance { get; init; } = 1e-6;

    public double AbsoluteTolerance { get; init; } = 1e-9;

    /// <summary>Distance of output points; null takes a two-thousandth of the run.</summary>
    public double? OutputInterval { get; init; }

    /// <summary>Rising output times instead of a grid.</summary>
    public IReadOnlyList<double>? OutputTimes { get; init; }

    /// <summary>Whether both sides of every event are recorded too.</summary>
    public bool RecordEvents { get; init; } = true;

    /// <summary>Variables to keep; null keeps all.</summary>
    public IReadOnlyList<int>? Keep { get; init; }

    public TimeSpan TimeBudget { get; init; } = TimeSpan.FromMinutes(10);

    public long MemoryBudget { get; init; } = 2L << 30;

    /// <summary>Most events without progress worth mentioning before the run is stopped as chattering.</summary>
    public int ChatteringLimit { get; init; } = 1000;

    /// <summary>What is wrong with the settings, or null.</summary>
    public string? Problem()
    {
        if (!double.IsFinite(Start) || !double.IsFinite(End) || End <= Start) return "The end time must lie behind the start time.";
        if (Method == IntegrationMethod.RungeKutta4 && (!(Step > 0) || Step > End - Start)) return "The step must be positive and not longer than the run.";
        if ((End - Start) / Step > 1e10 && Method == IntegrationMethod.RungeKutta4) return "That would be more than ten thousand million steps.";
        if (!(RelativeTolerance is >= 1e-14 and <= 0.1)) return "The relative tolerance must lie between 1e-14 and 0.1.";
        if (!(AbsoluteTolerance is > 0 and <= 1e6)) return "The absolute tolerance must be positive.";
        if (OutputInterval is { } every && (!(every > 0) || (End - Start) / every > 1e9)) return "The distance of output points must be positive and not tiny.";
        if (OutputTimes is { } times && times.Zip(times.Skip(1)).Any(p => p.Second < p.First)) return "Output times must rise.";
        return null;
    }
}

/// <summary>An event of a run, for the marks on the time bar.</summary>
public sealed record RunEvent(double Time, string Part, string What);

/// <summary>What a run did.</summary>
public sealed record RunStatistics
{
    public string Method { get; init; } = "";
    public long Steps { get; init; }
    public long Rejected { get; init; }
    public long Evaluations { get; init; }
    public long Events { get; init; }
    public long StateEvents { get; init; }
    public long TimeEvents { get; init; }
    public int States { get; init; }
    public int Equations { get; init; }
    public double CompileSeconds { get; init; }
    public double RunSeconds { get; init; }
}

/// <summary>A finished run: the traces, the statistics, and why it ended early if it did.</summary>
public sealed record RunResult(Recording.Trace Trace, RunStatistics Statistics, IReadOnlyList<RunEvent> Events, SimulationFailure? Failure);
