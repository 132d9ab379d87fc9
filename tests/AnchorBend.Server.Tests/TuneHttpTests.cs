using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Loops, the design map and designs over HTTP.</summary>
public sealed class TuneHttpTests : ServerTest
{
    async Task<JsonElement> Ask(string id, string what, object body)
    {
        var response = await Client.PostAsJsonAsync($"/api/models/{id}/loops{what}", body);
        Assert.True(response.IsSuccessStatusCode, await response.Content.ReadAsStringAsync());
        return await response.Content.ReadFromJsonAsync<JsonElement>();
    }

    [Fact]
    public async Task Loops_stand_inside_one_another_the_inner_ones_first()
    {
        var id = await Client.Create(new { example = "plankton-winch" });

        var loops = (await Ask(id, "", new { })).GetProperty("loops").EnumerateArray().ToList();

        Assert.Equal(["Speed controller", "Depth controller"], loops.Select(l => l.GetProperty("name").GetString()));
        Assert.Equal(loops[1].GetProperty("part").GetString(), loops[0].GetProperty("around").GetString());
        Assert.False(loops[1].TryGetProperty("around", out _));
        Assert.True(loops[0].GetProperty("figures").GetProperty("bandwidth").GetDouble() > 4);
        Assert.Equal("/definitions/d6/parts/speedc/parameters", loops[0].GetProperty("pointer").GetString());
    }

    [Fact]
    public async Task A_place_of_the_map_has_the_gains_that_it_says()
    {
        var id = await Client.Create(new { example = "hatchery-tank" });
        var map = await Ask(
            id,
            "/map",
            new
            {
                part = "pi",
                form = "PI",
                wishes = new { sensitivity = 1.5 },
            }
        );
        var best = map.GetProperty("advice").GetProperty("best");

        var answer = await Ask(
            id,
            "/designs",
            new
            {
                part = "pi",
                asks = new object[]
                {
                    new { name = "applied" },
                    new
                    {
                        name = "in hand",
                        place = new
                        {
                            form = "PI",
                            bandwidth = best.GetProperty("bandwidth").GetDouble(),
                            sensitivity = best.GetProperty("sensitivity").GetDouble(),
                        },
                    },
                },
            }
        );

        var hand = answer.GetProperty("designs")[1];
        Assert.Equal(
            best.GetProperty("loadError").GetDouble(),
            hand.GetProperty("figures").GetProperty("loadError").GetDouble(),
            0.03 * best.GetProperty("loadError").GetDouble()
        );
        // In the unit of the field, 0.4 kW/K at first.
        Assert.EndsWith(" kW/K", hand.GetProperty("texts").GetProperty("k").GetString()!, StringComparison.Ordinal);
        Assert.Equal(answer.GetProperty("times").GetArrayLength(), hand.GetProperty("load").GetArrayLength());
        Assert.Equal(answer.GetProperty("frequencies").GetArrayLength(), hand.GetProperty("phase").GetArrayLength());
    }

    [Fact]
    public async Task The_true_run_with_the_present_gains_is_the_run_of_the_model_and_other_gains_change_it()
    {
        var id = await Client.Create(new { example = "hatchery-tank" });

        var present = await Ask(id, "/run", new { part = "pi" });
        var same = await Ask(
            id,
            "/run",
            new
            {
                part = "pi",
                gains = new
                {
                    form = "PI",
                    k = 400,
                    ti = 300,
                },
            }
        );
        var other = await Ask(
            id,
            "/run",
            new
            {
                part = "pi",
                gains = new
                {
                    form = "PI",
                    k = 40,
                    ti = 900,
                },
            }
        );

        static string Error(JsonElement run) => run.GetProperty("error").GetRawText();
        Assert.Equal(Error(present), Error(same));
        Assert.NotEqual(Error(present), Error(other));
        Assert.All(present.GetProperty("atLimit").EnumerateArray(), s => Assert.True(s.GetProperty("to").GetDouble() > 0));
    }

    [Theory]
    [InlineData("{\"part\":\"tank\",\"form\":\"PI\"}", "not a controller that can be tuned")]
    [InlineData("{\"part\":\"pi\",\"form\":\"XYZ\"}", "no form")]
    [InlineData("{\"part\":\"pi\",\"form\":\"PI\",\"from\":5,\"to\":1}", "must rise")]
    [InlineData("{\"part\":\"pi\",\"form\":\"P\"}", "fills no map")]
    public async Task What_cannot_be_mapped_is_refused_with_a_reason(string body, string why)
    {
        var id = await Client.Create(new { example = "hatchery-tank" });

        var response = await Client.PostAsync($"/api/models/{id}/loops/map", new StringContent(body, null, "application/json"));

        Assert.Equal(HttpStatusCode.UnprocessableEntity, response.StatusCode);
        var problem = await response.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Contains(why, problem.GetProperty("detail").GetString()!, StringComparison.Ordinal);
        Assert.NotEmpty(problem.GetProperty("advice").GetString()!);
    }

    [Fact]
    public async Task A_design_that_cannot_be_had_says_why_beside_the_others()
    {
        var id = await Client.Create(new { example = "hatchery-tank" });

        var designs = (
            await Ask(
                id,
                "/designs",
                new
                {
                    part = "pi",
                    asks = new object[]
                    {
                        new
                        {
                            name = "A",
                            gains = new
                            {
                                form = "PI",
                                k = 1.0,
                                ti = 0.0,
                            },
                        },
                        new
                        {
                            name = "B",
                            gains = new
                            {
                                form = "PI",
                                k = -400.0,
                                ti = 300.0,
                            },
                        },
                    },
                }
            )
        ).GetProperty("designs");

        Assert.Contains("out of range", designs[0].GetProperty("problem").GetString()!, StringComparison.Ordinal);
        Assert.Contains("unstable", designs[1].GetProperty("warning").GetString()!, StringComparison.Ordinal);
        Assert.Empty(designs[1].GetProperty("setPoint").EnumerateArray());
    }

    [Fact]
    public async Task A_sampled_loop_is_looked_at_by_its_samples()
    {
        var id = await Client.Create(new { example = "crane-slewing" });

        var loop = Assert.Single((await Ask(id, "", new { })).GetProperty("loops").EnumerateArray());

        Assert.Equal(0.005, loop.GetProperty("period").GetDouble());
        Assert.Equal(["PI", "PID"], loop.GetProperty("forms").EnumerateArray().Select(f => f.GetString()));
        var map = await Ask(id, "/map", new { part = "speedc", form = "PI" });
        // No sampled loop is faster than half of its samples.
        Assert.True(map.GetProperty("bandwidths").EnumerateArray().Last().GetDouble() < Math.PI / 0.005);
        var best = await Ask(
            id,
            "/designs",
            new
            {
                part = "speedc",
                end = 0.1,
                asks = new object[]
                {
                    new
                    {
                        name = "a",
                        best = new
                        {
                            form = "PI",
                            goal = "load",
                            sensitivity = 1.4,
                        },
                    },
                },
            }
        );
        var design = best.GetProperty("designs")[0];
        Assert.InRange(design.GetProperty("figures").GetProperty("sensitivity").GetDouble(), 1.38, 1.401);
        Assert.EndsWith(" s", design.GetProperty("texts").GetProperty("Ti").GetString()!, StringComparison.Ordinal);
        // No output between two samples but the one that is held.
        var effort = design.GetProperty("effort").EnumerateArray().Select(v => v.GetDouble()).ToList();
        Assert.True(effort.Zip(effort.Skip(1)).Count(p => p.First == p.Second) > 50);
    }

    [Fact]
    public async Task A_form_that_a_controller_cannot_have_is_refused_with_those_it_can()
    {
        var id = await Client.Create(new { example = "crane-slewing" });

        var refused = await Client.PostAsJsonAsync($"/api/models/{id}/loops/map", new { part = "speedc", form = "PD" });

        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("PI, PID", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Gains_of_a_parallel_form_are_written_as_it_has_them()
    {
        var id = await Client.Create(
            new
            {
                text = "model M Step s; ParallelPID c(kp = 1, ki = 0.5); Lag p(T = 2); equation connect(s.y, c.r); "
                    + "connect(c.u, p.u); connect(p.y, c.y); end M;",
            }
        );
        var loop = Assert.Single((await Ask(id, "", new { })).GetProperty("loops").EnumerateArray());

        var answer = await Ask(
            id,
            "/designs",
            new
            {
                part = loop.GetProperty("part").GetString(),
                asks = new object[]
                {
                    new
                    {
                        name = "typed",
                        gains = new
                        {
                            form = "PID",
                            k = 2,
                            ti = 4,
                            td = 0.5,
                        },
                    },
                },
            }
        );

        var texts = answer.GetProperty("designs")[0].GetProperty("texts");
        Assert.Equal("2", texts.GetProperty("kp").GetString());
        Assert.Equal("0.5", texts.GetProperty("ki").GetString());
        Assert.Equal("1", texts.GetProperty("kd").GetString());
    }

    [Fact]
    public async Task A_linear_system_with_samples_in_it_says_after_what_time_they_are_taken_again()
    {
        var id = await Client.Create(new { example = "crane-slewing" });

        var response = await Client.PostAsJsonAsync($"/api/models/{id}/linear", new { from = "set.y", to = "tip.w" });

        Assert.True(response.IsSuccessStatusCode, await response.Content.ReadAsStringAsync());
        var answer = await response.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(0.005, answer.GetProperty("period").GetDouble());
        // The boom comes to the wanted speed.
        Assert.Equal(1, answer.GetProperty("step").EnumerateArray().Last().GetDouble(), 0.02);
        Assert.All(answer.GetProperty("poles").EnumerateArray(), p => Assert.True(p.GetProperty("re").GetDouble() < 1e-3));
    }

    const string Cascade =
        "model M Step s; PID slow(form = PID.Form.PI, k = 0.5, Ti = 4); "
        + "PID fast(form = PID.Form.PI, k = 1, Ti = 1); Lag a(T = 0.1); Lag b(T = 1); "
        + "equation connect(s.y, slow.r); connect(slow.u, fast.r); connect(fast.u, a.u); "
        + "connect(a.y, fast.y); connect(a.y, b.u); connect(b.y, slow.y); end M;";

    async Task<(string Id, List<JsonElement> Loops)> Nested()
    {
        var id = await Client.Create(new { text = Cascade });
        var loops = (await Ask(id, "", new { })).GetProperty("loops").EnumerateArray().ToList();
        Assert.Equal(["fast", "slow"], loops.Select(l => l.GetProperty("path").GetString()));
        return (id, loops);
    }

    [Fact]
    public async Task A_loop_is_tuned_with_the_gains_that_were_found_for_the_loop_inside_it()
    {
        var (id, loops) = await Nested();
        var (inner, outer) = (loops[0].GetProperty("part").GetString(), loops[1].GetProperty("part").GetString());
        var first = await Ask(id, "/step", new { part = inner, margin = new { bandwidth = 30, phaseMargin = 60 } });
        Assert.Equal(30, first.GetProperty("after").GetProperty("bandwidth").GetDouble(), 0.05);

        var margin = new { bandwidth = 5, phaseMargin = 60 };
        var before = new[] { new { part = inner, gains = first.GetProperty("gains") } };
        var after = await Ask(
            id,
            "/step",
            new
            {
                part = outer,
                margin,
                before,
            }
        );

        // As if the inner gains stood in the model.
        double Gain(JsonElement a, string name) => a.GetProperty("gains").GetProperty(name).GetDouble();
        var there = FormattableString.Invariant($"k = {Gain(first, "k")}, Ti = {Gain(first, "ti")}");
        var other = await Client.Create(new { text = Cascade.Replace("k = 1, Ti = 1)", there + ")", StringComparison.Ordinal) });
        var same = (await Ask(other, "", new { })).GetProperty("loops")[1].GetProperty("part").GetString();
        Assert.Equal(Gain(await Ask(other, "/step", new { part = same, margin }), "k"), Gain(after, "k"));
        Assert.NotEqual(Gain(await Ask(id, "/step", new { part = outer, margin }), "k"), Gain(after, "k"));
        // Nothing of it is in the model.
        Assert.Equal(1, (await Ask(id, "", new { })).GetProperty("loops")[0].GetProperty("gains").GetProperty("k").GetDouble());
    }

    [Fact]
    public async Task A_plant_that_is_measured_beside_the_closed_loop_gives_nearly_the_gains_of_the_linear_one()
    {
        var (id, loops) = await Nested();
        var part = loops[0].GetProperty("part").GetString();
        var margin = new { bandwidth = 20, phaseMargin = 60 };

        var linear = await Ask(id, "/step", new { part, margin });
        var measured = await Ask(
            id,
            "/step",
            new
            {
                part,
                margin,
                excitation = new { amplitude = 0.05 },
            }
        );

        double K(JsonElement a) => a.GetProperty("gains").GetProperty("k").GetDouble();
        // Waves count as settled within a thousandth.
        Assert.Equal(K(linear), K(measured), 0.01 * K(linear));
        var plant = measured.GetProperty("measured");
        Assert.True(plant.GetProperty("quality").GetDouble() > 0.998);
        Assert.False(linear.TryGetProperty("measured", out _));
    }

    [Fact]
    public async Task An_excitation_that_moves_too_much_is_ended_and_says_so()
    {
        var (id, loops) = await Nested();

        var refused = await Client.PostAsJsonAsync(
            $"/api/models/{id}/loops/step",
            new
            {
                part = loops[0].GetProperty("part").GetString(),
                margin = new { bandwidth = 20, phaseMargin = 60 },
                excitation = new { amplitude = 1, limit = 1e-4 },
            }
        );

        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("could be measured", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_true_run_has_all_the_gains_that_it_is_given()
    {
        var (id, loops) = await Nested();
        var (inner, outer) = (loops[0].GetProperty("part").GetString(), loops[1].GetProperty("part").GetString());
        double[] Errors(JsonElement run) => [.. run.GetProperty("error").GetProperty("values").EnumerateArray().Select(v => v.GetDouble())];

        var present = Errors(await Ask(id, "/run", new { part = outer }));
        var others = Errors(
            await Ask(
                id,
                "/run",
                new
                {
                    part = outer,
                    others = new[]
                    {
                        new
                        {
                            part = inner,
                            gains = new
                            {
                                form = "PI",
                                k = 8.0,
                                ti = 0.1,
                            },
                        },
                    },
                }
            )
        );

        Assert.NotEqual(present, others);
    }
}
