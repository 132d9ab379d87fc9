using Microsoft.Win32.SafeHandles;

namespace AnchorBend.Simulation.Recording;

/// <summary>Where the files of long traces lie: the folder for temporary files, or one that a server keeps for them alone.</summary>
public static class TraceFolder
{
    const string Pattern = "anchor-bend-*.trace";

    static string folder = Path.GetTempPath();

    /// <summary>Takes a folder of its own, which only its owner can read, and removes what an earlier process left in it.</summary>
    public static void Use(string path)
    {
        if (OperatingSystem.IsWindows())
            Directory.CreateDirectory(path);
        else
        {
            const UnixFileMode owner = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;
            Directory.CreateDirectory(path, owner);
            File.SetUnixFileMode(path, owner);
        }

        folder = path;
        Sweep(path);
    }

    /// <summary>Removes the files of traces in a folder.</summary>
    public static void Sweep(string path)
    {
        if (!Directory.Exists(path))
            return;
        foreach (var file in Directory.GetFiles(path, Pattern))
        {
            try
            {
                File.Delete(file);
            }
            catch (IOException)
            {
                // Another process may be removing it.
            }
        }
    }

    /// <summary>A new file that goes when its handle does.</summary>
    internal static SafeFileHandle CreateFile() =>
        File.OpenHandle(
            Path.Combine(folder, $"anchor-bend-{Environment.ProcessId}-{Guid.NewGuid():N}.trace"),
            FileMode.CreateNew,
            FileAccess.ReadWrite,
            FileShare.None,
            FileOptions.DeleteOnClose
        );
}
