using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc.Testing;

namespace AnchorBend.Server.Tests;

/// <summary>The web interface over HTTP, on a database of its own.</summary>
public sealed class ServerTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("anchor-bend-server-").FullName;
    WebApplicationFactory<Program> factory;
    HttpClient client;

    public ServerTests()
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

    async Task<string> Create(object? body = null) =>
        (await (await client.PostAsJsonAsync("/api/models", body ?? new { name = "Test" })).Content.ReadFromJsonAsync<JsonElement>())
            .GetProperty("id")
            .GetString()!;

    static object Add(string id, string type, string name) =>
        new
        {
            op = "add",
            path = $"/definitions/main/parts/{id}",
            value = new
            {
                type,
                name,
                x = 0,
                y = 0,
                parameters = new { },
            },
        };

    static object Wire(string id, string from, string to) =>
        new
        {
            op = "add",
            path = $"/definitions/main/wires/{id}",
            value = new
            {
                from = new { part = from.Split('.')[0], port = from.Split('.')[1] },
                to = new { part = to.Split('.')[0], port = to.Split('.')[1] },
                bends = Array.Empty<object>(),
            },
        };

    async Task<(HttpStatusCode Status, JsonElement Body)> Edit(string id, long basis, params object[] operations)
    {
        var response = await client.PostAsJsonAsync(
            $"/api/models/{id}/edits",
            new
            {
                basis,
                label = "test",
                operations,
                client = "t",
            }
        );
        return (response.StatusCode, await response.Content.ReadFromJsonAsync<JsonElement>());
    }

    async Task<JsonElement> Open(string id) => await client.GetFromJsonAsync<JsonElement>($"/api/models/{id}");

    [Fact]
    public async Task The_demo_is_there_on_the_first_start_only()
    {
        var models = await client.GetFromJsonAsync<JsonElement>("/api/models");
        Assert.Contains("Plankton winch", models.EnumerateArray().Select(m => m.GetProperty("name").GetString()));
        foreach (var m in models.EnumerateArray().Skip(1))
            await client.DeleteAsync($"/api/models/{m.GetProperty("id").GetString()}");
        factory.Dispose();
        factory = Start();
        client = factory.CreateClient();
        Assert.Equal(1, (await client.GetFromJsonAsync<JsonElement>("/api/models")).GetArrayLength());
    }

    [Fact]
    public async Task A_model_is_built_run_and_read_over_http()
    {
        var id = await Create();
        var (status, answer) = await Edit(id, 0, Add("s", "Step", "Wish"), Add("l", "Lag", "Lag"), Wire("w", "s.y", "l.u"));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal(1, answer.GetProperty("revision").GetInt64());
        var run = answer.GetProperty("run").GetString();
        var view = await client.GetFromJsonAsync<JsonElement>($"/api/runs/{run}?wait=true");
        Assert.Equal("finished", view.GetProperty("state").GetString());
        var values = await client.GetFromJsonAsync<Dictionary<string, double>>($"/api/runs/{run}/values?time=3");
        Assert.Equal(1 - Math.Exp(-2), values!["l.y"], 1e-4);

        var table = (await client.GetStringAsync($"/api/runs/{run}/table?signal=l.y&signal=nothing.y")).Split("\r\n");
        Assert.Equal("time [s],Lag.y", table[0]);
        Assert.Equal("10", table[^2].Split(',')[0]);
        Assert.Equal(1 - Math.Exp(-9), double.Parse(table[^2].Split(',')[1], CultureInfo.InvariantCulture), 1e-4);

        var bytes = await client.GetByteArrayAsync($"/api/runs/{run}/traces?signal=l.y&signal=nothing.y&width=50");
        var length = BitConverter.ToInt32(bytes);
        var header = JsonNode.Parse(bytes.AsSpan(4, length))!.AsArray();
        var count = (int)header[0]!["count"]!;
        Assert.InRange(count, 50, 200);
        Assert.Equal(0, (int)header[1]!["count"]!);
        var start = (4 + length + 7) / 8 * 8;
        Assert.Equal(10, BitConverter.ToDouble(bytes, start + 8 * (count - 1)));
        Assert.Equal(1 - Math.Exp(-9), BitConverter.ToDouble(bytes, start + 16 * count - 8), 1e-5);
    }

    [Fact]
    public async Task Undo_and_redo_survive_a_restart()
    {
        var id = await Create();
        await Edit(id, 0, Add("a", "Gain", "A"));
        await Edit(id, 1, Add("b", "Gain", "B"));
        await client.PostAsJsonAsync($"/api/models/{id}/undo", new { basis = 2, client = "t" });
        factory.Dispose();
        factory = Start();
        client = factory.CreateClient();
        var opened = await Open(id);
        Assert.Equal(3, opened.GetProperty("revision").GetInt64());
        Assert.Equal(["a"], opened.Root().GetProperty("parts").EnumerateObject().Select(p => p.Name));
        var redone = await (
            await client.PostAsJsonAsync($"/api/models/{id}/redo", new { basis = 3, client = "t" })
        ).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(4, redone.GetProperty("revision").GetInt64());
        await client.PostAsJsonAsync($"/api/models/{id}/undo", new { basis = 4, client = "t" });
        await client.PostAsJsonAsync($"/api/models/{id}/undo", new { basis = 5, client = "t" });
        opened = await Open(id);
        Assert.Empty(opened.Root().GetProperty("parts").EnumerateObject());
        Assert.False(opened.View().GetProperty("canUndo").GetBoolean());
    }

    [Fact]
    public async Task An_edit_on_an_old_revision_is_a_conflict_and_changes_nothing()
    {
        var id = await Create();
        await Edit(id, 0, Add("a", "Gain", "A"));
        var (status, problem) = await Edit(id, 0, Add("b", "Gain", "B"));
        Assert.Equal(HttpStatusCode.Conflict, status);
        Assert.Equal(1, problem.GetProperty("present").GetInt64());
        Assert.Single((await Open(id)).Root().GetProperty("parts").EnumerateObject());
    }

    [Theory]
    [InlineData("{\"op\":\"remove\",\"path\":\"/definitions/main/parts/none\"}")]
    [InlineData("{\"op\":\"add\",\"path\":\"/definitions/main/parts/p\",\"value\":null}")]
    [InlineData("{\"op\":\"add\",\"path\":\"/definitions/main/parts/p\",\"value\":{\"type\":3}}")]
    [InlineData("{\"op\":\"replace\",\"path\":\"/settings\",\"value\":null}")]
    [InlineData("{\"op\":\"replace\",\"path\":\"\",\"value\":{}}")]
    [InlineData("{\"op\":\"replace\",\"path\":\"/settings/end\",\"value\":null}")]
    [InlineData("{\"op\":\"replace\",\"path\":\"/settings/steadyParts\",\"value\":[null]}")]
    [InlineData("{\"op\":\"replace\",\"path\":\"/settings/relativeTolerance\",\"value\":1e999}")]
    [InlineData(
        "{\"op\":\"add\",\"path\":\"/definitions/main/wires/w\",\"value\":{\"from\":{\"part\":\"a\",\"port\":\"y\"},\"to\":{\"part\":\"b\",\"port\":\"u\"},\"bends\":[null]}}"
    )]
    [InlineData(
        "{\"op\":\"add\",\"path\":\"/definitions/main/wires/w\",\"value\":{\"from\":{\"part\":\"a\",\"port\":\"y\"},\"to\":{\"part\":\"b\",\"port\":\"u\"},\"bends\":[{\"x\":1e999,\"y\":0}]}}"
    )]
    [InlineData("{\"op\":\"add\",\"path\":\"/definitions/main/areas/a\",\"value\":{\"text\":null}}")]
    [InlineData("{\"op\":\"add\",\"path\":\"/definitions/main/areas/a\",\"value\":{\"x\":-1e999}}")]
    [InlineData("{\"op\":\"explode\",\"path\":\"/definitions/main/name\"}")]
    [InlineData("{\"op\":\"replace\",\"path\":\"/definitions/main/name\",\"value\":\"\"}")]
    public async Task A_hostile_edit_is_refused_with_a_reason(string operation)
    {
        var id = await Create();
        var (status, problem) = await Edit(id, 0, JsonNode.Parse(operation)!);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.NotEmpty(problem.GetProperty("detail").GetString()!);
        Assert.Equal(0, (await Open(id)).GetProperty("revision").GetInt64());
    }

    [Theory]
    [InlineData("/api/models/nothing", HttpStatusCode.NotFound)]
    [InlineData("/api/runs/nothing", HttpStatusCode.NotFound)]
    [InlineData("/api/elsewhere", HttpStatusCode.NotFound)]
    public async Task What_is_not_there_is_told_as_a_problem(string path, HttpStatusCode expected)
    {
        var response = await client.GetAsync(path);
        Assert.Equal(expected, response.StatusCode);
        Assert.Equal("application/problem+json", response.Content.Headers.ContentType!.MediaType);
    }

    [Fact]
    public async Task A_request_under_a_foreign_name_is_refused()
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, "/api/models");
        request.Headers.Host = "elsewhere.example";
        Assert.Equal(HttpStatusCode.BadRequest, (await client.SendAsync(request)).StatusCode);
    }

    [Fact]
    public async Task Text_that_is_no_json_is_a_bad_request()
    {
        var id = await Create();
        foreach (var path in new[] { "/api/models", $"/api/models/{id}/edits", $"/api/models/{id}/loops/map" })
        {
            var response = await client.PostAsync(path, new StringContent("{ nonsense", null, "application/json"));
            Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
        }
    }

    [Fact]
    public async Task A_field_is_checked_while_typing()
    {
        var id = await Create();
        await Edit(id, 0, Add("l", "Lag", "Lag"));
        async Task<JsonElement> Check(string text) =>
            await (
                await client.PostAsJsonAsync(
                    $"/api/models/{id}/field",
                    new
                    {
                        part = "l",
                        parameter = "T",
                        text,
                    }
                )
            ).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(0.25, (await Check("250 ms")).GetProperty("value").GetDouble(), 1e-12);
        Assert.Contains("at least", (await Check("-1")).GetProperty("message").GetString()!, StringComparison.Ordinal);
        Assert.False((await Check("3 kg")).GetProperty("isValid").GetBoolean());
        Assert.False((await Check("2*")).GetProperty("isValid").GetBoolean());
    }

    [Fact]
    public async Task The_interface_description_is_the_one_the_front_end_was_made_from()
    {
        var root = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(root, "AnchorBend.slnx")))
            root = Path.GetDirectoryName(root)!;
        var kept = JsonNode.Parse(await File.ReadAllTextAsync(Path.Combine(root, "web", "openapi.json")))!;
        var now = JsonNode.Parse(await client.GetStringAsync("/openapi/v1.json"))!;
        Assert.True(JsonNode.DeepEquals(kept["paths"], now["paths"]), "run scripts/api and commit web/openapi.json");
        Assert.True(JsonNode.DeepEquals(kept["components"], now["components"]), "run scripts/api and commit web/openapi.json");
    }

    [Fact]
    public async Task A_change_of_structure_is_one_edit_and_one_undo()
    {
        var id = await client.Create();
        await client.Edit(id, 0, TestServer.Add("a", "Constant", "One"), TestServer.Add("b", "Gain", "Stage"));
        var change = new
        {
            kind = "makeSubsystem",
            level = "",
            parts = new[] { "b" },
            name = "Inside",
        };
        var response = await client.PostAsJsonAsync($"/api/models/{id}/structure", new { basis = 1, change });
        Assert.Equal(HttpStatusCode.OK, response.StatusCode);
        var answer = await response.Content.ReadFromJsonAsync<JsonElement>();
        var made = answer.GetProperty("selection")[0].GetString()!;
        Assert.Equal(2, answer.GetProperty("edit").GetProperty("revision").GetInt64());
        var level = await client.GetFromJsonAsync<JsonElement>($"/api/models/{id}?level={made}");
        Assert.Equal(
            "Stage",
            level
                .GetProperty("document")
                .GetProperty("definitions")
                .GetProperty(level.GetProperty("view").GetProperty("definition").GetString()!)
                .GetProperty("parts")
                .GetProperty("b")
                .GetProperty("name")
                .GetString()
        );
        await client.PostAsJsonAsync($"/api/models/{id}/undo", new { basis = 2 });
        var back = await client.GetFromJsonAsync<JsonElement>($"/api/models/{id}");
        Assert.Single(back.GetProperty("document").GetProperty("definitions").EnumerateObject());
    }

    [Theory]
    [InlineData("""{"basis":0}""", HttpStatusCode.BadRequest)]
    [InlineData("""{"basis":0,"change":{"kind":"fold","level":""}}""", HttpStatusCode.BadRequest)]
    [InlineData("""{"basis":0,"change":{"level":""}}""", HttpStatusCode.BadRequest)]
    [InlineData("""{"basis":0,"change":{"level":"","part":"nobody","kind":"dissolve"}}""", HttpStatusCode.UnprocessableEntity)]
    [InlineData("""{"basis":0,"change":{"kind":"dissolve","level":"","part":"nobody"}}""", HttpStatusCode.UnprocessableEntity)]
    [InlineData("""{"basis":0,"change":{"kind":"dissolve","level":"a/b","part":"c"}}""", HttpStatusCode.UnprocessableEntity)]
    [InlineData("""{"basis":0,"change":{"kind":"makeSubsystem","level":"","parts":[null]}}""", HttpStatusCode.BadRequest)]
    [InlineData("""{"basis":7,"change":{"kind":"makeSubsystem","level":"","parts":[]}}""", HttpStatusCode.Conflict)]
    public async Task A_change_that_cannot_be_is_told_as_such(string body, HttpStatusCode status)
    {
        var id = await client.Create();
        var response = await client.PostAsync(
            $"/api/models/{id}/structure",
            new StringContent(body, System.Text.Encoding.UTF8, "application/json")
        );
        Assert.Equal(status, response.StatusCode);
        Assert.Equal("application/problem+json", response.Content.Headers.ContentType?.MediaType);
    }
}
