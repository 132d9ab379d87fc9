using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AnchorBend.Delivery;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Hosting;

namespace AnchorBend.Server.Tests;

/// <summary>What is handed on, and events, over HTTP.</summary>
public sealed class DeliveryEndpointTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-delivery-").FullName;
    WebApplicationFactory<Program> factory;
    HttpClient client;

    public DeliveryEndpointTests()
    {
        factory = Start();
        client = factory.CreateClient();
    }

    WebApplicationFactory<Program> Start() => new WebApplicationFactory<Program>().WithWebHostBuilder(b => b.UseSetting("data", folder));

    public void Dispose()
    {
        client.Dispose();
        factory.Dispose();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
    }

    async Task<string> Winch() => await Made(new { example = "plankton-winch" });

    async Task<string> Made(object what) =>
        (await (await client.PostAsJsonAsync("/api/models", what)).Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetString()!;

    async Task<JsonElement> Get(string path) => await client.GetFromJsonAsync<JsonElement>(path);

    [Fact]
    public async Task Deliveries_of_a_model_are_listed_written_and_packed()
    {
        var id = await Winch();
        var first = (await Get($"/api/models/{id}/deliveries"))[0];
        Assert.Equal(("y1", "new", "Controller"), (Text(first, "id"), Text(first, "state"), Text(first, "part")));
        var code = await Get($"/api/models/{id}/deliveries/y1");
        Assert.Equal(Text(first, "hash"), Text(code, "hash"));
        Assert.Contains(code.GetProperty("files")[1].GetProperty("lines").EnumerateArray(), l =>
            Text(l, "part") == "Speed controller" && Text(l, "place").Length > 0
        );
        using var archive = await client.GetAsync($"/api/models/{id}/deliveries/y1/archive");
        Assert.Equal("application/zip", archive.Content.Headers.ContentType!.MediaType);
        Assert.Contains((await Get($"/api/models/{id}/deliverable")).EnumerateArray(), c =>
            Text(c, "name") == "Controller" && c.GetProperty("isOwn").GetBoolean()
        );
    }

    [Fact]
    public async Task Code_on_a_target_has_the_plant_of_a_played_run()
    {
        if (!NativeCode.HasCompiler)
            return;
        var id = await Made(new { example = "synchronous-winch" });
        var order = new { deliveries = (string[])["y1", "y2"] };
        var started = await (await client.PostAsJsonAsync($"/api/models/{id}/targets", order)).Content.ReadFromJsonAsync<JsonElement>();
        var run = Text(started, "id");
        await Done(client.PostAsJsonAsync($"/api/runs/{run}/go", new { time = 0.2 }));
        await Until(run, "paused");
        await Done(
            client.PostAsJsonAsync(
                $"/api/runs/{run}/set",
                new
                {
                    part = "ctl",
                    parameter = "target_unit",
                    value = "2",
                }
            )
        );
        await Done(client.PostAsJsonAsync($"/api/runs/{run}/go", new { time = 0.3 }));
        await Until(run, "paused");

        var target = await Get($"/api/runs/{run}/target");
        Assert.Equal((2, true, 1e-4), (Number(target, "active"), target.GetProperty("isThere").GetBoolean(), Number(target, "step")));
        var steps = target.GetProperty("units").EnumerateArray().Select(u => Number(u.GetProperty("cost"), "steps")).ToList();
        Assert.Equal([2001, 1000], steps);
        Assert.Equal(0.2, Number(Assert.Single(target.GetProperty("handOvers").EnumerateArray()), "time"), 1.1e-4);

        // There is one target: its run cannot go two ways. Stopped, it ends with what it has measured.
        var kept = await (await client.PostAsJsonAsync($"/api/runs/{run}/states", new { })).Content.ReadFromJsonAsync<JsonElement>();
        var branch = await client.PostAsJsonAsync($"/api/runs/{run}/branches", new { state = Text(kept, "id") });
        Assert.Equal(HttpStatusCode.UnprocessableEntity, branch.StatusCode);
        await Done(client.PostAsync($"/api/runs/{run}/stop", null));
        await Until(run, "finished");
        target = (await Get($"/api/runs/{run}")).GetProperty("target");
        Assert.False(target.GetProperty("isThere").GetBoolean());
        Assert.False(target.GetProperty("isLost").GetBoolean());
        Assert.Equal(2001, Number(target.GetProperty("units")[0].GetProperty("cost"), "steps"));
    }

    [Fact]
    public async Task What_cannot_run_on_a_target_is_refused_with_a_reason()
    {
        if (!NativeCode.HasCompiler)
            return;
        var id = await Made(new { example = "quay-crane" });
        foreach (var (deliveries, status) in new[] { (Array.Empty<string>(), 422), (["y9"], 404), (["y1"], 422) })
        {
            var answer = await client.PostAsJsonAsync($"/api/models/{id}/targets", new { deliveries });
            Assert.Equal(status, (int)answer.StatusCode);
        }

        Assert.Equal(HttpStatusCode.BadRequest, (await client.PostAsJsonAsync($"/api/models/{id}/targets", new { })).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/runs/none/target")).StatusCode);
    }

    [Fact]
    public async Task An_exchange_unit_of_somebody_else_is_taken_in_and_goes_with_the_model()
    {
        if (!NativeCode.HasCompiler)
            return;
        var crane = await Made(new { example = "quay-crane" });
        var unit = await client.GetByteArrayAsync($"/api/models/{crane}/deliveries/y1/archive");
        var taken = await (await client.PostAsync("/api/units", Bytes(unit))).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(("Quay crane", "3.0"), (Text(taken, "name"), Text(taken, "version")));
        Assert.Contains(taken.GetProperty("outputs").EnumerateArray(), o => o.GetString() == "boom angle");
        var refused = await client.PostAsync("/api/units", Bytes([1, 2, 3]));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("archive", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);

        // As a part of a model it goes into the file of that model, and comes back with it.
        var definition = taken.GetProperty("definition");
        var text = new
        {
            kind = "text",
            name = Text(definition, "name"),
            text = Text(definition, "text"),
            unit = Text(definition, "unit"),
        };
        var part = new
        {
            type = "#bought",
            name = "Bought",
            x = 0,
            y = 0,
            flip = false,
            turn = 0,
            parameters = new { },
        };
        object[] operations =
        [
            new
            {
                op = "add",
                path = "/definitions/bought",
                value = (object)text,
            },
            new
            {
                op = "add",
                path = "/definitions/main/parts/b",
                value = (object)part,
            },
        ];
        var model = await Made(new { name = "With a unit" });
        await Done(
            client.PostAsJsonAsync(
                $"/api/models/{model}/edits",
                new
                {
                    basis = 0,
                    label = "Import",
                    operations,
                }
            )
        );
        var file = await client.GetStringAsync($"/api/models/{model}/export");
        Assert.Contains($"\"{Text(definition, "unit")}\"", file, StringComparison.Ordinal);
        using (
            var other = new WebApplicationFactory<Program>().WithWebHostBuilder(b => b.UseSetting("data", Path.Combine(folder, "other")))
        )
        using (var there = other.CreateClient())
        {
            var brought = await there.PostAsJsonAsync("/api/models", new { document = JsonSerializer.Deserialize<JsonElement>(file) });
            Assert.True(brought.IsSuccessStatusCode, await brought.Content.ReadAsStringAsync());
            var id = Text(await brought.Content.ReadFromJsonAsync<JsonElement>(), "id");
            using var again = JsonDocument.Parse(await there.GetStringAsync($"/api/models/{id}/export"));
            Assert.Equal(Convert.ToBase64String(unit), Text(again.RootElement.GetProperty("units"), Text(definition, "unit")));
        }
    }

    static ByteArrayContent Bytes(byte[] bytes) => new(bytes) { Headers = { ContentType = new("application/octet-stream") } };

    static async Task Done(Task<HttpResponseMessage> answer) =>
        Assert.True((await answer).IsSuccessStatusCode, await (await answer).Content.ReadAsStringAsync());

    async Task Until(string run, string state)
    {
        var limit = DateTime.UtcNow.AddSeconds(60);
        while (Text(await Get($"/api/runs/{run}"), "state") != state)
        {
            Assert.True(DateTime.UtcNow < limit, $"the run did not become {state}");
            await Task.Yield();
        }
    }

    static double Number(JsonElement element, string member) => element.GetProperty(member).GetDouble();

    static string Text(JsonElement element, string member) => element.GetProperty(member).GetString()!;

    /// <summary>A check is there again after the server was stopped, and goes with the model.</summary>
    [Fact]
    public async Task Checks_outlive_the_server()
    {
        if (!NativeCode.HasCompiler)
            return;
        var id = await Winch();
        var made = await client.PostAsync($"/api/models/{id}/deliveries/y1/check", null);
        Assert.Equal(HttpStatusCode.OK, made.StatusCode);
        client.Dispose();
        await factory.DisposeAsync();
        factory = Start();
        client = factory.CreateClient();
        var check = (await Get($"/api/models/{id}/deliveries"))[0].GetProperty("check");
        Assert.Equal(5000, check.GetProperty("drawn").GetProperty("steps").GetInt64());
        Assert.Equal(0, check.GetProperty("warnings").GetInt32());
        Assert.Equal(HttpStatusCode.NoContent, (await client.DeleteAsync($"/api/models/{id}")).StatusCode);
    }

    [Theory]
    [InlineData("none", HttpStatusCode.NotFound)]
    [InlineData("y9%20%2F..", HttpStatusCode.NotFound)]
    public async Task What_is_not_there_is_told(string delivery, HttpStatusCode status)
    {
        var id = await Winch();
        foreach (var path in (string[])["", "/archive"])
            Assert.Equal(status, (await client.GetAsync($"/api/models/{id}/deliveries/{delivery}{path}")).StatusCode);
        Assert.Equal(status, (await client.PostAsync($"/api/models/{id}/deliveries/{delivery}/check", null)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/api/models/none/events")).StatusCode);
    }

    /// <summary>Whoever listens is told of an edit; a server that stops lets go of its listeners.</summary>
    [Fact]
    public async Task Events_are_told_until_the_server_stops()
    {
        var id = await Winch();
        using var response = await client.GetAsync($"/api/models/{id}/events", HttpCompletionOption.ResponseHeadersRead);
        Assert.Equal("text/event-stream", response.Content.Headers.ContentType!.MediaType);
        using var reader = new StreamReader(await response.Content.ReadAsStreamAsync());
        async Task<string> Next()
        {
            var kind = "";
            while (await reader.ReadLineAsync().WaitAsync(TimeSpan.FromSeconds(20)) is { Length: > 0 } line)
                kind = line.StartsWith("event: ", StringComparison.Ordinal) ? line[7..] : kind;
            return kind;
        }

        Assert.Equal("listening", await Next());
        var edit = new
        {
            basis = 0,
            label = "Another step",
            operations = new[]
            {
                new
                {
                    op = "replace",
                    path = "/deliveries/y1/step",
                    value = "2 ms",
                },
            },
        };
        (await client.PostAsJsonAsync($"/api/models/{id}/edits", edit)).EnsureSuccessStatusCode();
        Assert.Equal("changed", await Next());
        factory.Services.GetRequiredService<IHostApplicationLifetime>().StopApplication();
        Assert.Equal("", await Next());
    }
}
