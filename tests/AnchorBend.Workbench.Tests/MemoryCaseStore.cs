using AnchorBend.Workbench.Cases;

namespace AnchorBend.Workbench.Tests;

/// <summary>Keeps runs of cases as a database would.</summary>
sealed class MemoryCaseStore : ICaseStore
{
    readonly Lock own = new();
    readonly Dictionary<string, StoredSuite> heads = [];
    readonly List<(string Suite, CaseResult Result)> results = [];

    public IReadOnlyList<StoredSuite> List(string? model)
    {
        lock (own)
            return [.. heads.Values.Where(h => model is null || h.ModelId == model).OrderByDescending(h => h.Made)];
    }

    public IReadOnlyList<SuiteSummary> Summaries(string model) =>
        [.. List(model).Select(s => SuiteSummary.Of(s, [.. Results(s.Id).Select(r => r.Outcome)]))];

    public void Put(StoredSuite suite)
    {
        lock (own)
            heads[suite.Id] = suite;
    }

    public void Add(string suite, CaseResult result)
    {
        lock (own)
        {
            results.RemoveAll(r => r.Suite == suite && r.Result.Case == result.Case);
            results.Add((suite, result));
        }
    }

    public IReadOnlyList<CaseResult> Results(string suite)
    {
        lock (own)
            return [.. results.Where(r => r.Suite == suite).Select(r => r.Result)];
    }

    public CaseResult? Newest(string model, string @case, bool passed = false)
    {
        lock (own)
            return OfModel(model).LastOrDefault(r => r.Case == @case && (!passed || r.Outcome == CaseOutcome.Passed));
    }

    public IReadOnlyList<CaseResult> Newest(string model)
    {
        lock (own)
            return [.. OfModel(model).GroupBy(r => r.Case).Select(g => g.Last())];
    }

    IEnumerable<CaseResult> OfModel(string model) => results.Where(r => heads[r.Suite].ModelId == model).Select(r => r.Result);

    public IReadOnlyList<string> Superseded(string model, int keep)
    {
        lock (own)
        {
            var held = results
                .Where(r => heads[r.Suite].ModelId == model)
                .GroupBy(r => r.Result.Case)
                .SelectMany(g => (string?[])[g.Last().Suite, g.LastOrDefault(r => r.Result.Outcome == CaseOutcome.Passed).Suite])
                .ToHashSet();
            return [.. List(model).Skip(keep).Select(s => s.Id).Where(s => !held.Contains(s))];
        }
    }

    public void Remove(string suite)
    {
        lock (own)
        {
            heads.Remove(suite);
            results.RemoveAll(r => r.Suite == suite);
        }
    }
}
