using AnchorBend.Verification;

namespace AnchorBend.Workbench.Cases;

/// <summary>A run of cases, and how far it is.</summary>
/// <param name="Running">Ids of the cases under way.</param>
/// <param name="SecondsLeft">As the cases so far took; null where nobody knows.</param>
public sealed record SuiteView(
    string Id,
    string ModelId,
    long Revision,
    SuiteState State,
    DateTime Made,
    int Cases,
    int Done,
    int Passed,
    int Failed,
    IReadOnlyList<string> Running,
    double? SecondsLeft
);

/// <summary>A requirement in the newest run of a case.</summary>
/// <param name="IsStale">Whether the model, the case or the requirement has changed since.</param>
public sealed record CaseCell(string Requirement, VerdictKind Kind, double? Margin, string Unit, bool IsNarrow, bool IsStale);

/// <summary>A case with what its newest run gave.</summary>
/// <param name="Outcome">Null where it was never run.</param>
/// <param name="Cells">Requirements that apply to it.</param>
/// <param name="Courses">What was expected: how much of its tolerance was left.</param>
/// <param name="Problem">Why it could not be run to its end.</param>
public sealed record CaseRow(
    string Id,
    CaseOutcome? Outcome,
    bool IsStale,
    string? Problem,
    double? Seconds,
    long? Revision,
    DateTime? Made,
    IReadOnlyList<CaseCell> Cells,
    IReadOnlyList<MeasureVerdict> Courses,
    IReadOnlyList<MeasureVerdict> Measures
);

/// <summary>All cases of a model in their order, and the run of them that goes on or was the last.</summary>
/// <param name="Labels">What people call that which cases and groups set and expect, by target.</param>
public sealed record CasesView(long Revision, IReadOnlyList<CaseRow> Cases, SuiteView? Suite, IReadOnlyDictionary<string, string> Labels);

/// <summary>A result with what is worth knowing beside it.</summary>
/// <param name="LastPassed">The revision at which the case passed last; null where it never did.</param>
public sealed record CaseDetail(CaseResult? Result, bool IsStale, long? LastPassed, DateTime? LastPassedMade);
