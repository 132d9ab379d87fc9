namespace AnchorBend.Simulation;

public enum IntegrationMethod { Auto, DormandPrince54, DormandPrince853, Radau5, BackwardDifferences, Euler, Heun, RungeKutta4, ImplicitEuler }

/// <summary>A method as users choose it.</summary>
/// <param name="Name">Short name in documents, on the command line and in statistics.</param>
/// <param name="Title">Name on screen.</param>
/// <param name="Guidance">When to take it, in one sentence.</param>
public sealed record MethodDescription(IntegrationMethod Method, string Name, string Title, bool IsFixedStep, bool IsImplicit, string Guidance)
{
    public static IReadOnlyList<MethodDescription> All { get; } =
    [
        new(IntegrationMethod.Auto, "auto", "Automatic", false, false, "Chooses by tolerance and stiffness and switches during the run; right for almost every model."),
        new(IntegrationMethod.DormandPrince54, "dopri54", "Dormand–Prince 5(4)", false, false, "Explicit, order 5: smooth models without fast modes, at loose and medium tolerances."),
        new(IntegrationMethod.DormandPrince853, "dopri853", "Dormand–Prince 8(5,3)", false, false, "Explicit, order 8: smooth models at tight tolerances, with few events."),
        new(IntegrationMethod.Radau5, "radau5", "Radau IIA 5", false, true, "Implicit, order 5: stiff models, also at tight tolerances and with many events."),
        new(IntegrationMethod.BackwardDifferences, "bdf", "Backward differentiation 1–5", false, true, "Implicit, variable order: large stiff models at loose tolerances with few events."),
        new(IntegrationMethod.Euler, "euler", "Euler, fixed step", true, false, "Equal steps of order 1: to see what a simple real-time target does."),
        new(IntegrationMethod.Heun, "heun", "Heun, fixed step", true, false, "Equal steps of order 2: real-time targets with a little more accuracy."),
        new(IntegrationMethod.RungeKutta4, "rk4", "Runge–Kutta 4, fixed step", true, false, "Equal steps of order 4: accurate real-time runs of models that are not stiff."),
        new(IntegrationMethod.ImplicitEuler, "implicit-euler", "Implicit Euler, fixed step", true, true, "Equal steps of order 1 that stay stable: real-time runs of stiff models."),
    ];

    public static MethodDescription Of(IntegrationMethod method) => All.First(d => d.Method == method);

    public static MethodDescription? Named(string name) => All.FirstOrDefault(d => d.Name == name);
}

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

    /// <summary>Whether the whole model starts at rest: start values are guesses then.</summary>
    public bool SteadyStart { get; init; }

    /// <summary>Parts that start at rest, by path; with those inside them.</summary>
    public IReadOnlyList<string> SteadyParts { get; init; } = [];

    public TimeSpan TimeBudget { get; init; } = TimeSpan.FromMinutes(10);

    /// <summary>Most bytes of traces, in memory and on disk.</summary>
    public long TraceBudget { get; init; } = 8L << 30;

    /// <summary>Most events without progress worth mentioning before the run is stopped as chattering.</summary>
    public int ChatteringLimit { get; init; } = 1000;

    /// <summary>What is wrong with the settings, or null.</summary>
    public string? Problem()
    {
        if (!double.IsFinite(Start) || !double.IsFinite(End) || End <= Start) return "The end time must lie behind the start time.";
        var isFixed = MethodDescription.Of(Method).IsFixedStep;
        if (isFixed && (!(Step > 0) || Step > End - Start)) return "The step must be positive and not longer than the run.";
        if (isFixed && (End - Start) / Step > 1e10) return "That would be more than ten thousand million steps.";
        if (!(RelativeTolerance is >= 1e-14 and <= 0.1)) return "The relative tolerance must lie between 1e-14 and 0.1.";
        if (!(AbsoluteTolerance is > 0 and <= 1e6)) return "The absolute tolerance must be positive.";
        if (OutputInterval is { } every && (!(every > 0) || (End - Start) / every > 1e9)) return "The distance of output points must be positive and not tiny.";
        if (OutputTimes is { } times && times.Zip(times.Skip(1)).Any(p => p.Second < p.First)) return "Output times must rise.";
        return null;
    }
}

/// <summary>An event of a run, for the marks on the time bar.</summary>
public sealed record RunEvent(double Time, string Part, string What);

/// <summary>How often something happened.</summary>
public sealed record EventCount(string Part, string What, long Count);

/// <summary>A part's share in something, 0 to 1.</summary>
public sealed record PartShare(string Part, string Name, double Share);

/// <summary>What a run did.</summary>
public sealed record RunStatistics
{
    public string Method { get; init; } = "";
    public long Steps { get; init; }
    public long Rejected { get; init; }
    public long Evaluations { get; init; }
    public long Jacobians { get; init; }
    public long Factorizations { get; init; }
    public long NewtonFailures { get; init; }

    /// <summary>Steps of an automatic run made by the implicit method.</summary>
    public long ImplicitSteps { get; init; }

    /// <summary>When an automatic run changed its method.</summary>
    public IReadOnlyList<Numerics.Integration.MethodSwitch> Switches { get; init; } = [];

    /// <summary>How often a model of high index changed its states.</summary>
    public long StateChanges { get; init; }
    public long Events { get; init; }
    public long StateEvents { get; init; }
    public long TimeEvents { get; init; }
    /// <summary>Events by part and reason, most frequent first.</summary>
    public IReadOnlyList<EventCount> EventsByPart { get; init; } = [];

    /// <summary>States whose errors kept the steps short, in what share of the steps looked at.</summary>
    public IReadOnlyList<PartShare> Limits { get; init; } = [];

    /// <summary>Share of each part in the arithmetic of one evaluation; a loop counts as often as it was iterated.</summary>
    public IReadOnlyList<PartShare> Work => work ??= WorkSource?.Invoke() ?? [];

    /// <summary>Computes <see cref="Work"/> when somebody asks: a run should not wait for it.</summary>
    internal Func<IReadOnlyList<PartShare>>? WorkSource { get; init; }

    IReadOnlyList<PartShare>? work;

    public int States { get; init; }
    public int Equations { get; init; }
    public double CompileSeconds { get; init; }
    public double RunSeconds { get; init; }
}

/// <summary>A finished run: the traces, the statistics, and why it ended early if it did.</summary>
public sealed record RunResult(Recording.Trace Trace, RunStatistics Statistics, IReadOnlyList<RunEvent> Events, SimulationFailure? Failure)
{
    /// <summary>Where the states began.</summary>
    public IReadOnlyList<StartEntry> Start { get; init; } = [];
}

/// <summary>How a state got its start.</summary>
public enum StartKind
{
    /// <summary>The model fixes it.</summary>
    Fixed,

    /// <summary>The start value holds as nothing else determined it.</summary>
    Given,

    /// <summary>It was solved for; the start value was the guess.</summary>
    Solved,
}

/// <summary>The start of one state.</summary>
public sealed record StartEntry(string Name, double Guess, double Value, StartKind Kind);
