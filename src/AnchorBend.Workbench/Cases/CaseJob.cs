namespace AnchorBend.Workbench.Cases;

/// <summary>One run of cases: what of it is done.</summary>
sealed class CaseJob
{
    readonly Lock own = new();
    readonly SortedSet<int> waiting = [];
    readonly Dictionary<string, CancellationTokenSource> running = [];
    double seconds;
    int done,
        passed;

    public CaseJob(StoredSuite stored, CaseRun run, IReadOnlyList<CaseResult> known)
    {
        (Stored, Run, State) = (stored, run, stored.State);
        var there = known.ToDictionary(k => k.Case);
        for (var i = 0; i < stored.Cases.Count; i++)
            if (there.TryGetValue(stored.Cases[i], out var result))
                Count(result);
            else
                waiting.Add(i);
    }

    public StoredSuite Stored { get; }

    public CaseRun Run { get; }

    public SuiteState State { get; private set; }

    public bool HasWork
    {
        get
        {
            lock (own)
                return State == SuiteState.Running && waiting.Count > 0;
        }
    }

    /// <summary>The next case to run.</summary>
    public string? Next(CancellationTokenSource stop)
    {
        lock (own)
        {
            if (State != SuiteState.Running || waiting.Count == 0)
                return null;
            var place = waiting.Min;
            waiting.Remove(place);
            running[Stored.Cases[place]] = stop;
            return Stored.Cases[place];
        }
    }

    /// <summary>A case is over; without a result it waits again.</summary>
    /// <returns>Whether the whole is over with it.</returns>
    public bool Ended(string id, CaseResult? result)
    {
        lock (own)
        {
            running.Remove(id);
            if (result is null)
            {
                waiting.Add(Stored.Cases.ToList().IndexOf(id));
                return false;
            }

            Count(result);
            if (waiting.Count > 0 || running.Count > 0 || State != SuiteState.Running)
                return false;
            State = SuiteState.Finished;
            return true;
        }
    }

    void Count(CaseResult result)
    {
        done++;
        passed += result.Outcome == CaseOutcome.Passed ? 1 : 0;
        seconds += result.Seconds;
    }

    public void Stop()
    {
        lock (own)
        {
            if (State != SuiteState.Running)
                return;
            State = SuiteState.Stopped;
            foreach (var stop in running.Values)
                stop.Cancel();
        }
    }

    public SuiteView View()
    {
        lock (own)
            return new SuiteView(
                Stored.Id,
                Stored.ModelId,
                Stored.Revision,
                State,
                Stored.Made,
                Stored.Cases.Count,
                done,
                passed,
                done - passed,
                [.. running.Keys],
                done > 0 && State == SuiteState.Running
                    ? seconds / done * (waiting.Count + running.Count) / Environment.ProcessorCount
                    : null
            );
    }
}
