using System.Diagnostics;

namespace AnchorBend.Cli.Tests;

/// <summary>A test that needs a workload manager; without its programs it is left out, with the reason.</summary>
public sealed class ClusterFactAttribute : FactAttribute
{
    static readonly string[] Needed = ["sbatch", "slurmctld", "slurmd", "munged"];

    public ClusterFactAttribute()
    {
        var folders = (Environment.GetEnvironmentVariable("PATH") + ":/usr/sbin").Split(':');
        if (Needed.FirstOrDefault(n => !folders.Any(f => File.Exists(Path.Combine(f, n)))) is { } missing)
            Skip = $"'{missing}' is not installed: apt-get install slurmctld slurmd slurm-client munge";
    }
}

/// <summary>Studies on a cluster of two nodes that this machine plays.</summary>
public sealed class ClusterTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-cluster-").FullName;

    static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "AnchorBend.slnx")))
            at = Path.GetDirectoryName(at)!;
        return at;
    }

    string Cluster => Path.Combine(folder, "cluster");

    Process Begin(string program, params string[] arguments)
    {
        var start = new ProcessStartInfo(program)
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = folder,
        };
        foreach (var argument in arguments)
            start.ArgumentList.Add(argument);
        start.Environment["SLURM_CONF"] = Path.Combine(Cluster, "slurm.conf");
        return Process.Start(start)!;
    }

    (int Code, string Output, string Error) Run(string program, params string[] arguments)
    {
        using var process = Begin(program, arguments);
        var error = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, output, error.Result);
    }

    Process Sweep(string csv, params string[] more) =>
        Begin(
            "dotnet",
            [
                Path.Combine(AppContext.BaseDirectory, "anchor-bend.dll"),
                "sweep",
                Path.Combine(folder, "lag.mo"),
                "--vary",
                "T=1 s:2 s:24",
                "--measure",
                "last = final(x)",
                "--to",
                "2",
                "--csv",
                csv,
                .. more,
            ]
        );

    public void Dispose()
    {
        Run(Path.Combine(Root(), "scripts", "cluster"), "down", Cluster);
        // A worker that is just ending may still write.
        SpinWait.SpinUntil(Deleted, 10_000);
    }

    bool Deleted()
    {
        try
        {
            Directory.Delete(folder, true);
            return true;
        }
        catch (IOException)
        {
            return false;
        }
    }

    [ClusterFact]
    public void Every_row_is_there_once_though_a_worker_is_killed_and_as_this_machine_has_it()
    {
        File.WriteAllText(
            Path.Combine(folder, "lag.mo"),
            "model M parameter Real T(unit = \"s\") = 1; Real x(start = 1); equation T * der(x) = -x; end M;"
        );
        // The pipe of a program that goes on in the background stays open: what the daemons say is not read.
        using (var up = Process.Start(Path.Combine(Root(), "scripts", "cluster"), ["up", Cluster, "2"]))
            Assert.True(up.WaitForExit(60_000) && up.ExitCode == 0, "the cluster does not come up");
        var (there, here) = (Path.Combine(folder, "there.csv"), Path.Combine(folder, "here.csv"));
        using (var sweep = Sweep(there, "--engine", "slurm", "--chunk", "6", "--resume", Path.Combine(folder, "study")))
        {
            var error = sweep.StandardError.ReadToEndAsync();
            Assert.True(SpinWait.SpinUntil(() => Kill() || sweep.HasExited, 60_000), "no worker to kill");
            Assert.True(sweep.WaitForExit(120_000), "the study does not end");
            Assert.True(sweep.ExitCode == 0, error.Result);
        }

        using (var sweep = Sweep(here))
            Assert.True(sweep.WaitForExit(60_000) && sweep.ExitCode == 0);
        Assert.Equal(File.ReadAllText(here), File.ReadAllText(there));
        Assert.Equal(25, File.ReadAllLines(there).Length);

        // Another study does not go into the same folder.
        using var other = Sweep(there, "--engine", "slurm", "--resume", Path.Combine(folder, "study"));
        Assert.Contains("another study", other.StandardError.ReadToEnd(), StringComparison.Ordinal);
    }

    /// <summary>Kills a worker of this study, if one runs.</summary>
    bool Kill() => Run("pkill", "-9", "-f", $"worker {Path.Combine(folder, "study")}").Code == 0;
}
