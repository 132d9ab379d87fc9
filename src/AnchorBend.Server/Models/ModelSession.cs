using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Storage;
using AnchorBend.Simulation;

namespace AnchorBend.Server.Models;

/// <summary>The edit was made on an older revision than the present one.</summary>
public sealed class ConflictException(long present) : Exception("The model has changed meanwhile.")
{
    public long Present { get; } = present;
}

/// <summary>One accepted edit.</summary>
public sealed record AcceptedEdit(long Revision, IReadOnlyList<PatchOperation> Operations);

/// <summary>A model in memory: document, revision, what can be undone, and the prepared model. Calls are serialised by its lock.</summary>
public sealed class ModelSession
{
    const int MaximumParts = 20_000;

    readonly ModelStore store;
    readonly Func<PartCatalog> shared;
    readonly Lock gate = new();
    readonly Stack<long> undo = new();
    readonly Stack<long> redo = new();
    JsonNode json;
    PreparedModel? prepared;
    PreparedModel? lastRunnable;
    long preparedRevision = -1;
    PartCatalog? preparedWith;

    // Values changed since the model was prepared; null when something else has changed.
    List<(string Path, string Text)>? changedValues;

    /// <param name="shared">The catalog behind the model's own parts, as it is now.</param>
    public ModelSession(string id, ModelStore store, Func<PartCatalog> shared, JsonNode json, long revision, IReadOnlyList<EditEntry> log)
    {
        (Id, this.store, this.shared, this.json, Revision) = (id, store, shared, json, revision);
        Document = ModelDocument.FromJson(json.ToJsonString());
        foreach (var entry in log)
        {
            switch (entry.Kind)
            {
                case "edit":
                    undo.Push(entry.Revision);
                    redo.Clear();
                    break;
                case "undo":
                    redo.Push(undo.Pop());
                    break;
                default:
                    undo.Push(redo.Pop());
                    break;
            }
        }
    }

    public string Id { get; }

    public long Revision { get; private set; }

    public ModelDocument Document { get; private set; }

    public bool CanUndo => undo.Count > 0;

    public bool CanRedo => redo.Count > 0;

    /// <summary>Applies an edit made on <paramref name="basis"/>.</summary>
    /// <exception cref="ConflictException">The basis is not the present revision.</exception>
    /// <exception cref="DocumentException">The operations do not fit or lead to a broken document.</exception>
    public AcceptedEdit Edit(long basis, string label, IReadOnlyList<PatchOperation> operations)
    {
        lock (gate)
        {
            if (basis != Revision) throw new ConflictException(Revision);
            if (operations.Count == 0) throw new DocumentException("The edit is empty.");
            var accepted = Append("edit", null, label, operations);
            undo.Push(Revision);
            redo.Clear();
            return accepted;
        }
    }

    /// <summary>Takes the last edit back; null when there is none.</summary>
    public AcceptedEdit? Undo(long basis) => Move(basis, undo, redo, "undo");

    /// <summary>Makes the last edit taken back again; null when there is none.</summary>
    public AcceptedEdit? Redo(long basis) => Move(basis, redo, undo, "redo");

    AcceptedEdit? Move(long basis, Stack<long> from, Stack<long> to, string kind)
    {
        lock (gate)
        {
            if (basis != Revision) throw new ConflictException(Revision);
            if (from.Count == 0) return null;
            var target = from.Peek();
            var (operations, inverse) = store.Operations(Id, target);
            var accepted = Append(kind, target, kind, kind == "undo" ? inverse : operations);
            to.Push(from.Pop());
            return accepted;
        }
    }

    AcceptedEdit Append(string kind, long? target, string label, IReadOnlyList<PatchOperation> operations)
    {
        var (next, inverse) = JsonPatch.Apply(json, operations);
        var document = ModelDocument.FromJson(next.ToJsonString());
        if (document.Parts.Count > MaximumParts) throw new DocumentException($"A diagram holds at most {MaximumParts} parts.");
        var revision = Revision + 1;
        store.Append(Id, new EditEntry(revision, kind, target, label.Length > 200 ? label[..200] : label), operations, inverse, next);
        foreach (var operation in operations)
        {
            if (changedValues is null) break;
            if (document.ParameterAt(operation) is { } value) changedValues.Add(value);
            else if (!operation.Path.StartsWith("/settings/", StringComparison.Ordinal)) changedValues = null;
        }

        (json, Document, Revision) = (next, document, revision);
        return new AcceptedEdit(revision, operations);
    }

    /// <summary>Document and revision that belong together.</summary>
    public (ModelDocument Document, long Revision) Present()
    {
        lock (gate) return (Document, Revision);
    }

    /// <summary>The present document, elaborated and compiled; code is used again while only values change.</summary>
    public (PreparedModel Prepared, ModelDocument Document, long Revision) Prepare()
    {
        lock (gate)
        {
            var behind = shared();
            if (prepared is null || preparedRevision != Revision || !ReferenceEquals(preparedWith, behind))
            {
                prepared = prepared is not null && changedValues is not null && ReferenceEquals(preparedWith, behind) ? ValueChange.Apply(prepared, changedValues) : null;
                prepared ??= PreparedModel.Prepare(DocumentElaboration.Elaborate(Document, PartCatalog.Of(Document, behind)), lastRunnable);
                preparedWith = behind;
                preparedRevision = Revision;
                changedValues = [];
                if (prepared.CanRun) lastRunnable = prepared;
            }

            return (prepared, Document, Revision);
        }
    }

    /// <summary>The parts this model can use: its own, the user's package, the shipped catalog.</summary>
    public PartCatalog Catalog()
    {
        lock (gate) return PartCatalog.Of(Document, shared());
    }

    public JsonElement ToElement() => JsonSerializer.SerializeToElement(Document, ModelDocument.Options(false));
}
