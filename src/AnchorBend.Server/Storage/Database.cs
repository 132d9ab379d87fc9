using System.Globalization;
using System.Reflection;
using AnchorBend.Server.Security;
using Dapper;
using Microsoft.Data.Sqlite;

namespace AnchorBend.Server.Storage;

/// <summary>The SQLite file: connections in WAL mode that sync on every commit, and numbered migrations. One server holds it at a
/// time.</summary>
public sealed class Database : IDisposable
{
    internal const string FileName = "anchor-bend.db";

    /// <summary>How long a statement waits for another program's lock, s. Whoever asks should be told at once.</summary>
    const int Patience = 1;

    readonly string connectionString;
    readonly FileStream? ownership;
    readonly Lock writing = new();

    /// <exception cref="StartupException">The folder is used by another server, or its database is empty or of a later version.</exception>
    public Database(string folder)
    {
        Folder = folder;
        MakeFolder(folder);
        ownership = Own(folder);
        try
        {
            var file = Path.Combine(folder, FileName);
            IsNew = !File.Exists(file);
            if (!IsNew && new FileInfo(file).Length == 0)
                throw new StartupException($"{file} is empty: it has lost its content. Put back a copy, or remove the file to begin anew.");
            connectionString = new SqliteConnectionStringBuilder
            {
                DataSource = file,
                Pooling = true,
                ForeignKeys = true,
                DefaultTimeout = Patience,
            }.ToString();
            Migrate();
            Restrict(file);
        }
        catch
        {
            ownership?.Dispose();
            throw;
        }
    }

    /// <summary>Opens a database only to look at it, whoever else uses it, and as it is: without migrations.</summary>
    Database(string folder, string file)
    {
        Folder = folder;
        connectionString = new SqliteConnectionStringBuilder
        {
            DataSource = file,
            Mode = SqliteOpenMode.ReadOnly,
            Pooling = false,
            DefaultTimeout = Patience,
        }.ToString();
    }

    /// <exception cref="StartupException">There is none.</exception>
    internal static Database ForReading(string folder)
    {
        var file = Path.Combine(folder, FileName);
        return File.Exists(file) ? new Database(folder, file) : throw new StartupException($"There is no database in {folder}.");
    }

    /// <summary>The number of the latest migration that this program knows.</summary>
    internal static int LatestSchema =>
        Assembly
            .GetExecutingAssembly()
            .GetManifestResourceNames()
            .Where(n => n.EndsWith(".sql", StringComparison.Ordinal))
            .Max(n => int.Parse(n[..3], CultureInfo.InvariantCulture));

    public string Folder { get; }

    /// <summary>Whether there was no database before this start.</summary>
    public bool IsNew { get; }

    /// <summary>Makes a folder that only its owner can read.</summary>
    internal static void MakeFolder(string folder)
    {
        if (Directory.Exists(folder))
            return;
        if (OperatingSystem.IsWindows())
            Directory.CreateDirectory(folder);
        else
            Directory.CreateDirectory(folder, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
    }

    /// <summary>How long a server that is just ending may still hold the folder.</summary>
    static readonly TimeSpan Farewell = TimeSpan.FromSeconds(2);

    static FileStream Own(string folder)
    {
        var watch = System.Diagnostics.Stopwatch.StartNew();
        while (true)
        {
            try
            {
                return new FileStream(
                    Path.Combine(folder, "anchor-bend.lock"),
                    FileMode.OpenOrCreate,
                    FileAccess.ReadWrite,
                    FileShare.None,
                    1,
                    FileOptions.DeleteOnClose
                );
            }
            catch (IOException) when (watch.Elapsed < Farewell)
            {
                Thread.Sleep(50);
            }
            catch (IOException)
            {
                throw new StartupException($"Another server uses the folder {folder}. Stop it, or choose another folder with --data.");
            }
        }
    }

    /// <summary>The database and its log hold everybody's models: only their owner reads them.</summary>
    static void Restrict(string file)
    {
        if (OperatingSystem.IsWindows())
            return;
        foreach (var part in (string[])[file, file + "-wal", file + "-shm"])
            if (File.Exists(part))
                File.SetUnixFileMode(part, UnixFileMode.UserRead | UnixFileMode.UserWrite);
    }

    public SqliteConnection Open()
    {
        var connection = new SqliteConnection(connectionString);
        try
        {
            connection.Open();
            connection.Execute($"pragma busy_timeout = {1000 * Patience}; pragma synchronous = full;");
            return connection;
        }
        catch
        {
            connection.Dispose();
            throw;
        }
    }

    /// <summary>
    /// Writes. Requests of this server take turns: the file's own lock is asked for again and again by all who want it, in no order, and
    /// under load one of them would find its patience at an end while nobody else holds the file.
    /// </summary>
    /// <exception cref="SqliteException">Another program holds the file, or it cannot be written.</exception>
    public T Write<T>(Func<SqliteConnection, T> write)
    {
        lock (writing)
        {
            using var connection = Open();
            return write(connection);
        }
    }

    void Migrate()
    {
        using var connection = Open();
        connection.Execute("pragma journal_mode = wal;");
        var present = connection.ExecuteScalar<int>("pragma user_version;");
        var assembly = Assembly.GetExecutingAssembly();
        var scripts = assembly
            .GetManifestResourceNames()
            .Where(n => n.EndsWith(".sql", StringComparison.Ordinal))
            .Order(StringComparer.Ordinal)
            .Select(n => (Name: n, Number: int.Parse(n[..3], CultureInfo.InvariantCulture)))
            .ToList();
        if (present > scripts[^1].Number)
            throw new StartupException(
                $"The models in {Folder} were stored by a later version of Anchor Bend (schema {present}; this one knows "
                    + $"{scripts[^1].Number}). Start that version, or choose another folder with --data."
            );
        // What a migration gets wrong, the copy of before makes good.
        if (present > 0 && present < scripts[^1].Number)
            Copy(connection, Path.Combine(Folder, $"before-schema-{scripts[^1].Number}.db"));
        foreach (var (name, number) in scripts)
        {
            if (number <= present)
                continue;
            using var reader = new StreamReader(assembly.GetManifestResourceStream(name)!);
            using var transaction = connection.BeginTransaction();
            connection.Execute(reader.ReadToEnd(), transaction: transaction);
            connection.Execute($"pragma user_version = {number};", transaction: transaction);
            transaction.Commit();
        }
    }

    /// <summary>A whole copy of the database as it is at one instant, while others go on writing.</summary>
    internal static void Copy(SqliteConnection source, string file)
    {
        File.Delete(file);
        MakeFile(file);
        using (var target = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = file, Pooling = false }.ToString()))
        {
            target.Open();
            source.BackupDatabase(target);
        }
    }

    /// <summary>Makes an empty file that only its owner reads, before anything is in it.</summary>
    internal static void MakeFile(string file)
    {
        var options = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        new FileStream(file, options).Dispose();
    }

    public void Dispose()
    {
        // Pooled connections keep the file open.
        using (var connection = new SqliteConnection(connectionString))
            SqliteConnection.ClearPool(connection);
        ownership?.Dispose();
    }
}
