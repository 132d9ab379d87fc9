using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using static AnchorBend.Server.Tests.TestServer;

namespace AnchorBend.Server.Tests;

/// <summary>Hostile requests, several users at once, results that are out of date.</summary>
public sealed class RobustServerTests : ServerTest
{
    [Theory]
    [InlineData("{\"basis\":0,\"label\":\"x\",\"client\":\"c\"}", "$.operations")]
    [InlineData("{\"basis\":0,\"label\":\"x\",\"operations\":[null]}", "$.operations[0]")]
    [InlineData("{\"basis\":0,\"label\":\"x\",\"operations\":[{}]}", "$.operations[0]")]
    [InlineData("{\"basis\":0,\"label\":\"x\",\"operations\":[{\"op\":\"add\",\"path\":null}]}", "$.operations[0]")]
    [InlineData(
        "{\"basis\":0,\"label\":\"x\",\"operations\":[{\"op\":\"add\",\"path\":\"/definitions/main/parts/p\",\"value\":{\"a\":1,\"a\":2}}]}",
        "'a' is given twice at $.operations[0].value"
    )]
    [InlineData(
        "{\"basis\":0,\"label\":\"x\",\"operations\":[{\"op\":\"add\",\"path\":\"/extra\",\"value\":{\"\\ud800\":1}}]}",
        "is no Unicode"
    )]
    [InlineData("{\"basis\":0,\"label\":\"\\udc00\",\"operations\":[]}", "$.label is no Unicode")]
    [InlineData("{\"basis\":\"zero\",\"label\":\"x\",\"operations\":[]}", "$.basis")]
    [InlineData("{\"basis\":0,\"label\":\"x\",\"operations\":[}", "line 1, byte")]
    public async Task A_request_that_cannot_be_read_is_refused_with_the_place(string body, string expected)
    {
        var id = await Client.Create();
        var response = await Client.PostAsync($"/api/models/{id}/edits", new StringContent(body, Encoding.UTF8, "application/json"));
        Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
        Assert.Contains(
            expected,
            (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("detail").GetString()!,
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("application/json; charset=utf-7")]
    [InlineData("text/plain")]
    [InlineData("application/x-www-form-urlencoded")]
    public async Task Another_content_type_is_refused(string type)
    {
        var content = new ByteArrayContent("{\"name\":\"x\"}"u8.ToArray());
        content.Headers.TryAddWithoutValidation("Content-Type", type);
        Assert.Equal(HttpStatusCode.BadRequest, (await Client.PostAsync("/api/models", content)).StatusCode);
    }

    [Fact]
    public async Task Values_nested_too_deep_are_refused()
    {
        var id = await Client.Create();
        foreach (var depth in (int[])[27, 28, 29, 30, 31, 40, 100, 5000])
        {
            var value = string.Concat(Enumerable.Repeat("{\"a\":", depth)) + "1" + new string('}', depth);
            var response = await Client.PostAsync(
                $"/api/models/{id}/edits",
                new StringContent(
                    $"{{\"basis\":0,\"label\":\"x\",\"operations\":[{{\"op\":\"add\",\"path\":\"/extra\",\"value\":{value}}}]}}",
                    Encoding.UTF8,
                    "application/json"
                )
            );
            Assert.Contains(response.StatusCode, (HttpStatusCode[])[HttpStatusCode.BadRequest, HttpStatusCode.UnprocessableEntity]);
        }
    }

    [Theory]
    [InlineData("add", "/Parts", "{}", "no property of this name")]
    [InlineData("add", "/extra", "1", "no property of this name")]
    [InlineData("remove", "/definitions/main/name", "null", "missing")]
    public async Task A_document_keeps_its_own_properties_only(string op, string path, string value, string reason)
    {
        var id = await Client.Create();
        await Client.Edit(id, 0, Add("a", "Gain", "A"));
        var (status, problem) = await Client.Edit(
            id,
            1,
            new
            {
                op,
                path,
                value = JsonSerializer.Deserialize<JsonElement>(value),
            }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains(reason, problem.GetProperty("detail").GetString()!, StringComparison.Ordinal);
        Assert.Single((await Client.GetFromJsonAsync<JsonElement>($"/api/models/{id}")).Root().GetProperty("parts").EnumerateObject());
    }

    [Theory]
    [InlineData("[1,2,3]")]
    [InlineData("\"text\"")]
    [InlineData("{}")]
    [InlineData("{\"format\":\"anchor-bend-model/99\",\"name\":7}")]
    public async Task An_import_that_is_no_model_is_refused_in_words(string document)
    {
        var response = await Client.PostAsJsonAsync("/api/models", new { document = JsonSerializer.Deserialize<JsonElement>(document) });
        Assert.Equal(HttpStatusCode.UnprocessableEntity, response.StatusCode);
        Assert.DoesNotContain("AnchorBend", await response.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Names_and_lists_have_limits()
    {
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await Client.PostAsJsonAsync("/api/models", new { name = new string('n', 100_000) })).StatusCode
        );
        for (var i = 0; i < 5; i++)
            await Client.Create();
        Assert.Equal(3, (await Client.GetFromJsonAsync<JsonElement>("/api/models?limit=3")).GetArrayLength());
        var all = (await Client.GetFromJsonAsync<JsonElement>("/api/models"))
            .EnumerateArray()
            .Select(m => m.GetProperty("id").GetString())
            .ToList();
        Assert.Equal(
            all.Skip(2).Take(2),
            (await Client.GetFromJsonAsync<JsonElement>("/api/models?offset=2&limit=2"))
                .EnumerateArray()
                .Select(m => m.GetProperty("id").GetString())
        );
        Assert.Equal(0, (await Client.GetFromJsonAsync<JsonElement>("/api/models?offset=1000")).GetArrayLength());
    }

    [Fact]
    public async Task A_page_of_another_site_can_change_nothing()
    {
        var id = await Client.Create();
        async Task<HttpStatusCode> Send(HttpMethod method, string path, string header, string value)
        {
            using var request = new HttpRequestMessage(method, path);
            request.Headers.TryAddWithoutValidation(header, value);
            return (await Client.SendAsync(request)).StatusCode;
        }

        Assert.Equal(HttpStatusCode.Forbidden, await Send(HttpMethod.Post, $"/api/models/{id}/runs", "Origin", "http://elsewhere.example"));
        Assert.Equal(HttpStatusCode.Forbidden, await Send(HttpMethod.Delete, $"/api/models/{id}", "Origin", "null"));
        Assert.Equal(HttpStatusCode.Forbidden, await Send(HttpMethod.Post, $"/api/models/{id}/runs", "Sec-Fetch-Site", "cross-site"));
        Assert.Equal(HttpStatusCode.Forbidden, await Send(HttpMethod.Get, "/hub?id=x", "Origin", "http://elsewhere.example"));
        Assert.Equal(
            HttpStatusCode.Forbidden,
            await Send(HttpMethod.Post, "/hub/negotiate?negotiateVersion=1", "Origin", "http://127.0.0.1:81")
        );
        Assert.NotEqual(HttpStatusCode.Forbidden, await Send(HttpMethod.Post, $"/api/models/{id}/runs", "Origin", "http://localhost"));
        var page = await Client.GetAsync("/api/models");
        Assert.Contains("frame-ancestors 'none'", page.Headers.GetValues("Content-Security-Policy").Single(), StringComparison.Ordinal);
        Assert.Equal("nosniff", page.Headers.GetValues("X-Content-Type-Options").Single());
    }

    [Fact]
    public async Task A_deleted_model_stays_deleted_whatever_is_in_flight()
    {
        for (var round = 0; round < 40; round++)
        {
            var id = await Client.Create();
            await Client.Edit(id, 0, Add("s", "Step", "S"), Add("l", "Lag", "L"));
            var reads = Enumerable.Range(0, 6).Select(_ => Client.GetAsync($"/api/models/{id}")).ToList();
            var edit = Client.PostAsJsonAsync(
                $"/api/models/{id}/edits",
                new
                {
                    basis = 1,
                    label = "x",
                    operations = new[] { Add("g", "Gain", "G") },
                    client = "t",
                }
            );
            var run = Client.PostAsync($"/api/models/{id}/runs", null);
            var deleted = await Client.DeleteAsync($"/api/models/{id}");
            Assert.Equal(HttpStatusCode.NoContent, deleted.StatusCode);
            foreach (var response in await Task.WhenAll([.. reads, edit, run]))
                Assert.True((int)response.StatusCode < 500, $"{response.StatusCode}");
            Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync($"/api/models/{id}")).StatusCode);
            Assert.Equal(HttpStatusCode.NotFound, (await Client.PostAsync($"/api/models/{id}/runs", null)).StatusCode);
        }
    }

    [Fact]
    public async Task Deleting_a_model_ends_its_runs()
    {
        var id = await Client.Create(WithPart("model Own Real x(start = 1); equation der(x) = sin(1e6 * time); end Own;"));
        await Client.Edit(id, 0, Replace("/settings/end", "100000 s"));
        var run = (await (await Client.PostAsync($"/api/models/{id}/runs", null)).Content.ReadFromJsonAsync<JsonElement>())
            .GetProperty("id")
            .GetString();
        Assert.Equal(HttpStatusCode.OK, (await Client.GetAsync($"/api/runs/{run}")).StatusCode);
        await Client.DeleteAsync($"/api/models/{id}");
        Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync($"/api/runs/{run}")).StatusCode);
    }

    [Fact]
    public async Task A_short_run_and_an_edit_do_not_wait_for_long_ones()
    {
        var busy = new List<string>();
        for (var i = 0; i < 6; i++)
        {
            var id = await Client.Create(WithPart("model Own Real x(start = 1); equation der(x) = sin(1e6 * time); end Own;"));
            await Client.Edit(id, 0, Replace("/settings/end", "100000 s"));
            busy.Add(id);
        }

        // Three models that take long to put together.
        var opened = Enumerable
            .Range(0, 3)
            .Select(async _ =>
            {
                var id = await Client.Create(
                    WithPart(
                        "model Own Real y[500]; Real x(start = 1, fixed = true); equation der(x) = -x; for i in 1:500 loop y[i] = sin(sum(y)) + x * i; end for; end Own;"
                    )
                );
                return await Client.GetAsync($"/api/models/{id}");
            })
            .ToList();
        var mine = await Client.Create();
        var watch = System.Diagnostics.Stopwatch.StartNew();
        var (status, answer) = await Client.Edit(mine, 0, Add("s", "Step", "S"), Add("l", "Lag", "L"));
        var run = await Client.Finished(answer.GetProperty("run").GetString()!);
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal(JsonValueKind.Null, run.TryGetProperty("failure", out var failure) ? failure.ValueKind : JsonValueKind.Null);
        // Before, it waited for the end of all the others: minutes.
        Assert.True(watch.Elapsed < TimeSpan.FromSeconds(10), $"{watch.Elapsed}");
        foreach (var id in busy)
            await Client.DeleteAsync($"/api/models/{id}");
        await Task.WhenAll(opened);
    }

    [Fact]
    public async Task What_is_moved_does_not_run_and_what_is_called_x_does()
    {
        var id = await Client.Create(
            WithPart("model Own parameter Real x = 1; parameter Real y = 1; output Real z; equation z = x * time + y; end Own;")
        );
        var (_, moved) = await Client.Edit(id, 0, Replace("/definitions/main/parts/p/x", 160), Replace("/definitions/main/parts/p/y", 32));
        Assert.False(moved.TryGetProperty("run", out var none) && none.ValueKind == JsonValueKind.String);
        Assert.Equal(0, moved.View().GetProperty("resultsRevision").GetInt64());
        foreach (var (name, value, expected) in ((string, string, double)[])[("x", "3", 4), ("y", "5", 8)])
        {
            var revision = (await Client.GetFromJsonAsync<JsonElement>($"/api/models/{id}")).GetProperty("revision").GetInt64();
            var (_, changed) = await Client.Edit(
                id,
                revision,
                new
                {
                    op = "add",
                    path = $"/definitions/main/parts/p/parameters/{name}",
                    value,
                }
            );
            Assert.Equal(revision + 1, changed.View().GetProperty("resultsRevision").GetInt64());
            var run = changed.GetProperty("run").GetString()!;
            await Client.Finished(run);
            Assert.Equal(
                expected,
                (await Client.GetFromJsonAsync<Dictionary<string, double>>($"/api/runs/{run}/values?time=1"))!["p.z"],
                1e-9
            );
        }
    }

    [Theory]
    [InlineData("end", "abc")]
    [InlineData("end", "-5 s")]
    [InlineData("end", "10 kg")]
    [InlineData("output", "1e-12 s")]
    [InlineData("largestStep", "0 s")]
    [InlineData("method", "magic")]
    public async Task Settings_that_allow_no_run_are_a_finding_and_leave_no_result_that_looks_current(string setting, string value)
    {
        var id = await Client.Create();
        var (_, before) = await Client.Edit(id, 0, Add("s", "Step", "S"), Add("l", "Lag", "L"));
        var run = await Client.Finished(before.GetProperty("run").GetString()!);
        var (status, answer) = await Client.Edit(
            id,
            1,
            new
            {
                op = "add",
                path = $"/settings/{setting}",
                value,
            }
        );
        Assert.Equal(HttpStatusCode.OK, status);
        var view = answer.View();
        Assert.False(view.GetProperty("canRun").GetBoolean());
        Assert.Equal("settings", view.GetProperty("findings")[0].GetProperty("code").GetString());
        Assert.True(view.GetProperty("resultsRevision").GetInt64() > run.GetProperty("revision").GetInt64());
        var refused = await Client.PostAsync($"/api/models/{id}/runs", null);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
    }

    [Fact]
    public async Task Edits_that_come_while_a_model_is_put_together_are_all_kept()
    {
        var id = await Client.Create(
            WithPart("model Own Real x[3000]; equation for i in 1:3000 loop der(x[i]) = sin(x[i]) + i; end for; end Own;")
        );
        await Client.Edit(id, 0, Replace("/settings/live", false));
        var edits = new List<Task<(HttpStatusCode Status, JsonElement Body)>>();
        long revision = 1;
        for (var i = 0; i < 8; i++)
        {
            // The answer waits for the model; the next edit does not.
            edits.Add(Client.Edit(id, revision, Add($"g{i}", "Gain", $"G{i}")));
            while (
                (await Client.GetFromJsonAsync<JsonElement>("/api/models"))
                    .EnumerateArray()
                    .First(m => m.GetProperty("id").GetString() == id)
                    .GetProperty("revision")
                    .GetInt64() <= revision
            )
                await Task.Yield();
            revision++;
        }

        foreach (var (status, _) in await Task.WhenAll(edits))
            Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal(
            9,
            (await Client.GetFromJsonAsync<JsonElement>($"/api/models/{id}")).Root().GetProperty("parts").EnumerateObject().Count()
        );
    }

    [Fact]
    public async Task An_operating_point_far_outside_the_run_is_refused_at_once()
    {
        var id = await Client.Create(new { example = "hatchery-tank" });
        var response = await Client.PostAsJsonAsync(
            $"/api/models/{id}/loops/map",
            new
            {
                part = "pi",
                form = "PI",
                at = 1e9,
            }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, response.StatusCode);
        Assert.Contains(
            "outside the run",
            (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("detail").GetString()!,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_recording_that_never_ends_is_stopped_by_its_budget_or_by_hand()
    {
        var id = await Client.Create(WithPart("model Own output Real y; equation y = sin(time); end Own;"));
        await Client.Edit(
            id,
            0,
            Replace("/settings/live", false),
            new
            {
                op = "add",
                path = "/settings/output",
                value = "1e-8 s",
            }
        );
        var run = (await (await Client.PostAsync($"/api/models/{id}/runs", null)).Content.ReadFromJsonAsync<JsonElement>())
            .GetProperty("id")
            .GetString()!;
        await Client.DeleteAsync($"/api/runs/{run}");
        Assert.Contains(
            (await Client.Finished(run)).GetProperty("failure").GetProperty("code").GetString(),
            (string[])["canceled", "trace-budget"]
        );
    }
}
