namespace AnchorBend.Workbench.Cases;

public enum SuiteState
{
    Running,

    /// <summary>Somebody ended it before all cases were run.</summary>
    Stopped,
    Finished,
}

/// <summary>A run of cases as it is kept, apart from the cases themselves.</summary>
/// <param name="Document">The model as it was when it began, with its cases.</param>
/// <param name="Cases">Ids of the cases that are run.</param>
public sealed record StoredSuite(
    string Id,
    string ModelId,
    long Revision,
    string Document,
    IReadOnlyList<string> Cases,
    SuiteState State,
    DateTime Made
);

/// <summary>How a run of cases came out.</summary>
/// <param name="Cases">How many were to be run.</param>
/// <param name="Failed">Those that failed, or did not run to their end.</param>
public sealed record SuiteSummary(string Id, long Revision, SuiteState State, DateTime Made, int Cases, int Passed, int Failed, int Open)
{
    public static SuiteSummary Of(StoredSuite suite, IReadOnlyList<CaseOutcome> outcomes) =>
        new(
            suite.Id,
            suite.Revision,
            suite.State,
            suite.Made,
            suite.Cases.Count,
            outcomes.Count(o => o == CaseOutcome.Passed),
            outcomes.Count(o => o is CaseOutcome.Failed or CaseOutcome.Broken),
            outcomes.Count(o => o == CaseOutcome.Open)
        );
}

/// <summary>Where results of cases are kept.</summary>
public interface ICaseStore
{
    /// <summary>All of a model, or of all models, the newest first; without their documents where the model is given.</summary>
    IReadOnlyList<StoredSuite> List(string? model);

    /// <summary>How the runs of a model came out, the newest first.</summary>
    IReadOnlyList<SuiteSummary> Summaries(string model);

    void Put(StoredSuite suite);

    void Add(string suite, CaseResult result);

    IReadOnlyList<CaseResult> Results(string suite);

    /// <summary>The newest result of a case; null where there is none.</summary>
    /// <param name="passed">The newest that passed, instead of the newest of all.</param>
    CaseResult? Newest(string model, string @case, bool passed = false);

    /// <summary>The newest result of each case of a model.</summary>
    IReadOnlyList<CaseResult> Newest(string model);

    /// <summary>Runs behind so many of the newest that hold neither the newest result of a case nor the newest that passed.</summary>
    IReadOnlyList<string> Superseded(string model, int keep);

    void Remove(string suite);
}
