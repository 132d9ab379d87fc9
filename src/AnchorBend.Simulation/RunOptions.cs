using AnchorBend.Language.Terms;

namespace AnchorBend.Simulation;

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

    /// <summary>No adaptive step is longer than this; null leaves it to the error estimate, which cannot see a pulse that lies between two
    /// evaluations.</summary>
    public double? LargestStep { get; init; }

    /// <summary>Distance of output points; null takes a two-thousandth of the run.</summary>
    public double? OutputInterval { get; init; }

    /// <summary>Rising output times instead of a grid.</summary>
    public IReadOnlyList<double>? OutputTimes { get; init; }

    /// <summary>Whether both sides of every event are recorded too.</summary>
    public bool RecordEvents { get; init; } = true;

    /// <summary>Variables to keep; null keeps all.</summary>
    public IReadOnlyList<int>? Keep { get; init; }

    /// <summary>Whether the whole model starts at rest: start values are guesses then.</summary>
    public bool SteadyStart { get; init; }

    /// <summary>States that need not rest where the whole model starts at rest, by name: they stay at their start values.</summary>
    public IReadOnlyList<string> Moving { get; init; } = [];

    /// <summary>Parts that start at rest, by path; with those inside them.</summary>
    public IReadOnlyList<string> SteadyParts { get; init; } = [];

    /// <summary>Where states and remembered values begin, in place of their start values; null for those.</summary>
    public StartValues? From { get; init; }

    /// <summary>What is done to the run on its way; null for nothing.</summary>
    public RunScript? Script { get; init; }

    /// <summary>Units that compute outside of the equations and that somebody else has opened, by their numbers.</summary>
    public IReadOnlyDictionary<long, IOutsideUnit> Given { get; init; } = new Dictionary<long, IOutsideUnit>();

    /// <summary>All units of a run, which go on where the run does; null for a run that has its own.</summary>
    internal OutsideUnits? Outside { get; init; }

    public TimeSpan TimeBudget { get; init; } = TimeSpan.FromMinutes(10);

    /// <summary>Most bytes of traces, in memory and on disk.</summary>
    public long TraceBudget { get; init; } = 8L << 30;

    /// <summary>Most events without progress worth mentioning before the run is stopped as chattering.</summary>
    public int ChatteringLimit { get; init; } = 1000;

    /// <summary>Whether steps are chosen by an error estimate.</summary>
    public bool IsAdaptive => !MethodDescription.Of(Method).IsFixedStep;

    /// <summary>What is wrong with the settings, or null.</summary>
    public string? Problem()
    {
        if (!double.IsFinite(Start) || !double.IsFinite(End) || End <= Start)
            return "The end time must lie behind the start time.";
        if (!IsAdaptive && (!(Step > 0) || Step > End - Start))
            return "The step must be positive and not longer than the run.";
        if (!IsAdaptive && (End - Start) / Step > 1e10)
            return "That would be more than ten thousand million steps.";
        if (LargestStep is { } largest && (!(largest > 0) || (End - Start) / largest > 1e10))
            return "The largest step must be positive and not tiny.";
        if (!(RelativeTolerance is >= 1e-14 and <= 0.1))
            return "The relative tolerance must lie between 1e-14 and 0.1.";
        if (!(AbsoluteTolerance is > 0 and <= 1e6))
            return "The absolute tolerance must be positive.";
        if (OutputInterval is { } every && (!(every > 0) || (End - Start) / every > 1e9))
            return "The distance of output points must be positive and not tiny.";
        if (OutputTimes is { } times && times.Zip(times.Skip(1)).Any(p => p.Second < p.First))
            return "Output times must rise.";
        return null;
    }
}
