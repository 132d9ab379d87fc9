using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>
/// Models and their append-only log of edits. A snapshot is taken now and then, so that opening stays quick; the log is never cut.
/// </summary>
public sealed class ModelStore(Database database) : IModelStore
{
    const int SnapshotEvery = 200;

    static readonly JsonSerializerOptions Json = DocumentJson.Options(false);

    public IReadOnlyList<ModelSummary> List(int offset, int limit)
    {
        using var connection = database.Open();
        return
        [
            .. connection.Query<ModelSummary>(
                """
                select id, name, changed, revision from models where trashed is null
                order by changed desc, id limit @limit offset @offset
                """,
                new { offset, limit }
            ),
        ];
    }

    public string Create(ModelDocument document)
    {
        var id = Guid.NewGuid().ToString("N")[..12];
        var snapshot = document.ToJson();
        database.Write(c =>
            c.Execute(
                """
                insert into models (id, name, created, changed, revision, snapshot, snapshot_revision, owner)
                values (@id, @Name, @now, @now, 0, @snapshot, 0, @owner)
                """,
                new
                {
                    id,
                    document.Name,
                    now = Now(),
                    snapshot,
                    owner = Visitor.Current?.Account ?? "",
                }
            )
        );
        return id;
    }

    public bool Delete(string id) =>
        database.Write(c => c.Execute("delete from cards where key = @id; delete from models where id = @id", new { id })) > 0;

    /// <summary>An edit as it was stored, with the format of the documents it was made on.</summary>
    sealed record StoredEdit(string Operations, string Inverse, long Format)
    {
        /// <summary>The operations in the words of their own format.</summary>
        public IReadOnlyList<PatchOperation> Made => Parse(Operations);

        public IReadOnlyList<PatchOperation> Forward => FormatUpgrade.Operations(Parse(Operations), (int)Format);

        public IReadOnlyList<PatchOperation> Back => FormatUpgrade.Operations(Parse(Inverse), (int)Format);

        static List<PatchOperation> Parse(string text) => JsonSerializer.Deserialize<List<PatchOperation>>(text, Json)!;
    }

    public StoredModel? Load(string id) => Load(id, null);

    /// <param name="upTo">The revision that is wanted, not before the snapshot's; null for the present one.</param>
    internal StoredModel? Load(string id, long? upTo)
    {
        using var connection = database.Open();
        var row = connection.QueryFirstOrDefault<(string Snapshot, long SnapshotRevision, long Revision)>(
            "select snapshot, snapshot_revision, revision from models where id = @id",
            new { id }
        );
        if (row.Snapshot is null)
            return null;
        var document = (JsonObject)JsonNode.Parse(row.Snapshot)!;
        var format = DocumentJson.FormatOf(document);
        // Models of the first format stored before they could bring parts along.
        if (format == 1)
            document["classes"] ??= new JsonObject();
        foreach (
            var edit in connection.Query<StoredEdit>(
                "select operations, inverse, format from edits where model_id = @id and revision > @after "
                    + "and revision <= @last order by revision",
                new
                {
                    id,
                    after = row.SnapshotRevision,
                    last = upTo ?? long.MaxValue,
                }
            )
        )
        {
            // Edits of an earlier format are made before the document is brought to the present one.
            if (edit.Format > format)
                (document, format) = (DocumentJson.Upgraded(document), FormatUpgrade.Present);
            JsonPatch.ApplyInPlace(document, edit.Made);
            if (format == FormatUpgrade.Present)
                DocumentReferences.Identify(document);
        }

        document = DocumentJson.Upgraded(document);
        var log = connection
            .Query<(long Revision, string Kind, long? Target, string Label, string Author)>(
                "select revision, kind, target, label, author from edits where model_id = @id order by revision",
                new { id }
            )
            .Select(e => new EditEntry(e.Revision, e.Kind, e.Target, e.Label) { Author = e.Author ?? "" });
        return new StoredModel(document, row.Revision, [.. log]);
    }

    public (IReadOnlyList<PatchOperation> Operations, IReadOnlyList<PatchOperation> Inverse) Operations(string id, long revision)
    {
        using var connection = database.Open();
        var edit = connection.QueryFirst<StoredEdit>(
            "select operations, inverse, format from edits where model_id = @id and revision = @revision",
            new { id, revision }
        );
        return (edit.Forward, edit.Back);
    }

    public void Append(string id, EditEntry entry, Edit edit, string modelName, Func<string> document)
    {
        var row = new
        {
            id,
            entry.Revision,
            entry.Kind,
            entry.Target,
            entry.Label,
            entry.Author,
            effect = entry.Effect.ToString(),
            now = Now(),
            operations = JsonSerializer.Serialize(edit.Operations, Json),
            inverse = JsonSerializer.Serialize(edit.Inverse, Json),
            format = FormatUpgrade.Present,
        };
        var snapshot = entry.Revision % SnapshotEvery == 0 ? document() : null;
        database.Write(connection =>
        {
            using var transaction = connection.BeginTransaction();
            connection.Execute(
                """
                insert into edits (model_id, revision, kind, target, label, operations, inverse, made, format, author, effect)
                values (@id, @Revision, @Kind, @Target, @Label, @operations, @inverse, @now, @format, @Author, @effect)
                """,
                row,
                transaction
            );
            if (snapshot is not null)
                connection.Execute(
                    "update models set snapshot = @snapshot, snapshot_revision = @Revision where id = @id",
                    new
                    {
                        id,
                        entry.Revision,
                        snapshot,
                    },
                    transaction
                );
            connection.Execute(
                "update models set revision = @Revision, name = @modelName, changed = @now where id = @id",
                new
                {
                    id,
                    entry.Revision,
                    modelName,
                    row.now,
                },
                transaction
            );
            transaction.Commit();
            return true;
        });
    }

    public IReadOnlyList<HistoryEntry> History(string id, long before, int limit)
    {
        using var connection = database.Open();
        return
        [
            .. connection.Query<HistoryEntry>(
                """
                select revision, kind, target, label, author, made, effect from edits
                where model_id = @id and revision < @before order by revision desc limit @limit
                """,
                new
                {
                    id,
                    before,
                    limit,
                }
            ),
        ];
    }

    public IEnumerable<IReadOnlyList<PatchOperation>> Back(string id, long revision)
    {
        using var connection = database.Open();
        foreach (
            var edit in connection.Query<StoredEdit>(
                "select operations, inverse, format from edits where model_id = @id and revision > @revision order by revision desc",
                new { id, revision },
                buffered: false
            )
        )
            yield return edit.Back;
    }

    public IReadOnlyList<Checkpoint> Checkpoints(string id)
    {
        using var connection = database.Open();
        return
        [
            .. connection.Query<Checkpoint>(
                "select revision, name, note, author, made from checkpoints where model_id = @id order by revision desc",
                new { id }
            ),
        ];
    }

    public void Put(string id, Checkpoint checkpoint) =>
        database.Write(c =>
            c.Execute(
                "insert or replace into checkpoints values (@id, @Revision, @Name, @Note, @Author, @Made)",
                new
                {
                    id,
                    checkpoint.Revision,
                    checkpoint.Name,
                    checkpoint.Note,
                    checkpoint.Author,
                    checkpoint.Made,
                }
            )
        );

    public bool RemoveCheckpoint(string id, long revision) =>
        database.Write(c => c.Execute("delete from checkpoints where model_id = @id and revision = @revision", new { id, revision })) > 0;

    static string Now() => DateTime.UtcNow.ToString("O", CultureInfo.InvariantCulture);
}
