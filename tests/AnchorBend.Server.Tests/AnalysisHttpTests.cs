using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Linear systems, modes, rest and measured responses over HTTP.</summary>
public sealed class AnalysisHttpTests : ServerTest
{
    async Task<JsonElement> Ask(string path, object body)
    {
        var response = await Client.PostAsJsonAsync($"/api/{path}", body);
        Assert.True(response.IsSuccessStatusCode, await response.Content.ReadAsStringAsync());
        return await response.Content.ReadFromJsonAsync<JsonElement>();
    }

    async Task<JsonElement> Refused(string path, object body)
    {
        var response = await Client.PostAsJsonAsync($"/api/{path}", body);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, response.StatusCode);
        return await response.Content.ReadFromJsonAsync<JsonElement>();
    }

    [Fact]
    public async Task A_loop_is_linear_and_measured_alike_and_a_model_is_fitted_to_it()
    {
        var id = await Client.Create(new { example = "hatchery-tank" });

        var linear = await Ask(
            $"models/{id}/linear",
            new
            {
                from = "Controller.u",
                to = "Controller.y",
                open = "Controller.u",
            }
        );
        var states = linear.GetProperty("states").GetInt32();
        Assert.Equal(states, linear.GetProperty("poles").GetArrayLength());
        Assert.Equal(linear.GetProperty("frequencies").GetArrayLength(), linear.GetProperty("phase").GetArrayLength());

        var sweep = await Ask(
            $"models/{id}/sweep",
            new
            {
                signal = "Controller.u",
                to = "Controller.y",
                from = "Controller.u",
                low = 0.002,
                high = 0.05,
                count = 6,
                amplitude = 5,
            }
        );
        var points = sweep.GetProperty("points").EnumerateArray().ToList();
        Assert.Equal(6, points.Count);
        for (var i = 0; i < points.Count; i++)
            Assert.Equal(sweep.GetProperty("linearMagnitude")[i].GetDouble(), points[i].GetProperty("magnitude").GetDouble(), 0.1);

        var fit = await Ask(
            "fit",
            new
            {
                frequencies = points.Select(p => p.GetProperty("frequency").GetDouble()),
                re = points.Select(p => p.GetProperty("re").GetDouble()),
                im = points.Select(p => p.GetProperty("im").GetDouble()),
                order = states,
                zeros = linear.GetProperty("zeros").GetArrayLength(),
                integrators = 0,
                hasDelay = false,
            }
        );
        Assert.InRange(fit.GetProperty("quality").GetDouble(), 0.98, 1);
    }

    [Fact]
    public async Task Modes_name_the_parts_that_move()
    {
        var id = await Client.Create(new { example = "plankton-winch" });

        var modes = (await Ask($"models/{id}/modes", new { })).GetProperty("modes").EnumerateArray().ToList();

        Assert.Equal(
            modes.Select(m => m.GetProperty("frequency").GetDouble()).Order(),
            modes.Select(m => m.GetProperty("frequency").GetDouble())
        );
        Assert.All(modes, m => Assert.True(m.GetProperty("re").GetDouble() < 0));
        Assert.All(modes, m =>
            Assert.InRange(m.GetProperty("states").EnumerateArray().Sum(s => s.GetProperty("share").GetDouble()), 0.97, 1.001)
        );
        Assert.Contains(modes.SelectMany(m => m.GetProperty("states").EnumerateArray()), s =>
            s.GetProperty("part").GetString() == "p9/speedc"
        );
    }

    [Fact]
    public async Task Rest_with_a_wanted_value_frees_a_parameter_and_says_what_sets_it()
    {
        var id = await Client.Create(new { example = "hatchery-tank" });
        var all = (await Ask($"models/{id}/steady", new { })).GetProperty("values").EnumerateArray().ToList();
        Assert.Contains(all, v => v.GetProperty("signal").GetString() == "Controller.u");

        var refused = await Refused($"models/{id}/steady", new { @fixed = new[] { new { signal = "Controller.y", value = "3 kg" } } });
        Assert.Contains("is no value for", refused.GetProperty("detail").GetString()!, StringComparison.Ordinal);
        Assert.Contains(
            "There is no signal",
            (await Refused($"models/{id}/steady", new { @fixed = new[] { new { signal = "nobody", value = "3" } } }))
                .GetProperty("detail")
                .GetString()!,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task What_makes_no_sense_is_refused_with_advice()
    {
        var id = await Client.Create(new { example = "hatchery-tank" });
        foreach (
            var (path, body) in new (string, object)[]
            {
                ($"models/{id}/linear", new { from = "nobody", to = "Controller.y" }),
                (
                    $"models/{id}/linear",
                    new
                    {
                        from = "Controller.u",
                        to = "Controller.y",
                        lowFrequency = -1,
                    }
                ),
                (
                    $"models/{id}/sweep",
                    new
                    {
                        signal = "Controller.u",
                        low = 5,
                        high = 1,
                        count = 3,
                    }
                ),
                (
                    $"models/{id}/sweep",
                    new
                    {
                        signal = "Controller.u",
                        low = 1,
                        high = 5,
                        count = 100000,
                    }
                ),
                (
                    "fit",
                    new
                    {
                        frequencies = new[] { 1.0 },
                        re = new[] { 1.0 },
                        im = Array.Empty<double>(),
                        order = 1,
                    }
                ),
                (
                    "fit",
                    new
                    {
                        frequencies = new[] { 1.0 },
                        re = new[] { 1.0 },
                        im = new[] { 0.0 },
                        order = 99,
                    }
                ),
            }
        )
            Assert.NotEmpty((await Refused(path, body)).GetProperty("advice").GetString()!);
    }

    [Fact]
    public async Task What_moves_a_mode_most_comes_first_and_its_poles_can_be_followed()
    {
        var id = await Client.Create(
            new
            {
                text = "model M parameter Real m = 2; parameter Real c = 8; parameter Real d = 1; Real x(start = 0); "
                    + "Real v(start = 0); equation der(x) = v; m * der(v) = -c * x - d * v; end M;",
            }
        );
        var modes = await (await Client.PostAsJsonAsync($"/api/models/{id}/modes", new { })).Content.ReadFromJsonAsync<JsonElement>();
        var mode = modes.GetProperty("modes")[0];
        Assert.Empty(modes.GetProperty("held").EnumerateArray());

        var response = await Client.PostAsJsonAsync(
            $"/api/models/{id}/modes/movers",
            new { re = mode.GetProperty("re").GetDouble(), im = mode.GetProperty("im").GetDouble() }
        );

        var movers = (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("movers").EnumerateArray().ToList();
        Assert.Equal(3, movers.Count);
        Assert.Equal(0.5, movers.Max(m => m.GetProperty("frequency").GetDouble()), 1e-4);

        var locus = await Client.PostAsJsonAsync(
            $"/api/models/{id}/modes/locus",
            new
            {
                parameter = "M.d",
                from = "0.1",
                to = "20",
            }
        );
        var answer = await locus.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(2, answer.GetProperty("branches").GetArrayLength());
        Assert.Equal(20, answer.GetProperty("values").EnumerateArray().Last().GetDouble(), 1e-9);
        // Overdamped at last: both poles are real.
        Assert.All(answer.GetProperty("branches").EnumerateArray(), b =>
            Assert.Equal(0, b.EnumerateArray().Last().GetProperty("im").GetDouble())
        );
    }

    [Fact]
    public async Task Poles_over_a_parameter_are_refused_where_samples_lie_in_the_model()
    {
        var id = await Client.Create(new { example = "crane-slewing" });

        var refused = await Client.PostAsJsonAsync($"/api/models/{id}/modes/locus", new { parameter = "shaft.c" });

        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var modes = await (await Client.PostAsJsonAsync($"/api/models/{id}/modes", new { })).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Contains("Speed controller", modes.GetProperty("held").EnumerateArray().Select(h => h.GetString()));
    }
}
