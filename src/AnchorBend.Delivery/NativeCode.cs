using System.Diagnostics;
using System.Globalization;
using AnchorBend.Language;

namespace AnchorBend.Delivery;

/// <summary>What a compiler said to code, and what it has made.</summary>
/// <param name="Messages">Warnings and errors; empty where there are none.</param>
public sealed record CompiledCode(bool Succeeded, string Messages, string Program);

/// <summary>Compiles code on this machine and runs it in a process of its own, with limits on time and memory.</summary>
public static class NativeCode
{
    /// <summary>Warnings are part of what is promised about the code.</summary>
    static readonly string[] Flags =
    [
        "-std=c99",
        "-Wall",
        "-Wextra",
        "-Wconversion",
        "-pedantic",
        // The same operations as in the model: none is joined with another.
        "-ffp-contract=off",
    ];

    static readonly TimeSpan MostCompiling = TimeSpan.FromSeconds(60);

    public static bool HasCompiler => Path("gcc") is not null;

    /// <summary>Whether the machine has a program.</summary>
    public static bool Has(string program) => Path(program) is not null;

    /// <summary>Runs a program that makes or measures code.</summary>
    public static CompiledCode Tool(string program, IEnumerable<string> arguments, string folder, CancellationToken wanted)
    {
        var (code, said) = Run(program, arguments, folder, MostCompiling, wanted);
        return new CompiledCode(code == 0, said, "");
    }

    /// <summary>Whether the static checker with its rules for safe C is here.</summary>
    public static bool HasChecker => Path("cppcheck") is not null;

    /// <summary>Numbers of the rules of MISRA C:2012 that a source does not keep, as the static checker finds them.</summary>
    public static IReadOnlyList<string> RulesMissed(string folder, string source, CancellationToken wanted)
    {
        var (_, said) = Run("cppcheck", ["--addon=misra", "--std=c99", "--enable=style", source], folder, MostCompiling, wanted);
        return [.. System.Text.RegularExpressions.Regex.Matches(said, @"misra-c2012-([0-9.]+)").Select(m => m.Groups[1].Value).Distinct()];
    }

    static string? Path(string program) =>
        (Environment.GetEnvironmentVariable("PATH") ?? "")
            .Split(':')
            .Select(p => System.IO.Path.Combine(p, program))
            .FirstOrDefault(File.Exists);

    /// <param name="folder">Holds the files; what is made goes there too.</param>
    /// <param name="counts">Whether the program counts how often each line of the source runs.</param>
    public static CompiledCode Compile(string folder, string source, string host, bool counts, CancellationToken wanted)
    {
        var name = System.IO.Path.ChangeExtension(source, counts ? ".counted.o" : ".o");
        string[] how = counts ? ["-O0", "--coverage", "-dumpbase", System.IO.Path.ChangeExtension(source, null)] : ["-O2", "-fstack-usage"];
        var (code, said) = Run("gcc", [.. Flags, .. how, "-c", "-o", name, source], folder, MostCompiling, wanted);
        var program = System.IO.Path.Combine(folder, counts ? "counting" : "unit");
        if (code != 0)
            return new CompiledCode(false, said, program);
        // The host stands beside the code and is none of it.
        var (linked, rest) = Run(
            "gcc",
            [.. Flags, .. counts ? ["--coverage"] : (string[])[], "-o", program, "-x", "c", "./" + host, "-x", "none", name, "-lm"],
            folder,
            MostCompiling,
            wanted
        );
        return new CompiledCode(linked == 0, string.Join('\n', new[] { said, rest }.Where(t => t.Length > 0)), program);
    }

    /// <summary>Makes a library that others load, with nothing to be seen of it but what is meant to.</summary>
    public static CompiledCode Library(string folder, IEnumerable<string> sources, string name, CancellationToken wanted)
    {
        string[] how = ["-O2", "-shared", "-fPIC", "-fvisibility=hidden", "-Wl,--build-id=none", "-Wl,-z,defs"];
        var (code, said) = Run("gcc", [.. Flags, .. how, "-o", name, .. sources, "-lm"], folder, MostCompiling, wanted);
        return new CompiledCode(code == 0, said, System.IO.Path.Combine(folder, name));
    }

    /// <summary>Makes a program of several sources.</summary>
    public static CompiledCode Program(string folder, IEnumerable<string> sources, string name, CancellationToken wanted)
    {
        var (code, said) = Run("gcc", [.. Flags, "-O2", "-o", name, .. sources, "-lm"], folder, MostCompiling, wanted);
        return new CompiledCode(code == 0, said, System.IO.Path.Combine(folder, name));
    }

    /// <summary>Runs a program with bytes for it on a file, and what it writes on another.</summary>
    /// <exception cref="DeliveryException">It did not end well.</exception>
    public static void Execute(string program, string folder, string input, string output, TimeSpan limit, CancellationToken wanted)
    {
        // Half a gigabyte is far more than code that allocates nothing needs; no file may outgrow what is asked for.
        string[] arguments =
        [
            "--as=536870912",
            FormattableString.Invariant($"--cpu={(int)Math.Ceiling(limit.TotalSeconds)}"),
            "--core=0",
            "--nofile=16",
            "--",
            program,
            input,
            output,
        ];
        var (code, said) = Run("prlimit", arguments, folder, limit, wanted);
        if (code != 0)
            throw new DeliveryException(
                "code-run",
                string.Create(CultureInfo.InvariantCulture, $"The code ended with {code}. {said}").Trim(),
                "Shorten the run, or look at what the code was given."
            );
    }

    internal static (int Code, string Said) Run(
        string program,
        IEnumerable<string> arguments,
        string folder,
        TimeSpan limit,
        CancellationToken wanted
    )
    {
        var start = new ProcessStartInfo(program)
        {
            WorkingDirectory = folder,
            RedirectStandardError = true,
            RedirectStandardOutput = true,
            RedirectStandardInput = true,
        };
        foreach (var argument in arguments)
            start.ArgumentList.Add(argument);
        start.Environment.Clear();
        start.Environment["PATH"] = "/usr/bin:/bin";
        start.Environment["LC_ALL"] = "C";
        using var process = Process.Start(start) ?? throw new DeliveryException("program", $"'{program}' does not start.", "Install it.");
        process.StandardInput.Close();
        var said = process.StandardError.ReadToEndAsync(wanted);
        var told = process.StandardOutput.ReadToEndAsync(wanted);
        var clock = Stopwatch.StartNew();
        try
        {
            while (!process.WaitForExit(50) && clock.Elapsed < limit)
            {
                // Others get their turn while a program of its own computes.
                WorkBudget.Current.Check();
                wanted.ThrowIfCancellationRequested();
            }

            if (process.HasExited)
                return (process.ExitCode, (told.GetAwaiter().GetResult() + said.GetAwaiter().GetResult()).Trim());
            throw new DeliveryException(
                "code-time",
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"'{System.IO.Path.GetFileName(program)}' took longer than {limit.TotalSeconds:G3} s."
                ),
                "Shorten the run."
            );
        }
        finally
        {
            if (!process.HasExited)
                process.Kill(true);
        }
    }
}
