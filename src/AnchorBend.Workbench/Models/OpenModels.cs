using System.Collections.Concurrent;
using AnchorBend.Workbench.Compute;
using Microsoft.Extensions.Logging;

namespace AnchorBend.Workbench.Models;

/// <summary>Models opened so far.</summary>
public sealed class OpenModels(IModelStore store, OwnPackage package, ComputeGate compute, ILogger<OpenModels> logger)
{
    readonly ConcurrentDictionary<string, Lazy<ModelSession?>> open = new();

    /// <summary>The session of a model; null when there is no such model.</summary>
    public ModelSession? Find(string id)
    {
        var lazy = open.GetOrAdd(id, key => new Lazy<ModelSession?>(() => store.Load(key) is { } loaded ? Opened(key, loaded) : null));
        try
        {
            if (lazy.Value is { IsGone: false } session)
            {
                session.Used();
                return session;
            }
        }
        catch
        {
            // The next attempt reads anew: what failed may have been the disk.
            open.TryRemove(KeyValuePair.Create(id, lazy));
            throw;
        }

        open.TryRemove(KeyValuePair.Create(id, lazy));
        return null;
    }

    ModelSession Opened(string id, StoredModel loaded)
    {
        GiveUpIdle();
        logger.LogInformation("Model {Model} is open at revision {Revision}.", id, loaded.Revision);
        return new ModelSession(id, store, () => package.Catalog, compute, loaded);
    }

    /// <summary>Models that stay open without being used, and for how long.</summary>
    const int MostIdle = 32;

    static readonly TimeSpan Idle = TimeSpan.FromMinutes(10);

    /// <summary>Bytes of open models beyond which those go that nobody has used for some moments.</summary>
    const long MostBytes = 2L << 30;

    static readonly TimeSpan Moments = TimeSpan.FromMinutes(1);

    /// <summary>
    /// Gives up sessions that nobody has used for long while many are open, or lately while they take much memory: everything in them is
    /// stored. The one used longest ago goes first.
    /// </summary>
    void GiveUpIdle()
    {
        var (bytes, count) = (0L, 0);
        foreach (var (id, lazy) in open.Where(o => o.Value.IsValueCreated).OrderByDescending(o => o.Value.Value?.LastUse).ToList())
        {
            bytes += lazy.Value?.Bytes ?? 0;
            if (IsGivenUp(lazy.Value, ++count, bytes, DateTime.UtcNow))
                open.TryRemove(KeyValuePair.Create(id, lazy));
        }
    }

    /// <param name="count">How many models were used after it, with itself.</param>
    /// <param name="bytes">What these take.</param>
    internal static bool IsGivenUp(ModelSession? session, int count, long bytes, DateTime now) =>
        session is null || count > MostIdle && session.LastUse < now - Idle || bytes > MostBytes && session.LastUse < now - Moments;

    /// <summary>The sessions of all models opened so far.</summary>
    public IEnumerable<ModelSession> Open => open.Values.Where(l => l.IsValueCreated).Select(l => l.Value).OfType<ModelSession>();

    /// <summary>Deletes a model. Its session goes with it, so that what still works on it cannot bring it back.</summary>
    public bool Delete(string id)
    {
        if (Find(id) is not { } session)
            return false;
        var deleted = session.Delete();
        open.TryRemove(id, out _);
        return deleted;
    }
}
