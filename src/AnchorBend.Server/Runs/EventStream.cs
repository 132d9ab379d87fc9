using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using System.Threading.Channels;

namespace AnchorBend.Server.Runs;

/// <summary>What happens to a model, for programs that follow it over HTTP.</summary>
/// <param name="Kind">changed, run, progress, study, cases or parts.</param>
/// <param name="Data">As the live connection of a browser has it.</param>
public sealed record ModelEvent(string Kind, object Data);

/// <summary>Hands events of models on to whoever listens.</summary>
public sealed class EventStream
{
    /// <summary>Events that wait for a listener; the oldest go where one does not keep up.</summary>
    const int MostWaiting = 256;

    readonly ConcurrentDictionary<string, ConcurrentDictionary<Channel<ModelEvent>, byte>> listeners = new();

    public void Tell(string model, string kind, object data)
    {
        if (!listeners.TryGetValue(model, out var all))
            return;
        foreach (var listener in all.Keys)
            listener.Writer.TryWrite(new ModelEvent(kind, data));
    }

    /// <summary>Events of a model from now on, for as long as somebody wants them.</summary>
    /// <param name="ends">When nobody is told any more: a server that stops does not wait for its listeners.</param>
    public async IAsyncEnumerable<ModelEvent> Of(string model, CancellationToken ends, [EnumeratorCancellation] CancellationToken wanted)
    {
        var own = Channel.CreateBounded<ModelEvent>(
            new BoundedChannelOptions(MostWaiting) { FullMode = BoundedChannelFullMode.DropOldest }
        );
        var all = listeners.GetOrAdd(model, _ => new());
        all[own] = 0;
        using var end = ends.Register(() => own.Writer.TryComplete());
        try
        {
            // Whoever listens knows by this that nothing is missed from here on.
            yield return new ModelEvent("listening", new { modelId = model });
            await foreach (var told in own.Reader.ReadAllAsync(wanted))
                yield return told;
        }
        finally
        {
            all.TryRemove(own, out _);
        }
    }
}
