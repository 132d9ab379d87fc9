using System.Diagnostics;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Studies;

/// <summary>A measure's or requirement's column of results.</summary>
public sealed record StudyColumn(string Id, string Name, string Unit);

/// <summary>A run of a study as it is now.</summary>
/// <param name="State">running, paused, stopped or finished.</param>
/// <param name="Rows">How many runs there are.</param>
/// <param name="Failed">How many of the finished ones failed.</param>
/// <param name="SecondsLeft">Null while nothing tells.</param>
/// <param name="Changes">Grows with each result; results after a number are asked for by it.</param>
public sealed record StudyJobView(
    string Id,
    string Study,
    long Revision,
    StudyState State,
    int Priority,
    DateTime Made,
    int Rows,
    int Done,
    int Failed,
    int Running,
    int Missed,
    double Seconds,
    double? SecondsLeft,
    long Changes
);

/// <summary>One run of a study: its rows, what they gave so far, and how far it has come.</summary>
public sealed class StudyJob
{
    readonly Lock own = new();
    readonly List<StudyCell[]> rows;
    readonly List<StudyResult?> results;
    readonly StudySearch? search;

    /// <summary>Where the rows begin that the search waits for.</summary>
    int round;

    /// <summary>Rows in the order in which their results came; one that was run again stands twice.</summary>
    readonly List<int> order = [];

    readonly SortedSet<int> waiting = [];
    readonly Dictionary<int, (double Part, CancellationTokenSource Stop)> running = [];
    readonly List<StudyResult> unkept = [];
    readonly double before;
    long begun;
    int finishedHere;

    /// <param name="search">What makes the rows; null where they are those of the plan.</param>
    public StudyJob(
        StoredStudy stored,
        StudyNode study,
        StudyPlan plan,
        StudyRun run,
        ModelDocument document,
        IReadOnlyList<StudyMeasure> measures,
        StudySearch? search
    )
    {
        (Stored, Study, Plan, Run, Document, Measures) = (stored, study, plan, run, document, measures);
        (this.search, rows, results) = (search, [], []);
        (State, Priority, before) = (stored.State, stored.Priority, stored.Seconds);
        begun = State == StudyState.Running ? Stopwatch.GetTimestamp() : 0;
        Append(search is null ? run.Table.Rows : search.Ask());
    }

    void Append(IReadOnlyList<StudyCell[]> more)
    {
        foreach (var row in more)
        {
            waiting.Add(rows.Count);
            rows.Add(row);
            results.Add(null);
        }
    }

    /// <summary>Tells the search what came out, where its round is over, and takes the rows of the next.</summary>
    void GoOn()
    {
        while (search is not null && waiting.Count == 0 && running.Count == 0 && round < rows.Count)
        {
            search.Tell([.. results.Skip(round).Select(r => r!)]);
            round = rows.Count;
            Append(search.Ask());
            // Rows that are known already, after a break, need no run.
            foreach (var known in restored.Where(r => r.Key >= round && r.Key < rows.Count).ToList())
                Known(known.Value);
        }
    }

    readonly Dictionary<int, StudyResult> restored = [];

    void Known(StudyResult result)
    {
        results[result.Index] = result;
        waiting.Remove(result.Index);
        order.Add(result.Index);
        restored.Remove(result.Index);
    }

    /// <summary>Why a search has its method, and why it has ended; null for others.</summary>
    public (string Why, string? Ended)? Search => search is null ? null : (search.Why, search.Ended);

    /// <summary>The best result so far; null while there is none, and for what is no search.</summary>
    public StudyResult? Best
    {
        get
        {
            lock (own)
                return search is null ? null : results.OfType<StudyResult>().Where(r => !r.IsFailed).MinBy(search.OutcomeOf);
        }
    }

    public StudyCell[] Row(int index)
    {
        lock (own)
            return rows[index];
    }

    public StoredStudy Stored { get; }

    public string Id => Stored.Id;

    public string ModelId => Stored.ModelId;

    public StudyNode Study { get; }

    public StudyPlan Plan { get; }

    public StudyRun Run { get; }

    /// <summary>The model as it was when the study began.</summary>
    public ModelDocument Document { get; }

    public IReadOnlyList<StudyMeasure> Measures { get; }

    public StudyState State { get; private set; }

    public int Priority { get; private set; }

    /// <summary>Runs that it has had of late, for its share of the machine.</summary>
    internal double Served { get; set; }

    /// <summary>Takes over what was kept.</summary>
    internal void Restore(IReadOnlyList<StudyResult> kept)
    {
        lock (own)
        {
            foreach (var result in kept)
                restored[result.Index] = result;
            foreach (var known in kept.Where(r => r.Index < rows.Count))
                Known(known);
            GoOn();
        }
    }

    internal bool HasWork
    {
        get
        {
            lock (own)
                return State == StudyState.Running && waiting.Count > 0;
        }
    }

    /// <summary>The next row to run.</summary>
    internal int? Next(CancellationTokenSource stop)
    {
        lock (own)
        {
            if (State != StudyState.Running || waiting.Count == 0)
                return null;
            var row = waiting.Min;
            waiting.Remove(row);
            running[row] = (0, stop);
            return row;
        }
    }

    internal void Progressed(int row, double part)
    {
        lock (own)
            if (running.TryGetValue(row, out var now))
                running[row] = (part, now.Stop);
    }

    /// <summary>A row is over; without a result it waits again.</summary>
    internal void Ended(int row, StudyResult? result)
    {
        lock (own)
        {
            running.Remove(row);
            if (result is null)
            {
                waiting.Add(row);
                return;
            }

            results[row] = result;
            order.Add(row);
            unkept.Add(result);
            finishedHere++;
            GoOn();
            if (waiting.Count == 0 && running.Count == 0 && State == StudyState.Running)
                (State, pausedSeconds, begun) = (StudyState.Finished, Worked, 0);
        }
    }

    /// <summary>Results that could not be kept.</summary>
    internal void PutBack(IReadOnlyList<StudyResult> taken)
    {
        lock (own)
            unkept.InsertRange(0, taken);
    }

    double pausedSeconds;

    double Worked => pausedSeconds + (begun == 0 ? 0 : Stopwatch.GetElapsedTime(begun).TotalSeconds);

    /// <summary>Changes what is to happen with it.</summary>
    /// <param name="wanted">Rows under way are given up where it is not running any more.</param>
    internal void Put(StudyState wanted)
    {
        lock (own)
        {
            if (wanted == State)
                return;
            if (wanted == StudyState.Running)
            {
                if (waiting.Count == 0 && running.Count == 0)
                    wanted = StudyState.Finished;
                else
                    begun = Stopwatch.GetTimestamp();
            }
            else if (State == StudyState.Running)
                (pausedSeconds, begun) = (Worked, 0);
            State = wanted;
            if (wanted is StudyState.Paused or StudyState.Stopped)
                foreach (var (_, (_, stop)) in running)
                    stop.Cancel();
        }
    }

    internal void Put(int priority) => Priority = priority;

    /// <summary>Runs rows again: those that failed.</summary>
    /// <returns>Which.</returns>
    internal IReadOnlyList<int> Again()
    {
        lock (own)
        {
            var failed = results.OfType<StudyResult>().Where(r => r.IsFailed).Select(r => r.Index).ToList();
            foreach (var row in failed)
            {
                results[row] = null;
                waiting.Add(row);
            }

            unkept.RemoveAll(r => failed.Contains(r.Index));
            order.RemoveAll(failed.Contains);
            restarts++;
            return failed;
        }
    }

    long restarts;

    /// <summary>Results that have to be kept.</summary>
    internal IReadOnlyList<StudyResult> TakeUnkept()
    {
        lock (own)
        {
            List<StudyResult> taken = [.. unkept];
            unkept.Clear();
            return taken;
        }
    }

    internal StoredStudy ToStore()
    {
        lock (own)
            return Stored with { State = State, Priority = Priority, Units = [.. Run.Units], Seconds = before + Worked };
    }

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
            );
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
            search?.Why,
            search?.Ended
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
}
