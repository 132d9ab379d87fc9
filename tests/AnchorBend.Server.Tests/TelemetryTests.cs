using System.Collections.Concurrent;
using System.Net.Http.Json;
using System.Text;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc.Testing;

namespace AnchorBend.Server.Tests;

/// <summary>What the server tells a collector of metrics and traces.</summary>
public sealed class TelemetryTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-telemetry-").FullName;

    public void Dispose()
    {
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
    }

    [Fact]
    public async Task A_collector_hears_of_edits_runs_and_what_is_held()
    {
        // The names stand in the messages as they are: there is no need to take the messages apart.
        var heard = new ConcurrentDictionary<string, StringBuilder>();
        await using var collector = WebApplication.CreateSlimBuilder().Build();
        collector.Urls.Add("http://127.0.0.1:0");
        collector.MapPost("/v1/{what}", async (string what, HttpRequest request) =>
        {
            using var reader = new StreamReader(request.Body, Encoding.Latin1);
            var text = await reader.ReadToEndAsync();
            var all = heard.GetOrAdd(what, _ => new StringBuilder());
            lock (all)
                all.Append(text);
            return Results.Ok();
        });
        await collector.StartAsync();

        using var factory = new WebApplicationFactory<Program>().WithWebHostBuilder(b =>
            b.UseSetting("data", folder)
                .UseSetting("OTEL_EXPORTER_OTLP_ENDPOINT", collector.Urls.Single())
                .UseSetting("OTEL_EXPORTER_OTLP_PROTOCOL", "http/protobuf")
                .UseSetting("OTEL_METRIC_EXPORT_INTERVAL", "200")
                .UseSetting("OTEL_BSP_SCHEDULE_DELAY", "200")
        );
        var client = factory.CreateClient();
        var id = await client.Create();
        await client.PostAsJsonAsync(
            $"/api/models/{id}/edits",
            new
            {
                basis = 0,
                label = "test",
                operations = new[] { TestServer.Replace("/settings/end", "2 s") },
            }
        );
        var run = await client.PostAsJsonAsync($"/api/models/{id}/runs", new { });
        Assert.True(run.IsSuccessStatusCode, await run.Content.ReadAsStringAsync());

        bool Has(string what, string word)
        {
            if (!heard.TryGetValue(what, out var all))
                return false;
            lock (all)
                return all.ToString().Contains(word, StringComparison.Ordinal);
        }

        (string What, string Word)[] wanted =
        [
            ("metrics", "anchorbend.edits"),
            ("metrics", "anchorbend.run.duration"),
            ("metrics", "anchorbend.models.open"),
            ("metrics", "anchorbend.traces.size"),
            ("metrics", "http.server.request.duration"),
            ("traces", "/api/models/{id}/edits"),
        ];
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(60));
        while (wanted.Any(w => !Has(w.What, w.Word)) && !patience.IsCancellationRequested)
            await Task.Delay(50);
        Assert.DoesNotContain(wanted, w => !Has(w.What, w.Word));
    }
}
