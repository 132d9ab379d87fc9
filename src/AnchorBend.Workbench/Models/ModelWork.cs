using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Interchange;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.People;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Scenes;
using AnchorBend.Workbench.Studies;
using AnchorBend.Workbench.Views;
using Microsoft.Extensions.Logging;

namespace AnchorBend.Workbench.Models;

/// <summary>What a new model is made from: the first of these that is given.</summary>
/// <param name="Part">Name of a catalog part whose example is wanted.</param>
/// <param name="Text">A model in the equation language.</param>
public sealed record NewModel(string? Name, string? Example, string? Document, string? Text, string? Part);

/// <summary>A model as a window opens it at one level.</summary>
/// <param name="May">What whoever opened it may do with it.</param>
public sealed record OpenedModel(string Id, long Revision, ModelDocument Document, ModelView View, Access May);

/// <summary>The answer to an edit: the operations made, what became different in the view, and the run it started where the model is
/// live.</summary>
public sealed record EditAnswer(long Revision, IReadOnlyList<PatchOperation> Operations, ViewChange Change, string? Run);

/// <summary>The answer to a change of the structure: the edit it came to, and the parts of the level that it is about.</summary>
public sealed record RestructureAnswer(EditAnswer Edit, IReadOnlyList<string> Selection);

/// <summary>Where an edit comes from: the revision it was made on, the level the window shows, and the window itself.</summary>
/// <param name="Author">Who makes it, for the history.</param>
public sealed record EditOrigin(long Basis, PartPath Level, string? Client, string? Author = null);

/// <summary>Models: make, open, edit, undo, exchange, delete.</summary>
public sealed class ModelWork(
    IModelStore store,
    OpenModels open,
    OwnPackage package,
    RunPool runs,
    RunSets sets,
    StudyJobs studies,
    CaseJobs cases,
    MeshLibrary meshes,
    UnitWork units,
    ComputeGate compute,
    INotifications notifications,
    ILogger<ModelWork> logger
)
{
    /// <summary>What reading a text or counting the equations may take.</summary>
    static readonly TimeSpan MostReading = TimeSpan.FromSeconds(10);

    public IReadOnlyList<ModelSummary> List(int offset, int limit) =>
        Visitor.Current is null
            ? store.List(offset, limit)
            : [.. store.List(0, int.MaxValue).Where(m => Visitor.MaySee(m.Id)).Skip(offset).Take(limit)];

    /// <returns>The id of the new model.</returns>
    /// <exception cref="NotFoundException">There is no such example or part.</exception>
    /// <exception cref="DocumentException">What is given is no model.</exception>
    public string Create(NewModel made, CancellationToken wanted)
    {
        var document = made switch
        {
            { Document: { } given } => units.TakeFrom(meshes.TakeFrom(ModelDocument.FromJson(given), wanted), wanted),
            { Part: { } part } => PartCatalog.Standard.Find(part) is not null
                ? PartExample.Of(part, PartCatalog.Standard)
                : throw new NotFoundException($"The catalog has no part '{part}'."),
            { Text: { } text } => compute.Run(MostReading, wanted, _ => TextImport.Read(text)),
            { Example: { } key } => Examples.All().GetValueOrDefault(key) ?? throw new NotFoundException($"There is no example '{key}'."),
            _ => new DiagramDefinition { Name = string.IsNullOrWhiteSpace(made.Name) ? "Untitled model" : made.Name.Trim() }.AsModel(),
        };
        var id = store.Create(DocumentLimits.Checked(document));
        logger.LogInformation("Model {Model} was made with {Definitions} definitions.", id, document.Definitions.Count);
        return id;
    }

    /// <exception cref="NotFoundException">There is no such model or level.</exception>
    public ModelSession Session(string id)
    {
        Visitor.Demand(id, Access.View);
        return open.Find(id) ?? throw NotFoundException.Model(id);
    }

    /// <exception cref="NotFoundException">There is no such model or level.</exception>
    public OpenedModel Open(string id, PartPath level, CancellationToken wanted)
    {
        var session = Session(id);
        while (true)
        {
            var view = session.Views.Now(level, wanted);
            var (document, revision) = session.Present();
            // An edit between the two would give a document and a view that do not belong together.
            if (revision == view.Revision)
                return new OpenedModel(id, revision, document, view, Visitor.Of(id));
        }
    }

    /// <summary>Equations and unknowns of a level and its parts.</summary>
    /// <exception cref="NotFoundException">There is no such model or level.</exception>
    public BalanceView Balance(string id, PartPath level, CancellationToken wanted)
    {
        var opened = Open(id, level, wanted);
        var catalog = Session(id).Catalog();
        var whole = compute.Run(MostReading, wanted, _ => DocumentElaboration.Elaborate(opened.Document, catalog));
        return BalanceView.Of(whole, opened.Document, level, opened.View);
    }

    /// <summary>What of a model can be seen moving.</summary>
    /// <exception cref="NotFoundException">There is no such model.</exception>
    public SceneView Scene(string id, CancellationToken wanted)
    {
        var session = Session(id);
        return compute.Run(MostReading, wanted, w => SceneView.Of(session.Prepare(w).Prepared, session.Catalog()));
    }

    /// <summary>What a part looks like with its parameters; null where it has no such picture.</summary>
    /// <exception cref="NotFoundException">There is no such model.</exception>
    public PartPreview? Preview(string id, PartPath part, CancellationToken wanted)
    {
        var session = Session(id);
        return compute.Run(MostReading, wanted, w => PartPreview.Of(session.Prepare(w).Prepared, session.Catalog(), part));
    }

    public void Delete(string id)
    {
        Visitor.Demand(id, Access.Administer);
        if (open.Find(id) is null)
            throw NotFoundException.Model(id);
        // While the model is there its runs are known; their files would stay without it.
        sets.Forget(id);
        studies.Forget(id);
        cases.Forget(id);
        runs.Forget(id);
        if (!open.Delete(id))
            throw NotFoundException.Model(id);
        logger.LogInformation("Model {Model} was deleted.", id);
    }

    /// <summary>The document with everything it needs elsewhere, as JSON.</summary>
    public string Export(string id) => units.WithUnits(meshes.WithMeshes(package.Portable(Session(id).Present().Document))).ToJson(true);

    /// <summary>The model as text of the equation language.</summary>
    public string ExportText(string id)
    {
        var portable = package.Portable(Session(id).Present().Document);
        return TextExport.Write(portable, PartCatalog.Of(portable, package.Catalog));
    }

    /// <exception cref="ConflictException">The model is not at the revision that the edit was made on.</exception>
    /// <exception cref="DocumentException">The operations do not fit or lead to a broken document.</exception>
    public EditAnswer Edit(string id, EditOrigin origin, string label, IReadOnlyList<PatchOperation> operations, CancellationToken wanted)
    {
        Visitor.Demand(id, Access.Edit);
        var session = Session(id);
        return Answer(session, session.Edit(origin.Basis, label, operations, Visitor.Author(origin.Author)), origin, wanted);
    }

    /// <summary>Calls a model otherwise, whichever revision it is at.</summary>
    /// <exception cref="NotFoundException">There is no such model.</exception>
    /// <exception cref="DocumentException">It is no name for a model.</exception>
    public EditAnswer Rename(string id, string name, string? author, CancellationToken wanted)
    {
        var wantedName = name.Trim();
        if (wantedName.Length == 0)
            throw new DocumentException("A model needs a name.");
        while (true)
        {
            var (document, revision) = Session(id).Present();
            var operation = new PatchOperation(
                "replace",
                DocumentPath.Of("definitions", document.Root, "name"),
                JsonValue.Create(wantedName)
            );
            try
            {
                return Edit(id, new EditOrigin(revision, PartPath.Root, null, author), $"Rename to {wantedName}", [operation], wanted);
            }
            catch (ConflictException)
            {
                // Somebody was quicker; the name does not depend on what they did.
                wanted.ThrowIfCancellationRequested();
            }
        }
    }

    /// <exception cref="ConflictException">The model is not at the revision that the window shows.</exception>
    /// <exception cref="DocumentException">The change cannot be made on this model.</exception>
    public RestructureAnswer Restructure(string id, EditOrigin origin, Restructuring change, CancellationToken wanted)
    {
        Visitor.Demand(id, Access.Edit);
        var session = Session(id);
        var (edit, selection) = session.Restructure(origin.Basis, change, Visitor.Author(origin.Author));
        return new RestructureAnswer(Answer(session, edit, origin, wanted), selection);
    }

    /// <summary>Takes back the last edit; of those who have signed in each takes back their own.</summary>
    /// <exception cref="ConflictException">The model is not at the revision that the window shows.</exception>
    /// <exception cref="DocumentException">None is one's own, or somebody else has changed the same since.</exception>
    public EditAnswer Undo(string id, EditOrigin origin, CancellationToken wanted)
    {
        Visitor.Demand(id, Access.Edit);
        var session = Session(id);
        return Answer(session, session.Undo(origin.Basis, Visitor.Author(origin.Author)), origin, wanted);
    }

    /// <exception cref="ConflictException">The model is not at the revision that the window shows.</exception>
    public EditAnswer Redo(string id, EditOrigin origin, CancellationToken wanted)
    {
        Visitor.Demand(id, Access.Edit);
        var session = Session(id);
        return Answer(session, session.Redo(origin.Basis, Visitor.Author(origin.Author)), origin, wanted);
    }

    internal EditAnswer Answer(ModelSession session, AcceptedEdit edit, EditOrigin origin, CancellationToken wanted)
    {
        notifications.Changed(session.Id, edit.Revision, origin.Client);
        string? run = null;
        // Who turns live on wants to see the model as it is. The run goes on while the view is made.
        var asks = (edit.Effect & EditEffect.Results) != 0 || edit.Operations.Any(o => o.Path == DocumentPath.Of("settings", "live"));
        if (asks && session.Document.Settings.Live && session.Prepare(wanted).Prepared.CanRun)
        {
            try
            {
                run = runs.Start(session, wanted, origin.Client).Id;
            }
            catch (DocumentException)
            {
                // Settings that do not allow a run are a finding; the edit itself stands.
            }
        }

        // An edit may take the level away that the window shows.
        var level = session.Document.HasLevel(origin.Level) ? origin.Level : PartPath.Root;
        return new EditAnswer(edit.Revision, edit.Operations, session.Views.Since(origin.Basis, level, wanted), run);
    }
}
