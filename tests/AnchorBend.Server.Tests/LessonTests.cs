using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Lessons follow what is done in the model, whichever way and order it is done in.</summary>
public sealed class LessonTests : ServerTest
{
    long revision;

    async Task<string> Begin(string lesson)
    {
        revision = 0;
        return (await Post($"/api/lessons/{lesson}", new { })).GetProperty("id").GetString()!;
    }

    async Task Do(string id, params object[] operations)
    {
        var (status, body) = await Client.Edit(id, revision++, operations);
        Assert.True(status == HttpStatusCode.OK, body.ToString());
    }

    async Task<(List<string> Done, string? Now)> State(string id)
    {
        var lesson = (await Get($"/api/models/{id}/lesson")).GetProperty("lesson");
        return (
            [
                .. lesson
                    .GetProperty("steps")
                    .EnumerateArray()
                    .Where(s => s.GetProperty("isDone").GetBoolean())
                    .Select(s => s.GetProperty("key").GetString()!),
            ],
            lesson.TryGetProperty("now", out var now) ? now.GetString() : null
        );
    }

    static object Wire(string id, string from, string fromPort, string to, string toPort) =>
        Add($"/definitions/main/wires/{id}", new { from = new { part = from, port = fromPort }, to = new { part = to, port = toPort } });

    static object Add(string path, object value) =>
        new
        {
            op = "add",
            path,
            value,
        };

    static object Part(string id, string type, object? parameters = null) => TestServer.Add(id, type, id, parameters);

    static Dictionary<string, string> Values(string name, string value) => new() { [name] = value };

    [Fact]
    public async Task The_first_loop_is_done_step_by_step()
    {
        var id = await Begin("first-loop");
        Assert.Equal("tank", (await State(id)).Now);
        await Do(id, Part("tank", "Integrator"));
        Assert.Equal("valve", (await State(id)).Now);
        await Do(id, Part("valve", "Lag"), Wire("w1", "valve", "y", "tank", "u"));
        await Do(id, Part("set", "Step"), Wire("w2", "set", "y", "valve", "u"));
        Assert.Equal("see", (await State(id)).Now);
        await Do(id, Add("/definitions/main/signals/tank.y", new { probe = 0, name = "level" }));
        Assert.Equal("loop", (await State(id)).Now);
        await Do(
            id,
            new { op = "remove", path = "/definitions/main/wires/w2" },
            Part("pi", "PID"),
            Wire("w3", "set", "y", "pi", "r"),
            Wire("w4", "tank", "y", "pi", "y"),
            Wire("w5", "pi", "u", "valve", "u")
        );
        Assert.Equal("tune", (await State(id)).Now);
        await Do(
            id,
            Add("/definitions/main/parts/pi/parameters/k", "0.4"),
            Add("/definitions/main/parts/pi/parameters/Ti", "8 s"),
            new { op = "remove", path = "/definitions/main/wires/w1" },
            Part("leak", "Step", new { height = "0.2", startTime = "30 s" }),
            Part("sum", "Sum"),
            Wire("w6", "valve", "y", "sum", "u[1]"),
            Wire("w7", "leak", "y", "sum", "u[2]"),
            Wire("w8", "sum", "y", "tank", "u")
        );
        var (done, now) = await State(id);
        // What was done before stays done, though the signal takes another way now.
        Assert.Equal(["tank", "valve", "open", "see", "loop", "name", "tune", "disturb"], done);
        Assert.Equal("require", now);
        await Do(
            id,
            Add(
                "/requirements/r1",
                new
                {
                    name = "Overshoot",
                    kind = "overshoot",
                    signal = "tank.y",
                    reference = "set.y",
                    limit = "15 %",
                }
            )
        );
        await Post($"/api/models/{id}/checkpoints", new { name = "First loop" });
        Assert.Null((await State(id)).Now);
        Assert.Equal(10, (await State(id)).Done.Count);
    }

    [Theory]
    [InlineData("150 W", true)]
    [InlineData("100 W", false)]
    public async Task The_task_of_the_warm_body_is_judged_by_a_run(string power, bool isDone)
    {
        var id = await Begin("warm-body");
        await Do(
            id,
            Part("body", "HeatCapacity", Values("C", "2 kJ/K")),
            Part("heat", "SignalHeat"),
            Part("power", "Constant", new { k = power }),
            Part("loss", "Conduction", Values("G", "5 W/K")),
            Part("room", "FixedTemperature", Values("T", "10 degC")),
            Part("eye", "TemperatureSensor"),
            Wire("w1", "heat", "b", "body", "a"),
            Wire("w2", "power", "y", "heat", "u"),
            // Joined at another wire's port: that is one net.
            Wire("w3", "loss", "a", "heat", "b"),
            Wire("w4", "loss", "b", "room", "b"),
            Wire("w5", "eye", "a", "body", "a"),
            Add("/definitions/main/signals/eye.y", new { probe = 0 })
        );
        var (done, _) = await State(id);
        // 150 W over 5 W/K lift 10 °C by 30 K.
        Assert.Equal(isDone, done.Contains("task"));
        Assert.Equal(["body", "heat", "power", "room", "see"], done.Take(5));
    }

    [Theory]
    [InlineData("light > 0", true)]
    [InlineData("light > 2", false)]
    public async Task The_task_of_the_night_light_is_judged_by_a_run(string dawn, bool isDone)
    {
        var id = await Begin("night-light");
        var chart = new
        {
            kind = "chart",
            name = "Keeper",
            period = "0.1 s",
            names = new
            {
                n0 = new
                {
                    name = "light",
                    kind = "input",
                    type = "Real",
                    order = 0,
                },
                n1 = new
                {
                    name = "lamp",
                    kind = "output",
                    type = "Boolean",
                    order = 1,
                },
            },
            states = new { day = Drawn("Day", 0, "lamp := false"), night = Drawn("Night", 1, "lamp := true") },
            transitions = new { t1 = Way("day", "night", "light < 0"), t2 = Way("night", "day", dawn) },
        };
        await Do(
            id,
            Part("sun", "Sine", new { f = "0.05 Hz" }),
            Add("/definitions/keeper", chart),
            Part("chart", "#keeper"),
            Wire("w1", "sun", "y", "chart", "light")
        );
        Assert.Equal(isDone, (await State(id)).Done.Contains("task"));
        Assert.Equal(["sun", "chart", "states", "ways", "wire"], (await State(id)).Done.Take(5));

        static object Drawn(string name, int order, string entry) =>
            new
            {
                name,
                kind = "state",
                order,
                x = 80 + 300 * order,
                y = 80,
                width = 176,
                height = 88,
                entry,
            };
        static object Way(string from, string to, string guard) =>
            new
            {
                from,
                to,
                guard,
                priority = 1,
            };
    }

    [Fact]
    public async Task A_step_is_passed_over_and_taken_up_again_and_the_lesson_is_found_again()
    {
        var id = await Begin("first-loop");
        await Client.PutAsJsonAsync($"/api/models/{id}/lesson", new { step = "tank", skips = true });
        Assert.Equal("valve", (await State(id)).Now);
        await Client.PutAsJsonAsync($"/api/models/{id}/lesson", new { step = "tank", skips = false });
        Assert.Equal("tank", (await State(id)).Now);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await Client.PutAsJsonAsync($"/api/models/{id}/lesson", new { step = "none", skips = true })).StatusCode
        );

        string? Model(JsonElement lessons) =>
            lessons.EnumerateArray().First().TryGetProperty("model", out var model) ? model.GetString() : null;
        Assert.Equal(id, Model(await Get("/api/lessons")));
        await Client.DeleteAsync($"/api/models/{id}/lesson");
        Assert.Null(Model(await Get("/api/lessons")));
        // The model goes on without it.
        Assert.Equal(HttpStatusCode.OK, (await Client.GetAsync($"/api/models/{id}")).StatusCode);
    }

    [Fact]
    public async Task A_model_that_cannot_run_does_not_do_a_task()
    {
        var id = await Begin("warm-body");
        await Do(id, Part("eye", "TemperatureSensor"), Part("bad", "Gain", new { k = "nowhere" }));
        Assert.Empty((await State(id)).Done);
        Assert.Equal(HttpStatusCode.NotFound, (await Client.PostAsJsonAsync("/api/lessons/nothing", new { })).StatusCode);
    }
}
