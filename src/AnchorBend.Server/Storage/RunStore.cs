using System.Text.Json;
using System.Text.Json.Serialization;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Runs;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>Kept runs: what is said of them in the database, their traces in a folder beside it.</summary>
public sealed class RunStore : IRunStore
{
    const string Ending = ".run";

    static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals,
    };

    readonly Database database;
    readonly KeptRoom room;
    readonly string folder;

    public RunStore(Database database, KeptRoom room)
    {
        (this.database, this.room) = (database, room);
        folder = Path.Combine(database.Folder, "runs");
        Database.MakeFolder(folder);
        Sweep();
    }

    /// <summary>Removes files that no row speaks of: what a killed process left of a run it was about to keep.</summary>
    void Sweep()
    {
        using var connection = database.Open();
        var known = connection.Query<string>("select id from runs").ToHashSet();
        foreach (var file in Directory.GetFiles(folder))
            if (!file.EndsWith(Ending, StringComparison.Ordinal) || !known.Contains(Path.GetFileNameWithoutExtension(file)))
                File.Delete(file);
    }

    public string FileOf(string id) => Path.Combine(folder, id + Ending);

    public IReadOnlyList<RunSummary> List(string model)
    {
        using var connection = database.Open();
        return
        [
            .. connection
                .Query<string>("select summary from runs where model_id = @model order by number", new { model })
                .Select(s => JsonSerializer.Deserialize<RunSummary>(s, Json)!),
        ];
    }

    public StoredRun? Find(string id)
    {
        using var connection = database.Open();
        var row = connection.QueryFirstOrDefault<(string Model, string Summary, string Report, string Document)>(
            "select model_id, summary, report, document from runs where id = @id",
            new { id }
        );
        return row.Model is null
            ? null
            : new StoredRun(
                row.Model,
                JsonSerializer.Deserialize<RunSummary>(row.Summary, Json)!,
                JsonSerializer.Deserialize<RunReport>(row.Report, Json)!,
                ModelDocument.FromJson(row.Document)
            );
    }

    public void Put(StoredRun run)
    {
        try
        {
            room.Take(run.Summary.Id, new FileInfo(FileOf(run.Summary.Id)).Length);
        }
        catch
        {
            File.Delete(FileOf(run.Summary.Id));
            throw;
        }

        var row = new
        {
            run.Summary.Id,
            run.ModelId,
            run.Summary.Number,
            Summary = JsonSerializer.Serialize(run.Summary, Json),
            Report = JsonSerializer.Serialize(run.Report, Json),
            Document = run.Document.ToJson(),
        };
        database.Write(c => c.Execute("insert or replace into runs values (@Id, @ModelId, @Number, @Summary, @Report, @Document)", row));
    }

    public void Put(string id, RunSummary summary) =>
        database.Write(c =>
            c.Execute("update runs set summary = @text where id = @id", new { id, text = JsonSerializer.Serialize(summary, Json) })
        );

    public void Remove(string id)
    {
        // The row first: a file that nobody speaks of goes at the next start at the latest.
        if (database.Write(c => c.Execute("delete from runs where id = @id", new { id })) > 0)
            File.Delete(FileOf(id));
        room.Give(id);
    }

    public void RemoveAll(string model)
    {
        foreach (var run in List(model))
            Remove(run.Id);
    }

    public int LastNumber(string model)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<int?>("select max(number) from runs where model_id = @model", new { model }) ?? 0;
    }
}
