using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Test cases over HTTP: their runs, results, tables, coverage and reports.</summary>
public sealed class CaseHttpTests : ServerTest
{
    async Task<JsonElement> Ran(string model, object request)
    {
        await Post($"/api/models/{model}/cases/runs", request);
        var until = DateTime.UtcNow.AddMinutes(1);
        while (DateTime.UtcNow < until)
        {
            var view = await Get($"/api/models/{model}/cases");
            if (view.GetProperty("suite").GetProperty("state").GetString() == "finished")
                return view;
            await Task.Delay(50);
        }

        throw new TimeoutException("The cases do not end.");
    }

    static JsonElement Row(JsonElement view, string id) =>
        view.GetProperty("cases").EnumerateArray().Single(c => c.GetProperty("id").GetString() == id);

    [Fact]
    public async Task Chosen_cases_are_run_and_kept_with_how_they_were_made()
    {
        var model = await Client.Create(new { example = "tide-gate" });
        var view = await Ran(model, new { cases = (string[])["c2", "c20"] });
        Assert.Equal("passed", Row(view, "c2").GetProperty("outcome").GetString());
        Assert.Equal("passed", Row(view, "c20").GetProperty("outcome").GetString());
        Assert.False(Row(view, "c1").TryGetProperty("outcome", out _));
        Assert.Equal("opening", view.GetProperty("labels").GetProperty("pos.s").GetString());

        var detail = await Get($"/api/models/{model}/cases/c20/result");
        var result = detail.GetProperty("result");
        Assert.Equal("met", result.GetProperty("courses")[0].GetProperty("kind").GetString());
        Assert.Equal(32, result.GetProperty("provenance").GetProperty("fingerprint").GetString()!.Length);
        Assert.False(detail.GetProperty("isStale").GetBoolean());
        Assert.False((await Get($"/api/models/{model}/cases/c1/result")).TryGetProperty("result", out _));

        var runs = (await Get($"/api/models/{model}/cases/runs")).EnumerateArray().ToList();
        Assert.Equal((2, 2, 0), Counts(Assert.Single(runs)));
        await Ran(model, new { cases = (string[])["c3"] });
        runs = [.. (await Get($"/api/models/{model}/cases/runs")).EnumerateArray()];
        Assert.Equal([(1, 0, 1), (2, 2, 0)], runs.Select(Counts));

        var coverage = await Get($"/api/models/{model}/coverage");
        Assert.Equal((3, 17), (coverage.GetProperty("cases").GetInt32(), coverage.GetProperty("stale").GetInt32()));
        Assert.Contains("<h1>Tide gate</h1>", await Client.GetStringAsync($"/api/models/{model}/report"), StringComparison.Ordinal);
        Assert.StartsWith("<?xml", await Client.GetStringAsync($"/api/models/{model}/report?form=junit"), StringComparison.Ordinal);
    }

    static (int Cases, int Passed, int Failed) Counts(JsonElement run) =>
        (run.GetProperty("cases").GetInt32(), run.GetProperty("passed").GetInt32(), run.GetProperty("failed").GetInt32());

    [Fact]
    public async Task A_fault_tree_goes_out_as_a_drawing_and_as_a_table()
    {
        var model = await Client.Create(new { example = "tide-gate" });
        Assert.Empty((await Get($"/api/models/{model}/cases/runs")).EnumerateArray());
        var tree = (await Get($"/api/models/{model}/trees"))[0].GetProperty("id").GetString();
        Assert.StartsWith("<svg", await Client.GetStringAsync($"/api/models/{model}/trees/{tree}/file"), StringComparison.Ordinal);
        var table = await Client.GetStringAsync($"/api/models/{model}/trees/{tree}/file?form=csv");
        Assert.Contains("cut set", table, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync($"/api/models/{model}/trees/nothing/file")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await Client.GetAsync($"/api/models/{model}/trees/{tree}/file?form=doc")).StatusCode);
    }

    [Fact]
    public async Task A_run_of_a_case_is_looked_at_and_a_run_becomes_a_case()
    {
        var model = await Client.Create(new { example = "tide-gate" });
        var run = (await Post($"/api/models/{model}/cases/c4/look", new { })).GetProperty("run").GetString();
        var until = DateTime.UtcNow.AddMinutes(1);
        while ((await Get($"/api/runs/{run}")).GetProperty("state").GetString() != "finished" && DateTime.UtcNow < until)
            await Task.Delay(50);
        var action = await Post($"/api/runs/{run}/case", new { name = "Held", signals = (string[])["pos.s"] });
        var node = action.GetProperty("operations")[0].GetProperty("value");
        Assert.Equal(("Held", "s3"), (node.GetProperty("name").GetString(), node.GetProperty("stimulus").GetString()));
        Assert.Equal("pos.s", node.GetProperty("expected").GetProperty("e1").GetProperty("signal").GetString());

        var file = await Client.GetStringAsync($"/api/models/{model}/cases/c19/file");
        Assert.StartsWith("time", file.TrimStart('\ufeff').Trim('"'), StringComparison.Ordinal);
        var read = await Post($"/api/models/{model}/cases/c19/table", new { text = file });
        Assert.Equal(
            61,
            read.GetProperty("operations")[0]
                .GetProperty("value")
                .GetProperty("expected")
                .GetProperty("e1")
                .GetProperty("times")
                .GetArrayLength()
        );
    }

    [Theory]
    [InlineData("/cases/runs", """{ "cases": ["gone"] }""", HttpStatusCode.UnprocessableEntity)]
    [InlineData("/cases/runs", """{ "choice": "failed", "cases": 5 }""", HttpStatusCode.BadRequest)]
    [InlineData("/cases/runs", """{ "choice": "none" }""", HttpStatusCode.BadRequest)]
    [InlineData("/cases/gone/look", "{}", HttpStatusCode.NotFound)]
    [InlineData("/cases/c1/table", """{ "text": "a,b\n1,2" }""", HttpStatusCode.UnprocessableEntity)]
    [InlineData("/cases/c1/table", "{}", HttpStatusCode.BadRequest)]
    public async Task What_cannot_be_done_is_refused(string path, string body, HttpStatusCode status)
    {
        var model = await Client.Create(new { example = "tide-gate" });
        var answer = await Client.PostAsync(
            $"/api/models/{model}{path}",
            new StringContent(body, System.Text.Encoding.UTF8, "application/json")
        );
        Assert.Equal(status, answer.StatusCode);
        Assert.Equal("application/problem+json", answer.Content.Headers.ContentType?.MediaType);
    }

    [Fact]
    public async Task Nothing_stays_of_a_model_that_is_deleted()
    {
        var model = await Client.Create(new { example = "tide-gate" });
        await Ran(model, new { cases = (string[])["c4"] });
        Assert.Equal(HttpStatusCode.NoContent, (await Client.DeleteAsync($"/api/models/{model}")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync($"/api/models/{model}/cases")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await Client.DeleteAsync("/api/cases/runs/gone")).StatusCode);
    }

    [Fact]
    public async Task Old_runs_of_cases_go_but_for_those_that_hold_the_newest_result_of_one()
    {
        var model = await Client.Create(
            new
            {
                document = new
                {
                    definitions = new
                    {
                        main = new
                        {
                            kind = "diagram",
                            name = "Basin",
                            parts = new { s = new { type = "Constant", name = "S" } },
                        },
                    },
                    settings = new { end = "1 s" },
                    cases = new { a = new { name = "First" }, b = new { name = "Second" } },
                },
            }
        );
        await Ran(model, new { cases = (string[])["a"] });
        for (var i = 0; i < 63; i++)
            await Ran(model, new { cases = (string[])["b"] });
        // The first run is the oldest of 64, and holds all that is known of the first case.
        var view = await Get($"/api/models/{model}/cases");
        Assert.Equal("open", Row(view, "a").GetProperty("outcome").GetString());
        Assert.True((await Get($"/api/models/{model}/cases/a/result")).TryGetProperty("result", out _));
    }
}
