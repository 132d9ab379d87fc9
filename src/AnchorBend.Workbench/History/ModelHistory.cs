using System.Text.Json.Nodes;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Comparison;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.History;

/// <summary>The log of a model as it is read: entries with the latest first, and all checkpoints.</summary>
public sealed record HistoryView(long Revision, IReadOnlyList<HistoryEntry> Entries, IReadOnlyList<Checkpoint> Checkpoints);

/// <summary>A state of some model: one of its revisions, or a document.</summary>
/// <param name="Revision">Null for the present one.</param>
/// <param name="Document">A document as text; where it is given, nothing else is asked.</param>
public sealed record StateReference(string? Model, long? Revision, string? Document);

/// <summary>A state as it is shown at one level.</summary>
/// <param name="Name">The model's name.</param>
public sealed record StateView(string Name, long? Revision, ModelDocument Document, ModelView View);

/// <summary>What a model was, and how states differ.</summary>
public sealed class ModelHistory(IModelStore store, ModelWork models, OwnPackage package, ComputeGate compute)
{
    /// <summary>What reading a state or comparing two may take.</summary>
    static readonly TimeSpan MostReading = TimeSpan.FromSeconds(30);

    const int LongestName = 200,
        LongestNote = 4000;

    /// <param name="before">Entries of earlier revisions; null for the latest.</param>
    /// <exception cref="NotFoundException">There is no such model.</exception>
    public HistoryView Read(string id, long? before, int limit)
    {
        var (_, revision) = models.Session(id).Present();
        return new HistoryView(revision, store.History(id, before ?? long.MaxValue, limit), store.Checkpoints(id));
    }

    /// <summary>The document as it was at a revision.</summary>
    /// <exception cref="NotFoundException">There is no such model or revision.</exception>
    public ModelDocument At(string id, long revision)
    {
        var (document, present) = models.Session(id).Present();
        if (revision < 0 || revision > present)
            throw new NotFoundException($"The model has no revision {revision}; the present one is {present}.");
        if (revision == present)
            return document;
        var json = (JsonObject)JsonNode.Parse(document.ToJson())!;
        foreach (var operations in store.Back(id, revision))
            JsonPatch.ApplyInPlace(json, operations);
        return DocumentJson.Read(json);
    }

    /// <exception cref="DocumentException">The name or the note is too long, or there is no name.</exception>
    /// <exception cref="NotFoundException">There is no such model or revision.</exception>
    public Checkpoint Keep(string id, long revision, string name, string note, string? author)
    {
        var (_, present) = models.Session(id).Present();
        if (revision < 0 || revision > present)
            throw new NotFoundException($"The model has no revision {revision}; the present one is {present}.");
        if (string.IsNullOrWhiteSpace(name) || name.Length > LongestName || note.Length > LongestNote)
            throw new DocumentException(
                $"A checkpoint has a name of at most {LongestName} characters and a note of at most {LongestNote}."
            );
        var made = DateTime.UtcNow.ToString("O", System.Globalization.CultureInfo.InvariantCulture);
        var checkpoint = new Checkpoint(revision, name.Trim(), note, Visitor.Author(author) ?? "", made);
        store.Put(id, checkpoint);
        return checkpoint;
    }

    /// <exception cref="NotFoundException">There is no such model or checkpoint.</exception>
    public void Drop(string id, long revision)
    {
        models.Session(id);
        if (!store.RemoveCheckpoint(id, revision))
            throw new NotFoundException($"Revision {revision} has no checkpoint.");
    }

    /// <summary>A new model as another was at a revision.</summary>
    /// <returns>Its id.</returns>
    public string Copy(string id, long? revision, string? name, CancellationToken wanted) => compute.Run(MostReading, wanted, _ =>
        {
            var document = revision is { } at ? At(id, at) : models.Session(id).Present().Document;
            var wantedName = string.IsNullOrWhiteSpace(name) ? $"{document.Name}, copy" : name.Trim();
            return store.Create(DocumentLimits.Checked(document.WithMain(document.Main with { Name = wantedName })));
        });

    /// <summary>Makes a model again what it was at a revision, as an edit that can be taken back.</summary>
    /// <exception cref="ConflictException">The model is not at the revision that the window shows.</exception>
    /// <exception cref="DocumentException">It is so already.</exception>
    public EditAnswer Restore(string id, EditOrigin origin, long revision, CancellationToken wanted)
    {
        var session = models.Session(id);
        var (then, (now, _)) = (compute.Run(MostReading, wanted, _ => At(id, revision)), session.Present());
        var operations = DocumentDifference.Between(now, then);
        if (operations.Count == 0)
            throw new DocumentException($"The model is as it was at revision {revision}.");
        return models.Edit(id, origin, $"Go back to r{revision}", operations, wanted);
    }

    /// <exception cref="NotFoundException">There is no such model or revision.</exception>
    /// <exception cref="DocumentException">It is no document.</exception>
    ModelDocument Document(StateReference state) =>
        state switch
        {
            { Document: { } text } => ModelDocument.FromJson(text),
            { Model: { } id, Revision: { } revision } => At(id, revision),
            { Model: { } id } => models.Session(id).Present().Document,
            _ => throw new DocumentException("A state is a revision of a model or a document; neither is given."),
        };

    public IReadOnlyList<LevelDifference> Compare(StateReference left, StateReference right, CancellationToken wanted) =>
        compute.Run(MostReading, wanted, _ => ModelComparison.Between(Document(left), Document(right)));

    /// <summary>What a change of the structure would change, without making it.</summary>
    /// <exception cref="DocumentException">It cannot be made on this model.</exception>
    public IReadOnlyList<LevelDifference> Preview(string id, Restructuring change, CancellationToken wanted)
    {
        var session = models.Session(id);
        var (document, _) = session.Present();
        return compute.Run(MostReading, wanted, _ =>
            ModelComparison.Between(document, change.Of(document, session.CatalogOf(document)).Document)
        );
    }

    /// <summary>A state at one level, as it is drawn.</summary>
    /// <exception cref="NotFoundException">There is no such state or level.</exception>
    public StateView Show(StateReference state, PartPath level, CancellationToken wanted)
    {
        var document = compute.Run(MostReading, wanted, _ => Document(state));
        var catalog = Modeling.Catalog.PartCatalog.Of(document, package.Catalog);
        var prepared = compute.Run(MostReading, wanted, _ => DocumentPreparation.Prepare(document, catalog));
        var view = new ModelViewBuilder(prepared, document, catalog, level, null).Build(state.Revision ?? 0, 0, false, false);
        return new StateView(document.Name, state.Revision, document, view);
    }
}
