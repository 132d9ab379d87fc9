using System.Diagnostics;
using System.Net.Http.Json;
using AnchorBend.Server.Storage;
using Dapper;
using Microsoft.Data.Sqlite;

namespace AnchorBend.Server.Tests;

/// <summary>What stands in the way of a start is one clear line on the console; what breaks later is a 503 with its reason.</summary>
public sealed class StartupTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-start-").FullName;
    readonly List<Process> started = [];

    public void Dispose()
    {
        foreach (var process in started.Where(p => !p.HasExited))
            process.Kill(true);
        foreach (var process in started)
            process.WaitForExit();
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
    }

    Process Launch(params string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true };
        start.ArgumentList.Add(Path.Combine(AppContext.BaseDirectory, "AnchorBend.Server.dll"));
        foreach (var argument in arguments)
            start.ArgumentList.Add(argument);
        var process = Process.Start(start)!;
        started.Add(process);
        return process;
    }

    async Task<HttpClient> Start()
    {
        var process = Launch("--port", "0", "--data", folder);
        string? line;
        do line = await process.StandardOutput.ReadLineAsync();
        while (line is not null && !line.Contains("ready at", StringComparison.Ordinal));
        Assert.True(line is not null, line is null ? await process.StandardError.ReadToEndAsync() : "");
        return new HttpClient { BaseAddress = new Uri(line![line!.IndexOf("http", StringComparison.Ordinal)..].Trim()) };
    }

    /// <summary>The one line that a start which fails leaves.</summary>
    async Task<string> Refused(params string[] arguments)
    {
        var process = Launch(arguments);
        var (output, error) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        await process.WaitForExitAsync().WaitAsync(TimeSpan.FromSeconds(120));
        Assert.Equal(1, process.ExitCode);
        await output;
        var line = (await error).Trim();
        Assert.DoesNotContain("   at ", line, StringComparison.Ordinal);
        Assert.StartsWith("Anchor Bend cannot start.", line, StringComparison.Ordinal);
        return line;
    }

    string DatabaseFile => Path.Combine(folder, "anchor-bend.db");

    void Execute(string sql)
    {
        using var connection = new SqliteConnection($"Data Source={DatabaseFile};Pooling=false");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        command.ExecuteNonQuery();
    }

    [Theory]
    [InlineData("--urls", "http://0.0.0.0:5000", "say by which name")]
    [InlineData("--urls", "http://*:5000", "say by which name")]
    [InlineData("--urls", "http://127.0.0.1:0;http://192.168.1.5:80", "192.168.1.5")]
    [InlineData("--behind-proxy", "true", "say by which name")]
    [InlineData("--port", "99999", "is no port")]
    [InlineData("--port", "abc", "is no port")]
    public async Task Addresses_of_the_network_and_ports_that_are_none_are_refused(string option, string value, string expected) =>
        Assert.Contains(expected, await Refused(option, value, "--data", folder), StringComparison.Ordinal);

    [Fact]
    public async Task Passwords_are_not_sent_in_the_open() =>
        Assert.Contains(
            "would send passwords in the open",
            await Refused("--urls", "http://0.0.0.0:5000", "--host", "bench.example", "--data", folder),
            StringComparison.Ordinal
        );

    [Fact]
    public async Task Encryption_needs_a_certificate_that_is_there()
    {
        string[] others = ["--urls", "https://0.0.0.0:5000", "--host", "bench.example", "--data", folder];
        Assert.Contains("needs a certificate", await Refused(others), StringComparison.Ordinal);
        Assert.Contains("no file /nowhere.pem", await Refused([.. others, "--certificate", "/nowhere.pem"]), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_server_with_a_certificate_serves_over_it()
    {
        using var key = System.Security.Cryptography.RSA.Create(2048);
        var request = new System.Security.Cryptography.X509Certificates.CertificateRequest(
            "CN=bench.example",
            key,
            System.Security.Cryptography.HashAlgorithmName.SHA256,
            System.Security.Cryptography.RSASignaturePadding.Pkcs1
        );
        using var made = request.CreateSelfSigned(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow.AddDays(1));
        var (certificate, secret) = (Path.Combine(folder, "cert.pem"), Path.Combine(folder, "key.pem"));
        File.WriteAllText(certificate, made.ExportCertificatePem());
        File.WriteAllText(secret, key.ExportPkcs8PrivateKeyPem());
        var process = Launch([
            "--urls",
            "https://127.0.0.1:0",
            "--certificate",
            certificate,
            "--certificate-key",
            secret,
            "--data",
            folder,
            "--sign-in",
            "true",
        ]);
        string? line;
        do line = await process.StandardOutput.ReadLineAsync();
        while (line is not null && !line.Contains("ready at", StringComparison.Ordinal));
        var address = line![line!.IndexOf("http", StringComparison.Ordinal)..].Trim();
        using var handler = new HttpClientHandler
        {
            ServerCertificateCustomValidationCallback = (_, c, _, _) => c!.Subject == "CN=bench.example",
        };
        using var client = new HttpClient(handler) { BaseAddress = new Uri(address) };
        var answer = await client.GetAsync("/api/me");
        Assert.True(answer.IsSuccessStatusCode);
        Assert.NotEmpty(answer.Headers.GetValues("Strict-Transport-Security"));
    }

    [Fact]
    public async Task A_server_that_serves_others_prints_a_code_for_the_first_of_them()
    {
        var process = Launch("--port", "0", "--sign-in", "true", "--data", folder);
        string? line;
        do line = await process.StandardOutput.ReadLineAsync();
        while (line is not null && !line.Contains("code", StringComparison.Ordinal));
        Assert.Matches("with this code: ([A-Z2-9]{4}-){3}[A-Z2-9]{4}$", line);
    }

    [Fact]
    public async Task A_port_in_use_is_told()
    {
        using var client = await Start();
        Assert.Contains(
            "in use",
            await Refused("--port", $"{client.BaseAddress!.Port}", "--data", folder + "/other"),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_second_server_on_one_folder_is_refused()
    {
        using var client = await Start();
        Assert.Contains("Another server uses the folder", await Refused("--port", "0", "--data", folder), StringComparison.Ordinal);
        await client.GetStringAsync("/api/models");
    }

    [Fact]
    public async Task A_database_of_a_later_version_is_not_opened()
    {
        Execute("create table t(x); pragma user_version = 99;");
        Assert.Contains("later version", await Refused("--port", "0", "--data", folder), StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_empty_database_file_is_not_filled_with_examples()
    {
        File.WriteAllBytes(DatabaseFile, []);
        Assert.Contains("is empty", await Refused("--port", "0", "--data", folder), StringComparison.Ordinal);
        Assert.Equal(0, new FileInfo(DatabaseFile).Length);
    }

    [Fact]
    public async Task A_damaged_database_is_told()
    {
        File.WriteAllText(DatabaseFile, new string('x', 8192));
        Assert.Contains("damaged", await Refused("--port", "0", "--data", folder), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_locked_database_is_a_503_with_the_reason_and_no_edit_is_lost()
    {
        using var client = await Start();
        var id = await client.Create();
        using (var connection = new SqliteConnection($"Data Source={DatabaseFile};Pooling=false"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "begin exclusive;";
            command.ExecuteNonQuery();
            var watch = Stopwatch.StartNew();
            var (status, problem) = await client.Edit(id, 0, TestServer.Add("a", "Gain", "A"));
            Assert.Equal(System.Net.HttpStatusCode.ServiceUnavailable, status);
            Assert.Contains("another program holds the database", problem.GetProperty("detail").GetString()!, StringComparison.Ordinal);
            Assert.True(watch.Elapsed < TimeSpan.FromSeconds(10), $"{watch.Elapsed}");
        }

        Assert.Equal(System.Net.HttpStatusCode.OK, (await client.Edit(id, 0, TestServer.Add("a", "Gain", "A"))).Status);
    }

    [Fact]
    public async Task Writers_of_one_server_take_turns_however_slow_the_disk_is()
    {
        using var database = new Database(folder);
        database.Write(c => c.Execute("create table marks (n integer)"));
        // Each holds the file for a third of a second, all together for longer than anybody waits for another program.
        // Threads of their own: the pool would start two at a time on a small machine.
        await Task.WhenAll(
            Enumerable
                .Range(0, 8)
                .Select(n =>
                    Task.Factory.StartNew(
                        () =>
                            database.Write(c =>
                            {
                                using var transaction = c.BeginTransaction();
                                c.Execute("insert into marks values (@n)", new { n }, transaction);
                                Thread.Sleep(300);
                                transaction.Commit();
                                return n;
                            }),
                        CancellationToken.None,
                        TaskCreationOptions.LongRunning,
                        TaskScheduler.Default
                    )
                )
        );
        using var connection = database.Open();
        Assert.Equal(Enumerable.Range(0, 8), connection.Query<int>("select n from marks order by n"));
    }

    [Fact]
    public async Task Only_the_owner_reads_models_and_traces_and_what_a_killed_server_left_is_swept()
    {
        var traces = Path.Combine(folder, "traces");
        Directory.CreateDirectory(traces);
        File.WriteAllText(Path.Combine(traces, "anchor-bend-1-left.trace"), "left");
        using var client = await Start();
        Assert.Empty(Directory.GetFiles(traces));
        if (OperatingSystem.IsWindows())
            return;
        const UnixFileMode others = UnixFileMode.GroupRead | UnixFileMode.GroupWrite | UnixFileMode.OtherRead | UnixFileMode.OtherWrite;
        Assert.Equal(UnixFileMode.None, File.GetUnixFileMode(traces) & others);
        foreach (var file in Directory.GetFiles(folder, "anchor-bend.db*"))
            Assert.Equal(UnixFileMode.None, File.GetUnixFileMode(file) & others);
    }
}
