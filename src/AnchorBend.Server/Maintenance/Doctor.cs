using System.Globalization;
using System.Text.Json;
using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Storage;
using AnchorBend.Workbench.Models;
using Dapper;
using Microsoft.Data.Sqlite;

namespace AnchorBend.Server.Maintenance;

/// <summary>Something that is wrong with a data folder.</summary>
/// <param name="About">The database, or a model or run by its id.</param>
sealed record Complaint(string About, string What, bool CanRepair);

/// <summary>
/// Looks a data folder over: whether the file is whole, and whether each model comes out of its snapshot and log as it should. What is
/// mended is mended from the log; what no longer fits is put into a file beside the database before it is taken out.
/// </summary>
static class Doctor
{
    const int MostTold = 20;

    /// <summary>Looks only, also while a server uses the folder.</summary>
    public static IReadOnlyList<Complaint> Check(string data)
    {
        using var database = Database.ForReading(data);
        return Check(database);
    }

    static List<Complaint> Check(Database database)
    {
        var found = new List<Complaint>();
        using var connection = database.Open();
        var schema = connection.ExecuteScalar<int>("pragma user_version");
        if (schema > Database.LatestSchema)
            return
            [
                new("database", $"It was written by a later version (schema {schema}; this one knows {Database.LatestSchema}).", false),
            ];
        if (schema < Database.LatestSchema)
            found.Add(
                new(
                    "database",
                    $"It is of an earlier version (schema {schema}); the next start brings it up to {Database.LatestSchema}.",
                    false
                )
            );
        foreach (var line in connection.Query<string>($"pragma integrity_check({MostTold})").Where(l => l != "ok"))
            found.Add(new("database", $"The file is damaged: {line}. Put a backup back.", false));
        if (found.Exists(c => c.What.StartsWith("The file", StringComparison.Ordinal)) || schema < Database.LatestSchema)
            return found;
        foreach (var (table, _) in connection.Query<(string, long?)>("pragma foreign_key_check").Distinct().Take(MostTold))
            found.Add(new("database", $"Rows of the table {table} belong to nothing.", true));
        foreach (var id in connection.Query<string>("select id from models order by id"))
            if (Broken(database, connection, id) is { } broken)
                found.Add(new($"model {id}", broken.What, broken.Good is not null));
        foreach (var id in connection.Query<string>("select id from runs"))
            if (!File.Exists(Path.Combine(database.Folder, "runs", id + ".run")))
                found.Add(new($"run {id}", "Its traces are gone.", true));
        return found;
    }

    /// <summary>What is wrong with a model, and the last revision that comes out whole; null where nothing is wrong.</summary>
    static (string What, long? Good)? Broken(Database database, SqliteConnection connection, string id)
    {
        var (revision, snapshot, name) = connection.QueryFirst<(long, long, string)>(
            "select revision, snapshot_revision, name from models where id = @id",
            new { id }
        );
        var edits = connection
            .Query<long>("select revision from edits where model_id = @id and revision > @snapshot order by revision", new { id, snapshot })
            .ToList();
        var gap = edits.Select((r, i) => (r, i)).FirstOrDefault(e => e.r != snapshot + 1 + e.i, (-1, -1));
        var last = gap.Item2 < 0 ? snapshot + edits.Count : snapshot + gap.Item2;
        if (Fits(database, id, null) is { } problem)
        {
            var good = Good(database, id, snapshot, last);
            return (
                good is { } at
                    ? $"'{name}' cannot be opened ({problem}); revision {at} of {revision} can."
                    : $"'{name}' cannot be opened ({problem}), nor can an earlier revision. Put a backup back.",
                good
            );
        }

        if (gap.Item2 >= 0)
            return ($"The log of '{name}' ends at revision {last}; later edits have lost the one before them.", last);
        return revision == last ? null : ($"'{name}' says revision {revision}, but its log ends at {last}.", last);
    }

    /// <summary>Why a model does not come out of its snapshot and its log up to a revision; null where it does.</summary>
    static string? Fits(Database database, string id, long? upTo)
    {
        try
        {
            if (new ModelStore(database).Load(id, upTo) is { } stored)
                DocumentJson.Read(stored.Document);
            return null;
        }
        catch (Exception e)
            when (e is JsonException or DocumentException or InvalidOperationException or ArgumentException or FormatException)
        {
            return e.Message.TrimEnd('.');
        }
    }

    static long? Good(Database database, string id, long snapshot, long last)
    {
        // From the latest on: as little as possible is given up.
        for (var revision = last; revision >= snapshot; revision--)
            if (Fits(database, id, revision) is null)
                return revision;
        return null;
    }

    /// <summary>Mends what can be mended; a copy of the database as it was stays beside it.</summary>
    /// <returns>What is still wrong.</returns>
    public static IReadOnlyList<Complaint> Repair(string data, TextWriter output)
    {
        using var database = new Database(data);
        var now = DateTime.UtcNow.ToString("yyyyMMdd-HHmmss", CultureInfo.InvariantCulture);
        var complaints = Check(database);
        if (!complaints.Exists(c => c.CanRepair))
            return complaints;
        using (var connection = database.Open())
        {
            Database.Copy(connection, Path.Combine(data, $"before-repair-{now}.db"));
            foreach (var id in connection.Query<string>("select id from models").ToList())
                if (Broken(database, connection, id) is { Good: { } good })
                    Back(database, id, good, Path.Combine(data, $"taken-out-{now}-{id}.json"), output);
            var gone = connection
                .Query<string>("select id from runs")
                .Where(r => !File.Exists(Path.Combine(data, "runs", r + ".run")))
                .ToList();
            foreach (var run in gone)
                database.Write(c => c.Execute("delete from runs where id = @run", new { run }));
            foreach (var (table, row) in connection.Query<(string, long?)>("pragma foreign_key_check").ToList())
                if (row is not null)
                    database.Write(c => c.Execute($"delete from \"{table}\" where rowid = @row", new { row }));
        }

        return Check(database);
    }

    static void Back(Database database, string id, long good, string file, TextWriter output)
    {
        using var connection = database.Open();
        var lost = connection
            .Query("select * from edits where model_id = @id and revision > @good order by revision", new { id, good })
            .Cast<IDictionary<string, object>>()
            .ToList();
        if (lost.Count > 0)
        {
            File.WriteAllText(file, JsonSerializer.Serialize(lost));
            output.WriteLine($"model {id}: {lost.Count} edits behind revision {good} are in {file}.");
        }

        database.Write(c =>
        {
            using var transaction = c.BeginTransaction();
            c.Execute("delete from edits where model_id = @id and revision > @good", new { id, good }, transaction);
            c.Execute("update models set revision = @good where id = @id", new { id, good }, transaction);
            transaction.Commit();
            return true;
        });
    }
}
