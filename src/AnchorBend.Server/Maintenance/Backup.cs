using System.IO.Compression;
using AnchorBend.Server.Security;
using AnchorBend.Server.Storage;
using Dapper;
using Microsoft.Data.Sqlite;

namespace AnchorBend.Server.Maintenance;

/// <summary>A data folder as one file: the database as it was at one instant, and the traces of kept runs.</summary>
static class Backup
{
    const string Runs = "runs/";

    /// <summary>Writes a copy, also while a server uses the folder. A file of that name is only replaced by a whole one.</summary>
    /// <exception cref="StartupException">There is no database.</exception>
    public static void Write(string data, string file)
    {
        var (begun, copy) = (file + ".part", Path.Combine(Path.GetTempPath(), $"anchor-bend-{Guid.NewGuid():N}.db"));
        try
        {
            using (var database = Database.ForReading(data))
            using (var connection = database.Open())
                Database.Copy(connection, copy);
            // It holds what the folder holds, with all accounts.
            File.Delete(begun);
            Database.MakeFile(begun);
            using (var target = new FileStream(begun, FileMode.Open, FileAccess.Write))
            using (var archive = new ZipArchive(target, ZipArchiveMode.Create))
            {
                archive.CreateEntryFromFile(copy, Database.FileName);
                // Runs that are kept after that instant are not in the database; those forgotten since then are not there to copy.
                foreach (var id in Kept(copy))
                    if (Path.Combine(data, "runs", id + ".run") is var run && File.Exists(run))
                        archive.CreateEntryFromFile(run, Runs + id + ".run");
            }

            File.Move(begun, file, true);
        }
        finally
        {
            File.Delete(begun);
            File.Delete(copy);
        }
    }

    static List<string> Kept(string file)
    {
        using var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = file, Pooling = false }.ToString());
        connection.Open();
        return [.. connection.Query<string>("select id from runs")];
    }

    /// <exception cref="StartupException">There are models in the folder already, or the file is no such copy.</exception>
    public static void Restore(string file, string data)
    {
        if (File.Exists(Path.Combine(data, Database.FileName)))
            throw new StartupException($"There are models in {data} already. Name a folder that is empty or not there.");
        Database.MakeFolder(data);
        Database.MakeFolder(Path.Combine(data, "runs"));
        using var archive = ZipFile.OpenRead(file);
        var database = archive.GetEntry(Database.FileName)
            ?? throw new StartupException($"{file} is no copy that 'anchor-bend backup' has made.");
        foreach (var entry in archive.Entries.Where(e => e.FullName.StartsWith(Runs, StringComparison.Ordinal)))
            // Only the name counts: whatever path an archive says, nothing is written elsewhere.
            if (entry.Name.Length > 0)
                entry.ExtractToFile(Path.Combine(data, "runs", entry.Name), true);
        // Last: a folder with a database is a whole one.
        var begun = Path.Combine(data, "restoring.db");
        database.ExtractToFile(begun, true);
        File.Move(begun, Path.Combine(data, Database.FileName));
    }
}
