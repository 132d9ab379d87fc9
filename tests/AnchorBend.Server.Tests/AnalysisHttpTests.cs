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
                open = new[] { "Controller.u" },
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

    [Fact]
    public async Task Points_over_a_quantity_are_saved_and_the_loop_is_looked_at_from_them()
    {
        var id = await Client.Create(new { example = "header-tank" });
        var series = await Ask(
            $"models/{id}/steady/series",
            new
            {
                each = new { isInstant = false },
                over = "Wanted level.first",
                from = "0.5 m",
                to = "1.7 m",
                count = 3,
            }
        );
        var points = series.GetProperty("points").EnumerateArray().ToList();
        Assert.Equal("m", series.GetProperty("unit").GetString());
        Assert.All(points, p => Assert.True(p.GetProperty("found").GetProperty("isMet").GetBoolean()));
        var operations = points
            .Select(
                (p, i) =>
                {
                    var node = System.Text.Json.Nodes.JsonNode.Parse(p.GetProperty("found").GetProperty("node").GetRawText())!;
                    node["name"] = $"Level {i}";
                    return (object)
                        new
                        {
                            op = "add",
                            path = $"/operatingPoints/o{i}",
                            value = node,
                        };
                }
            )
            .ToArray();
        await Client.Edit(id, 0, operations);

        // The tank widens with the square of its level, and its pole goes with it: −c/(2 A √h) …
        double Slowest(JsonElement linear) => linear.GetProperty("poles")[0].GetProperty("re").GetDouble();
        async Task<JsonElement> At(string? point) =>
            await Ask(
                $"models/{id}/linear",
                new
                {
                    from = "Level controller.u",
                    to = "Level controller.y",
                    open = new[] { "Level controller.u" },
                    point,
                }
            );
        foreach (var (point, level) in (IEnumerable<(string, double)>)[("o0", 0.5), ("o1", 1.1), ("o2", 1.7)])
            Assert.Equal(-0.01 / (2 * Math.Sqrt(level) * 1.2 * level * level), Slowest(await At(point)), 1e-6);

        var best = await Ask(
            $"models/{id}/loops/points",
            new
            {
                part = "level",
                points = new[] { "o2", "o0", "o1" },
                best = new
                {
                    form = "PI",
                    goal = "load",
                    sensitivity = 1.6,
                },
            }
        );
        var rows = best.GetProperty("points").EnumerateArray().ToList();
        Assert.All(rows, r => Assert.InRange(r.GetProperty("figures").GetProperty("sensitivity").GetDouble(), 1.5, 1.6005));
        Assert.Equal([1.7, 0.5, 1.1], rows.Select(r => Math.Round(r.GetProperty("quantity").GetDouble(), 6)));
        Assert.Equal("{0.5, 1.1, 1.7}", best.GetProperty("texts").GetProperty("at").GetString());

        // Halfway, with the table that would be filled, the loop is nearly as good: gains between two good ones.
        var between = await Ask(
            $"models/{id}/loops/points",
            new
            {
                part = "level",
                points = new[] { "o2", "o0", "o1" },
                best = new
                {
                    form = "PI",
                    goal = "load",
                    sensitivity = 1.6,
                },
                between = true,
            }
        );
        rows = [.. between.GetProperty("points").EnumerateArray()];
        Assert.Equal([0.5, 0.8, 1.1, 1.4, 1.7], rows.Select(r => Math.Round(r.GetProperty("quantity").GetDouble(), 6)));
        Assert.Equal([false, true, false, true, false], rows.Select(r => r.GetProperty("isBetween").GetBoolean()));
        Assert.All(rows, r => Assert.InRange(r.GetProperty("figures").GetProperty("sensitivity").GetDouble(), 1.2, 1.9));
        var gains = rows.Select(r => r.GetProperty("gains").GetProperty("k").GetDouble()).ToArray();
        Assert.Equal((gains[0] + gains[2]) / 2, gains[1], 1e-6 * gains[1]);

        var all = await Ask(
            $"models/{id}/loops/designs",
            new
            {
                part = "level",
                asks = new[]
                {
                    new
                    {
                        name = "all",
                        best = new
                        {
                            form = "PI",
                            goal = "load",
                            sensitivity = 1.6,
                            points = new[] { "o0", "o1", "o2" },
                        },
                    },
                },
            }
        );
        var design = all.GetProperty("designs")[0];
        Assert.Contains("highest at Level", design.GetProperty("remark").GetString(), StringComparison.Ordinal);
        var held = await Ask(
            $"models/{id}/loops/points",
            new
            {
                part = "level",
                points = new[] { "o0", "o1", "o2" },
                gains = design.GetProperty("gains"),
            }
        );
        Assert.All(held.GetProperty("points").EnumerateArray(), p =>
            Assert.True(p.GetProperty("figures").GetProperty("sensitivity").GetDouble() <= 1.6005)
        );
    }

    [Fact]
    public async Task A_system_is_told_as_matrices_and_as_it_is_sampled()
    {
        var id = await Client.Create(new { example = "header-tank" });
        var system = await Ask(
            $"models/{id}/linear/system",
            new
            {
                from = new[] { "Level controller.u" },
                to = new[] { "Level controller.y" },
                open = new[] { "Level controller.u" },
                period = 5.0,
            }
        );
        Assert.Equal(3, system.GetProperty("states").GetArrayLength());
        Assert.Equal(4, system.GetProperty("transfer").GetProperty("denominator").GetArrayLength());
        var conversions = system.GetProperty("conversions").EnumerateArray().ToDictionary(c => c.GetProperty("hold").GetString()!);
        Assert.Equal(["matched", "tustin", "zoh"], conversions.Keys.Order());
        // Poles of the held one are exp(p T).
        var slow = system.GetProperty("poles")[0].GetProperty("re").GetDouble();
        Assert.Contains(conversions["zoh"].GetProperty("poles").EnumerateArray(), p =>
            Math.Abs(p.GetProperty("re").GetDouble() - Math.Exp(5 * slow)) < 1e-9
        );
        var several = await Ask(
            $"models/{id}/linear/system",
            new { from = new[] { "Level controller.u", "Wanted level.y" }, to = new[] { "Header tank.y", "Pump.y" } }
        );
        Assert.Equal(2, several.GetProperty("singularValues").GetArrayLength());
        Assert.False(several.TryGetProperty("transfer", out _));
        await Refused($"models/{id}/linear/system", new { from = new[] { "Nothing.y" }, to = new[] { "Pump.y" } });
        await Refused($"models/{id}/linear/system", new { from = Array.Empty<string>(), to = new[] { "Pump.y" } });
    }

    [Fact]
    public async Task A_relay_test_finds_what_the_linear_model_says()
    {
        var id = await Client.Create(new { example = "header-tank" });
        var test = await Ask(
            $"models/{id}/transient",
            new
            {
                signal = "Level controller.u",
                to = "Level controller.y",
                kind = "relay",
                duration = 1100,
            }
        );
        Assert.Equal(3, test.GetProperty("points").GetArrayLength());
        Assert.Equal(
            test.GetProperty("linearMagnitude")[0].GetDouble(),
            test.GetProperty("points")[0].GetProperty("magnitude").GetDouble(),
            0.05
        );
        Assert.True(test.GetProperty("record").GetProperty("output").GetArrayLength() > 100);
        var refusal = await Refused(
            $"models/{id}/transient",
            new
            {
                signal = "Level controller.u",
                to = "Level controller.y",
                kind = "thump",
                duration = 100,
            }
        );
        Assert.Equal("kind", refusal.GetProperty("code").GetString());
    }

    [Fact]
    public async Task State_feedback_is_designed_by_bandwidths_or_weights()
    {
        var id = await Client.Create(new { example = "header-tank" });
        object Asked(object? weights) =>
            new
            {
                from = "Level controller.u",
                to = "Level controller.y",
                open = new[] { "Level controller.u" },
                bandwidth = 0.03,
                observer = 0.12,
                integral = 0.01,
                weights,
            };
        var found = await Ask($"models/{id}/linear/feedback", Asked(null));
        Assert.True(found.GetProperty("isStable").GetBoolean());
        Assert.Equal(4, found.GetProperty("feedback").GetArrayLength());
        Assert.Equal(1, found.GetProperty("step").EnumerateArray().Last().GetDouble(), 0.02);
        Assert.StartsWith("[", found.GetProperty("texts").GetProperty("A").GetString(), StringComparison.Ordinal);

        // Its own weights say the same.
        var again = await Ask($"models/{id}/linear/feedback", Asked(found.GetProperty("weights")));
        Assert.Equal(found.GetProperty("feedback")[0].GetDouble(), again.GetProperty("feedback")[0].GetDouble(), 1e-9);
        await Refused(
            $"models/{id}/linear/feedback",
            Asked(
                new
                {
                    effort = 0.0,
                    integral = 1.0,
                    noise = 1.0,
                }
            )
        );

        var damped = await Ask(
            $"models/{id}/loops/designs",
            new
            {
                part = "level",
                asks = new[]
                {
                    new
                    {
                        name = "damped",
                        best = new
                        {
                            form = "PI",
                            goal = "load",
                            sensitivity = 2.5,
                            damping = 0.7,
                        },
                    },
                },
            }
        );
        Assert.InRange(damped.GetProperty("designs")[0].GetProperty("figures").GetProperty("sensitivity").GetDouble(), 1.1, 1.7);
    }
}
