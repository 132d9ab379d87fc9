using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Maintenance;
using AnchorBend.Server.Storage;
using AnchorBend.Workbench.Models;
using Dapper;
using Microsoft.Data.Sqlite;

namespace AnchorBend.Server.Tests;

/// <summary>A data folder is looked over, mended, copied and put back from the command line.</summary>
public sealed class MaintenanceTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-doctor-").FullName;
    readonly StringWriter output = new(),
        error = new();

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
    }

    string Data => Path.Combine(folder, "data");

    /// <summary>A model with as many edits as its revision, each of which renames it.</summary>
    string Model(int revisions = 3)
    {
        using var database = new Database(Data);
        var store = new ModelStore(database);
        var id = store.Create(new DiagramDefinition { Name = "r0" }.AsModel());
        for (var r = 1; r <= revisions; r++)
        {
            PatchOperation Named(int n) => new("replace", "/definitions/main/name", $"r{n}");
            store.Append(id, new EditEntry(r, "edit", null, "Rename"), new Edit("Rename", [Named(r)], [Named(r - 1)]), $"r{r}", () => "");
        }

        return id;
    }

    string Name(string id)
    {
        using var database = new Database(Data);
        return DocumentJson.Read(new ModelStore(database).Load(id)!.Document).Name;
    }

    void Execute(string sql)
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(Data, "anchor-bend.db")};Pooling=false");
        connection.Open();
        connection.Execute("pragma foreign_keys = off; " + sql);
    }

    int Run(params string[] arguments) => DataCommands.Run(arguments, output, error);

    [Fact]
    public void A_whole_folder_is_well()
    {
        Model();
        Assert.Equal(0, Run("doctor", "--data", Data));
        Assert.Equal("All is well.", output.ToString().Trim());
    }

    [Fact]
    public void It_looks_while_a_server_uses_the_folder()
    {
        Model();
        using var database = new Database(Data);
        Assert.Equal(0, Run("doctor", "--data", Data));
        // Mending has to wait until it is alone.
        Assert.Equal(1, Run("doctor", "--data", Data, "--repair"));
        Assert.Contains("Another server uses the folder", error.ToString());
    }

    [Fact]
    public void An_edit_that_cannot_be_read_is_told_and_the_model_goes_back_before_it()
    {
        var id = Model(5);
        Execute(
            "update edits set operations = '[{\"op\":\"replace\",\"path\":\"/definitions/nowhere/name\",\"value\":1}]' where revision = 4"
        );
        Assert.Equal(1, Run("doctor", "--data", Data));
        Assert.Contains("revision 3 of 5 can", output.ToString());
        Assert.Equal(0, Run("doctor", "--data", Data, "--repair"));
        Assert.Equal("r3", Name(id));
        // What was taken out, and all as it was, is still there.
        Assert.Contains("nowhere", File.ReadAllText(Assert.Single(Directory.GetFiles(Data, "taken-out-*.json"))));
        Assert.Single(Directory.GetFiles(Data, "before-repair-*.db"));
    }

    [Fact]
    public void A_gap_in_the_log_ends_the_model_before_it()
    {
        var id = Model(5);
        Execute("delete from edits where revision = 4");
        Assert.Equal(1, Run("doctor", "--data", Data));
        Assert.Equal(0, Run("doctor", "--data", Data, "--repair"));
        Assert.Equal("r3", Name(id));
    }

    [Fact]
    public void A_revision_that_the_log_does_not_have_is_set_right()
    {
        var id = Model(2);
        Execute("update models set revision = 7");
        Assert.Equal(1, Run("doctor", "--data", Data));
        Assert.Contains("says revision 7, but its log ends at 2", output.ToString());
        Assert.Equal(0, Run("doctor", "--data", Data, "--repair"));
        Assert.Equal("r2", Name(id));
    }

    [Fact]
    public void A_snapshot_that_is_lost_is_beyond_mending_and_said_to_be()
    {
        Model();
        Execute("update models set snapshot = '{'");
        Assert.Equal(1, Run("doctor", "--data", Data, "--repair"));
        Assert.Contains("Put a backup back", output.ToString());
        Assert.DoesNotContain("with --repair", output.ToString());
    }

    [Fact]
    public void A_file_that_is_no_database_is_told()
    {
        Directory.CreateDirectory(Data);
        File.WriteAllText(Path.Combine(Data, "anchor-bend.db"), new string('x', 8192));
        Assert.Equal(1, Run("doctor", "--data", Data));
        Assert.Contains("damaged", error.ToString());
        Assert.Equal(1, Run("doctor", "--data", Path.Combine(folder, "nothing")));
        Assert.Contains("There is no database", error.ToString());
    }

    [Fact]
    public void A_copy_made_while_the_server_runs_gives_the_folder_back()
    {
        var id = Model();
        var file = Path.Combine(folder, "copy.zip");
        using (new Database(Data))
            Assert.Equal(0, Run("backup", file, "--data", Data));
        // It holds all accounts.
        if (!OperatingSystem.IsWindows())
            Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(file));
        Directory.Delete(Data, true);
        Assert.Equal(0, Run("restore", file, "--data", Data));
        Assert.Equal("r3", Name(id));
        Assert.Equal(0, Run("doctor", "--data", Data));
        // Nothing is written over what is there.
        Assert.Equal(1, Run("restore", file, "--data", Data));
        Assert.Contains("There are models", error.ToString());
    }

    [Fact]
    public void A_file_that_is_no_copy_is_not_restored()
    {
        var file = Path.Combine(folder, "other.zip");
        using (var archive = System.IO.Compression.ZipFile.Open(file, System.IO.Compression.ZipArchiveMode.Create))
            archive.CreateEntry("../../outside");
        Assert.Equal(1, Run("restore", file, "--data", Data));
        Assert.False(File.Exists(Path.Combine(Data, "anchor-bend.db")));
        File.WriteAllText(file, "no archive");
        Assert.Equal(1, Run("restore", file, "--data", Data));
    }

    [Fact]
    public void Before_a_migration_the_database_is_copied()
    {
        Model();
        Execute("pragma user_version = 14; drop table kept_sizes;");
        using (var database = new Database(Data)) { }
        Assert.Single(Directory.GetFiles(Data, "before-schema-*.db"));
        Assert.Equal(0, Run("doctor", "--data", Data));
    }

    [Fact]
    public void What_is_not_understood_is_answered_with_what_there_is()
    {
        Assert.Equal(2, Run("backup"));
        Assert.Contains("anchor-bend backup FILE", error.ToString());
        Assert.False(DataCommands.Asked(["--port", "5180"]));
    }
}
