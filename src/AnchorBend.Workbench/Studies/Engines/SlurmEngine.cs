using System.ComponentModel;
using System.Diagnostics;
using System.Globalization;

namespace AnchorBend.Workbench.Studies.Engines;

/// <summary>
/// Runs rows on a cluster that the workload manager Slurm looks after: a job array with a task for each chunk of rows. Tasks whose node
/// dies are queued again by the manager; what is missing when no task is left is submitted once more. Results are collected as files
/// appear, so it does not matter who ran a chunk, or how often.
/// </summary>
/// <param name="folder">With the package, seen by all nodes.</param>
/// <param name="worker">The command that runs a chunk on a node, up to its number.</param>
/// <param name="told">Told in words how far it is.</param>
public sealed class SlurmEngine(StudyPackage package, string folder, IReadOnlyList<string> worker, Action<string>? told = null)
    : IStudyEngine
{
    /// <summary>How often what is missing is submitted before it is given up.</summary>
    const int MostRounds = 5;

    static readonly TimeSpan Look = TimeSpan.FromMilliseconds(300),
        Ask = TimeSpan.FromSeconds(3);

    /// <inheritdoc/>
    public void Run(IReadOnlyList<int> rows, Action<StudyResult> done, CancellationToken cancellation)
    {
        var wanted = rows.ToHashSet();
        var open = rows.Select(r => r / package.Chunk).ToHashSet();
        Collect(open, wanted, done);
        for (var round = 0; open.Count > 0; round++)
        {
            if (round == MostRounds)
                throw new EngineException(
                    $"{open.Count} of {package.Chunks} tasks did not end after {MostRounds} attempts. Their words stand in {folder}/log."
                );
            var job = Submit(open);
            told?.Invoke($"job {job}: {open.Count} tasks of {package.Chunk} runs");
            try
            {
                Watch(job, open, wanted, done, cancellation);
            }
            catch (OperationCanceledException)
            {
                Call("scancel", [job]);
                throw;
            }
        }
    }

    void Watch(string job, HashSet<int> open, HashSet<int> wanted, Action<StudyResult> done, CancellationToken cancellation)
    {
        var asked = Stopwatch.StartNew();
        while (open.Count > 0)
        {
            cancellation.WaitHandle.WaitOne(Look);
            cancellation.ThrowIfCancellationRequested();
            if (Collect(open, wanted, done) is > 0 and var count)
                told?.Invoke($"{count} tasks more, {open.Count} open");
            if (asked.Elapsed < Ask || open.Count == 0)
                continue;
            // A task may have ended between the look and the answer.
            if (!IsQueued(job) && Collect(open, wanted, done) == 0)
                return;
            asked.Restart();
        }
    }

    /// <summary>Tells the results of tasks that have ended.</summary>
    /// <returns>How many tasks.</returns>
    int Collect(HashSet<int> open, HashSet<int> wanted, Action<StudyResult> done)
    {
        var ended = 0;
        foreach (var chunk in open.ToList())
            if (StudyPackage.Results(folder, chunk) is { } results)
            {
                open.Remove(chunk);
                ended++;
                foreach (var result in results.Where(r => wanted.Remove(r.Index)))
                    done(result);
            }

        return ended;
    }

    string Submit(IReadOnlyCollection<int> chunks)
    {
        // What the shell of a node reads: every word in quotes.
        var command = string.Join(' ', worker.Select(w => $"'{w.Replace("'", "'\\''", StringComparison.Ordinal)}'"));
        var (code, output, error) = Call(
            "sbatch",
            [
                "--parsable",
                $"--array={Ranges(chunks)}",
                "--requeue",
                "-n1",
                "--open-mode=append",
                $"--job-name=anchor-bend",
                $"--output={Path.Combine(folder, "log", "%a.out")}",
                $"--wrap={command} \"$SLURM_ARRAY_TASK_ID\" || exit 75",
            ]
        );
        return code == 0
            ? output.Trim().Split(';')[0]
            : throw new EngineException($"The workload manager takes no job: {(error.Length > 0 ? error : output).Trim()}");
    }

    /// <summary>Numbers as the manager takes them: <c>0-7,9</c>.</summary>
    internal static string Ranges(IEnumerable<int> numbers)
    {
        var parts = new List<(int From, int To)>();
        foreach (var n in numbers.Order())
            if (parts.Count > 0 && parts[^1].To == n - 1)
                parts[^1] = (parts[^1].From, n);
            else
                parts.Add((n, n));
        return string.Join(
            ',',
            parts.Select(p => p.From == p.To ? $"{p.From}" : string.Create(CultureInfo.InvariantCulture, $"{p.From}-{p.To}"))
        );
    }

    static bool IsQueued(string job)
    {
        var (code, output, _) = Call(
            "squeue",
            ["--noheader", "--jobs", job, "--states=PENDING,RUNNING,CONFIGURING,COMPLETING,REQUEUED,SUSPENDED"]
        );
        return code == 0 && output.Trim().Length > 0;
    }

    static (int Code, string Output, string Error) Call(string program, IReadOnlyList<string> arguments)
    {
        try
        {
            var start = new ProcessStartInfo(program) { RedirectStandardOutput = true, RedirectStandardError = true };
            foreach (var argument in arguments)
                start.ArgumentList.Add(argument);
            using var process = Process.Start(start)!;
            var error = process.StandardError.ReadToEndAsync();
            var output = process.StandardOutput.ReadToEnd();
            process.WaitForExit();
            return (process.ExitCode, output, error.Result);
        }
        catch (Win32Exception)
        {
            throw new EngineException($"'{program}' is not installed here: the cluster's commands are needed to submit a study.");
        }
    }
}
