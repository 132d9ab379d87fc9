using AnchorBend.Workbench.Runs;

namespace AnchorBend.Workbench.Tests;

/// <summary>Kept runs in memory, their files in a folder that goes with it.</summary>
sealed class MemoryRunStore : IRunStore, IDisposable
{
    readonly Dictionary<string, StoredRun> runs = [];
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-runs-").FullName;

    public IReadOnlyList<RunSummary> List(string model) => [.. runs.Values.Where(r => r.ModelId == model).Select(r => r.Summary)];

    public StoredRun? Find(string id) => runs.GetValueOrDefault(id);

    public void Put(StoredRun run) => runs[run.Summary.Id] = run;

    public void Put(string id, RunSummary summary) => runs[id] = runs[id] with { Summary = summary };

    public void Remove(string id)
    {
        if (runs.Remove(id))
            File.Delete(FileOf(id));
    }

    public void RemoveAll(string model)
    {
        foreach (var run in List(model))
            Remove(run.Id);
    }

    public string FileOf(string id) => Path.Combine(folder, id);

    public int LastNumber(string model) => List(model).Select(r => r.Number).DefaultIfEmpty().Max();

    public void Dispose() => Directory.Delete(folder, true);
}
