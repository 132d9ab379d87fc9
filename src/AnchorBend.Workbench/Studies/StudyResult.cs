using System.Text.Json.Serialization;

namespace AnchorBend.Workbench.Studies;

/// <summary>What is measured on each run.</summary>
/// <param name="Id">By which its column is known; the name where nobody says.</param>
public sealed record StudyMeasure(string Name, string Expression, string? Id = null);

/// <summary>What a requirement came to in one run.</summary>
/// <param name="IsMet">Null where the run did not decide it.</param>
/// <param name="Margin">What is left to its limit, in the requirement's unit; below zero where it is missed.</param>
public readonly record struct StudyVerdict(bool? IsMet, double? Margin);

/// <summary>What one run of a study gave.</summary>
/// <param name="Index">From 0, in the order of the table.</param>
/// <param name="Measures">Null for what has no value.</param>
/// <param name="Verdicts">By requirement, in the document's order.</param>
/// <param name="Problem">Why it failed, or a measure has no value; null where all is well.</param>
/// <param name="IsFailed">Whether there is no run; else only a measure has no value.</param>
/// <param name="Seconds">Of computing.</param>
/// <param name="Units">Of the measures; null for what has no value, and where nobody said.</param>
public sealed record StudyResult(
    int Index,
    IReadOnlyList<double?> Measures,
    IReadOnlyList<StudyVerdict> Verdicts,
    string? Problem,
    bool IsFailed = false,
    double Seconds = 0,
    IReadOnlyList<string?>? Units = null
)
{
    /// <summary>Courses on their way into the store (<see cref="StudyCourses"/>); null where none are kept.</summary>
    [JsonIgnore]
    public double[]? Courses { get; init; }
}
