using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Studies over HTTP: design tables, runs, charts, files.</summary>
public sealed class StudyHttpTests : ServerTest
{
    async Task<(string Model, string Run)> Begun(string study = "mass")
    {
        var model = await Client.Create(new { example = "plankton-winch" });
        var begun = await Client.PostAsJsonAsync($"/api/models/{model}/studies/{study}/runs", new { });
        Assert.Equal(HttpStatusCode.OK, begun.StatusCode);
        return (model, (await begun.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetString()!);
    }

    async Task<JsonElement> Finished(string run)
    {
        var until = DateTime.UtcNow.AddMinutes(1);
        while (DateTime.UtcNow < until)
        {
            var now = await Client.GetFromJsonAsync<JsonElement>($"/api/studies/{run}");
            if (now.GetProperty("job").GetProperty("state").GetString() == "finished")
                return now;
            await Task.Delay(50);
        }

        throw new TimeoutException("The study does not end.");
    }

    [Fact]
    public async Task A_design_table_tells_its_rows_and_what_they_have()
    {
        var model = await Client.Create(new { example = "plankton-winch" });
        var design = await Client.GetFromJsonAsync<JsonElement>($"/api/models/{model}/studies/mass/design?limit=3");
        Assert.Equal(7, design.GetProperty("runs").GetInt32());
        Assert.Equal(3, design.GetProperty("rows").GetArrayLength());
        Assert.Equal("80 kg", design.GetProperty("rows")[0].GetProperty("cells")[0].GetString());
        var factor = design.GetProperty("factors")[0];
        Assert.Equal(("80…140 kg, 7 steps", "120 kg"), (factor.GetProperty("told").GetString(), factor.GetProperty("present").GetString()));
        Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync($"/api/models/{model}/studies/gone/design")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await Client.GetAsync($"/api/models/{model}/studies/mass/design?limit=99999")).StatusCode);
    }

    [Fact]
    public async Task What_can_vary_is_found_by_words()
    {
        var model = await Client.Create(new { example = "plankton-winch" });
        var found = await Client.GetFromJsonAsync<JsonElement>($"/api/models/{model}/factors?search=depth%20k");
        var one = found.EnumerateArray().Single(f => f.GetProperty("label").GetString() == "Controller.Depth controller.k");
        Assert.Equal(("p9/depthc.k", "1.3 1/s"), (one.GetProperty("target").GetString(), one.GetProperty("present").GetString()));
    }

    [Fact]
    public async Task Results_come_as_rows_charts_and_files()
    {
        var (_, run) = await Begun();
        var results = await Finished(run);
        Assert.Equal(7, results.GetProperty("rows").GetArrayLength());
        Assert.Equal("m", results.GetProperty("measures")[0].GetProperty("unit").GetString());

        var chart = new
        {
            kind = "scatter",
            order = 0,
            x = "factor:m",
            y = "measure:deepest",
            columns = Array.Empty<string>(),
            fit = "line",
        };
        var answer = await Client.PostAsJsonAsync($"/api/studies/{run}/chart", new { chart, without = new[] { 3 } });
        var trend = await answer.Content.ReadFromJsonAsync<JsonElement>();
        Assert.True(trend.GetProperty("determination").GetDouble() > 0.9);
        var unknown = await Client.PostAsJsonAsync($"/api/studies/{run}/chart", new { chart = chart with { x = "factor:gone" } });
        Assert.Equal(HttpStatusCode.UnprocessableEntity, unknown.StatusCode);

        var lines = (await Client.GetStringAsync($"/api/studies/{run}/table")).Trim('\uFEFF').TrimEnd().Split('\n');
        Assert.Equal(8, lines.Length);
        Assert.StartsWith("run,\"net_m [kg]\",\"Deepest point after 5 s [m]\"", lines[0], StringComparison.Ordinal);
        Assert.StartsWith(
            "PK",
            Encoding.ASCII.GetString(await Client.GetByteArrayAsync($"/api/studies/{run}/table?form=xlsx"))[..2],
            StringComparison.Ordinal
        );
        Assert.Equal("PAR1", Encoding.ASCII.GetString(await Client.GetByteArrayAsync($"/api/studies/{run}/table?form=parquet"))[..4]);
        Assert.Equal(HttpStatusCode.BadRequest, (await Client.GetAsync($"/api/studies/{run}/table?form=paper")).StatusCode);
    }

    [Fact]
    public async Task A_study_is_paused_and_removed_and_gone_with_its_model()
    {
        var (model, run) = await Begun("tol");
        async Task<JsonElement> Put(object change) =>
            await (await Client.PutAsJsonAsync($"/api/studies/{run}", change)).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal("paused", (await Put(new { state = "paused" })).GetProperty("state").GetString());
        Assert.Equal(2, (await Put(new { priority = 2 })).GetProperty("priority").GetInt32());
        var refused = await Client.PutAsJsonAsync($"/api/studies/{run}", new { state = "finished" });
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        await Client.DeleteAsync($"/api/models/{model}");
        Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync($"/api/studies/{run}")).StatusCode);
    }

    [Fact]
    public async Task A_row_becomes_runs_and_values_for_the_model()
    {
        var (model, run) = await Begun();
        await Finished(run);
        var made = await Client.PostAsJsonAsync($"/api/studies/{run}/overlay", new { rows = new[] { 0, 6 } });
        var runs = (await made.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("runs");
        Assert.Equal(["0", "6"], runs.EnumerateObject().Select(r => r.Name).Order());
        var values = await Client.GetFromJsonAsync<JsonElement>($"/api/studies/{run}/rows/6/values");
        var operation = values.GetProperty("operations")[0];
        Assert.Equal(
            ("/definitions/main/parameters/net_m/value", "140 kg"),
            (operation.GetProperty("path").GetString(), operation.GetProperty("value").GetString())
        );
        Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync($"/api/studies/{run}/rows/70/values")).StatusCode);
        Assert.NotEmpty(model);
    }

    [Fact]
    public async Task Courses_that_runs_kept_become_bands()
    {
        var (_, run) = await Begun();
        await Finished(run);
        // Results are written a moment after they came.
        JsonElement bands = default;
        Assert.True(
            await Eventually(async () =>
            {
                var body = new { rows = new[] { 0, 3, 6 }, signals = new[] { "p26.depth", "gone" } };
                bands = await (await Client.PostAsJsonAsync($"/api/studies/{run}/bands", body)).Content.ReadFromJsonAsync<JsonElement>();
                return bands.GetProperty("runs").GetInt32() == 3;
            }),
            bands.ToString()
        );
        var band = Assert.Single(bands.GetProperty("bands").EnumerateArray());
        double At(string line, int i) => band.GetProperty(line)[i].GetDouble();
        Assert.Equal(401, band.GetProperty("times").GetArrayLength());
        for (var i = 0; i < 401; i += 50)
            Assert.True(At("least", i) <= At("median", i) && At("median", i) <= At("largest", i));
        Assert.True(At("largest", 100) > At("least", 100));
    }

    static async Task<bool> Eventually(Func<Task<bool>> isSo)
    {
        var until = DateTime.UtcNow.AddSeconds(20);
        while (DateTime.UtcNow < until)
        {
            if (await isSo())
                return true;
            await Task.Delay(50);
        }

        return false;
    }

    [Theory]
    [InlineData("whenever depth > 12 m then within 20 s depth < 11 m", null)]
    [InlineData("always dept < 12 m", "Did you mean 'depth'?")]
    [InlineData("within 20 kg depth < 11 m", "a time with its unit")]
    [InlineData("always depth < 3 s", "do not agree")]
    public async Task A_rule_is_checked_while_it_is_typed(string rule, string? told)
    {
        var model = await Client.Create(new { example = "plankton-winch" });
        var answer = await Client.PostAsJsonAsync($"/api/models/{model}/rules", new { rule });
        var problem = (await answer.Content.ReadFromJsonAsync<JsonElement>()).TryGetProperty("problem", out var p) ? p.GetString() : null;
        if (told is null)
            Assert.Null(problem);
        else
            Assert.Contains(told, problem, StringComparison.Ordinal);
        var without = await Client.PostAsJsonAsync($"/api/models/{model}/rules", new { });
        Assert.Equal(HttpStatusCode.BadRequest, without.StatusCode);
    }

    [Fact]
    public async Task Rows_come_from_text_and_tolerances_are_told()
    {
        var model = await Client.Create(new { example = "plankton-winch" });
        var read = await Client.PostAsJsonAsync($"/api/models/{model}/studies/mass/rows", new { text = "net_m\n85 kg\n95 kg" });
        var action = await read.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal("Add 2 rows", action.GetProperty("label").GetString());
        var refused = await Client.PostAsJsonAsync($"/api/models/{model}/studies/mass/rows", new { file = "no base" });
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        refused = await Client.PostAsJsonAsync($"/api/models/{model}/studies/mass/rows", new { text = "" });
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var told = await Client.GetFromJsonAsync<JsonElement>($"/api/models/{model}/tolerances");
        Assert.Equal("59.5…80.5 kg/m", told.GetProperty("tolerances")[0].GetProperty("told").GetString());
    }

    [Fact]
    public async Task A_study_without_factors_is_refused_with_advice()
    {
        var model = await Client.Create(new { example = "hatchery-tank" });
        var study = new
        {
            name = "Empty",
            order = 1,
            factors = new { },
            charts = new { },
            conditions = Array.Empty<string>(),
            rows = Array.Empty<object>(),
            off = Array.Empty<int>(),
            design = new
            {
                kind = "grid",
                runs = 1,
                seed = 1,
                draws = 1,
            },
        };
        var edit = await Client.PostAsJsonAsync(
            $"/api/models/{model}/edits",
            new
            {
                basis = 0,
                label = "add",
                client = "t",
                operations = new[]
                {
                    new
                    {
                        op = "add",
                        path = "/studies/e",
                        value = study,
                    },
                },
            }
        );
        Assert.Equal(HttpStatusCode.OK, edit.StatusCode);
        var refused = await Client.PostAsJsonAsync($"/api/models/{model}/studies/e/runs", new { });
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var problem = await refused.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Contains("Nothing varies", problem.GetProperty("detail").GetString(), StringComparison.Ordinal);
        Assert.NotEmpty(problem.GetProperty("advice").GetString()!);
    }
}
