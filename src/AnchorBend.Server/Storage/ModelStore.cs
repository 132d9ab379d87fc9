using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>A model in a list.</summary>
public sealed record ModelSummary(string Id, string Name, string Changed, long Revision);

/// <summary>An entry of the log without its operations.</summary>
public sealed record EditEntry(long Revision, string Kind, long? Target, string Label);

/// <summary>
/// Models and their append-only log of edits. A snapshot is taken now and then, so that opening stays quick; the log is never cut.
/// </summary>
public sealed class ModelStore(Database database)
{
    const int SnapshotEvery = 200;

    static readonly JsonSerializerOptions Json = ModelDocument.Options(false);

    /// <summary>Models, lately changed ones first.</summary>
    public IReadOnlyList<ModelSummary> List(int offset, int limit)
    {
        using var connection = database.Open();
        return
        [
            .. connection.Query<ModelSummary>(
                "select id, name, changed, revision from models order by changed desc, id limit @limit offset @offset",
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
                "insert into models values (@id, @Name, @now, @now, 0, @snapshot, 0)",
                new
                {
                    id,
                    document.Name,
                    now = Now(),
                    snapshot,
                }
            )
        );
        return id;
    }

    public bool Delete(string id) => database.Write(c => c.Execute("delete from models where id = @id", new { id })) > 0;

    /// <summary>The present document, its revision and the log's entries; null when there is no such model.</summary>
    public (JsonNode Document, long Revision, IReadOnlyList<EditEntry> Log)? Load(string id)
    {
        using var connection = database.Open();
        var row = connection.QueryFirstOrDefault<(string Snapshot, long SnapshotRevision, long Revision)>(
            "select snapshot, snapshot_revision, revision from models where id = @id",
            new { id }
        );
        if (row.Snapshot is null)
            return null;
        var document = JsonNode.Parse(row.Snapshot)!;
        // Models stored before they could bring parts along.
        document["classes"] ??= new JsonObject();
        DocumentReferences.Identify(document);
        foreach (
            var operations in connection.Query<string>(
                "select operations from edits where model_id = @id and revision > @after order by revision",
                new { id, after = row.SnapshotRevision }
            )
        )
        {
            document = JsonPatch.Apply(document, JsonSerializer.Deserialize<List<PatchOperation>>(operations, Json)!).Result;
            // A later edit may rename what an earlier one named.
            DocumentReferences.Identify(document);
        }

        var log = connection.Query<EditEntry>(
            "select revision, kind, target, label from edits where model_id = @id order by revision",
            new { id }
        );
        return (document, row.Revision, [.. log]);
    }

    /// <summary>The operations of one revision and their inverse.</summary>
    public (List<PatchOperation> Operations, List<PatchOperation> Inverse) Operations(string id, long revision)
    {
        using var connection = database.Open();
        var (operations, inverse) = connection.QueryFirst<(string, string)>(
            "select operations, inverse from edits where model_id = @id and revision = @revision",
            new { id, revision }
        );
        return (
            JsonSerializer.Deserialize<List<PatchOperation>>(operations, Json)!,
            JsonSerializer.Deserialize<List<PatchOperation>>(inverse, Json)!
        );
    }

    /// <summary>Appends one edit; when this returns, the edit survives the end of the process.</summary>
    public void Append(
        string id,
        EditEntry entry,
        IReadOnlyList<PatchOperation> operations,
        IReadOnlyList<PatchOperation> inverse,
        JsonNode document
    )
    {
        var edit = new
        {
            id,
            entry.Revision,
            entry.Kind,
            entry.Target,
            entry.Label,
            now = Now(),
            operations = JsonSerializer.Serialize(operations, Json),
            inverse = JsonSerializer.Serialize(inverse, Json),
        };
        var name = document["name"]!.GetValue<string>();
        var snapshot = entry.Revision % SnapshotEvery == 0 ? document.ToJsonString() : null;
        database.Write(connection =>
        {
            using var transaction = connection.BeginTransaction();
            connection.Execute(
                "insert into edits values (@id, @Revision, @Kind, @Target, @Label, @operations, @inverse, @now)",
                edit,
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
                "update models set revision = @Revision, name = @name, changed = @now where id = @id",
                new
                {
                    id,
                    entry.Revision,
                    name,
                    edit.now,
                },
                transaction
            );
            transaction.Commit();
            return true;
        });
    }

    static string Now() => DateTime.UtcNow.ToString("O", CultureInfo.InvariantCulture);
}
