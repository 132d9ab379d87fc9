using System.Collections.Concurrent;
using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Storage;

namespace AnchorBend.Server.Models;

/// <summary>Models opened so far.</summary>
public sealed class ModelSessions(ModelStore store, OwnPackage package)
{
    readonly ConcurrentDictionary<string, Lazy<ModelSession?>> open = new();

    /// <summary>The session of a model; null when there is no such model.</summary>
    public ModelSession? Find(string id)
    {
        var lazy = open.GetOrAdd(id, key => new Lazy<ModelSession?>(() =>
            store.Load(key) is { } loaded ? new ModelSession(key, store, () => package.Catalog, loaded.Document, loaded.Revision, loaded.Log) : null));
        if (lazy.Value is not null) return lazy.Value;
        open.TryRemove(id, out _);
        return null;
    }

    /// <summary>The sessions of all models opened so far.</summary>
    public IEnumerable<ModelSession> Open => open.Values.Where(l => l.IsValueCreated).Select(l => l.Value).OfType<ModelSession>();

    public bool Delete(string id)
    {
        open.TryRemove(id, out _);
        return store.Delete(id);
    }

    /// <summary>Fills an empty database with the examples shipped.</summary>
    public void LoadExamples()
    {
        if (!store.IsEmpty()) return;
        foreach (var (_, document) in Examples().OrderByDescending(e => e.Key, StringComparer.Ordinal)) store.Create(document);
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
