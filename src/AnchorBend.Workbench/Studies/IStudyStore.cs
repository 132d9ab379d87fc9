namespace AnchorBend.Workbench.Studies;

public enum StudyState
{
    Running,
    Paused,

    /// <summary>Somebody ended it before all rows were run.</summary>
    Stopped,
    Finished,
}

/// <summary>A run of a study as it is kept.</summary>
/// <param name="Document">The model as it was when it began.</param>
/// <param name="Units">Of the measures, as far as they are known.</param>
/// <param name="Search">What came of a search, for people; null for others.</param>
public sealed record StoredStudy(
    string Id,
    string ModelId,
    string Study,
    long Revision,
    string Document,
    StudyState State,
    int Priority,
    DateTime Made,
    IReadOnlyList<string?> Units,
    double Seconds,
    bool IsOnCluster = false
);

/// <summary>Where runs of studies are kept, so that they go on after a break.</summary>
public interface IStudyStore
{
    /// <summary>All of a model, or of all models, the newest first.</summary>
    IReadOnlyList<StoredStudy> List(string? model);

    void Put(StoredStudy study);

    /// <summary>Keeps results; those of rows that are there already take their places.</summary>
    void Add(string id, IReadOnlyList<StudyResult> results);

    IReadOnlyList<StudyResult> Results(string id);

    /// <summary>The course of one signal in rows that keep it, by row.</summary>
    /// <param name="place">Of the signal among those that are kept.</param>
    IReadOnlyDictionary<int, double[]> Courses(string id, IReadOnlyList<int> rows, int place);

    /// <summary>Removes results, so that their rows are run again.</summary>
    void Clear(string id, IReadOnlyList<int> rows);

    void Remove(string id);
}
