using AnchorBend.Exploration.Trends;

namespace AnchorBend.Workbench.Studies;

/// <summary>How many of a study's runs meet something. Runs that failed meet nothing; those that decide nothing do not count.</summary>
/// <param name="Of">Runs that decide.</param>
/// <param name="Share">Null where none does.</param>
public sealed record StudyYield(int Met, int Of, ShareInterval? Share)
{
    /// <param name="isMet">By run; null where it decides nothing.</param>
    public static StudyYield By(IEnumerable<StudyResult> results, Func<StudyResult, bool?> isMet, double confidence)
    {
        var (met, count) = (0, 0);
        foreach (var result in results)
            if ((result.IsFailed ? false : isMet(result)) is { } one)
            {
                met += one ? 1 : 0;
                count++;
            }

        return new StudyYield(met, count, count > 0 ? ShareInterval.Of(met, count, confidence) : null);
    }

    /// <summary>Of all requirements together.</summary>
    public static StudyYield All(IEnumerable<StudyResult> results, double confidence) =>
        By(results, r => r.Verdicts.Any(v => v.IsMet is null) ? null : r.Verdicts.All(v => v.IsMet == true), confidence);
}
