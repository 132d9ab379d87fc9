using System.Net.Http.Json;
using System.Text.Json;

namespace AnchorBend.Server.Tests;

/// <summary>Bundles and vectors as the interface sees them: ports, what they carry, values at an instant.</summary>
public sealed class BundleTests : ServerTest
{
    const string Text = """
        model Harness
          Constant level(k = 3); BooleanStep open; ConstantVector rates(k = {1, 2}); Gain g(k = 2);
          Bundle tank; Bundle plant; Pick use;
        equation
          connect(level.y, tank.level); connect(open.y, tank.open); connect(rates.y, tank.rates);
          connect(tank, plant.tank); connect(plant, use); connect(use.tank.level, g.u); connect(use.tank.lvel, g.extra);
        end Harness;
        """;

    async Task<(string Id, JsonElement View, Dictionary<string, string> Ids)> Open(string text)
    {
        var made = await (await Client.PostAsJsonAsync("/api/models", new { text })).Content.ReadFromJsonAsync<JsonElement>();
        var id = made.GetProperty("id").GetString()!;
        var opened = await Client.GetFromJsonAsync<JsonElement>($"/api/models/{id}");
        var ids = opened
            .Root()
            .GetProperty("parts")
            .EnumerateObject()
            .ToDictionary(p => p.Value.GetProperty("name").GetString()!, p => p.Name);
        return (id, opened.View(), ids);
    }

    [Fact]
    public async Task A_pick_shows_its_members_with_their_kinds_and_what_else_there_is()
    {
        var (_, view, ids) = await Open(
            Text.Replace(
                    " connect(use.tank.lvel, g.extra);",
                    " connect(use.tank, other); connect(other.rates, norm.u); connect(other.open, hold.condition);",
                    StringComparison.Ordinal
                )
                .Replace("Pick use;", "Pick use, other; VectorNorm norm(n = 2); Switch hold;", StringComparison.Ordinal)
        );
        JsonElement Ports(string part) => view.GetProperty("parts").GetProperty(ids[part]).GetProperty("ports");
        string Kind(string part, string port) =>
            Ports(part).EnumerateArray().Single(p => p.GetProperty("name").GetString() == port).GetProperty("kind").GetString()!;
        Assert.Equal("real", Kind("use", "tank.level"));
        Assert.Equal("bundle", Kind("use", "tank"));
        Assert.Equal("vector", Kind("other", "rates"));
        Assert.Equal("boolean", Kind("other", "open"));
        Assert.Equal("any", Kind("plant", "tank"));
        Assert.Equal(
            ["tank", "tank.level", "tank.open", "tank.rates"],
            view.GetProperty("parts").GetProperty(ids["use"]).GetProperty("members").EnumerateArray().Select(m => m.GetString())
        );
        var whole = Ports("plant")
            .EnumerateArray()
            .Single(p => p.GetProperty("name").GetString() == "bundle")
            .GetProperty("elements")
            .EnumerateArray()
            .Select(e => e.GetString());
        Assert.Equal(
            [$"{ids["plant"]}.tank.level", $"{ids["plant"]}.tank.open", $"{ids["plant"]}.tank.rates[1]", $"{ids["plant"]}.tank.rates[2]"],
            whole
        );
    }

    [Fact]
    public async Task A_member_that_is_not_there_is_told_on_the_part_with_the_nearest_name()
    {
        var (_, view, ids) = await Open(
            Text.Replace("g.extra", "g2.u", StringComparison.Ordinal)
                .Replace("Gain g(k = 2);", "Gain g(k = 2), g2;", StringComparison.Ordinal)
        );
        var finding = view.GetProperty("findings").EnumerateArray().Single(f => f.GetProperty("code").GetString() == "bundle-member");
        Assert.Equal(ids["use"], finding.GetProperty("part").GetString());
        Assert.Equal("Did you mean level?", finding.GetProperty("suggestion").GetString());
    }

    [Fact]
    public async Task Values_at_an_instant_reach_every_member()
    {
        var (id, _, ids) = await Open(Text.Replace(" connect(use.tank.lvel, g.extra);", "", StringComparison.Ordinal));
        var run = (await (await Client.PostAsJsonAsync($"/api/models/{id}/runs", new { })).Content.ReadFromJsonAsync<JsonElement>())
            .GetProperty("id")
            .GetString();
        var values = await Client.GetFromJsonAsync<Dictionary<string, double>>($"/api/runs/{run}/values?time=5");
        Assert.Equal(3, values![$"{ids["use"]}.tank.level"]);
        Assert.Equal(6, values[$"{ids["g"]}.y"]);
        Assert.Equal(2, values[$"{ids["plant"]}.tank.rates[2]"]);
        Assert.Equal(1, values[$"{ids["tank"]}.open"]);
    }
}
