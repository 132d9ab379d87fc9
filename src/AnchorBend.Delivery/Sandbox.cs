using System.Diagnostics;

namespace AnchorBend.Delivery;

/// <summary>
/// How native code is started: without network, without files of this machine but its own folder, without rights, with limits on memory,
/// processes and files. Where the machine has no program for that, with the limits alone.
/// </summary>
public static class Sandbox
{
    const string Inside = "/job";

    /// <summary>Half a gigabyte is far more than units and controllers take; they keep no core and write next to nothing. Processes are
    /// counted for all units of all runs together, as they are nobody's.</summary>
    static readonly string[] Limits = ["prlimit", "--as=536870912", "--core=0", "--nofile=64", "--nproc=512", "--fsize=1048576", "--"];

    static readonly string[] Walls =
    [
        "bwrap",
        "--unshare-all",
        "--unshare-user",
        "--die-with-parent",
        "--new-session",
        "--clearenv",
        "--setenv",
        "PATH",
        "/usr/bin",
        "--ro-bind",
        "/usr",
        "/usr",
        "--symlink",
        "usr/lib",
        "/lib",
        "--symlink",
        "usr/lib64",
        "/lib64",
        "--symlink",
        "usr/bin",
        "/bin",
        "--proc",
        "/proc",
        "--dev",
        "/dev",
        "--tmpfs",
        "/tmp",
        "--cap-drop",
        "ALL",
    ];

    /// <summary>Root ignores limits on processes, so it becomes nobody first.</summary>
    static string[] Nobody => Environment.UserName == "root" ? ["setpriv", "--reuid=65534", "--regid=65534", "--clear-groups", "--"] : [];

    static readonly Lazy<bool> Walled = new(HoldsHere);

    /// <summary>Tried once, with a folder such as programs get: it may lie where nobody can read.</summary>
    static bool HoldsHere()
    {
        var folder = Folder("walls-");
        try
        {
            File.WriteAllText(Path.Combine(folder, "probe"), "");
            return Works([.. Nobody, .. Walls, "--ro-bind", folder, Inside, "/usr/bin/test", "-r", Inside + "/probe"]);
        }
        finally
        {
            Directory.Delete(folder, true);
        }
    }

    /// <summary>Whether programs have walls around them, and not limits alone.</summary>
    public static bool HasWalls => Walled.Value;

    static bool Works(string[] command)
    {
        try
        {
            var start = new ProcessStartInfo(command[0]) { RedirectStandardError = true, RedirectStandardOutput = true };
            foreach (var argument in command.Skip(1))
                start.ArgumentList.Add(argument);
            using var process = Process.Start(start)!;
            return process.WaitForExit(5000) && process.ExitCode == 0;
        }
        catch (System.ComponentModel.Win32Exception)
        {
            return false;
        }
    }

    /// <summary>What starts a program of a folder, which others must be able to read.</summary>
    /// <param name="command">Gives the program and what it is told, from how files of the folder are called there.</param>
    public static IReadOnlyList<string> Command(string folder, Func<Func<string, string>, IReadOnlyList<string>> command)
    {
        string Placed(string name) => Path.Combine(HasWalls ? Inside : folder, name);
        return HasWalls
            ? [.. Nobody, .. Walls, "--ro-bind", folder, Inside, "--chdir", Inside, .. Limits, .. command(Placed)]
            : [.. Limits, .. command(Placed)];
    }

    /// <summary>A folder whose files programs behind walls can read.</summary>
    public static string Folder(string prefix)
    {
        var folder = Directory.CreateTempSubdirectory(prefix).FullName;
        if (!OperatingSystem.IsWindows())
            File.SetUnixFileMode(folder, (UnixFileMode)0b111_101_101);
        return folder;
    }
}
