namespace AnchorBend.Workbench.Studies;

/// <summary>A row of the design table.</summary>
/// <param name="Number">In the design, from 1.</param>
/// <param name="Cells">By factor, as typed.</param>
/// <param name="IsOwn">Whether it was made by hand.</param>
public sealed record StudyDesignRow(int Number, bool IsOn, IReadOnlyList<string> Cells, bool IsOwn);

/// <summary>What a study comes to before it is run.</summary>
/// <param name="Runs">How many rows are run.</param>
/// <param name="LeftOut">How many break a condition.</param>
/// <param name="Rows">A part of the design table.</param>
/// <param name="Total">Rows of the whole table.</param>
public sealed record StudyDesignView(
    IReadOnlyList<FactorView> Factors,
    int Runs,
    int LeftOut,
    int Total,
    IReadOnlyList<StudyDesignRow> Rows,
    string? Problem,
    string? Advice
)
{
    /// <summary>Signals whose course each run keeps, how many rows keep them, and the bytes that they take.</summary>
    public int KeptSignals { get; init; }

    public int KeptRows { get; init; }

    public long KeptBytes { get; init; }
}

/// <summary>The model's tolerances.</summary>
/// <param name="Problem">Why they cannot be drawn; null where they can.</param>
public sealed record TolerancesView(IReadOnlyList<FactorView> Tolerances, string? Problem);

/// <summary>Where the courses of one signal lie in many runs, in the unit that the model computes in.</summary>
/// <param name="Signal">As it was asked for.</param>
/// <param name="Low">5 % of the runs lie below.</param>
/// <param name="High">95 % lie below.</param>
public sealed record SignalBand(
    string Signal,
    IReadOnlyList<double> Times,
    IReadOnlyList<double> Least,
    IReadOnlyList<double> Low,
    IReadOnlyList<double> Median,
    IReadOnlyList<double> High,
    IReadOnlyList<double> Largest
);

/// <summary>Bands of signals over rows of a study.</summary>
/// <param name="Runs">How many of the rows keep courses.</param>
/// <param name="Problem">Why there are none; null where there are.</param>
public sealed record StudyBands(IReadOnlyList<SignalBand> Bands, int Runs, string? Problem);

/// <summary>The result of one run for tables and charts.</summary>
/// <param name="Row">From 0.</param>
/// <param name="Cells">By factor, as typed.</param>
/// <param name="Numbers">By factor; null for what is no number.</param>
/// <param name="Met">By requirement; null where the run did not decide it.</param>
/// <param name="Margins">By requirement.</param>
public sealed record ResultRow(
    int Row,
    int Number,
    IReadOnlyList<string> Cells,
    IReadOnlyList<double?> Numbers,
    IReadOnlyList<double?> Measures,
    IReadOnlyList<bool?> Met,
    IReadOnlyList<double?> Margins,
    string? Problem,
    bool IsFailed
);

/// <summary>A row that was better than all before it.</summary>
/// <param name="Value">What the search makes least.</param>
public sealed record Improvement(int Row, double Value);

/// <summary>Results that came since a state was known.</summary>
/// <param name="IsWhole">Whether they are all there are, so that what was known before is forgotten.</param>
/// <param name="Running">Simulated time reached by rows under way, s.</param>
/// <param name="Best">The row of the best result of a search.</param>
/// <param name="Improved">Rows of a search that were better than all before them, each with what it had.</param>
/// <param name="Why">Why a search has its method.</param>
/// <param name="Ended">Why it has ended.</param>
public sealed record StudyResults(
    StudyJobView Job,
    IReadOnlyList<StudyColumn> Factors,
    IReadOnlyList<StudyColumn> Measures,
    IReadOnlyList<StudyColumn> Requirements,
    bool IsWhole,
    IReadOnlyList<ResultRow> Rows,
    IReadOnlyDictionary<int, double> Running,
    double End,
    int? Best,
    IReadOnlyList<Improvement> Improved,
    string? Why,
    string? Ended
);

/// <summary>A measure's or requirement's column of results.</summary>
public sealed record StudyColumn(string Id, string Name, string Unit);

/// <summary>A run of a study as it is now.</summary>
/// <param name="State">running, paused, stopped or finished.</param>
/// <param name="Rows">How many runs there are.</param>
/// <param name="Failed">How many of the finished ones failed.</param>
/// <param name="SecondsLeft">Null while nothing tells.</param>
/// <param name="Changes">Grows with each result; results after a number are asked for by it.</param>
public sealed record StudyJobView(
    string Id,
    string Study,
    long Revision,
    StudyState State,
    int Priority,
    DateTime Made,
    int Rows,
    int Done,
    int Failed,
    int Running,
    int Missed,
    double Seconds,
    double? SecondsLeft,
    long Changes
)
{
    /// <summary>Whether a cluster runs it.</summary>
    public bool IsOnCluster { get; init; }

    /// <summary>What the cluster said last.</summary>
    public string? Said { get; init; }
}
