using System.Diagnostics;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

public sealed class KilledProcessTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-kill-").FullName;
    readonly List<Process> started = [];

    public void Dispose()
    {
        foreach (var process in started.Where(p => !p.HasExited))
            process.Kill(true);
        Directory.Delete(folder, true);
    }

    async Task<(Process Process, HttpClient Client)> Start()
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true };
        start.ArgumentList.Add(Path.Combine(AppContext.BaseDirectory, "AnchorBend.Server.dll"));
        foreach (var argument in new[] { "--urls", "http://127.0.0.1:0", "--data", folder })
            start.ArgumentList.Add(argument);
        var process = Process.Start(start)!;
        started.Add(process);
        string? line;
        do line = await process.StandardOutput.ReadLineAsync();
        while (line is not null && !line.Contains("ready at", StringComparison.Ordinal));
        Assert.NotNull(line);
        return (process, new HttpClient { BaseAddress = new Uri(line[line.IndexOf("http", StringComparison.Ordinal)..].Trim()) });
    }

    [Fact]
    public async Task No_acknowledged_edit_is_lost_when_the_process_is_killed()
    {
        var (process, client) = await Start();
        var id = (await (await client.PostAsJsonAsync("/api/models", new { name = "Killed" })).Content.ReadFromJsonAsync<JsonElement>())
            .GetProperty("id")
            .GetString()!;
        long acknowledged = 0;
        // On a busy machine the first edits take their time; the end comes a while after them.
        var begun = new TaskCompletionSource();
        var killer = Task.Run(async () =>
        {
            await begun.Task;
            await Task.Delay(TimeSpan.FromSeconds(1.5));
            process.Kill(true);
        });
        try
        {
            while (true)
            {
                var operations = new[]
                {
                    new
                    {
                        op = "add",
                        path = $"/definitions/main/parts/p{acknowledged}",
                        value = new
                        {
                            type = "Gain",
                            name = $"G{acknowledged}",
                            x = 0,
                            y = 0,
                            parameters = new { k = "2" },
                        },
                    },
                };
                var response = await client.PostAsJsonAsync(
                    $"/api/models/{id}/edits",
                    new
                    {
                        basis = acknowledged,
                        label = "add",
                        operations,
                        client = "t",
                    }
                );
                response.EnsureSuccessStatusCode();
                acknowledged = (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("revision").GetInt64();
                if (acknowledged > 3)
                    begun.TrySetResult();
            }
        }
        catch (HttpRequestException)
        {
            // The process is gone.
        }

        await killer;
        Assert.True(acknowledged > 3, $"only {acknowledged} edits before the end");
        var (_, again) = await Start();
        var opened = await again.GetFromJsonAsync<JsonElement>($"/api/models/{id}");
        var revision = opened.GetProperty("revision").GetInt64();
        // The edit under way may have been stored without its answer getting through.
        Assert.InRange(revision, acknowledged, acknowledged + 1);
        Assert.Equal(revision, opened.Root().GetProperty("parts").EnumerateObject().Count());
    }

    [Fact]
    public async Task A_pinned_run_is_there_after_a_kill_and_nothing_half_is()
    {
        var (process, client) = await Start();
        async Task<JsonElement> Post(string path, object body) =>
            await (await client.PostAsJsonAsync(path, body)).EnsureSuccessStatusCode().Content.ReadFromJsonAsync<JsonElement>();
        var id = (await Post("/api/models", new { example = "hatchery-tank" })).GetProperty("id").GetString()!;
        var run = (await Post($"/api/models/{id}/runs", new { })).GetProperty("id").GetString()!;
        var other = (await Post($"/api/models/{id}/runs", new { })).GetProperty("id").GetString()!;
        foreach (var one in new[] { run, other })
            await client.GetAsync($"/api/runs/{one}?wait=true");
        var pinned = await client.PutAsJsonAsync(
            $"/api/runs/{run}/label",
            new
            {
                name = "first",
                note = "",
                isPinned = true,
            }
        );
        pinned.EnsureSuccessStatusCode();
        var before = await client.GetByteArrayAsync($"/api/runs/{run}/traces?signal=tank.y&width=300");
        process.Kill(true);
        await process.WaitForExitAsync();
        var runs = Path.Combine(folder, "runs");
        Assert.Equal(run + ".run", Path.GetFileName(Assert.Single(Directory.GetFiles(runs))));
        // What a process leaves that dies while it writes: a half file, and a whole one that no row speaks of.
        File.WriteAllText(Path.Combine(runs, "x.run.half"), "half");
        File.WriteAllText(Path.Combine(runs, "y.run"), "orphan");

        var (_, again) = await Start();
        var list = await again.GetFromJsonAsync<JsonElement>($"/api/models/{id}/runs");
        Assert.Equal(["first"], list.EnumerateArray().Select(r => r.GetProperty("name").GetString()));
        Assert.Equal(before, await again.GetByteArrayAsync($"/api/runs/{run}/traces?signal=tank.y&width=300"));
        Assert.Equal(System.Net.HttpStatusCode.NotFound, (await again.GetAsync($"/api/runs/{other}")).StatusCode);
        Assert.Equal(run + ".run", Path.GetFileName(Assert.Single(Directory.GetFiles(runs))));
    }

    [Fact]
    public async Task A_study_goes_on_after_a_kill_with_the_rows_that_it_had_not_run()
    {
        const int count = 600;
        var (process, client) = await Start();
        async Task<JsonElement> Post(HttpClient of, string path, object body) =>
            await (await of.PostAsJsonAsync(path, body)).EnsureSuccessStatusCode().Content.ReadFromJsonAsync<JsonElement>();
        var id = (await Post(client, "/api/models", new { example = "plankton-winch" })).GetProperty("id").GetString()!;
        await Post(
            client,
            $"/api/models/{id}/edits",
            new
            {
                basis = 0,
                label = "vary",
                client = "t",
                operations = new[]
                {
                    new
                    {
                        op = "replace",
                        path = "/studies/mass/factors/m/values",
                        value = $"80 kg:140 kg:{count}",
                    },
                },
            }
        );
        var study = (await Post(client, $"/api/models/{id}/studies/mass/runs", new { })).GetProperty("id").GetString()!;
        async Task<JsonElement> Results(HttpClient of) => await of.GetFromJsonAsync<JsonElement>($"/api/studies/{study}");
        async Task<JsonElement> When(HttpClient of, Func<JsonElement, bool> isIt)
        {
            var until = DateTime.UtcNow.AddMinutes(2);
            while (DateTime.UtcNow < until)
            {
                if (await Results(of) is var now && isIt(now.GetProperty("job")))
                    return now;
                await Task.Delay(100);
            }

            throw new TimeoutException("The study does not come that far.");
        }

        static Dictionary<int, string> Measures(JsonElement results) =>
            results
                .GetProperty("rows")
                .EnumerateArray()
                .ToDictionary(r => r.GetProperty("row").GetInt32(), r => r.GetProperty("measures").GetRawText());
        await When(client, job => job.GetProperty("done").GetInt32() >= 20);
        // What is kept now is there after the kill.
        var early = Measures(await Results(client));
        await Task.Delay(500);
        process.Kill(true);
        await process.WaitForExitAsync();

        var (_, again) = await Start();
        var taken = await Results(again);
        Assert.True(early.Keys.All(Measures(taken).ContainsKey), "results of before the kill are missing");
        Assert.InRange(taken.GetProperty("job").GetProperty("done").GetInt32(), early.Count, count - 1);
        var whole = Measures(await When(again, job => job.GetProperty("state").GetString() == "finished"));
        Assert.Equal(Enumerable.Range(0, count), whole.Keys.Order());
        Assert.All(early, e => Assert.Equal(e.Value, whole[e.Key]));
    }
}
