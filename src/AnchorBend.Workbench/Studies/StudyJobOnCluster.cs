namespace AnchorBend.Workbench.Studies;

/// <summary>A run of a study whose rows a cluster runs.</summary>
public sealed partial class StudyJob
{
    /// <summary>What gives the cluster's work up; null while none is under way.</summary>
    CancellationTokenSource? engaged;

    public bool IsOnCluster { get; internal set; }

    /// <summary>What the cluster said last; null for nothing.</summary>
    public string? Said { get; internal set; }

    /// <summary>Rows that are still to be run.</summary>
    internal IReadOnlyList<int> Left
    {
        get
        {
            lock (own)
                return [.. waiting];
        }
    }

    /// <summary>Begins work on a cluster; null where it is under way already, or nothing is to be done.</summary>
    internal CancellationTokenSource? Engage(CancellationToken ending)
    {
        lock (own)
        {
            if (State != StudyState.Running || waiting.Count == 0 || engaged is not null)
                return null;
            Said = null;
            return engaged = CancellationTokenSource.CreateLinkedTokenSource(ending);
        }
    }

    internal void Disengage(CancellationTokenSource stop, string? said)
    {
        lock (own)
        {
            engaged = null;
            Said = said;
            stop.Dispose();
        }
    }

    /// <summary>Takes over a result that a node has made.</summary>
    internal void Came(StudyResult result)
    {
        lock (own)
        {
            if (!waiting.Remove(result.Index))
                return;
            Run.Learn(result);
            Ended(result.Index, result);
        }
    }
}
