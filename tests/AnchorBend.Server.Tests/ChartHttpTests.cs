using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Charts, panels, alerts and faults over HTTP.</summary>
public sealed class ChartHttpTests : ServerTest
{
    async Task<string> Example(string name) => (await Post("/api/models", new { example = name })).GetProperty("id").GetString()!;

    [Fact]
    public async Task A_chart_goes_out_as_xml_and_comes_in_again()
    {
        var model = await Example("near-and-far-side");
        var text = await Client.GetStringAsync($"/api/models/{model}/charts/sides/xml");
        Assert.Contains("http://www.w3.org/2005/07/scxml", text, StringComparison.Ordinal);
        var chart = await Post("/api/charts", new { text });
        Assert.Equal("Sides", chart.GetProperty("name").GetString());
        Assert.Equal(3, chart.GetProperty("transitions").EnumerateObject().Count());
        foreach (
            var wrong in (string?[])[null, "", "<a/>", "<scxml xmlns='http://www.w3.org/2005/07/scxml'><state><invoke/></state></scxml>"]
        )
        {
            var refused = await Client.PostAsJsonAsync("/api/charts", new { text = wrong });
            Assert.True(refused.StatusCode is HttpStatusCode.BadRequest or HttpStatusCode.UnprocessableEntity, $"{refused.StatusCode}");
        }

        Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync($"/api/models/{model}/charts/main/xml")).StatusCode);
    }

    [Fact]
    public async Task What_was_taken_and_how_a_state_is_reached_is_told()
    {
        var model = await Example("near-and-far-side");
        var run = (await Post($"/api/models/{model}/runs", new { })).GetProperty("id").GetString()!;
        await Client.GetAsync($"/api/runs/{run}?wait=true");
        var taken = await Get($"/api/runs/{run}/taken?level=c&until=2");
        var only = Assert.Single(taken.GetProperty("taken").EnumerateArray());
        Assert.Equal(("Near side", 1.25), (only.GetProperty("from").GetString(), Math.Round(only.GetProperty("time").GetDouble(), 9)));
        var way = await Get($"/api/runs/{run}/approach?level=c&state=far&time=0.5");
        Assert.False(way.GetProperty("steps")[0].GetProperty("isOpen").GetBoolean());
        foreach (var path in (string[])["taken?level=nobody", "approach?level=c&state=nobody&time=1"])
            Assert.Equal(HttpStatusCode.NotFound, (await Client.GetAsync($"/api/runs/{run}/{path}")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await Client.GetAsync($"/api/runs/{run}/approach?level=c&state=far&time=NaN")).StatusCode);
    }

    [Fact]
    public async Task A_panel_sets_values_and_faults_of_a_played_run()
    {
        var model = await Example("survey-mission");
        var panel = await Get($"/api/models/{model}/panels/q1");
        Assert.Equal("Integer", panel.GetProperty("items").GetProperty("i1").GetProperty("type").GetString());
        var found = await Get($"/api/models/{model}/settable?search=stick");
        Assert.Equal("stick.k", found[0].GetProperty("target").GetString());
        var run = (await Post($"/api/models/{model}/plays", new { })).GetProperty("id").GetString()!;
        await Post($"/api/runs/{run}/go", new { time = 1.0 });
        await Paused(run, 1);
        await Post(
            $"/api/runs/{run}/set",
            new
            {
                part = "req",
                parameter = "k",
                value = "2",
            }
        );
        await Post($"/api/runs/{run}/set", new { fault = "f3", value = "true" });
        await Post(
            $"/api/runs/{run}/go",
            new
            {
                time = 2.0,
                stops = new[]
                {
                    new
                    {
                        chart = "m",
                        item = "keep",
                        when = "entry",
                    },
                },
            }
        );
        await Paused(run, 1.05);
        var readings = await Get($"/api/runs/{run}/readings?time=2&signal=m.request&signal=m.position_ok&signal=nobody");
        Assert.Equal(2, readings.GetProperty("m.request").GetDouble());
        Assert.Equal(0, readings.GetProperty("m.position_ok").GetDouble());
        Assert.False(readings.TryGetProperty("nobody", out _));
        var alerts = await Get($"/api/runs/{run}/alerts");
        Assert.Contains(alerts.EnumerateArray(), a => a.GetProperty("alert").GetString() == "a1");
        foreach (
            var (path, body) in ((string, object)[])
                [
                    ("set", new { fault = "nobody", value = "true" }),
                    ("set", new { fault = "f3", value = "perhaps" }),
                    ("go", new { stops = new[] { new { chart = "m", item = "nobody" } } }),
                ]
        )
        {
            var refused = await Client.PostAsJsonAsync($"/api/runs/{run}/{path}", body);
            Assert.True(
                refused.StatusCode is HttpStatusCode.NotFound or HttpStatusCode.UnprocessableEntity,
                $"{path}: {refused.StatusCode}"
            );
        }
    }

    async Task Paused(string run, double least)
    {
        for (var i = 0; i < 400; i++)
        {
            var view = await Get($"/api/runs/{run}");
            if (view.GetProperty("state").GetString() == "paused" && view.GetProperty("reached").GetDouble() >= least)
                return;
            await Task.Delay(25);
        }

        Assert.Fail("The run did not pause.");
    }
}
