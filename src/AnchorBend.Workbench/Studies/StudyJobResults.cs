namespace AnchorBend.Workbench.Studies;

/// <summary>What a run of a study has given so far, for tables and charts.</summary>
public sealed partial class StudyJob
{
    public StudyJobView View()
    {
        lock (own)
        {
            var done = results.Count(r => r is not null);
            var seconds = before + Worked;
            var left = results.Count - done;
            var speed = finishedHere / Math.Max(Worked, 1e-3);
            return new StudyJobView(
                Id,
                Stored.Study,
                Stored.Revision,
                State,
                Priority,
                Stored.Made,
                results.Count,
                done,
                results.Count(r => r?.IsFailed == true),
                running.Count,
                results.Count(r => r is { IsFailed: false } && r.Verdicts.Any(v => v.IsMet == false)),
                seconds,
                left == 0 ? 0
                    : finishedHere > 1 ? left / speed
                    : null,
                restarts << 32 | (uint)order.Count
            )
            {
                IsOnCluster = IsOnCluster,
                Said = Said,
            };
        }
    }

    /// <summary>Results that came after a state, and how far rows under way have come.</summary>
    /// <param name="after">The <see cref="StudyJobView.Changes"/> that is known.</param>
    public (IReadOnlyList<StudyResult> Results, IReadOnlyDictionary<int, double> Running, bool IsWhole) Since(long after)
    {
        lock (own)
        {
            var from = after >> 32 == restarts ? (int)Math.Clamp(after & uint.MaxValue, 0, order.Count) : 0;
            return ([.. order.Skip(from).Select(i => results[i]!)], running.ToDictionary(r => r.Key, r => r.Value.Part), from == 0);
        }
    }

    /// <summary>Columns of factors, measures and requirements.</summary>
    public (IReadOnlyList<StudyColumn> Factors, IReadOnlyList<StudyColumn> Measures, IReadOnlyList<StudyColumn> Requirements) Columns =>
        (
            [.. Run.Table.Factors.Select(f => new StudyColumn(f.Id, f.Label, f.Unit))],
            [
                .. Measures.Select(
                    (m, i) => new StudyColumn(m.Id ?? m.Name, m.Name, Run.Units[i] ?? Stored.Units.ElementAtOrDefault(i) ?? "")
                ),
            ],
            [.. Document.Requirements.Select(r => new StudyColumn(r.Key, r.Value.Name, ""))]
        );

    /// <summary>What has come since a state was known.</summary>
    public StudyResults ResultsSince(long after)
    {
        var view = View();
        var (results, under, isWhole) = Since(after);
        var (factors, measures, requirements) = Columns;
        return new StudyResults(
            view,
            factors,
            measures,
            requirements,
            isWhole,
            [.. results.Select(RowOf)],
            under,
            Simulation.DocumentRun.OptionsOf(Document).End,
            Best?.Index,
            Improved(),
            search?.Why,
            search?.Ended ?? endedBecause
        );
    }

    /// <summary>A result with what its row had.</summary>
    public ResultRow RowOf(StudyResult result)
    {
        var cells = Row(result.Index);
        return new ResultRow(
            result.Index,
            Plan.Numbers.Count > 0 ? Plan.Numbers[result.Index] : result.Index + 1,
            [.. cells.Select(c => c.Text)],
            [.. cells.Select(c => c.Number)],
            result.Measures,
            [.. result.Verdicts.Select(v => v.IsMet)],
            [.. result.Verdicts.Select(v => v.Margin)],
            result.Problem,
            result.IsFailed
        );
    }

    /// <summary>All results so far, by row; null for those that are still to come.</summary>
    public IReadOnlyList<StudyResult?> Results()
    {
        lock (own)
            return [.. results];
    }

    /// <summary>Why a search has its method, and why it has ended; null for others.</summary>
    public StudySearch? Search => search;

    /// <summary>The best result so far; null while there is none, and for what is no search.</summary>
    public StudyResult? Best
    {
        get
        {
            lock (own)
                return search is null ? null
                    : Attempts().MinBy(search.OutcomeOf) is { } best && search.Deciding(best) is { IsFailed: false } one ? one
                    : null;
        }
    }

    /// <summary>The runs of each attempt of a search, as far as they are all known.</summary>
    List<StudyResult[]> Attempts()
    {
        lock (own)
            return [.. results.Chunk(search!.Size).Where(a => a.All(r => r is not null)).Select(a => a.Select(r => r!).ToArray())];
    }

    List<Improvement> Improved()
    {
        var found = new List<Improvement>();
        if (search is null)
            return found;
        Exploration.Search.Outcome? best = null;
        foreach (var attempt in Attempts())
            if (search.OutcomeOf(attempt) is var outcome && (best is not { } b || outcome < b) && double.IsFinite(outcome.Value))
            {
                best = outcome;
                found.Add(new Improvement(search.Deciding(attempt).Index, outcome.Value));
            }

        return found;
    }
}
