using AnchorBend.Workbench.Studies.Engines;

namespace AnchorBend.Workbench.Studies;

/// <summary>Runs studies on a cluster: a package in a folder that all its nodes see, and tasks of the workload manager.</summary>
/// <param name="folder">Packages stand in it, one folder each.</param>
/// <param name="worker">The command line program as nodes call it.</param>
public class StudyCluster(string folder, IReadOnlyList<string> worker)
{
    /// <summary>Tasks of a study of few rows, and rows of a task of many.</summary>
    const int FewestTasks = 8,
        UsualChunk = 50;

    /// <exception cref="EngineException">The cluster cannot run it.</exception>
    public void Run(StudyJob job, CancellationToken cancellation)
    {
        var rows = job.Run.Table.Rows.Count;
        IReadOnlyList<string> asked = ["--study", job.Stored.Study];
        var package = new StudyPackage(
            "model.json",
            asked,
            rows,
            Math.Clamp(rows / FewestTasks, 1, UsualChunk),
            StudyPackage.KeyOf(job.Stored.Document, asked, job.Run.Table)
        );
        var own = Path.Combine(folder, job.Id);
        package.Write(own, job.Stored.Document);
        EngineOf(package, own, said => job.Said = said).Run(job.Left, job.Came, cancellation);
    }

    /// <summary>What runs the tasks of a package.</summary>
    protected virtual IStudyEngine EngineOf(StudyPackage package, string own, Action<string> said) =>
        new SlurmEngine(package, own, [.. worker, "worker", own], said);
}
