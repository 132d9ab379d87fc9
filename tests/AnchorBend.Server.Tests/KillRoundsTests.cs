using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using AnchorBend.Server.Maintenance;
using Dapper;
using Microsoft.Data.Sqlite;

namespace AnchorBend.Server.Tests;

/// <summary>
/// The process is killed at random moments while several users edit, undo, import, run, keep runs, study and discard, and while it
/// starts and migrates. After each kill the folder is well and holds all that was answered for. ANCHOR_BEND_KILLS says how many kills,
/// else five.
/// </summary>
public sealed class KillRoundsTests(Xunit.Abstractions.ITestOutputHelper output) : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-kills-").FullName;
    readonly Ledger ledger = new();
    Process? process;

    string Data => Path.Combine(folder, "data");

    public void Dispose()
    {
        process?.Kill(true);
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
    }

    Process Begin()
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true };
        start.ArgumentList.Add(Path.Combine(AppContext.BaseDirectory, "AnchorBend.Server.dll"));
        foreach (var argument in new[] { "--urls", "http://127.0.0.1:0", "--data", Data })
            start.ArgumentList.Add(argument);
        return process = Process.Start(start)!;
    }

    async Task<HttpClient> Ready()
    {
        string? line;
        do line = await process!.StandardOutput.ReadLineAsync();
        while (line is not null && !line.Contains("ready at", StringComparison.Ordinal));
        Assert.NotNull(line);
        return new HttpClient { BaseAddress = new Uri(line[line.IndexOf("http", StringComparison.Ordinal)..].Trim()) };
    }

    async Task Kill()
    {
        process!.Kill(true);
        await process.WaitForExitAsync();
    }

    /// <summary>Takes the database back to the form of the version before, so that the next start migrates it.</summary>
    void BackToTheFormBefore()
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(Data, "anchor-bend.db")};Pooling=false");
        connection.Open();
        connection.Execute("drop table if exists kept_sizes; pragma user_version = 14;");
    }

    [Fact]
    public async Task Whenever_it_is_killed_all_that_was_answered_is_there()
    {
        var kills = int.Parse(Environment.GetEnvironmentVariable("ANCHOR_BEND_KILLS") ?? "5");
        var seed = int.Parse(Environment.GetEnvironmentVariable("ANCHOR_BEND_SEED") ?? "1");
        var random = new Random(seed);
        for (var kill = 0; kill < kills; kill++)
        {
            if (kill % 5 == 4)
            {
                // In the middle of a start, which migrates.
                BackToTheFormBefore();
                Begin();
                await Task.Delay(random.Next(50, 900));
                await Kill();
            }

            Begin();
            using (var client = await Ready())
            {
                var told = await ledger.Missing(client, kill % 25 == 24);
                Assert.True(told.Count == 0, $"seed {seed}, kill {kill}: {string.Join("; ", told)}");
                var users = Enumerable
                    .Range(0, 4)
                    .Select(u => new KilledUser(client, ledger, u == 0, new Random(seed * 100_000 + kill * 10 + u)))
                    .ToList();
                var work = users.Select(u => Task.Run(u.Work)).ToList();
                // Mostly in the middle of work, which begins late on a busy machine.
                if (random.Next(4) > 0)
                    await Task.WhenAny(ledger.Next(), Task.WhenAll(work));
                await Task.Delay(random.Next(0, 1500));
                await Kill();
                await Task.WhenAll(work);
            }

            using var said = new StringWriter();
            Assert.True(DataCommands.Run(["doctor", "--data", Data], said, said) == 0, $"seed {seed}, kill {kill}: {said}");
        }

        Begin();
        using (var client = await Ready())
            Assert.Empty(await ledger.Missing(client, true));
        output.WriteLine($"{kills} kills; {ledger}");
        Assert.True(ledger.Answered >= kills, "hardly anything was done");
    }
}

/// <summary>What the server has answered for, and what may have been done without an answer.</summary>
sealed class Ledger
{
    readonly Lock guard = new();
    readonly Dictionary<string, (long Revision, bool Pending)> models = [];
    readonly Dictionary<string, (string Run, string Name)> pinned = [];
    readonly HashSet<string> meshes = [];
    readonly HashSet<string> touched = [];
    readonly Dictionary<string, HashSet<long>> checkpoints = [];
    readonly Dictionary<string, int> rows = [];

    TaskCompletionSource next = new(TaskCreationOptions.RunContinuationsAsynchronously);

    public long Answered { get; private set; }

    public void Edited(string model, long revision) =>
        Note(() =>
        {
            models[model] = (revision, false);
            touched.Add(model);
        });

    /// <summary>What is asked for now may be done even where no answer comes.</summary>
    public void Asked(string model)
    {
        lock (guard)
            models[model] = (models[model].Revision, true);
    }

    public void Pinned(string run, string name) => Note(() => pinned[run] = (run, name));

    public void Took(string mesh) => Note(() => meshes.Add(mesh));

    public void Kept(string model, long checkpoint) =>
        Note(() => (checkpoints.TryGetValue(model, out var c) ? c : checkpoints[model] = []).Add(checkpoint));

    public void Rows(string study, int done) => Note(() => rows[study] = Math.Max(done, rows.GetValueOrDefault(study)));

    /// <summary>The next answer.</summary>
    public Task Next()
    {
        lock (guard)
            return next.Task;
    }

    void Note(Action note)
    {
        lock (guard)
        {
            note();
            Answered++;
            next.TrySetResult();
            next = new(TaskCreationOptions.RunContinuationsAsynchronously);
        }
    }

    /// <summary>What is not as it was answered; afterwards the ledger stands as the server does.</summary>
    /// <param name="all">Whether models are looked at that nothing was done with since the last time.</param>
    public async Task<List<string>> Missing(HttpClient client, bool all)
    {
        var missing = new List<string>();
        var looked = all ? [.. models.Keys] : touched.ToList();
        touched.Clear();
        foreach (var id in looked)
        {
            var (revision, pending) = models[id];
            var opened = await client.GetFromJsonAsync<JsonElement>($"/api/models/{id}");
            var now = opened.GetProperty("revision").GetInt64();
            if (now < revision || now > revision + (pending ? 1 : 0))
                missing.Add($"model {id} is at {now}, not {revision}");
            models[id] = (now, false);
        }

        foreach (var (run, name) in pinned.Values.ToList())
        {
            var answer = await client.GetAsync($"/api/runs/{run}/traces?signal=tank.y&width=10");
            if (answer.StatusCode != HttpStatusCode.OK)
                missing.Add($"run {run} ({name}) answers {answer.StatusCode}");
        }

        foreach (var mesh in meshes)
            if ((await client.GetAsync($"/api/meshes/{mesh}")).StatusCode != HttpStatusCode.OK)
                missing.Add($"mesh {mesh}");
        foreach (var (model, kept) in checkpoints)
        {
            var history = await client.GetFromJsonAsync<JsonElement>($"/api/models/{model}/history");
            var there = history.GetProperty("checkpoints").EnumerateArray().Select(c => c.GetProperty("revision").GetInt64()).ToList();
            missing.AddRange(kept.Except(there).Select(r => $"checkpoint {r} of model {model}"));
        }

        foreach (var (study, done) in rows.ToList())
        {
            var now = (await client.GetFromJsonAsync<JsonElement>($"/api/studies/{study}")).GetProperty("rows").EnumerateArray().ToList();
            var numbers = now.Select(r => r.GetProperty("row").GetInt32()).ToList();
            if (numbers.Count < done || numbers.Distinct().Count() != numbers.Count)
                missing.Add($"study {study} has {numbers.Count} rows ({numbers.Distinct().Count()} different), not {done}");
        }

        return missing;
    }

    public override string ToString() =>
        $"{Answered} answers: {models.Count} models, {models.Values.Sum(m => m.Revision)} revisions, {pinned.Count} kept runs, "
        + $"{meshes.Count} meshes, {checkpoints.Values.Sum(c => c.Count)} checkpoints, {rows.Values.Sum()} rows of {rows.Count} studies";
}

/// <summary>Does at random what users do, with a model of its own, until the server is gone.</summary>
/// <param name="runs">Whether it works on a model that runs, and keeps runs; else it only edits, and does so much faster.</param>
sealed class KilledUser(HttpClient client, Ledger ledger, bool runs, Random random)
{
    string model = "";
    long revision;
    string? run;

    public async Task Work()
    {
        try
        {
            await Open();
            while (true)
            {
                switch (random.Next(20))
                {
                    case < 9:
                        await Change("edits", EditBody());
                        break;
                    case < 12:
                        await Change("undo", new { basis = revision, client = "t" });
                        break;
                    case < 14 when runs:
                        await Run();
                        break;
                    case < 16 when runs:
                        await Keep();
                        break;
                    case 16:
                        await Mesh();
                        break;
                    case 17:
                        await Checkpoint();
                        break;
                    case 18 when runs:
                        await Study();
                        break;
                    default:
                        await Discard();
                        break;
                }
            }
        }
        catch (Exception e) when (e is HttpRequestException { StatusCode: null } or IOException or TaskCanceledException)
        {
            // The process is gone.
        }
    }

    async Task<JsonElement> Post(string path, object body)
    {
        var answer = await client.PostAsJsonAsync(path, body);
        var text = await answer.Content.ReadAsStringAsync();
        // Nothing of all this is wrong; what is refused is a fault.
        Assert.True(answer.IsSuccessStatusCode, $"{path}: {answer.StatusCode} {text}");
        return text.Length == 0 ? default : JsonSerializer.Deserialize<JsonElement>(text);
    }

    async Task Open()
    {
        if (!runs)
        {
            model = await client.Create();
            ledger.Edited(model, 0);
            return;
        }

        var example = (await Post("/api/models", new { example = "hatchery-tank" })).GetProperty("id").GetString()!;
        var document = (await client.GetFromJsonAsync<JsonElement>($"/api/models/{example}")).GetProperty("document");
        model = (await Post("/api/models", new { document })).GetProperty("id").GetString()!;
        ledger.Edited(model, revision);
    }

    object EditBody() =>
        new
        {
            basis = revision,
            label = "edit",
            client = "t",
            operations = new[]
            {
                random.Next(2) == 0
                    ? TestServer.Add($"p{random.Next(1_000_000_000)}", "Gain", $"G{random.Next(1_000_000_000)}")
                    : TestServer.Replace("/definitions/main/name", $"n{random.Next()}"),
            },
        };

    async Task Change(string what, object body)
    {
        if (what == "undo" && revision == 0)
            return;
        ledger.Asked(model);
        var answer = await client.PostAsJsonAsync($"/api/models/{model}/{what}", body);
        // There may be nothing left to undo.
        if (answer.StatusCode == HttpStatusCode.Conflict && what == "undo")
            return;
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        revision = (await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("revision").GetInt64();
        ledger.Edited(model, revision);
    }

    async Task Run() => run = (await Post($"/api/models/{model}/runs", new { })).GetProperty("id").GetString();

    async Task Keep()
    {
        if (run is null)
            return;
        var state = await client.GetFromJsonAsync<JsonElement>($"/api/runs/{run}?wait=true");
        if (state.GetProperty("state").GetString() != "finished")
            return;
        var name = $"kept {random.Next()}";
        var answer = await client.PutAsJsonAsync(
            $"/api/runs/{run}/label",
            new
            {
                name,
                note = "",
                isPinned = true,
            }
        );
        if (answer.IsSuccessStatusCode)
            ledger.Pinned(run, name);
        run = null;
    }

    /// <summary>A plate of one triangle, of a height of its own, as a text of the format for meshes.</summary>
    async Task Mesh()
    {
        var text = $"""
            solid plate
            facet normal 0 0 1
            outer loop
            vertex 0 0 {random.NextDouble():R}
            vertex 1 0 0
            vertex 0 1 0
            endloop
            endfacet
            endsolid plate
            """;
        var content = new ByteArrayContent(Encoding.ASCII.GetBytes(text));
        content.Headers.ContentType = new("application/octet-stream");
        var answer = await client.PostAsync("/api/meshes?name=plate.stl", content);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        ledger.Took((await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("hash").GetString()!);
    }

    async Task Checkpoint()
    {
        var name = $"point {random.Next()}";
        var answer = await client.PostAsJsonAsync($"/api/models/{model}/checkpoints", new { revision, name });
        if (answer.IsSuccessStatusCode)
            ledger.Kept(model, revision);
    }

    async Task Study()
    {
        var winch = (await Post("/api/models", new { example = "plankton-winch" })).GetProperty("id").GetString()!;
        var study = (await Post($"/api/models/{winch}/studies/mass/runs", new { })).GetProperty("id").GetString()!;
        for (var look = 0; look < 5; look++)
            ledger.Rows(study, (await client.GetFromJsonAsync<JsonElement>($"/api/studies/{study}")).GetProperty("rows").GetArrayLength());
    }

    async Task Discard()
    {
        await Post($"/api/models/{model}/trash", new { });
        var answer = await client.DeleteAsync($"/api/models/{model}/trash");
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
    }
}
