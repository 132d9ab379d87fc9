using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Models;

/// <summary>A model in a list.</summary>
public sealed record ModelSummary(string Id, string Name, string Changed, long Revision);

/// <summary>An entry of a model's log without its operations.</summary>
/// <param name="Kind">edit, undo or redo.</param>
/// <param name="Target">The revision that an undo takes back or a redo makes again.</param>
/// <param name="Author">Who made it; empty where nobody said.</param>
/// <param name="Effect">What it touches.</param>
public sealed record EditEntry(long Revision, string Kind, long? Target, string Label)
{
    public string Author { get; init; } = "";

    public EditEffect Effect { get; init; }
}

/// <summary>An entry of a model's history.</summary>
/// <param name="Kind">edit, undo or redo.</param>
/// <param name="Author">Who made it; empty where nobody said.</param>
/// <param name="Made">When, in UTC (ISO 8601).</param>
/// <param name="Effect">What it touched: words of <see cref="EditEffect"/>; empty for edits of before that was kept.</param>
public sealed record HistoryEntry(long Revision, string Kind, long? Target, string Label, string Author, string Made, string Effect);

/// <summary>A revision that somebody named.</summary>
public sealed record Checkpoint(long Revision, string Name, string Note, string Author, string Made);

/// <summary>A model as it was stored, in the present format.</summary>
public sealed record StoredModel(JsonObject Document, long Revision, IReadOnlyList<EditEntry> Log);

/// <summary>Keeps models and their append-only logs of edits.</summary>
public interface IModelStore
{
    /// <summary>Models, lately changed ones first.</summary>
    IReadOnlyList<ModelSummary> List(int offset, int limit);

    string Create(ModelDocument document);

    bool Delete(string id);

    /// <summary>The present document, its revision and the log's entries; null when there is no such model.</summary>
    StoredModel? Load(string id);

    /// <summary>The operations of one revision and their inverse, for a document of the present format.</summary>
    (IReadOnlyList<PatchOperation> Operations, IReadOnlyList<PatchOperation> Inverse) Operations(string id, long revision);

    /// <summary>Entries of the log from a revision downwards, the latest first.</summary>
    IReadOnlyList<HistoryEntry> History(string id, long before, int limit);

    /// <summary>The operations that lead from the present revision back to an earlier one, edit by edit, the latest first.</summary>
    IEnumerable<IReadOnlyList<PatchOperation>> Back(string id, long revision);

    IReadOnlyList<Checkpoint> Checkpoints(string id);

    /// <summary>Names a revision, or names it anew.</summary>
    void Put(string id, Checkpoint checkpoint);

    /// <returns>False where there was none.</returns>
    bool RemoveCheckpoint(string id, long revision);

    /// <summary>Appends one edit; when this returns, the edit survives the end of the process.</summary>
    /// <param name="document">The document after the edit, as text, where the store asks for it.</param>
    void Append(string id, EditEntry entry, Edit edit, string modelName, Func<string> document);
}

/// <summary>Keeps the parts of the user's own package.</summary>
public interface IPartStore
{
    IReadOnlyDictionary<string, string> Load();

    void Put(string name, string text);

    void Remove(string name);
}

/// <summary>Tells other windows what happened.</summary>
public interface INotifications
{
    void Changed(string modelId, long revision, string? client);

    void Progress(string modelId, string runId, double part);

    /// <summary>A run of a model has begun, ended, or is called otherwise.</summary>
    void RunChanged(string modelId, Runs.RunSummary run);

    /// <summary>A run of a study has come further.</summary>
    void StudyChanged(string modelId, Studies.StudyJobView study);

    /// <summary>A run of cases has come further.</summary>
    void CasesChanged(string modelId, Cases.SuiteView suite);

    /// <summary>Tells a window of a run that it watches.</summary>
    void Frame(string watcher, Runs.RunFrame frame);

    /// <summary>A part of the user's package that the model uses has changed.</summary>
    void PartsChanged(string modelId, string part);
}
