using System.Reflection;
using Dapper;
using Microsoft.Data.Sqlite;

namespace AnchorBend.Server.Storage;

/// <summary>The SQLite file: connections in WAL mode that sync on every commit, and numbered migrations.</summary>
public sealed class Database
{
    readonly string connectionString;

    public Database(string folder)
    {
        Directory.CreateDirectory(folder);
        connectionString = new SqliteConnectionStringBuilder { DataSource = Path.Combine(folder, "anchor-bend.db"), Pooling = true, ForeignKeys = true }.ToString();
        Migrate();
    }

    public SqliteConnection Open()
    {
        var connection = new SqliteConnection(connectionString);
        connection.Open();
        connection.Execute("pragma busy_timeout = 5000; pragma synchronous = full;");
        return connection;
    }

    void Migrate()
    {
        using var connection = Open();
        connection.Execute("pragma journal_mode = wal;");
        var present = connection.ExecuteScalar<int>("pragma user_version;");
        var assembly = Assembly.GetExecutingAssembly();
        foreach (var name in assembly.GetManifestResourceNames().Where(n => n.EndsWith(".sql", StringComparison.Ordinal)).Order(StringComparer.Ordinal))
        {
            var number = int.Parse(name[..3], System.Globalization.CultureInfo.InvariantCulture);
            if (number <= present) continue;
            using var reader = new StreamReader(assembly.GetManifestResourceStream(name)!);
            using var transaction = connection.BeginTransaction();
            connection.Execute(reader.ReadToEnd(), transaction: transaction);
            connection.Execute($"pragma user_version = {number};", transaction: transaction);
            transaction.Commit();
        }
    }
}
