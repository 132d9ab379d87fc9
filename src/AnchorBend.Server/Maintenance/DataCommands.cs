using AnchorBend.Server.Security;
using Microsoft.Data.Sqlite;

namespace AnchorBend.Server.Maintenance;

/// <summary>What is done with a data folder from the command line: look it over, mend it, copy it, put a copy back.</summary>
public static class DataCommands
{
    const string Usage = """
        anchor-bend doctor [--data DIR] [--repair]   looks a data folder over; mends what can be mended from the log
        anchor-bend backup FILE [--data DIR]         writes a copy of all models and kept runs, also while the server runs
        anchor-bend restore FILE --data DIR          makes a data folder from such a copy; there must be none yet
        """;

    public static bool Asked(string[] args) => args is ["doctor" or "backup" or "restore", ..];

    /// <returns>0 where all is well, 1 where something is wrong with the data, 2 where it is not understood.</returns>
    public static int Run(string[] args, TextWriter output, TextWriter error)
    {
        var data = Option(args, "--data") ?? Path.Combine(Environment.CurrentDirectory, "data");
        var rest = args.Skip(1).Where((a, i) => !a.StartsWith("--", StringComparison.Ordinal) && args[i] != "--data").ToList();
        try
        {
            switch (args[0], rest)
            {
                case ("doctor", []):
                    return Look(data, args.Contains("--repair"), output);
                case ("backup", [var file]):
                    Backup.Write(data, file);
                    output.WriteLine($"{Path.GetFullPath(file)} holds all models and kept runs of {data}.");
                    return 0;
                case ("restore", [var file]) when Option(args, "--data") is not null:
                    Backup.Restore(file, data);
                    output.WriteLine($"{data} is as it was copied. Start the server with --data {data}.");
                    return 0;
                default:
                    error.WriteLine(Usage);
                    return 2;
            }
        }
        catch (Exception e) when (e is StartupException or IOException or UnauthorizedAccessException or InvalidDataException)
        {
            error.WriteLine(e.Message);
            return 1;
        }
        catch (SqliteException e)
        {
            error.WriteLine($"The database in {data} cannot be used: {Startup.StorageProblem(e)}");
            return 1;
        }
    }

    static int Look(string data, bool repairs, TextWriter output)
    {
        var complaints = repairs ? Doctor.Repair(data, output) : Doctor.Check(data);
        foreach (var complaint in complaints)
            output.WriteLine($"{complaint.About}: {complaint.What}{(complaint.CanRepair ? " Can be mended with --repair." : "")}");
        output.WriteLine(
            complaints.Count == 0 ? "All is well." : $"{complaints.Count} {(complaints.Count == 1 ? "thing is" : "things are")} wrong."
        );
        return complaints.Count == 0 ? 0 : 1;
    }

    static string? Option(string[] args, string name) =>
        Array.IndexOf(args, name) is >= 0 and var at && at + 1 < args.Length ? args[at + 1] : null;
}
