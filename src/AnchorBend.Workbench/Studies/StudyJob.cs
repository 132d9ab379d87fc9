using System.Diagnostics;
using AnchorBend.Exploration.Trends;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Studies;

/// <summary>One run of a study: its rows, what they gave so far, and how far it has come.</summary>
public sealed partial class StudyJob
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

    /// <summary>Results that were kept of rows that the search has not asked for again yet.</summary>
    readonly Dictionary<int, StudyResult> restored = [];

    /// <summary>When enough is known of the share that meets all; null where all rows are run.</summary>
    readonly ShareEnding? ending;

    /// <summary>Rows from the first on that are all known, as of the last look at whether enough is known.</summary>
    int looked;

    string? endedBecause;

    /// <summary>Somebody wants all rows though enough is known.</summary>
    bool goesOn;

    /// <summary>Of the interval of a share.</summary>
    internal const double Confidence = 0.95;

    /// <summary>Seconds of work until the last pause, of this program.</summary>
    double pausedSeconds;

    /// <summary>How often results were taken back: who knows results of before knows too many.</summary>
    long restarts;
    long begun;
    int finishedHere;

    public StudyJob(StoredStudy stored, StudyNode study, StudySetup setup, ModelDocument document)
    {
        var (plan, run, measures, search) = setup;
        (Stored, Study, Plan, Run, Document, Measures) = (stored, study, plan, run, document, measures);
        (this.search, rows, results) = (search, [], []);
        (State, Priority, before, IsOnCluster) = (stored.State, stored.Priority, stored.Seconds, stored.IsOnCluster);
        begun = State == StudyState.Running ? Stopwatch.GetTimestamp() : 0;
        if (search is null && document.Requirements.Count > 0)
            ending = study.Design.Ending switch
            {
                "decided" when study.WantedYield is { } wanted => new ShareEnding(wanted, null),
                "known" => new ShareEnding(null, study.Design.Within),
                _ => null,
            };
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

    /// <summary>Ends where enough is known. Looks go by whole rounds of rows from the first on, so that the end does not depend on which
    /// run was over first.</summary>
    void Look()
    {
        while (ending is not null && endedBecause is null && results.Count - looked >= ShareEnding.Round)
        {
            for (var row = looked; row < looked + ShareEnding.Round; row++)
                if (results[row] is null)
                    return;
            looked += ShareEnding.Round;
            endedBecause = ending.Enough(StudyYield.All(results.Take(looked).Select(r => r!), Confidence).Share);
        }

        if (endedBecause is not null && State == StudyState.Running && !goesOn)
            Put(StudyState.Finished);
    }

    void Known(StudyResult result)
    {
        results[result.Index] = result;
        waiting.Remove(result.Index);
        order.Add(result.Index);
        restored.Remove(result.Index);
    }

    /// <summary>The least sets of factors that bring about what is looked for, as places; null where the search looks for none.</summary>
    public IReadOnlyList<IReadOnlyList<int>>? CutSets()
    {
        lock (own)
            return search?.CutSets;
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
            Look();
        }
    }

    internal bool HasWork
    {
        get
        {
            lock (own)
                return !IsOnCluster && State == StudyState.Running && waiting.Count > 0;
        }
    }

    /// <summary>The next row to run.</summary>
    internal int? Next(CancellationTokenSource stop)
    {
        lock (own)
        {
            if (IsOnCluster || State != StudyState.Running || waiting.Count == 0)
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

            results[row] = result with { Courses = null };
            order.Add(row);
            unkept.Add(result);
            finishedHere++;
            GoOn();
            Look();
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
                    (begun, goesOn) = (Stopwatch.GetTimestamp(), endedBecause is not null);
            }
            else if (State == StudyState.Running)
                (pausedSeconds, begun) = (Worked, 0);
            State = wanted;
            if (wanted != StudyState.Running)
                engaged?.Cancel();
            if (wanted != StudyState.Running)
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

            (looked, endedBecause) = (0, null);
            unkept.RemoveAll(r => failed.Contains(r.Index));
            order.RemoveAll(failed.Contains);
            restarts++;
            return failed;
        }
    }

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
            return Stored with
            {
                State = State,
                Priority = Priority,
                Units = [.. Run.Units],
                Seconds = before + Worked,
                IsOnCluster = IsOnCluster,
            };
    }
}
