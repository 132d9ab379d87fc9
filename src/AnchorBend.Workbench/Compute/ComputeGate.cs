using System.Diagnostics;
using AnchorBend.Language;

namespace AnchorBend.Workbench.Compute;

/// <summary>The work took longer than is given to any.</summary>
public sealed class TooLongException(TimeSpan limit) : Exception($"The work took longer than {limit.TotalSeconds:F0} s.")
{
    public TimeSpan Limit { get; } = limit;
}

/// <summary>
/// Shares the processors between everything that computes. Work begins at once, as nearly all of it is done in milliseconds; what goes on
/// longer takes turns, so that neither a model that is put together for seconds nor a run of minutes makes anybody's edit wait.
/// </summary>
public sealed class ComputeGate
{
    /// <summary>Work shorter than this needs no turn; a turn lasts this long where others wait.</summary>
    static readonly TimeSpan Quick = TimeSpan.FromMilliseconds(250),
        Turn = TimeSpan.FromMilliseconds(500);

    readonly TurnQueue turns = new(Math.Max(1, Environment.ProcessorCount));

    /// <summary>Does work on the thread at hand within a time limit.</summary>
    /// <param name="wanted">Canceled when nobody wants the result any more.</param>
    /// <exception cref="TooLongException">The limit passed.</exception>
    /// <exception cref="OperationCanceledException">Nobody wants it any more.</exception>
    /// <exception cref="BudgetException">It asks for too much.</exception>
    public T Run<T>(TimeSpan limit, CancellationToken wanted, Func<CancellationToken, T> work)
    {
        using var source = CancellationTokenSource.CreateLinkedTokenSource(wanted);
        source.CancelAfter(limit);
        using var lane = Enter(source.Token);
        using var budget = WorkBudget.Begin(source.Token, lane.Checkpoint);
        try
        {
            return work(source.Token);
        }
        catch (OperationCanceledException) when (!wanted.IsCancellationRequested && source.IsCancellationRequested)
        {
            throw new TooLongException(limit);
        }
    }

    /// <summary>Begins a piece of work that calls <see cref="Lane.Checkpoint"/> now and then.</summary>
    public Lane Enter(CancellationToken wanted, Urgency urgency = Urgency.Interactive) => new(this, wanted, urgency);

    public sealed class Lane : IDisposable
    {
        readonly ComputeGate gate;
        readonly CancellationToken wanted;
        readonly Urgency urgency;
        readonly Lock own = new();
        long since = Stopwatch.GetTimestamp();
        bool hasTurn;

        internal Lane(ComputeGate gate, CancellationToken wanted, Urgency urgency) =>
            (this.gate, this.wanted, this.urgency) = (gate, wanted, urgency);

        /// <summary>Waits for a turn where one is needed, and passes it on where it has lasted.</summary>
        /// <exception cref="OperationCanceledException">The work is not wanted any more.</exception>
        public void Checkpoint()
        {
            lock (own)
            {
                var passed = Stopwatch.GetElapsedTime(since);
                if (!hasTurn)
                {
                    if (passed >= Quick)
                        Take();
                }
                else if (passed >= Turn && gate.turns.IsAwaited(urgency))
                {
                    Release();
                    Take();
                }
            }
        }

        void Take()
        {
            gate.turns.Take(urgency, wanted);
            (hasTurn, since) = (true, Stopwatch.GetTimestamp());
        }

        void Release()
        {
            hasTurn = false;
            gate.turns.Release();
        }

        public void Dispose()
        {
            lock (own)
                if (hasTurn)
                    Release();
        }
    }
}
