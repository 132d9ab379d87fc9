using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Runs, signals, measures and plots over HTTP.</summary>
public sealed class ObserveTests : ServerTest
{
    async Task<(string Model, string Run)> Ran()
    {
        var model = (await Post("/api/models", new { example = "plankton-winch" })).GetProperty("id").GetString()!;
        var run = (await Post($"/api/models/{model}/runs", new { })).GetProperty("id").GetString()!;
        await Client.GetAsync($"/api/runs/{run}?wait=true");
        return (model, run);
    }

    [Fact]
    public async Task Signals_are_found_and_told_with_their_units()
    {
        var (model, _) = await Ran();
        var found = await Get($"/api/models/{model}/signals?search=tension&limit=3");
        var first = found.GetProperty("signals")[0];
        Assert.Equal(("tension", "N"), (first.GetProperty("label").GetString(), first.GetProperty("unit").GetString()));
        var views = await Post($"/api/models/{model}/signals", new { signals = new[] { new { signal = "p26.depth", unit = "mm" } } });
        Assert.Equal(1000, views[0].GetProperty("view").GetProperty("scale").GetDouble());
        Assert.Contains("km", views[0].GetProperty("units").EnumerateArray().Select(u => u.GetString()));
    }

    [Fact]
    public async Task Measures_and_plots_are_computed_from_a_run()
    {
        var (model, run) = await Ran();
        var measured = await Get($"/api/models/{model}/measures?run={run}");
        Assert.Equal("m", measured[0].GetProperty("values").GetProperty("deepest").GetProperty("shownUnit").GetString());
        var tried = await Get($"/api/runs/{run}/measure?expression={Uri.EscapeDataString("maximum(depth) < ")}");
        Assert.True(tried.GetProperty("isWrong").GetBoolean());
        var histogram = await Get($"/api/runs/{run}/histogram?signal=p26.depth&classes=8");
        Assert.Equal(1, histogram.GetProperty("shares").EnumerateArray().Sum(s => s.GetDouble()), 1e-9);
        foreach (
            var path in (string[])
                [
                    "spectrum?signal=p26.depth&form=density&averages=4",
                    "against?x=p14.payout&signal=p26.depth",
                    "traces?signal=p26.depth&width=50",
                    "table?signal=p26.depth&form=parquet",
                    "table?signal=p26.depth&form=arrow&every=0.5",
                ]
        )
            Assert.NotEmpty(await Client.GetByteArrayAsync($"/api/runs/{run}/{path}"));
        foreach (var path in (string[])["spectrum?signal=a&window=kaiser", "table?signal=a&form=xml", "traces?signal=p26.depth&minus=gone"])
            Assert.InRange((int)(await Client.GetAsync($"/api/runs/{run}/{path}")).StatusCode, 400, 404);
    }

    [Fact]
    public async Task A_run_is_played_over_http()
    {
        var (model, _) = await Ran();
        var run = (await Post($"/api/models/{model}/plays?client=w", new { })).GetProperty("id").GetString()!;
        await Post($"/api/runs/{run}/go", new { time = 5 });
        JsonElement view;
        do view = await Get($"/api/runs/{run}");
        while (view.GetProperty("state").GetString() != "paused" || view.GetProperty("reached").GetDouble() < 5);
        Assert.Equal(5, view.GetProperty("reached").GetDouble());
        var saved = await Post($"/api/runs/{run}/states", new { name = "five" });
        var branch = await Post($"/api/runs/{run}/branches", new { state = saved.GetProperty("id").GetString(), client = "w" });
        Assert.NotEqual(run, branch.GetProperty("id").GetString());
        var refused = await Client.PostAsJsonAsync(
            $"/api/runs/{run}/set",
            new
            {
                part = "",
                parameter = "nothing",
                value = "1",
            }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        foreach (var body in (object[])[new { step = "jump" }, new { pace = 1e9 }])
            Assert.Equal(HttpStatusCode.BadRequest, (await Client.PostAsJsonAsync($"/api/runs/{run}/go", body)).StatusCode);
        await Post($"/api/runs/{run}/stop", new { });
        Assert.Equal(HttpStatusCode.NotFound, (await Client.PostAsJsonAsync("/api/runs/gone/pause", new { })).StatusCode);
    }

    [Fact]
    public async Task A_difference_and_a_course_are_computed()
    {
        var (model, run) = await Ran();
        var again = (await Post($"/api/models/{model}/runs", new { })).GetProperty("id").GetString()!;
        await Client.GetAsync($"/api/runs/{again}?wait=true");
        Assert.Equal("They are the same run.", (await Get($"/api/runs/{again}/difference?with={run}")).GetProperty("summary").GetString());
        Assert.NotEmpty(await Client.GetByteArrayAsync($"/api/runs/{again}/traces?signal=p26.depth&minus={run}"));
        var course = await Post(
            "/api/courses",
            new
            {
                part = "Ramp",
                parameters = new { },
                end = 4,
            }
        );
        Assert.True(course.GetProperty("times").GetArrayLength() >= 2);
        var refused = await Client.PostAsJsonAsync("/api/courses", new { part = "Lag", end = 4 });
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
    }
}
