namespace AnchorBend.Workbench.Compute;

/// <summary>Who goes first where processors are short.</summary>
public enum Urgency
{
    /// <summary>Somebody waits for the answer.</summary>
    Interactive,

    /// <summary>Somebody watches it go on.</summary>
    Live,

    /// <summary>One of many.</summary>
    Batch,
}

/// <summary>Hands out a number of turns: to the most urgent first, and among equals in the order in which they came.</summary>
sealed class TurnQueue(int turns)
{
    readonly Lock own = new();
    readonly LinkedList<TaskCompletionSource>[] waiting = [new(), new(), new()];
    int free = turns;

    /// <summary>Whether somebody of this urgency or a higher one waits.</summary>
    public bool IsAwaited(Urgency urgency)
    {
        lock (own)
            return waiting.Take((int)urgency + 1).Any(w => w.Count > 0);
    }

    /// <summary>Waits for a turn.</summary>
    /// <exception cref="OperationCanceledException">It is not wanted any more.</exception>
    public void Take(Urgency urgency, CancellationToken wanted)
    {
        wanted.ThrowIfCancellationRequested();
        LinkedListNode<TaskCompletionSource> place;
        lock (own)
        {
            if (free > 0)
            {
                free--;
                return;
            }

            place = waiting[(int)urgency].AddLast(new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously));
        }

        using var given = wanted.Register(() =>
        {
            lock (own)
                if (place.List is { } queue)
                {
                    queue.Remove(place);
                    place.Value.TrySetCanceled(wanted);
                }
        });
        place.Value.Task.GetAwaiter().GetResult();
    }

    /// <summary>Gives a turn back, to the next who waits.</summary>
    public void Release()
    {
        lock (own)
        {
            foreach (var queue in waiting)
            {
                if (queue.First is not { } next)
                    continue;
                queue.RemoveFirst();
                next.Value.TrySetResult();
                return;
            }

            free++;
        }
    }
}
