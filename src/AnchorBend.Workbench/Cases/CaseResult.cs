using AnchorBend.Verification;
using AnchorBend.Workbench.Coverage;

namespace AnchorBend.Workbench.Cases;

public enum CaseOutcome
{
    Passed,
    Failed,

    /// <summary>The run did not show what is needed to decide, or there is nothing to decide.</summary>
    Open,

    /// <summary>It could not be run to its end.</summary>
    Broken,
}

/// <summary>A requirement in the run of a case.</summary>
/// <param name="Applies">Whether it is one of the case: one that the run does not decide is none, unless the case names it.</param>
/// <param name="IsNarrow">Whether it is met with less than a twentieth of its limit left.</param>
/// <param name="Key">What the requirement asked then (<see cref="CaseKey.OfRequirement"/>).</param>
public sealed record CaseVerdict(Verdict Verdict, bool Applies, bool IsNarrow, string Key)
{
    /// <summary>Courses of the signals that the requirement speaks of, as far as they are few.</summary>
    public IReadOnlyList<DrawnCourse> Courses { get; init; } = [];
}

/// <summary>The course of a signal for drawing, in the unit that it is read in.</summary>
/// <param name="Signal">The variable that the run recorded for it, as limits name it.</param>
public sealed record DrawnCourse(string Label, string Unit, Line Line, string Signal = "");

/// <summary>Where a course left its tube first, in its unit.</summary>
public sealed record CourseExit(double At, double Actual, double Lower, double Upper);

/// <summary>A course in the run of a case beside what was expected, in the unit of what was expected.</summary>
/// <param name="Id">Of what is expected, in the case.</param>
/// <param name="Label">The signal as people call it.</param>
/// <param name="Margin">The least distance to a limit; negative where it was left.</param>
/// <param name="Exit">Where it was left first; null where it never was.</param>
public sealed record CourseVerdict(
    string Id,
    string Label,
    string Unit,
    VerdictKind Kind,
    double? Margin,
    double? MarginAt,
    CourseExit? Exit,
    string Explanation
)
{
    /// <summary>The signal as it was recorded, the limits, and what was expected: instants and values.</summary>
    public Line Actual { get; init; } = Line.None;

    public Line Lower { get; init; } = Line.None;

    public Line Upper { get; init; } = Line.None;

    public Line Expected { get; init; } = Line.None;
}

/// <summary>Points of a line over time, s.</summary>
public sealed record Line(IReadOnlyList<double> Times, IReadOnlyList<double> Values)
{
    public static readonly Line None = new([], []);
}

/// <summary>A measure in the run of a case.</summary>
/// <param name="Id">Of the limits, in the case.</param>
public sealed record MeasureVerdict(
    string Id,
    string Name,
    VerdictKind Kind,
    double? Value,
    double? Margin,
    string Unit,
    string Explanation
);

/// <summary>How a result was made.</summary>
public sealed record CaseProvenance(
    long Revision,
    string Version,
    string Method,
    double RelativeTolerance,
    string Fingerprint,
    DateTime Made
);

/// <summary>What the run of a case gave.</summary>
/// <param name="Case">Its id.</param>
/// <param name="Problem">Why it could not be run to its end; null where it could.</param>
/// <param name="RunKey">What was run (<see cref="CaseKey.OfRun"/>).</param>
/// <param name="CheckKey">What was checked (<see cref="CaseKey.OfChecks"/>).</param>
public sealed record CaseResult(
    string Case,
    string Name,
    CaseOutcome Outcome,
    string? Problem,
    IReadOnlyList<CaseVerdict> Requirements,
    IReadOnlyList<CourseVerdict> Courses,
    IReadOnlyList<MeasureVerdict> Measures,
    double Seconds,
    string RunKey,
    string CheckKey,
    CaseProvenance Provenance
)
{
    /// <summary>What the run came by, of decisions and the like; null where nobody counted.</summary>
    public RunCounts? Tally { get; init; }

    /// <summary>What it came by in charts.</summary>
    public IReadOnlyList<ItemCount>? Items { get; init; }

    /// <summary>What was chosen of alternatives and options: names of values by path.</summary>
    public IReadOnlyDictionary<string, string>? Chosen { get; init; }
}
