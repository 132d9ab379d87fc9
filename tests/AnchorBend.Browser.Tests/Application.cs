using System.Diagnostics;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace AnchorBend.Browser.Tests;

/// <summary>The real application on a database of its own, as <c>./start</c> runs it.</summary>
public sealed class Application : IAsyncLifetime
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-browser-").FullName;
    static readonly string Profiles = Directory.CreateTempSubdirectory("anchor-bend-chromium-").FullName;
    static int browsers;
    Process? server;

    public string Address { get; private set; } = "";

    public async Task InitializeAsync()
    {
        var root = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(root, "AnchorBend.slnx")))
            root = Path.GetDirectoryName(root)!;
        var built = Path.Combine(root, ".build", "server", "AnchorBend.Server.dll");
        if (!File.Exists(built))
            throw new InvalidOperationException("The application is not built; run ./test, or scripts/build server first.");
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true, WorkingDirectory = folder };
        foreach (var argument in new[] { built, "--urls", "http://127.0.0.1:0", "--data", folder })
            start.ArgumentList.Add(argument);
        server = Process.Start(start)!;
        string? line;
        do line = await server.StandardOutput.ReadLineAsync();
        while (line is not null && !line.Contains("ready at", StringComparison.Ordinal));
        Address = line?[line.IndexOf("http", StringComparison.Ordinal)..].Trim()
            ?? throw new InvalidOperationException("The server did not start.");
    }

    public Task DisposeAsync()
    {
        server?.Kill(true);
        server?.WaitForExit();
        Directory.Delete(folder, true);
        try
        {
            Directory.Delete(Profiles, true);
        }
        catch (IOException)
        {
            // A browser that was just closed may still write; what is left is only in the way.
        }

        return Task.CompletedTask;
    }

    /// <summary>A fresh browser without a window.</summary>
    public static ChromeDriver Browser()
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
            $"--user-data-dir={Path.Combine(Profiles, $"{Interlocked.Increment(ref browsers)}")}"
        );
        options.SetLoggingPreference(LogType.Browser, LogLevel.All);
        return new ChromeDriver(ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver"), options, TimeSpan.FromSeconds(60));
    }
}

[CollectionDefinition("application")]
public sealed class ApplicationCollection : ICollectionFixture<Application>;
