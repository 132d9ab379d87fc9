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
}
