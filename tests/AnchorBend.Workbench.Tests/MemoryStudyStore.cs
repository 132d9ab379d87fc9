using AnchorBend.Workbench.Studies;

namespace AnchorBend.Workbench.Tests;

/// <summary>Keeps runs of studies as a database would, and counts what was written.</summary>
sealed class MemoryStudyStore : IStudyStore
{
    readonly Lock own = new();
    readonly Dictionary<string, StoredStudy> heads = [];
    readonly Dictionary<string, SortedDictionary<int, StudyResult>> results = [];

    /// <summary>How often a result came for a row.</summary>
    public Dictionary<int, int> Written { get; } = [];

    public IReadOnlyList<StoredStudy> List(string? model)
    {
        lock (own)
            return [.. heads.Values.Where(h => model is null || h.ModelId == model).OrderByDescending(h => h.Made)];
    }

    public void Put(StoredStudy study)
    {
        lock (own)
            heads[study.Id] = study;
    }

    public void Add(string id, IReadOnlyList<StudyResult> more)
    {
        lock (own)
            foreach (var result in more)
            {
                (results.TryGetValue(id, out var of) ? of : results[id] = [])[result.Index] = result;
                Written[result.Index] = Written.GetValueOrDefault(result.Index) + 1;
            }
    }

    public IReadOnlyList<StudyResult> Results(string id)
    {
        lock (own)
            return results.TryGetValue(id, out var of) ? [.. of.Values] : [];
    }

    public IReadOnlyDictionary<int, double[]> Courses(string id, IReadOnlyList<int> rows, int place)
    {
        const int count = StudyCourses.Instants;
        return Results(id)
            .Where(r => rows.Contains(r.Index) && r.Courses is not null)
            .ToDictionary(r => r.Index, r => r.Courses![(place * count)..((place + 1) * count)]);
    }

    public void Clear(string id, IReadOnlyList<int> rows)
    {
        lock (own)
            foreach (var row in rows)
                results.GetValueOrDefault(id)?.Remove(row);
    }

    public void Remove(string id)
    {
        lock (own)
        {
            heads.Remove(id);
            results.Remove(id);
        }
    }
}
