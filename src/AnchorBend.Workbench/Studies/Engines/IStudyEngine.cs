namespace AnchorBend.Workbench.Studies.Engines;

/// <summary>Where the rows of a study are run: on this machine, or on a cluster. The results are the same, bit for bit.</summary>
public interface IStudyEngine
{
    /// <summary>Runs rows; each result is told once, in any order, one at a time.</summary>
    /// <param name="rows">Their indices.</param>
    /// <exception cref="EngineException">The engine cannot run them.</exception>
    void Run(IReadOnlyList<int> rows, Action<StudyResult> done, CancellationToken cancellation);
}

/// <summary>Rows cannot be run where they should be.</summary>
public sealed class EngineException(string message) : Exception(message);

/// <summary>Runs rows on this machine.</summary>
/// <param name="jobs">How many at once.</param>
public sealed class LocalEngine(StudyRun study, int jobs) : IStudyEngine
{
    public void Run(IReadOnlyList<int> rows, Action<StudyResult> done, CancellationToken cancellation) =>
        study.Run(rows, jobs, done, cancellation);
}
