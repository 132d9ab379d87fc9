using System.Collections.Concurrent;
using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Compute;
using AnchorBend.Server.Storage;

namespace AnchorBend.Server.Models;

/// <summary>Models opened so far.</summary>
public sealed class ModelSessions(ModelStore store, OwnPackage package, ComputeGate compute, Database database)
{
    readonly ConcurrentDictionary<string, Lazy<ModelSession?>> open = new();

    /// <summary>The session of a model; null when there is no such model.</summary>
    public ModelSession? Find(string id)
    {
        var lazy = open.GetOrAdd(id, key => new Lazy<ModelSession?>(() =>
            store.Load(key) is { } loaded
                ? new ModelSession(key, store, () => package.Catalog, compute, loaded.Document, loaded.Revision, loaded.Log)
                : null
        ));
        try
        {
            if (lazy.Value is { IsGone: false } session)
                return session;
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

    /// <summary>Fills a new database with the examples shipped.</summary>
    public void LoadExamples()
    {
        if (!database.IsNew)
            return;
        foreach (var (_, document) in Examples().OrderByDescending(e => e.Key, StringComparer.Ordinal))
            store.Create(document);
    }

    /// <summary>The examples by file name.</summary>
    public static IReadOnlyDictionary<string, ModelDocument> Examples()
    {
        var assembly = typeof(ModelSessions).Assembly;
        var result = new SortedDictionary<string, ModelDocument>(StringComparer.Ordinal);
        foreach (var name in assembly.GetManifestResourceNames().Where(n => n.StartsWith("examples/", StringComparison.Ordinal)))
        {
            using var reader = new StreamReader(assembly.GetManifestResourceStream(name)!);
            result[Path.GetFileNameWithoutExtension(name)] = ModelDocument.FromJson(reader.ReadToEnd());
        }

        return result;
    }
}
