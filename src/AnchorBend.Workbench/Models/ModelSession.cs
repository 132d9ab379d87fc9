using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.People;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Models;

/// <summary>What somebody else changed meanwhile.</summary>
public sealed record EditClash(string By, string Label);

/// <summary>The edit was made on an older revision than the present one.</summary>
/// <param name="clash">Somebody else's edit of the same; null where what happened since is about other things.</param>
public sealed class ConflictException(long present, EditClash? clash = null) : Exception("The model has changed meanwhile.")
{
    public long Present { get; } = present;

    public EditClash? Clash { get; } = clash;
}

/// <summary>What was asked for is not there; the message says what.</summary>
public sealed class NotFoundException(string message) : Exception(message)
{
    public static NotFoundException Model(string id) => new($"There is no model '{id}'. It may have been deleted.");

    public static NotFoundException Picture(string part) => new($"There is no picture of a part '{part}' in this model.");

    public static NotFoundException Run(string id) => new($"There is no run '{id}' any more. Run the model again.");
}

/// <summary>One accepted edit and what it touched.</summary>
public sealed record AcceptedEdit(long Revision, IReadOnlyList<PatchOperation> Operations, EditEffect Effect);

/// <summary>
/// A model in memory: document, revision, what can be undone, and the prepared model. Edits are serialised by a lock that is held for
/// moments only; the model is put together outside it, once at a time, and given up when an edit makes it out of date.
/// </summary>
public sealed class ModelSession
{
    /// <summary>What putting one model together may take.</summary>
    static readonly TimeSpan MostPreparation = TimeSpan.FromSeconds(30);

    readonly IModelStore store;
    readonly Func<PartCatalog> shared;
    readonly ComputeGate compute;
    readonly EditableDocument editable;
    readonly Lock gate = new();
    readonly SemaphoreSlim preparing = new(1);
    readonly UndoOrder order;
    CancellationTokenSource? underWay;
    bool isGone;
    PreparedModel? prepared;
    PreparedModel? lastRunnable;
    long preparedRevision = -1;
    PartCatalog? preparedWith;
    (PartCatalog Behind, ModelDocument Document, PartCatalog Own)? catalog;

    /// <summary>Values changed lately, and the last revision that changed more than values and the drawing.</summary>
    readonly List<(long Revision, string Path, string Text)> changedValues = [];
    long structureRevision;

    /// <param name="shared">The catalog behind the model's own definitions, as it is now.</param>
    public ModelSession(string id, IModelStore store, Func<PartCatalog> shared, ComputeGate compute, StoredModel stored)
    {
        (Id, this.store, this.shared, this.compute, Revision) = (id, store, shared, compute, stored.Revision);
        (structureRevision, ResultsRevision) = (Revision, Revision);
        editable = new EditableDocument(stored.Document);
        Views = new ViewCache(this);
        order = new UndoOrder(stored.Log);
    }

    public string Id { get; }

    public long Revision { get; private set; }

    /// <summary>The last revision that changed what a run shows: results of earlier ones are out of date.</summary>
    public long ResultsRevision { get; private set; }

    /// <summary>What windows were shown of this model.</summary>
    internal ViewCache Views { get; }

    /// <summary>When somebody last asked for this session.</summary>
    internal DateTime LastUse { get; private set; } = DateTime.UtcNow;

    /// <summary>Memory of a part of a document, and of a variable of a model that is put together, as measured on chains of
    /// 2,000 parts.</summary>
    const long BytesOfPart = 4_000,
        BytesOfVariable = 4_000;

    /// <summary>About what this session takes in memory.</summary>
    internal long Bytes =>
        BytesOfPart * Document.Definitions.Values.OfType<DiagramDefinition>().Sum(d => (long)d.Parts.Count)
        + BytesOfVariable * new[] { prepared, lastRunnable }.OfType<PreparedModel>().Distinct().Sum(p => (long)p.Model.Variables.Count);

    internal void Used() => LastUse = DateTime.UtcNow;

    /// <summary>Whether the model was deleted.</summary>
    public bool IsGone
    {
        get
        {
            lock (gate)
                return isGone;
        }
    }

    public ModelDocument Document => editable.Document;

    public bool CanUndo => order.CanUndo;

    public bool CanRedo => order.CanRedo;

    /// <summary>Applies an edit made on <paramref name="basis"/>.</summary>
    /// <exception cref="ConflictException">The basis is not the present revision.</exception>
    /// <exception cref="DocumentException">The operations do not fit or lead to a broken document.</exception>
    public AcceptedEdit Edit(long basis, string label, IReadOnlyList<PatchOperation> operations, string? author = null)
    {
        lock (gate)
        {
            Check(basis, Shortened(author), operations);
            if (operations.Count == 0)
                throw new DocumentException("The edit is empty.");
            return Append("edit", null, label, operations, author);
        }
    }

    /// <summary>Makes a change of the structure on <paramref name="basis"/>, as the edit that it comes to.</summary>
    /// <returns>The edit, and the parts of the level that it is about.</returns>
    /// <exception cref="ConflictException">The basis is not the present revision.</exception>
    /// <exception cref="DocumentException">It cannot be done on this model.</exception>
    public (AcceptedEdit Edit, IReadOnlyList<string> Selection) Restructure(long basis, Restructuring change, string? author = null)
    {
        lock (gate)
        {
            Check(basis);
            var made = change.Of(Document, CatalogNow());
            return (Edit(basis, made.Label, DocumentDifference.Between(Document, made.Document), author), made.Selection);
        }
    }

    /// <summary>Takes the last edit back, of those who have signed in the last one of their own; nothing happens when there is
    /// none.</summary>
    /// <exception cref="ConflictException">The basis is not the present revision.</exception>
    /// <exception cref="DocumentException">None is the author's, or somebody else has changed the same since.</exception>
    public AcceptedEdit Undo(long basis, string? author = null) => Move(basis, "undo", author);

    /// <summary>Makes the last edit taken back again; nothing happens when there is none.</summary>
    /// <inheritdoc cref="Undo"/>
    public AcceptedEdit Redo(long basis, string? author = null) => Move(basis, "redo", author);

    static bool IsShared => Visitor.Current is not null;

    AcceptedEdit Move(long basis, string kind, string? author)
    {
        lock (gate)
        {
            Check(basis);
            var own = Shortened(author);
            if (order.Next(kind, IsShared ? own : null) is not { } target)
                return order.HasAny(kind)
                    ? throw new DocumentException(
                        kind == "undo"
                            ? "There is nothing of yours to take back. What others did, they take back, or the history brings back."
                            : "There is nothing of yours to make again."
                    )
                    : new AcceptedEdit(Revision, [], EditEffect.None);
            var (forward, inverse) = store.Operations(Id, target.Revision);
            var operations = kind == "undo" ? inverse : forward;
            if (IsShared && ClashOf(target.At, own, operations) is { } clash)
                throw new DocumentException(
                    $"\"{target.Label}\" stays as it is: {clash.By} has changed the same since (\"{clash.Label}\"). "
                        + "Change it by hand, or bring an earlier state back from the history."
                );
            return Append(kind, target.Revision, kind, operations, author);
        }
    }

    /// <summary>The last edit of somebody else since a revision that is about the same.</summary>
    EditClash? ClashOf(long since, string author, IReadOnlyList<PatchOperation> operations)
    {
        var other = order
            .OfOthersSince(since, author)
            .Take(MostCompared)
            .FirstOrDefault(s => EditOverlap.IsBetween(store.Operations(Id, s.Revision).Operations, operations));
        return other is null ? null : new EditClash(other.Author.Length > 0 ? other.Author : "somebody else", other.Label);
    }

    /// <summary>Edits of others that one is compared with, the last ones: who was away longer sees the new state anyway.</summary>
    const int MostCompared = 200;

    void Check(long basis, string author = "", IReadOnlyList<PatchOperation>? operations = null)
    {
        if (isGone)
            throw NotFoundException.Model(Id);
        if (basis != Revision)
            throw new ConflictException(Revision, operations is null ? null : ClashOf(basis, author, operations));
    }

    AcceptedEdit Append(string kind, long? target, string label, IReadOnlyList<PatchOperation> operations, string? author)
    {
        var before = Document;
        var inverse = editable.Apply(operations);
        if (kind == "edit" && operations.Any(FollowedNames.Matters) && FollowedNames.After(before, Document) is { Count: > 0 } more)
            (operations, inverse) = ([.. operations, .. more], [.. editable.Apply(more), .. inverse]);
        var edit = new Edit(label.Length > 200 ? label[..200] : label, operations, inverse);
        var revision = Revision + 1;
        var effect = EditEffects.Of(operations, Document, type => PortPart.KindOf(CatalogNow().Find(type)) is not null);
        try
        {
            var entry = new EditEntry(revision, kind, target, edit.Label) { Author = Shortened(author), Effect = effect };
            store.Append(Id, entry, edit, Document.Name, editable.ToJson);
        }
        catch
        {
            editable.Restore(before);
            throw;
        }

        if (kind == "edit")
            order.Edited(new EditEntry(revision, kind, target, edit.Label) { Author = Shortened(author) }, IsShared);
        else
            order.Moved(kind, target!.Value, revision);
        if (!NoteValues(operations, effect, revision))
            structureRevision = revision;
        if ((effect & EditEffect.Results) != 0)
            ResultsRevision = revision;
        Revision = revision;
        WorkFigures.Edited(kind);
        // What is being put together is out of date.
        underWay?.Cancel();
        return new AcceptedEdit(revision, operations, effect);
    }

    static string Shortened(string? author) =>
        author is null ? ""
        : author.Length > 80 ? author[..80]
        : author;

    /// <summary>Notes new values of parameters; false where the edit changes more of the model than values.</summary>
    bool NoteValues(IReadOnlyList<PatchOperation> operations, EditEffect effect, long revision)
    {
        if (effect.HasFlag(EditEffect.Structure))
            return false;
        if (!effect.HasFlag(EditEffect.Values))
            return true;
        foreach (var operation in operations)
        {
            if (ParameterEdits.Of(Document, operation) is not { } set)
                return false;
            changedValues.AddRange(set.Select(s => (revision, s.Path, s.Text)));
        }

        return true;
    }

    /// <summary>Deletes the model; whoever still holds this session is told that it is gone.</summary>
    /// <returns>False where it was deleted before.</returns>
    internal bool Delete()
    {
        lock (gate)
        {
            if (isGone)
                return false;
            var deleted = store.Delete(Id);
            isGone = true;
            underWay?.Cancel();
            return deleted;
        }
    }

    /// <summary>Document and revision that belong together.</summary>
    public (ModelDocument Document, long Revision) Present()
    {
        lock (gate)
            return (Document, Revision);
    }

    /// <summary>The present document, elaborated and compiled; code is used again while only values change.</summary>
    /// <exception cref="OperationCanceledException">Nobody wants it any more.</exception>
    /// <exception cref="NotFoundException">The model was deleted.</exception>
    public (PreparedModel Prepared, ModelDocument Document, long Revision) Prepare(CancellationToken wanted = default)
    {
        while (true)
        {
            if (Ready() is { } ready)
                return ready;
            preparing.Wait(wanted);
            using var source = CancellationTokenSource.CreateLinkedTokenSource(wanted);
            try
            {
                Work work;
                lock (gate)
                {
                    if (Ready() is { } meanwhile)
                        return meanwhile;
                    work = Begin();
                    underWay = source;
                }

                var made = Make(work, source.Token);
                lock (gate)
                    Keep(work, made);
            }
            catch (OperationCanceledException) when (!wanted.IsCancellationRequested)
            {
                // An edit came in between; the model is put together as it is now.
            }
            finally
            {
                lock (gate)
                    underWay = null;
                preparing.Release();
            }
        }
    }

    /// <summary>What is put together: a document, and what of the model before can be used.</summary>
    sealed record Work(
        ModelDocument Document,
        long Revision,
        PartCatalog Behind,
        PartCatalog Catalog,
        PreparedModel? Before,
        IReadOnlyList<(string Path, string Text)>? Values
    );

    (PreparedModel, ModelDocument, long)? Ready()
    {
        lock (gate)
        {
            if (isGone)
                throw NotFoundException.Model(Id);
            return prepared is not null && preparedRevision == Revision && ReferenceEquals(preparedWith, shared())
                ? (prepared, Document, Revision)
                : null;
        }
    }

    Work Begin()
    {
        var behind = shared();
        var isValuesOnly = prepared is not null && structureRevision <= preparedRevision && ReferenceEquals(preparedWith, behind);
        return new Work(
            Document,
            Revision,
            behind,
            CatalogNow(),
            isValuesOnly ? prepared : null,
            isValuesOnly ? [.. changedValues.Where(c => c.Revision > preparedRevision).Select(c => (c.Path, c.Text))] : null
        );
    }

    PreparedModel Make(Work work, CancellationToken wanted)
    {
        if (work.Before is { } before && work.Values is { } values && DocumentPreparation.Again(before, work.Document, values) is { } quick)
            return quick;
        try
        {
            return compute.Run(MostPreparation, wanted, _ => DocumentPreparation.Prepare(work.Document, work.Catalog, lastRunnable));
        }
        catch (TooLongException e)
        {
            return PreparedModel.Unreadable([
                new Finding(
                    Severity.Error,
                    "too-long",
                    $"The model takes longer than {e.Limit.TotalSeconds:F0} s to put together, so this was given up.",
                    "",
                    Suggestion: "Look for large loops of equations that depend on each other, or for arrays and loops that could "
                        + "be smaller."
                ),
            ]);
        }
    }

    void Keep(Work work, PreparedModel made)
    {
        (prepared, preparedRevision, preparedWith) = (made, work.Revision, work.Behind);
        changedValues.RemoveAll(c => c.Revision <= work.Revision);
        if (made.CanRun)
            lastRunnable = made;
    }

    /// <summary>The parts this model can use: its own, the user's package, the shipped catalog.</summary>
    public PartCatalog Catalog()
    {
        lock (gate)
            return CatalogNow();
    }

    /// <summary>The catalog of a document that this model is or was a moment ago.</summary>
    internal PartCatalog CatalogOf(ModelDocument document)
    {
        lock (gate)
            return ReferenceEquals(document, Document) ? CatalogNow() : PartCatalog.Of(document, shared());
    }

    PartCatalog CatalogNow()
    {
        var behind = shared();
        if (catalog is { } known && ReferenceEquals(known.Behind, behind) && ReferenceEquals(known.Document, Document))
            return known.Own;
        var own = PartCatalog.Of(Document, behind);
        catalog = (behind, Document, own);
        return own;
    }
}
