using System.Collections.Concurrent;
using System.Diagnostics;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace AnchorBend.Browser.Tests;

/// <summary>The real application on a database of its own, as <c>./start</c> runs it.</summary>
public class Application : IAsyncLifetime
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-browser-").FullName;
    static readonly string Profiles = Directory.CreateTempSubdirectory("anchor-bend-chromium-").FullName;
    static int browsers;
    readonly ConcurrentQueue<string> said = new();
    Process? server;

    public string Address { get; private set; } = "";

    /// <summary>What it is started with beside its address and folder.</summary>
    protected virtual IEnumerable<string> Options => [];

    /// <summary>Lines that it has written.</summary>
    protected IEnumerable<string> Said => said;

    /// <summary>What the server said when it is not running any more; null while it runs.</summary>
    public string? Ended =>
        server is { HasExited: true } ? $"The server ended with code {server.ExitCode}:\n{string.Join('\n', said)}" : null;

    public async Task InitializeAsync()
    {
        var root = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(root, "AnchorBend.slnx")))
            root = Path.GetDirectoryName(root)!;
        var built = Path.Combine(root, ".build", "server", "AnchorBend.Server.dll");
        if (!File.Exists(built))
            throw new InvalidOperationException("The application is not built; run ./test, or scripts/build server first.");
        var start = new ProcessStartInfo("dotnet")
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = folder,
        };
        foreach (var argument in (string[])[built, "--urls", "http://127.0.0.1:0", "--data", folder, .. Options])
            start.ArgumentList.Add(argument);
        server = new Process { StartInfo = start };
        var ready = new TaskCompletionSource<string>(TaskCreationOptions.RunContinuationsAsynchronously);
        // Read to the end: a server whose output nobody takes stops when the pipe is full.
        void Heard(string? line)
        {
            if (line is null)
                return;
            said.Enqueue(line);
            if (line.Contains("ready at", StringComparison.Ordinal))
                ready.TrySetResult(line[line.IndexOf("http", StringComparison.Ordinal)..].Trim());
        }

        server.OutputDataReceived += (_, e) => Heard(e.Data);
        server.ErrorDataReceived += (_, e) => Heard(e.Data);
        server.Start();
        server.BeginOutputReadLine();
        server.BeginErrorReadLine();
        var ended = server.WaitForExitAsync();
        if (await Task.WhenAny(ready.Task, ended) == ended)
            throw new InvalidOperationException($"The server did not start. {Ended}");
        Address = await ready.Task;
    }

    public async Task DisposeAsync()
    {
        if (server is not null)
        {
            server.Kill(true);
            await server.WaitForExitAsync();
        }

        Directory.Delete(folder, true);
        Remove(Profiles);
    }

    static void Remove(string profile)
    {
        try
        {
            Directory.Delete(profile, true);
        }
        catch (IOException)
        {
            // A browser that was just closed may still write; what is left is only in the way.
        }
    }

    /// <summary>A folder of its own for a browser.</summary>
    public static string NewProfile() => Path.Combine(Profiles, $"{Interlocked.Increment(ref browsers)}");

    /// <summary>Ends a browser and takes its folder away: thirty of them would fill a small disk.</summary>
    public static void Close(ChromeDriver browser, string profile)
    {
        browser.Quit();
        browser.Dispose();
        Remove(profile);
    }

    /// <summary>A fresh browser without a window.</summary>
    /// <param name="profile">A folder for what it keeps, made by it.</param>
    public static ChromeDriver Browser(string profile)
    {
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless=new",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--disable-dev-shm-usage",
            "--window-size=1280,940",
            $"--user-data-dir={profile}"
        );
        options.SetLoggingPreference(LogType.Browser, LogLevel.All);
        return new ChromeDriver(ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver"), options, TimeSpan.FromSeconds(120));
    }
}

/// <summary>The application as it serves whom it knows.</summary>
public sealed class GuardedApplication : Application
{
    protected override IEnumerable<string> Options => ["--sign-in", "true"];

    /// <summary>The code for the first administrator, from the console.</summary>
    public string Code => Said.First(l => l.Contains("this code:", StringComparison.Ordinal)).Split(' ')[^1];
}

[CollectionDefinition("application")]
public sealed class ApplicationCollection : ICollectionFixture<Application>;
