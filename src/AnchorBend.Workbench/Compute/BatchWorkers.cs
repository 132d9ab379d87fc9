namespace AnchorBend.Workbench.Compute;

/// <summary>Work of many pieces that nobody waits for one by one: the rows of a study, the cases of a suite.</summary>
public interface IBatch
{
    /// <summary>Whether there is a piece to do now.</summary>
    bool HasWork { get; }

    /// <summary>The larger the sooner: one more is twice the share of the machine.</summary>
    double Priority { get; }

    /// <summary>Does the next piece on the thread at hand; it throws nothing but that the program ends.</summary>
    /// <returns>Seconds that it took.</returns>
    double WorkOn(ComputeGate.Lane lane);
}

/// <summary>
/// Does the pieces of all batches, as many at once as there are processors, the next one of the batch that has had least of the machine
/// for its priority; live runs go first (<see cref="ComputeGate"/>).
/// </summary>
public sealed class BatchWorkers(ComputeGate gate) : IDisposable
{
    sealed class Share
    {
        public double Served;
        public int Workers;
    }

    readonly Lock own = new();
    readonly Dictionary<IBatch, Share> batches = [];
    readonly List<Thread> threads = [];
    readonly SemaphoreSlim work = new(0);
    readonly CancellationTokenSource ending = new();
    readonly ManualResetEventSlim changed = new();
    bool isDisposed;

    public void Add(IBatch batch)
    {
        lock (own)
            batches.TryAdd(batch, new Share());
        Wake();
    }

    /// <summary>Forgets a batch, and waits until no piece of it is under way any more, at most so long.</summary>
    public void Remove(IBatch batch, TimeSpan wait)
    {
        Share? share;
        lock (own)
            if (!batches.Remove(batch, out share))
                return;
        var until = Environment.TickCount64 + wait.TotalMilliseconds;
        while (true)
        {
            changed.Reset();
            lock (own)
                if (share.Workers == 0)
                    return;
            if (until - Environment.TickCount64 is not (> 0 and var left) || !changed.Wait((int)left + 1))
                return;
        }
    }

    /// <summary>Looks again whether there is work.</summary>
    public void Wake()
    {
        lock (own)
        {
            if (isDisposed)
                return;
            while (threads.Count < Environment.ProcessorCount)
            {
                var thread = new Thread(Work) { IsBackground = true, Name = $"Batch {threads.Count + 1}" };
                threads.Add(thread);
                thread.Start();
            }

            work.Release(Environment.ProcessorCount);
        }
    }

    (IBatch Batch, Share Share)? Next()
    {
        lock (own)
        {
            var ready = batches.Where(b => b.Key.HasWork).Select(b => (b.Key, b.Value)).ToList();
            if (ready.Count == 0)
                return null;
            // One that begins does not catch up on what others have had before.
            foreach (var (_, fresh) in ready.Where(r => r.Value.Served == 0))
                fresh.Served = ready.Select(r => r.Value.Served).Where(s => s > 0).DefaultIfEmpty().Min();
            var next = ready.MinBy(r => r.Value.Served);
            next.Value.Workers++;
            return next;
        }
    }

    void Work()
    {
        // One lane for piece after piece: short ones too give way to what somebody waits for.
        ComputeGate.Lane? lane = null;
        try
        {
            while (!ending.IsCancellationRequested)
            {
                if (Next() is var (batch, share))
                    try
                    {
                        var seconds = batch.WorkOn(lane ??= gate.Enter(ending.Token, Urgency.Batch));
                        lock (own)
                            share.Served += seconds / Math.Pow(2, batch.Priority);
                    }
                    finally
                    {
                        lock (own)
                            share.Workers--;
                        changed.Set();
                    }
                else
                {
                    lane?.Dispose();
                    lane = null;
                    work.Wait(ending.Token);
                }
            }
        }
        catch (OperationCanceledException)
        {
            // The program ends.
        }
        finally
        {
            lane?.Dispose();
        }
    }

    public void Dispose()
    {
        lock (own)
        {
            if (isDisposed)
                return;
            isDisposed = true;
        }

        ending.Cancel();
        foreach (var thread in threads)
            thread.Join(TimeSpan.FromSeconds(5));
        ending.Dispose();
        work.Dispose();
        changed.Dispose();
    }
}
